// The day page: a hand along the curve. Figures come from the page itself; the picture is drawn by the server for the time under
// the hand, the newest wish first, and nothing is saved until the call is moved.
(() => {
  const page = document.querySelector("[data-day]");
  const steps = JSON.parse(document.getElementById("day-steps").textContent);
  const slider = page.querySelector("[data-slider]"), hand = page.querySelector("[data-hand]");
  const drawing = hand.ownerSVGElement;
  const left = Number(hand.getAttribute("x1")), right = 748; // as the drawing has them
  const find = (name) => page.querySelector(`[data-${name}]`);
  const lux = (level) => (level < 10 ? `${level.toFixed(1)} lx` : `${Math.round(level)} lx`);
  const RESTS_MS = 500; // a hand that rests so long wants the whole picture
  let waiting = null, underWay = false, rested = 0;

  function show() {
    const step = steps[Number(slider.value)];
    find("clock").textContent = step.words;
    find("lamps").textContent = `${lux(step.lamps)} on your face`;
    find("windows").textContent = lux(step.windows);
    find("at").value = step.at;
    slider.setAttribute("aria-valuetext", `${step.words}: ${lux(step.lamps)}`);
    const x = left + ((right - left) * Number(slider.value)) / (steps.length - 1);
    hand.setAttribute("x1", x); hand.setAttribute("x2", x);
  }

  async function picture() {
    waiting = steps[Number(slider.value)].at;
    if (underWay) return;
    underWay = true;
    while (waiting) {
      const at = waiting;
      waiting = null;
      const body = new URLSearchParams({ parent: page.dataset.parent, picked: "", action: "when", at, sky: page.dataset.sky });
      try {
        const answer = await fetch(`${page.dataset.base}preview/`, { method: "POST", body, headers: { "X-CSRFToken": page.dataset.csrf, "X-Uphill-Fragment": "1" } });
        if (answer.status === 409) { say("The setup has changed since this page was shown. Load it again."); break; }
        if (!answer.ok) continue;
        const fresh = new DOMParser().parseFromString(await answer.text(), "text/html");
        const image = find("seen").querySelector("img");
        image.src = fresh.querySelector("img.picture").getAttribute("src");
        image.alt = fresh.querySelector("img.picture").alt;
        clearTimeout(rested);
        const whole = `/picture/${fresh.querySelector("[data-digest]").dataset.digest}/640.jpg`;
        rested = setTimeout(() => { image.src = whole; }, RESTS_MS);
      } catch { say("The app does not answer. Is it still running?"); break; }
    }
    underWay = false;
  }
  function say(words) { find("said").textContent = words; }

  slider.addEventListener("input", () => { show(); picture(); });
  // The drawing itself can be taken hold of, too.
  let held = false;
  const to = (event) => {
    const box = drawing.getBoundingClientRect();
    const x = ((event.clientX - box.left) / box.width) * drawing.viewBox.baseVal.width;
    slider.value = Math.round(((x - left) / (right - left)) * (steps.length - 1));
    show(); picture();
  };
  drawing.addEventListener("pointerdown", (event) => { held = true; event.preventDefault(); slider.focus({ preventScroll: true }); to(event); });
  window.addEventListener("pointermove", (event) => { if (held) to(event); });
  window.addEventListener("pointerup", () => { held = false; });
  for (const control of page.querySelectorAll("#day-date, #day-sky")) control.addEventListener("change", () => control.form.requestSubmit());
  show();
  if (!("asItIs" in page.dataset)) picture(); // the page came with the picture of the call itself
})();
