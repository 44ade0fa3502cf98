// A line between two pictures, moved by a slider: the mouse, a finger or the arrow keys.
(() => {
  const root = document.querySelector("[data-divide]");
  if (!root) return;
  const left = root.querySelector("[data-left]"), line = root.querySelector("[data-line]"), slider = root.querySelector("[data-at]");
  const wide = root.querySelector("svg").viewBox.baseVal.width;
  const put = () => {
    const at = (wide * slider.value) / 100;
    left.setAttribute("width", at);
    line.setAttribute("x1", at);
    line.setAttribute("x2", at);
  };
  slider.addEventListener("input", put);
  put(); // a browser that comes back keeps where the slider stood
})();
