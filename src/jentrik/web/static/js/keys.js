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
    p: () => window.print(),
  };

  let going = false;
  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey || typing(event.target)) return;
    const { key } = event;
    if (going) {
      going = false;
      const there = document.querySelector(`[data-go="${CSS.escape(key)}"]`);
      if (there) { event.preventDefault(); press(there); return; }
    }
    if (key === "g") { going = true; return; }
    const station = /^[1-6]$/.test(key) && document.querySelector(`[data-station="${key}"]`);
    const choice = /^[1-9]$/.test(key) && document.querySelector(`[data-choice="${key}"]`);
    const act = choice ? () => press(choice) : station ? () => press(station) : acts[key];
    if (act) { event.preventDefault(); act(); }
  });

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
})();
