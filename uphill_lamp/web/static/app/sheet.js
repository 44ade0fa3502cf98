// Before the page is drawn: the sheet (day or dark) the reader chose, or the system's wish.
(() => {
  const read = (key) => { try { return localStorage.getItem(key); } catch { return null; } };
  const write = (key, value) => { try { localStorage.setItem(key, value); } catch { /* a private window: chosen for this page only */ } };
  const chosen = read("uphill-sheet") || (matchMedia("(prefers-color-scheme: dark)").matches ? "dark" : "day");
  document.documentElement.dataset.sheet = chosen;
  document.addEventListener("DOMContentLoaded", () => {
    const button = document.querySelector("[data-sheet-switch]");
    const show = () => button.setAttribute("aria-pressed", String(document.documentElement.dataset.sheet === "dark"));
    show();
    button.addEventListener("click", () => {
      const next = document.documentElement.dataset.sheet === "dark" ? "day" : "dark";
      document.documentElement.dataset.sheet = next;
      write("uphill-sheet", next);
      show();
    });
  });
})();
