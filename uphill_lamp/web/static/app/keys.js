// On every page: digits lead to a setup's stages, Ctrl+Z undoes, K opens keys and help over the page. Letter and digit keys can be
// switched off (WCAG 2.1.4); then they act nowhere.
const keysOn = () => { try { return localStorage.getItem("uphill-keys") !== "off"; } catch { return true; } };

// Whether a key belongs to what has the focus: words are typed there, or it lies over the page.
const keyTaken = (event) => Boolean(event.target.closest?.("input:not([type=range]), select, textarea, [contenteditable], dialog[open]"));

(() => {
  const over = () => document.querySelector("[data-help-over]");

  async function help(address) {
    const place = over();
    if (place.open) return;
    if (!place.dataset.filled) {
      try {
        const answer = await fetch(address, { headers: { "X-Uphill-Fragment": "1" } });
        if (!answer.ok) throw new Error(answer.status);
        const fresh = new DOMParser().parseFromString(await answer.text(), "text/html");
        place.replaceChildren(...fresh.body.children);
        place.dataset.filled = "1";
        for (const keys of place.querySelectorAll("[data-keys-switch]")) keys.checked = keysOn();
      } catch { location.assign(address); return; }
    }
    place.showModal();
    place.scrollTop = 0;
  }

  document.addEventListener("click", (event) => {
    const link = event.target.closest("[data-help]");
    if (link && !event.ctrlKey && !event.metaKey && !event.shiftKey) { event.preventDefault(); help(link.href); }
    if (event.target.closest('[aria-disabled="true"]')) event.preventDefault();
    if (event.target === over()) over().close(); // beside the page that lies over
  });
  document.addEventListener("change", (event) => {
    if (!event.target.matches("[data-keys-switch]")) return;
    try { localStorage.setItem("uphill-keys", event.target.checked ? "on" : "off"); } catch { /* a private window: for this page only */ }
  });
  document.addEventListener("DOMContentLoaded", () => {
    for (const keys of document.querySelectorAll("[data-keys-switch]")) keys.checked = keysOn();
  });
  document.addEventListener("keydown", (event) => {
    if (keyTaken(event) || event.altKey) return;
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "z") {
      const button = document.querySelector(event.shiftKey ? "[data-redo]" : "[data-undo]");
      if (!button) return;
      event.preventDefault();
      if (button.getAttribute("aria-disabled") !== "true") button.form.requestSubmit();
      return;
    }
    if (event.ctrlKey || event.metaKey || !keysOn()) return;
    const link = /^\d$/.test(event.key) ? document.querySelector(`[data-stage-key="${event.key}"]`) : null;
    if (link) { event.preventDefault(); link.click(); }
    else if (event.key.toLowerCase() === "k") { event.preventDefault(); help(document.querySelector("[data-help]").href); }
  });
})();
