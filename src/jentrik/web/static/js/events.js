// What other screens do, shown as it happens.  One tab of a browser listens and tells the others;
// a part of a page that shows what changed is fetched anew, but never one that a hand is in.
(() => {
  const OWN_MS = 1500, ASK_MS = 5000, STANDS_MS = 1200;
  const channel = "BroadcastChannel" in window ? new BroadcastChannel("jentrik-events") : null;
  let wrote = -Infinity, lost = 0;

  document.addEventListener("htmx:beforeRequest", (event) => {
    if (event.detail.requestConfig?.verb !== "get") wrote = performance.now();
  });

  const parts = () => [...document.querySelectorAll("[data-follows]")];

  function shows(part, change) {
    const [kind, id] = part.dataset.follows.split(":");
    if (kind === "jobs") return true;
    return (change.kind === "job" && change.id === Number(id)) || (change.machine !== null && change.machine === Number(part.dataset.machine));
  }

  // A field that is typed in, holds what was not sent, or a dialog that is open: the hand is there.
  function held(part) {
    const at = document.activeElement;
    if (document.querySelector("dialog[open]") || part.querySelector("[data-held]")) return true;
    if (part.contains(at) && at.matches("input:not([type=checkbox], [type=radio]), textarea, select")) return true;
    return [...part.querySelectorAll("input, textarea")].some((field) =>
      !["hidden", "checkbox", "radio", "submit"].includes(field.type) && field.value !== field.defaultValue);
  }

  function renew(part) {
    if (held(part)) { part.dataset.stale = "yes"; return; }
    delete part.dataset.stale;
    htmx.trigger(part, "live");
  }

  // A hand that came while a part was being fetched finds it as it was.
  document.addEventListener("htmx:beforeSwap", (event) => {
    const { elt, requestConfig } = event.detail;
    if (requestConfig?.triggeringEvent?.type !== "live" || !held(elt)) return;
    event.detail.shouldSwap = false;
    elt.dataset.stale = "yes";
  });

  function changed(change) {
    if (change.mine && performance.now() - wrote < OWN_MS) return;
    for (const part of parts()) if (shows(part, change)) renew(part);
  }

  function came({ job }) {
    for (const line of document.querySelectorAll(`[data-here="${job}"]`)) htmx.trigger(line, "here");
  }

  document.addEventListener("focusout", () => setTimeout(() => {
    for (const part of parts()) if (part.dataset.stale && !held(part)) renew(part);
  }, 300));

  function said(words) {
    const line = document.getElementById("not-live");
    if (line && line.textContent !== words) { line.textContent = words; line.hidden = !words; }
  }

  const hear = { change: changed, here: came, live: ({ on }) => said(on ? "" : "Not live: other screens are seen when a page is loaded.") };

  function tell(what, data) {
    hear[what](data);
    channel?.postMessage({ what, data });
  }
  if (channel) channel.onmessage = ({ data }) => hear[data.what]?.(data.data);

  // Without a connection the parts are asked for now and then; they come back the same or newer.
  function ask() {
    if (lost) for (const part of parts()) if (!held(part)) htmx.trigger(part, "live");
  }

  function listen() {
    const source = new EventSource("/api/events");
    source.addEventListener("change", (event) => tell("change", JSON.parse(event.data)));
    source.addEventListener("here", (event) => tell("here", JSON.parse(event.data)));
    source.onopen = () => {
      if (lost) for (const part of parts()) renew(part);
      clearInterval(lost);
      lost = 0;
      tell("live", { on: true });
    };
    source.onerror = () => {
      if (!lost) lost = setInterval(ask, ASK_MS);
      tell("live", { on: false });
      if (source.readyState === EventSource.CLOSED) { source.close(); setTimeout(listen, ASK_MS); }
    };
    addEventListener("pagehide", () => source.close());
  }

  // The page comes first; what others do may wait until it stands.
  setTimeout(() => {
    if (channel && navigator.locks) navigator.locks.request("jentrik-events", () => new Promise(listen));
    else listen();
  }, STANDS_MS);
})();
