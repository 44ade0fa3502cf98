// A picture that is still being drawn says so, and one that could not be drawn says that.
(() => {
  const LATE_MS = 150; // what is there at once need not be announced
  function watch(image) {
    const frame = image.parentElement;
    if (image.complete) { // came, or failed, before this page was read: no event will tell
      frame.classList.toggle("is-undrawn", !image.naturalWidth);
      return;
    }
    const late = setTimeout(() => { frame.classList.add("is-drawn"); frame.setAttribute("aria-busy", "true"); }, LATE_MS);
    const done = (broken) => {
      clearTimeout(late);
      frame.classList.remove("is-drawn");
      frame.classList.toggle("is-undrawn", broken);
      frame.removeAttribute("aria-busy");
    };
    image.addEventListener("load", () => done(false), { once: true });
    image.addEventListener("error", () => done(true), { once: true });
  }
  document.addEventListener("DOMContentLoaded", () => { for (const image of document.querySelectorAll("img[data-drawn]")) watch(image); });
})();
