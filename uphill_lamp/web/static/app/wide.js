// A drawing or table wider than its frame scrolls inside it; a line over it says so, as long as that is so.
(() => {
  const watcher = new ResizeObserver((seen) => {
    for (const { target } of seen) target.previousElementSibling.hidden = target.scrollWidth <= target.clientWidth + 4;
  });
  document.addEventListener("DOMContentLoaded", () => {
    for (const frame of document.querySelectorAll("[data-wide]")) {
      const line = document.createElement("p");
      line.className = "hint wide-hint";
      line.textContent = "Slide it sideways to see the rest.";
      line.hidden = true;
      frame.before(line);
      watcher.observe(frame);
    }
  });
})();
