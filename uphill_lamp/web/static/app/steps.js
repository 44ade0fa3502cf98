// Steps: waits for the ladder, and lets the budget be slid along the hill; the figures come with the page, nothing is worked out here.
(() => {
  const page = document.querySelector("[data-steps]");
  document.querySelector("[data-print]")?.addEventListener("click", () => window.print());
  if (!page) return;
  const ASKS_MS = 400, TELLS_MS = 10000; // the count is seen each time, and said aloud now and then
  let told = performance.now();
  const SIGNS = { GBP: "£", EUR: "€", USD: "$" };

  async function wait() {
    try {
      const answer = await fetch(page.dataset.progress, { headers: { "X-Uphill-Fragment": "1" } });
      if (answer.status === 204) {
        if (page.dataset.then) {
          for (const place of page.querySelectorAll("[data-told], [data-count]")) place.textContent = "The steps are ready. Writing the pages …";
          location.replace(page.dataset.then);
        } else location.reload();
        return;
      }
      if (answer.ok) {
        const fresh = new DOMParser().parseFromString(await answer.text(), "text/html").querySelector("[data-progress-panel]");
        const shown = page.querySelector("[data-progress-panel]"), bar = shown.querySelector("progress");
        bar.value = Number(fresh.querySelector("progress").getAttribute("value"));
        const count = fresh.querySelector("[data-count]").textContent;
        shown.querySelector("[data-count]").textContent = count;
        if (performance.now() - told > TELLS_MS) {
          told = performance.now();
          shown.querySelector("[data-told]").textContent = count;
        }
      }
    } catch { /* asked again */ }
    setTimeout(wait, ASKS_MS);
  }
  if ("waiting" in page.dataset) setTimeout(wait, ASKS_MS);

  const form = page.querySelector("[data-budget]");
  if (form) {
    const reach = JSON.parse(document.getElementById("reach").textContent);
    const slider = form.querySelector("[data-slider]"), figure = form.querySelector("[data-figure]"), said = page.querySelector("[data-budget-said]");
    const mark = page.querySelector("[data-budget-mark]"), line = mark.querySelector("line"), word = mark.querySelector("text");
    const currency = figure.nextElementSibling.textContent;
    const show = (money) => {
      const best = reach.filter((one) => one.cost <= money + 1e-9).at(-1) ?? reach[0];
      const sign = SIGNS[currency], sum = (amount) => (sign ? `${sign}${amount}` : `${amount} ${currency}`);
      said.textContent = `Within ${sum(money)} ${best.said}`;
      const { left, right, most } = mark.dataset;
      const x = Number(left) + (Number(right) - Number(left)) * Math.min(money / Number(most), 1);
      line.setAttribute("x1", x); line.setAttribute("x2", x); word.setAttribute("x", x); word.textContent = `budget ${money}`;
    };
    slider.addEventListener("input", () => { figure.value = slider.value; show(Number(slider.value)); });
    slider.addEventListener("change", () => form.requestSubmit());
    figure.addEventListener("input", () => {
      const money = Number(figure.value.replace(",", "."));
      if (Number.isFinite(money) && money >= 0) { slider.value = money; show(money); }
    });
  }
})();
