// Marks on a picture put right by hand: dragged, or moved by the arrow keys, then sent as a form.
(() => {
  const form = document.querySelector("[data-marks]");
  if (!form) return;
  const picture = document.querySelector("[data-marked]"), button = form.querySelector("[type=submit]"), paper = form.querySelector("[data-paper]");
  const [wide, high] = picture.getAttribute("viewBox").split(" ").slice(2).map(Number);

  function place(mark, x, y) {
    const at = [Math.min(Math.max(x, 0), wide), Math.min(Math.max(y, 0), high)];
    mark.setAttribute("transform", `translate(${at[0].toFixed(1)} ${at[1].toFixed(1)})`);
    form.elements[mark.dataset.mark].value = at.map((value) => value.toFixed(1)).join(" ");
    button.hidden = false;
  }

  function spot(event) {
    const box = picture.getBoundingClientRect();
    return [(event.clientX - box.left) / box.width * wide, (event.clientY - box.top) / box.height * high];
  }

  const STEP = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
  for (const mark of picture.querySelectorAll("[data-mark]")) {
    mark.addEventListener("pointerdown", (event) => { mark.setPointerCapture(event.pointerId); event.preventDefault(); mark.focus(); });
    mark.addEventListener("pointermove", (event) => { if (mark.hasPointerCapture(event.pointerId)) place(mark, ...spot(event)); });
    mark.addEventListener("keydown", (event) => {
      const step = STEP[event.key];
      if (!step) return;
      event.preventDefault();
      const far = (event.shiftKey ? 20 : 2) * wide / 1280;
      const [x, y] = form.elements[mark.dataset.mark].value.split(" ").map(Number);
      place(mark, x + far * step[0], y + far * step[1]);
    });
  }
  const asked = picture.querySelector("[data-asked]");
  paper.hidden = !asked;
  paper.addEventListener("click", () => {
    asked.removeAttribute("hidden");
    paper.hidden = true;
    place(asked, wide / 2, 0.85 * high);
    asked.focus();
  });
})();
