// Scrolls a script by reading speed: the place in it is counted in words (breaths included), and each word has its height on the page.
(() => {
  const page = document.querySelector(".prompter");
  const script = page.querySelector(".script");
  const blocks = [...script.querySelectorAll("[data-words]")];
  const speed = document.querySelector(".speed");
  const timeLeft = document.querySelector(".time-left");
  const toggle = document.querySelector('[data-do="toggle"]');
  const LEAST = 40, MOST = 300, STEP = 5;
  let wpm = Number(page.dataset.wpm), words = 0, running = false, last = null, starts = [], total = 0;

  // Sizes were worked out in the pixels of the screen of the setup; the browser counts in its own.
  function size() {
    const perPixel = window.screen.width / Number(page.dataset.screenPx);
    script.style.fontSize = `${Math.max(14, Number(page.dataset.fontPx) * perPixel)}px`;
    script.style.width = `${Math.min(page.clientWidth - 32, Number(page.dataset.columnPx) * perPixel)}px`;
    starts = []; total = 0;
    for (const block of blocks) { starts.push(total); total += Number(block.dataset.words); }
    show();
  }
  function at(place) {
    let index = starts.findIndex((start, i) => place < start + Number(blocks[i].dataset.words));
    if (index < 0) index = blocks.length - 1;
    const block = blocks[index], own = Number(block.dataset.words);
    const share = own ? Math.min((place - starts[index]) / own, 1) : 0;
    const next = blocks[index + 1];
    const end = next ? next.offsetTop : block.offsetTop + block.offsetHeight;
    return block.offsetTop + share * (end - block.offsetTop);
  }
  function show() {
    page.scrollTop = blocks.length ? at(words) - blocks[0].offsetTop : 0; // the first line starts on the reading line
    page.dataset.place = words.toFixed(3);
    speed.textContent = `${wpm} words a minute`;
    const seconds = Math.max(0, Math.round((total - words) * 60 / wpm));
    timeLeft.textContent = `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, "0")}`;
  }
  function tick(now) {
    if (!running) return;
    if (last !== null) words = Math.min(words + (now - last) / 60000 * wpm, total);
    last = now;
    show();
    if (words >= total) { run(false); return; }
    requestAnimationFrame(tick);
  }
  function run(on) {
    running = on;
    last = null;
    toggle.textContent = on ? "Stop" : "Start";
    toggle.setAttribute("aria-pressed", String(on));
    if (on) requestAnimationFrame(tick);
  }
  function by(step) {
    const here = starts.findLastIndex((start) => start <= words + 1e-6);
    words = starts[Math.min(Math.max(here + step, 0), starts.length - 1)] ?? 0;
    show();
  }
  function pace(step) { wpm = Math.min(Math.max(wpm + step, LEAST), MOST); show(); }
  const does = {
    toggle: () => run(!running), start: () => run(true), faster: () => pace(STEP), slower: () => pace(-STEP), mirror: () => page.classList.toggle("is-mirrored"),
    restart: () => { words = 0; show(); }, forward: () => by(1), back: () => by(-1),
    leave: () => (running ? run(false) : location.assign(page.dataset.back)), // what a clicker sends to end a show only stops first
    fill: () => (document.fullscreenElement ? document.exitFullscreen() : document.documentElement.requestFullscreen?.().catch(() => {})),
  };
  // Page keys, arrows, Enter, B, the full stop and F5 are what clickers and foot pedals send.
  const keys = {
    " ": "toggle", Enter: "toggle", F5: "start", PageDown: "forward", PageUp: "back", ArrowUp: "faster", ArrowDown: "slower",
    ArrowRight: "forward", ArrowLeft: "back", Home: "restart", Escape: "leave", b: "toggle", ".": "toggle", m: "mirror", f: "fill",
  };
  const lettersOn = () => { try { return localStorage.getItem("uphill-keys") !== "off"; } catch { return true; } };
  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.target.closest?.("button, a") && (event.key === " " || event.key === "Enter")) return;
    const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
    if (/^[a-z.]$/.test(key) && !lettersOn()) return;
    const wish = keys[key];
    if (!wish || (wish === "leave" && document.fullscreenElement)) return;
    event.preventDefault();
    does[wish]();
  });
  document.querySelector(".controls").addEventListener("click", (event) => {
    const wish = event.target.closest("[data-do]")?.dataset.do;
    if (wish) { does[wish](); if (wish !== "toggle") page.focus(); }
  });
  addEventListener("resize", size);
  document.fonts.ready.then(size);
  size();
  page.focus();
})();
