// The full-screen lamp: sliders choose a white from the server's list and how bright; changes ease in slowly, nothing flashes.
(() => {
  const panel = document.querySelector("[data-lamp]");
  const light = document.querySelector("[data-light]");
  const whites = JSON.parse(document.getElementById("whites").textContent);
  const cct = panel.querySelector("[data-cct]"), bright = panel.querySelector("[data-bright]");
  const full = Number(panel.dataset.fullLx);
  const encoded = (linear) => Math.round(255 * (linear <= 0.0031308 ? 12.92 * linear : 1.055 * linear ** (1 / 2.4) - 0.055));
  function show() {
    const white = whites[Number(cct.value)], share = Number(bright.value) / 100;
    const colour = `rgb(${white.linear.map((channel) => encoded(channel * share)).join(" ")})`;
    light.style.backgroundColor = colour;
    panel.querySelector("[data-cct-words]").textContent = `${white.cct_k} K`;
    panel.querySelector("[data-bright-words]").textContent = `${bright.value} %`;
    const lux = panel.querySelector("[data-lux]");
    if (lux && full) { const level = full * white.share * share; lux.textContent = `${level < 10 ? level.toFixed(1) : Math.round(level)} lx`; }
  }
  function put(on) {
    light.hidden = !on;
    document.body.classList.toggle("is-lamp", on);
    if (on) { light.focus(); document.documentElement.requestFullscreen?.().catch(() => {}); }
    else { if (document.fullscreenElement) document.exitFullscreen(); panel.querySelector("[data-fill]").focus(); }
  }
  panel.querySelector("[data-fill]").addEventListener("click", () => put(true));
  light.addEventListener("click", () => put(false));
  document.addEventListener("keydown", (event) => { if (event.key === "Escape" && !light.hidden) put(false); });
  document.addEventListener("fullscreenchange", () => { if (!document.fullscreenElement && !light.hidden) put(false); });
  for (const slider of [cct, bright]) slider.addEventListener("input", show);
  show();
})();
