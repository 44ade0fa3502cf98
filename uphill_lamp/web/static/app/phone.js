// A phone's run sheet: counts down by itself, ticks here and at the desk are the same, and a reload or a locked screen loses nothing.
(() => {
  const sheet = document.querySelector("[data-sheet]"), left = document.querySelector("[data-left]"), next = document.querySelector("[data-next]");
  const lost = document.querySelector("[data-lost]"), ticks = [...document.querySelectorAll("[data-tick]")];
  const waiting = new Map(); // ticks that have not come through yet

  function clock(seconds) {
    const whole = Math.abs(Math.trunc(seconds)), hours = Math.floor(whole / 3600), two = (value) => String(value).padStart(2, "0");
    if (whole >= 86400) return `${Math.floor(whole / 86400)} days`;
    return hours ? `${hours}:${two(Math.floor(whole / 60) % 60)}:${two(whole % 60)}` : `${Math.floor(whole / 60)}:${two(whole % 60)}`;
  }
  function tell() {
    const away = (new Date(sheet.dataset.begins) - Date.now()) / 1000;
    left.textContent = away > 0 ? `in ${clock(away)}` : `on for ${clock(away)}`;
    const first = ticks.find((tick) => !tick.checked);
    for (const tick of ticks) {
      tick.closest(".line").classList.toggle("is-next", tick === first);
      tick.closest(".line").classList.toggle("is-done", tick.checked);
    }
    const text = first ? first.closest(".line").querySelector(".words").textContent : "All is done.";
    if (next.textContent !== text) next.textContent = text;
  }
  async function ask() {
    try {
      for (const [line, on] of waiting) {
        const sent = await fetch("ticks", { method: "POST", body: JSON.stringify({ line, on }) });
        if (sent.status === 404) throw new Error("closed");
        if (waiting.get(line) === on) waiting.delete(line);
      }
      const answer = await fetch("ticks");
      if (!answer.ok) throw new Error("closed");
      const there = new Set(await answer.json());
      for (const tick of ticks) if (!waiting.has(tick.dataset.tick)) tick.checked = there.has(tick.dataset.tick);
      lost.hidden = true;
    } catch {
      lost.hidden = false;
    }
    tell();
  }
  for (const tick of ticks) tick.addEventListener("change", () => { waiting.set(tick.dataset.tick, tick.checked); tell(); ask(); });
  document.addEventListener("visibilitychange", () => { if (!document.hidden) ask(); });
  ask();
  setInterval(tell, 1000);
  setInterval(ask, 4000);
})();
