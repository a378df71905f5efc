// Keys of the bench, and suggestions one click away.
(() => {
  const typing = (target) => target.closest("input, select, textarea, dialog[open]") !== null;
  const press = (element) => { if (element) element.click(); };
  const after = (group) => {
    const links = [...document.querySelectorAll(`${group} a`)];
    const here = links.findIndex((link) => link.hasAttribute("aria-current"));
    return links[(here + 1) % links.length];
  };
  const neighbour = (step) => {
    const links = [...document.querySelectorAll("[data-proposals] a")];
    const here = links.findIndex((link) => link.hasAttribute("aria-current"));
    return links[here + step];
  };

  const acts = {
    "/": () => press(document.querySelector("[data-go=r]")),
    "?": () => document.getElementById("keys").showModal(),
    "[": () => press(neighbour(-1)),
    "]": () => press(neighbour(1)),
    v: () => press(after("[data-views]")),
    m: () => press(after("[data-magnify]")),
    n: () => press(document.querySelector("[data-new]")),
    z: () => press(document.querySelector("[data-undo]")),
    y: () => press(document.querySelector("[data-redo]")),
    p: () => document.fonts.ready.then(() => window.print()),
  };

  // A burst of characters with a figure in it is a code, typed or scanned outside a field: it is
  // read whole.  So a key that changes something, or could begin a code, waits for what follows.
  const MOMENT_MS = 250, TYPING_MS = 450, REST_MS = 800, SHORTEST_CODE = 4;
  const CODE = /^[A-Za-z0-9 .,:/*×()½¼¾-]$/;
  const WAITS = /^[0-9nzyp]$/;
  const OFF = `jentrik-keys-off ${document.body.dataset.who ?? ""}`;
  const off = () => { try { return localStorage.getItem(OFF) === "1"; } catch { return false; } };
  let going = false, typed = "", last = -Infinity, waiting = null, resting = 0;

  function later(act) {
    const timer = setTimeout(() => { waiting = null; act(); }, MOMENT_MS);
    waiting = { act, timer };
  }

  function settle(now) {  // what a key waits to do is done now, or not at all
    if (!waiting) return;
    clearTimeout(waiting.timer);
    const { act } = waiting;
    waiting = null;
    if (now) act();
  }

  function read() {
    clearTimeout(resting);
    const code = typed.trim();
    typed = "";
    if (code.length >= SHORTEST_CODE) location.assign(`/scan?code=${encodeURIComponent(code)}`);
    else if (!off()) actOf(code.at(-1) ?? "")?.();
  }

  function actOf(key) {
    const station = /^[1-6]$/.test(key) && document.querySelector(`[data-station="${key}"]`);
    const choice = /^[1-9]$/.test(key) && document.querySelector(`[data-choice="${key}"]`);
    return choice ? () => press(choice) : station ? () => press(station) : acts[key];
  }

  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey || typing(event.target)) return;
    const { key } = event;
    if (key === "Enter" && /\d/.test(typed) && typed.length >= SHORTEST_CODE) {
      event.preventDefault();
      settle(false);
      read();
      return;
    }
    if (key.length !== 1 || event.repeat) return;
    const soon = event.timeStamp - last < TYPING_MS;
    last = event.timeStamp;
    typed = CODE.test(key) ? (soon ? typed + key : key) : "";
    if (soon && typed.length > 1 && /\d/.test(typed) && !going) {
      settle(false);
      event.preventDefault();
      clearTimeout(resting);
      resting = setTimeout(read, REST_MS);
      return;
    }
    settle(true);
    if (off()) return;
    if (going) {
      going = false;
      const there = document.querySelector(`[data-go="${CSS.escape(key)}"]`);
      if (there) { event.preventDefault(); typed = ""; press(there); return; }
    }
    if (key === "g") { going = true; return; }
    const act = actOf(key);
    if (!act) return;
    event.preventDefault();
    if (WAITS.test(key)) later(act);
    else act();
  });

  const toggle = document.getElementById("keys-off");
  if (toggle) {
    toggle.checked = off();
    toggle.addEventListener("change", () => {
      try {
        if (toggle.checked) localStorage.setItem(OFF, "1");
        else localStorage.removeItem(OFF);
      } catch { /* a forbidden storage: the keys stay as they are */ }
    });
  }

  document.addEventListener("click", (event) => {
    const suggestion = event.target.closest("[data-suggest]");
    if (suggestion) {
      const field = document.getElementById(suggestion.dataset.suggest);
      field.value = suggestion.dataset.code;
      field.focus();
      field.dispatchEvent(new Event("input", { bubbles: true }));
    }
    if (event.target.closest("[data-keys]")) document.getElementById("keys").showModal();
  });

  // Rows of a list: arrows go from one to the next, a swipe to the next filter.
  document.addEventListener("keydown", (event) => {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    const names = [...document.querySelectorAll(".row-name a")];
    if (!step || !names.length || typing(event.target) || event.target.matches("summary, button")) return;
    const at = names.findIndex((name) => name.closest(".job-row").contains(document.activeElement));
    const next = names[at < 0 ? 0 : Math.min(Math.max(at + step, 0), names.length - 1)];
    event.preventDefault();
    next.focus();
    next.scrollIntoView({ block: "nearest" });
  });

  const SWIPE_PX = 80, STRAIGHT = 2;
  let from = null;
  document.addEventListener("touchstart", ({ target, touches }) => {
    from = touches.length === 1 && target.closest?.(".job-rows") ? touches[0] : null;
  }, { passive: true });
  document.addEventListener("touchend", ({ changedTouches }) => {
    if (!from) return;
    const [to] = changedTouches, x = to.clientX - from.clientX, y = to.clientY - from.clientY;
    from = null;
    if (Math.abs(x) < SWIPE_PX || Math.abs(x) < STRAIGHT * Math.abs(y)) return;
    const filters = [...document.querySelectorAll(".job-filters a")];
    const at = filters.findIndex((one) => one.ariaCurrent);
    filters[at + (x < 0 ? 1 : -1)]?.click();
  }, { passive: true });
})();
