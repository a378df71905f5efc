// What is typed into a form with a button of its own, and not sent yet, is kept for this tab while
// another form of the page is sent or another page is looked at.
(() => {
  const KEY = `jentrik-drafts ${location.pathname}`;
  const FIELDS = "input:not([type=hidden], [type=file], [type=password], [type=checkbox]), textarea";

  // A field of a plain form: neither one that saves itself nor one of a search.
  function drafted() {
    const found = [];
    for (const form of document.querySelectorAll("form[method=post]")) {
      form.querySelectorAll(FIELDS).forEach((field, place) => {
        if (field.name && !field.matches("[data-live]")) {
          const action = form.getAttribute("action");
          found.push({ form, field, key: `${action} ${field.name} ${place}` });
        }
      });
    }
    return found;
  }

  function keep(sent) {
    const drafts = {};
    for (const { form, field, key } of drafted()) {
      if (form !== sent && field.value !== field.defaultValue) {
        drafts[key] = { base: field.defaultValue, text: field.value };
      }
    }
    try {
      if (Object.keys(drafts).length) sessionStorage.setItem(KEY, JSON.stringify(drafts));
      else sessionStorage.removeItem(KEY);
    } catch { /* a full or forbidden storage */ }
  }

  function restore() {
    let drafts = {};
    try { drafts = JSON.parse(sessionStorage.getItem(KEY) ?? "{}"); } catch { /* not readable */ }
    for (const { field, key } of drafted()) {
      const draft = drafts[key];
      if (draft && draft.base === field.defaultValue) {
        field.value = draft.text;
        field.closest("details")?.setAttribute("open", "");
        field.dispatchEvent(new Event("input", { bubbles: true }));
      }
    }
  }

  document.addEventListener("change", ({ target }) => {  // a photo goes as soon as it is taken
    const form = target.closest("[data-send-on-choice]");
    if (form && target.files?.length) form.requestSubmit();
  });

  // A form that was stored gets another id: what it sends next is a change of its own.
  const renew = (form) => {
    for (const once of form.querySelectorAll("[name=once]")) {
      once.value = `${Date.now().toString(36)}${Math.random().toString(36).slice(2, 10)}`;
    }
  };
  document.addEventListener("htmx:afterRequest", ({ detail }) => {
    if (detail.successful && detail.elt instanceof HTMLFormElement) renew(detail.elt);
  });
  addEventListener("pageshow", (event) => { if (event.persisted) renew(document); });

  let sent = null;
  document.addEventListener("submit", (event) => { if (!event.defaultPrevented) sent = event.target; });
  addEventListener("pagehide", () => keep(sent));
  restore();
})();
