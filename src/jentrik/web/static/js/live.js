// Fields that save as they change: from the first key until the server has acknowledged exactly
// that text a field is dirty, and no swap writes a dirty field.  What cannot be sent stays in its
// field, is tried again, and survives a reload of the page in the same tab.
(() => {
  const PAUSE_MS = 150, WHOLE_MS = 30, TIMEOUT_MS = 20_000, LONGEST_PAUSE_MS = 30_000, MOST_AT_ONCE = 60;
  const KEPT = "jentrik-unsaved";
  const FINAL = [400, 404, 405, 411, 413, 422];  // answers that trying again does not change
  const pending = new Map();  // key -> what is typed in a field and not acknowledged yet
  const touched = new WeakSet();  // fields typed in that a swap must leave alone
  let failures = 0, why = "", visit = 0, timer = 0, sender = null, token = "";
  const here = Math.random().toString(36).slice(2, 10);

  const isLive = (node) => node instanceof Element && node.matches("[data-live]");
  const keyOf = (url, name) => {
    const { pathname, searchParams } = new URL(url, location.href);
    return `${pathname} ${searchParams.get("proposal") ?? ""} ${name}`;
  };
  const entryOf = (field) => pending.get(keyOf(field.dataset.live, field.name));
  const fieldOf = (entry) =>
    [...document.querySelectorAll(`[data-live][name="${CSS.escape(entry.name)}"]`)]
      .find((field) => keyOf(field.dataset.live, field.name) === entry.key);
  const labelOf = (field) =>
    (field.getAttribute("aria-label") ?? field.labels?.[0]?.firstChild?.textContent ?? "").trim();
  const unsent = (entry) => entry.text !== entry.refused;
  const waiting = () => [...pending.values()].filter(unsent);

  // ---- typing ---------------------------------------------------------------------------------

  function edited(field) {
    const key = keyOf(field.dataset.live, field.name);
    const entry = pending.get(key) ?? {
      key, name: field.name, base: field.dataset.stored, label: labelOf(field), flight: null,
      page: location.pathname + location.search,
    };
    Object.assign(entry, {
      text: field.value, url: field.dataset.live, visit: `${here}-${visit}`, refused: null, why: "",
      target: field.closest("[hx-target]")?.getAttribute("hx-target") ?? "",
    });
    pending.set(key, entry);
    keep();
    paint();
  }

  document.addEventListener("focusin", (event) => { if (isLive(event.target)) visit += 1; });
  document.addEventListener("input", (event) => {
    const field = event.target;
    touched.add(field);
    if (!isLive(field)) return;
    edited(field);
    clearTimeout(timer);
    // A text as long as the one it replaces is likely whole; a shorter one is still being typed.
    const whole = field.dataset.stored && field.value.length >= field.dataset.stored.length;
    timer = setTimeout(flush, failures ? pause() : whole ? WHOLE_MS : PAUSE_MS);
  });
  document.addEventListener("change", (event) => { if (isLive(event.target)) flush(); });
  document.addEventListener("focusout", (event) => {
    const field = event.target;
    if (!isLive(field)) return;
    if (entryOf(field)) flush();
    else rest(field);
  });
  document.addEventListener("keydown", (event) => {
    if (event.key !== "Enter" || !isLive(event.target) || event.target.tagName === "TEXTAREA") return;
    event.preventDefault();  // a form would be sent whole, by its first button
    const field = event.target, open = field.closest("[data-open-field]");
    flush().then((all) => {
      if (all && open && !entryOf(field)) document.querySelector("[data-next-field]")?.click();
    });
  });

  // A figure opened to be measured has the cursor, once it is there.
  const opening = new WeakSet();  // presses; what another screen did may settle in between
  document.addEventListener("click", (event) => {
    if (event.target.closest("[data-field-link]")) opening.add(event);
  });
  document.addEventListener("htmx:afterSettle", (settled) => {
    if (!opening.has(settled.detail.requestConfig?.triggeringEvent ?? settled)) return;
    const field = document.querySelector("[data-open-field] :is(input:not([type=hidden]), select)");
    field?.focus();
    field?.select?.();
  });

  // Show a field that is saved as the server has it: "1 1/2 in" becomes 38.1.
  function rest(field) {
    touched.delete(field);
    if (field.dataset.stored !== undefined && field.value !== field.dataset.stored) {
      field.value = field.dataset.stored;
    }
  }

  // ---- sending --------------------------------------------------------------------------------

  const pause = () => Math.min(LONGEST_PAUSE_MS, 1000 * 2 ** (failures - 1));

  // Send what waits, in order, several at once; resolve to whether all of it was answered.
  async function flush() {
    clearTimeout(timer);
    while (waiting().length) {
      sender ??= send().finally(() => { sender = null; });
      if (!await sender) return false;
    }
    return true;
  }

  function nextBatch() {
    const [first] = waiting();
    if (!first) return [];
    const prefix = first.key.slice(0, first.key.length - first.name.length);
    const same = [...pending.values()].filter((entry) =>
      entry.key === prefix + entry.name && (unsent(entry) || entry.refused !== null));
    // What was refused goes along once more at the end: it may be possible now.
    return [...same.filter(unsent), ...same.filter((entry) => !unsent(entry))].slice(0, MOST_AT_ONCE);
  }

  async function send() {
    const batch = nextBatch();
    if (!batch.length) return true;
    for (const entry of batch) entry.flight = entry.text;
    const body = bodyOf(batch);
    const url = fieldOf(batch[0])?.dataset.live ?? batch[0].url;
    let answer, html;
    try {
      answer = await fetch(url, request(body, AbortSignal.timeout(TIMEOUT_MS)));
      html = await answer.text();
    } catch {
      return failed(batch, navigator.onLine ? "the server does not answer" : "no network");
    }
    const said = answer.headers.get("X-Fields");
    if (said) return acknowledged(batch, JSON.parse(said), html);
    if (answer.status === 401) return await askPassphrase() ? send() : failed(batch, "no passphrase");
    if (answer.status === 403 && await renewToken()) return send();
    const message = messageOf(html) || `the server answered ${answer.status}`;
    if (!FINAL.includes(answer.status)) return failed(batch, message);
    for (const entry of batch) Object.assign(entry, { refused: entry.flight, flight: null, why: message });
    settle();
    say(batch.map((entry) => `${entry.label} not saved: ${message}`));
    return true;
  }

  function bodyOf(batch) {
    const body = new URLSearchParams();
    for (const entry of batch) {
      body.append(entry.name, entry.text);
      if (entry.base !== undefined) body.append(`seen:${entry.name}`, entry.base);
      body.append(`visit:${entry.name}`, entry.visit);
    }
    return body;
  }

  function request(body, signal) {
    const headers = { "HX-Request": "true", "X-Live": "1", "X-CSRF-Token": csrf() };
    return { method: "POST", body, headers, signal, keepalive: body.toString().length < 50_000 };
  }

  const csrf = () => token || JSON.parse(document.body.getAttribute("hx-headers"))["X-CSRF-Token"];

  function messageOf(text) {
    try { return JSON.parse(text).error.message; } catch { return ""; }
  }

  function failed(batch, reason) {
    for (const entry of batch) entry.flight = null;
    failures += 1;
    why = reason;
    paint();
    if (failures === 1) say([`${batch[0].label} not saved, kept here: ${reason}.`]);
    clearTimeout(timer);
    timer = setTimeout(flush, pause());
    return false;
  }

  async function acknowledged(batch, fields, html) {
    const news = [];
    for (const entry of batch) {
      const { state, text, why: reason } = fields[entry.name] ?? { state: "stored" };
      const typed = entry.flight;
      entry.flight = null;
      entry.base = text ?? undefined;
      if (state === "refused") {
        entry.refused = typed;
        entry.why = reason;
        if (entry.text === typed) news.push(`${entry.label} not saved: ${reason}`);
      } else if (entry.text === typed) {
        pending.delete(entry.key);
        news.push(`${entry.label} saved`);
      }
    }
    await letGo();
    const target = batch[0].target && document.querySelector(batch[0].target);
    const summary = () => document.querySelector("[data-summary]")?.textContent ?? "";
    const before = summary();
    if (target && fieldOf(batch[0])) {
      htmx.swap(target, html, { swapStyle: "morph:outerHTML", swapDelay: 0, settleDelay: 0 },
        { contextElement: target });
    }
    settle();
    if (summary() !== before) news.push(summary());
    say(news);
    return true;
  }

  function settle() {
    failures = 0;
    why = "";
    keep();
    paint();
    for (const field of document.querySelectorAll("[data-live]")) {
      if (field !== document.activeElement && !entryOf(field) && touched.has(field)) rest(field);
    }
  }

  // ---- a lost cookie, a lost session ----------------------------------------------------------

  async function renewToken() {
    try {
      const answer = await fetch("/session");
      const renewed = (await answer.json()).csrf_token;
      if (!renewed || renewed === csrf()) return false;
      token = renewed;
    } catch {
      return false;
    }
    document.body.setAttribute("hx-headers", JSON.stringify({ "X-CSRF-Token": token }));
    for (const hidden of document.querySelectorAll("[name=csrf_token]")) hidden.value = token;
    return true;
  }

  function askPassphrase() {
    const dialog = document.getElementById("passphrase");
    const form = dialog.querySelector("form"), said = dialog.querySelector("[role=alert]");
    const input = form.elements.passphrase;
    return new Promise((resolve) => {
      let known = false;
      form.onsubmit = async (event) => {
        event.preventDefault();
        try {
          await renewToken();
          const answer = await fetch("/session", request(new URLSearchParams({ passphrase: input.value })));
          if (!answer.ok) { said.textContent = messageOf(await answer.text()); return; }
          known = true;
          dialog.close();
        } catch {
          said.textContent = "The server does not answer. Try again.";
        }
      };
      dialog.onclose = () => { input.value = ""; said.textContent = ""; resolve(known); };
      if (!dialog.open) dialog.showModal();
    });
  }

  // ---- leaving --------------------------------------------------------------------------------

  function held() {
    say([`Not saved yet, so the page stays: ${why}.`]);
    document.getElementById("unsaved").scrollIntoView({ block: "nearest" });
  }

  // Go on once everything typed is stored or refused; stay where something cannot be sent.
  function afterwards(act) {
    flush().then((all) => (all ? act() : held()));
  }

  document.addEventListener("htmx:confirm", (event) => {
    const { elt, issueRequest } = event.detail;
    const named = elt.matches("[data-undo], [data-redo]") ? elt.value : null;
    if (named !== null) {  // a press undoes what its button said when it was pressed
      elt.addEventListener("htmx:configRequest", (config) => {
        config.detail.parameters.change = named;
      }, { once: true });
    }
    if (!waiting().length) return;
    event.preventDefault();
    afterwards(() => issueRequest(true));
  });
  document.addEventListener("click", (event) => {
    const link = event.target.closest("a[href]");
    const plain = event.button === 0 && !(event.ctrlKey || event.metaKey || event.shiftKey);
    if (!link || !plain || !waiting().length || link.matches("[hx-get], [target], [download]")) return;
    if (link.origin !== location.origin || link.getAttribute("href").startsWith("#")) return;
    event.preventDefault();
    afterwards(() => location.assign(link.href));
  }, true);
  document.addEventListener("submit", (event) => {
    if (!waiting().length || event.target.method === "dialog") return;
    const { target: form, submitter } = event;
    event.preventDefault();
    event.stopImmediatePropagation();
    afterwards(() => form.requestSubmit(submitter?.isConnected ? submitter : undefined));
  }, true);
  addEventListener("beforeunload", (event) => {
    if (failures && waiting().length) event.preventDefault();
  });
  addEventListener("pagehide", () => {
    for (let batch = nextBatch(); batch.length; batch = nextBatch()) {
      if (!batch.some(unsent)) break;
      fetch(batch[0].url, request(bodyOf(batch))).catch(() => {});
      for (const entry of batch) entry.refused = entry.text;  // the next page asks once more
    }
  });
  addEventListener("pageshow", (event) => {
    if (!event.persisted) return;
    for (const entry of pending.values()) if (!entry.why) entry.refused = null;
    flush();
  });
  addEventListener("online", () => flush());

  // ---- kept in this tab -----------------------------------------------------------------------

  function keep() {
    const kept = waiting().map((entry) => ({ ...entry, flight: null }));
    try {
      if (kept.length) sessionStorage.setItem(KEPT, JSON.stringify(kept));
      else sessionStorage.removeItem(KEPT);
    } catch { /* a full or forbidden storage: the fields still hold it */ }
  }

  function restore() {
    let kept = [];
    try { kept = JSON.parse(sessionStorage.getItem(KEPT) ?? "[]"); } catch { /* nothing readable */ }
    for (const entry of kept) {
      pending.set(entry.key, entry);
      showIn(entry);
    }
    if (kept.length) { paint(); flush(); }
  }

  function showIn(entry) {
    const field = fieldOf(entry);
    if (field && field.value !== entry.text) field.value = entry.text;
    if (field) touched.add(field);
  }

  // ---- words at the field and in the page head -------------------------------------------------

  function wordOf(entry) {
    if (!unsent(entry)) return "not saved";
    return failures ? "not saved, kept here" : "saving";
  }

  function paint() {
    for (const old of document.querySelectorAll(".field-state, .live-complaint")) {
      const field = old.field;
      if (!field?.isConnected || !entryOf(field)) old.remove();
    }
    for (const entry of pending.values()) {
      const field = fieldOf(entry);
      if (!field) continue;
      const box = field.closest(".select") ?? field;
      let state = box.nextElementSibling;
      if (!state?.matches(".field-state")) {
        state = document.createElement("span");
        state.className = "field-state";
        state.field = field;
        box.after(state);
      }
      const word = wordOf(entry);
      state.dataset.state = word;
      if (state.textContent !== word) state.textContent = word;
      complain(entry, field, state);
    }
    paintHead();
  }

  // A refusal stays at its field, also where a swap came that knows nothing of it.
  function complain(entry, field, state) {
    const around = field.closest(".figure-field, .code-field, .small-field, .policy-row, td, form");
    const shown = [...around.querySelectorAll(".complaint")];
    const own = shown.find((node) => node.matches(".live-complaint"));
    const why = unsent(entry) ? "" : entry.why;
    if (!why || shown.some((node) => node !== own && node.textContent.includes(why))) {
      own?.remove();
      return;
    }
    const node = own ?? document.createElement("p");
    node.className = "complaint live-complaint";
    node.field = field;
    node.textContent = why;
    if (!own) state.after(node);
  }

  function paintHead() {
    const head = document.getElementById("unsaved"), all = [...pending.values()];
    const stuck = failures > 0 ? all : all.filter((entry) => !unsent(entry));
    head.hidden = stuck.length === 0;
    document.getElementById("busy").classList.toggle("htmx-request", !!waiting().length && !failures);
    if (head.hidden) return;
    const names = stuck.slice(0, 3).map((entry) => entry.label).filter(Boolean).join(", ");
    const elsewhere = stuck.find((entry) => !fieldOf(entry));
    head.querySelector("[data-count]").textContent =
      `${stuck.length} not saved${names ? `: ${names}` : ""}${failures ? ` (${why})` : ""}`;
    head.querySelector("[data-retry]").hidden = failures === 0;
    const link = head.querySelector("a");
    link.hidden = !elsewhere;
    if (elsewhere) link.href = elsewhere.page;
  }

  document.addEventListener("click", (event) => {
    if (event.target.closest("[data-retry]")) flush();
    if (event.target.closest("[data-discard]")) discard();
  });

  function discard() {
    const dropped = [...pending.values()].filter((entry) => failures > 0 || !unsent(entry));
    for (const entry of dropped) {
      pending.delete(entry.key);
      const field = fieldOf(entry);
      if (field && entry.base !== undefined) { field.dataset.stored = entry.base; rest(field); }
    }
    settle();
    for (const node of document.querySelectorAll("[data-live] ~ .complaint")) node.remove();
    say(["Discarded; what is stored stands."]);
  }

  function say(news) {
    const line = document.getElementById("live-said");
    if (line && news.length) line.textContent = news.join(". ");
  }

  // ---- what a swap must leave alone -------------------------------------------------------------

  // What the hand holds, a mark in a drag, is swapped when it lets go.
  function letGo() {
    if (!document.querySelector("[data-held]")) return null;
    return new Promise((done) => document.addEventListener("letgo", done, { once: true }));
  }

  function isOwn(field) {
    if (!isLive(field)) return touched.has(field);
    return !!entryOf(field) || (field === document.activeElement && touched.has(field));
  }

  // What a form sends is its answer's to show again, kept or refused.
  document.addEventListener("htmx:beforeRequest", ({ detail }) => {
    if (detail.elt.tagName === "FORM") for (const field of detail.elt.elements) touched.delete(field);
  });

  const { defaults } = window.Idiomorph;
  defaults.callbacks.beforeAttributeUpdated = (name, node, change) => {
    if ((name === "value" || name === "checked") && isOwn(node)) return false;
    return !(name === "open" && change === "remove" && node.tagName === "DETAILS" && !node.matches("[data-fold]"));  // stays open
  };
  defaults.callbacks.beforeNodeMorphed = (old) => !(old.tagName === "SELECT" && isOwn(old));
  document.addEventListener("htmx:afterSwap", () => {
    for (const entry of pending.values()) showIn(entry);
    paint();
  });

  // The next figure of a card opens by Enter: the field after the one that was just ticked.
  let ticked = null;
  document.addEventListener("htmx:beforeRequest", (event) => {
    const step = event.target.closest?.(".card-step");
    ticked = step && document.activeElement?.matches("[data-reading]") ? step.id : null;
  });
  document.addEventListener("htmx:afterSettle", () => {
    const step = ticked && document.getElementById(ticked);
    ticked = null;
    if (!step) return;
    const fields = [...document.querySelectorAll("[data-reading]")];
    const behind = (field) => step.contains(field) || step.compareDocumentPosition(field) & Node.DOCUMENT_POSITION_FOLLOWING;
    fields.find(behind)?.focus();
  });

  restore();
})();
