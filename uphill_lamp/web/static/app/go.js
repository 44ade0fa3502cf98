// The run sheet pressed through: ticks are kept in this browser until the call is over, and the next line is told with the time it has left.
(() => {
  const sheet = document.querySelector("[data-run]");
  if (!sheet) return;
  const KEPT = "uphill-run", ticks = [...sheet.querySelectorAll("[data-tick]")], left = sheet.querySelector("[data-run-left]");

  // Only the newest sheet is kept: a call that is over needs none.
  function read() {
    try {
      const kept = JSON.parse(localStorage.getItem(KEPT) || "{}");
      return kept.call === sheet.dataset.call ? kept.ticked || {} : {};
    } catch {
      return {};
    }
  }
  function keep(ticked) {
    try { localStorage.setItem(KEPT, JSON.stringify({ call: sheet.dataset.call, ticked })); } catch { /* then they last as long as the page does */ }
  }
  function inWords(seconds) {
    const minutes = Math.ceil(Math.abs(seconds) / 60);
    return minutes < 60 ? `${minutes} min` : minutes < 1440 ? `${Math.floor(minutes / 60)} h ${minutes % 60} min` : `${Math.floor(minutes / 1440)} days`;
  }
  function tell() {
    const next = ticks.find((tick) => !tick.checked);
    for (const tick of ticks) tick.closest(".run-line").classList.toggle("is-next", tick === next);
    const away = (new Date(sheet.dataset.begins) - new Date()) / 1000;
    const over = new Date() > new Date(sheet.dataset.ends);
    const start = away > 0 ? `It begins in ${inWords(away)}.` : over ? "It is over." : `It began ${inWords(away)} ago.`;
    const done = ticks.filter((tick) => tick.checked).length;
    const text = over && !done ? start : next ? `${start} ${done} of ${ticks.length} done. Next: ${next.closest(".run-line").querySelector(".run-words").textContent}` : `${start} All is done.`;
    if (left.textContent !== text) left.textContent = text;
  }

  const ticked = read();
  function mark(tick, on, byHand = true) {
    tick.checked = on;
    if (on) ticked[tick.dataset.tick] = ticked[tick.dataset.tick] || Date.now(); else delete ticked[tick.dataset.tick];
    if (byHand) sendOn(tick.dataset.tick, on);
  }
  for (const tick of ticks) {
    tick.checked = Boolean(ticked[tick.dataset.tick]);
    tick.addEventListener("change", () => { mark(tick, tick.checked); keep(ticked); tell(); });
  }
  sheet.querySelector("[data-run-anew]").addEventListener("click", () => {
    for (const tick of ticks) if (tick.checked) mark(tick, false);
    keep(ticked);
    tell();
  });

  // While it is open on a phone too, ticks here and there are the same; those that were here first go over.
  let phone = sheet.dataset.phone, onTheWay = 0;
  async function sendOn(line, on) {
    if (!phone) return;
    const body = new URLSearchParams({ line, on: on ? "yes" : "no", csrfmiddlewaretoken: document.querySelector("[name=csrfmiddlewaretoken]").value });
    onTheWay += 1;
    await fetch(sheet.dataset.phoneTick, { method: "POST", body }).catch(() => null); // it is asked again anyway
    onTheWay -= 1;
  }
  async function ask() {
    const answer = phone && !onTheWay && await fetch(phone).then((got) => got.json()).catch(() => null);
    if (!answer || onTheWay) return;
    if (!answer.open) { phone = ""; return; }
    for (const tick of ticks) {
      const on = answer.ticked.includes(tick.dataset.tick);
      if (on !== tick.checked) mark(tick, on, false);
    }
    keep(ticked);
    tell();
  }
  if (phone) {
    Promise.all(ticks.filter((tick) => tick.checked).map((tick) => sendOn(tick.dataset.tick, true))).then(ask);
    setInterval(ask, 4000);
  }
  // What was timed goes with the log: how long each line took after the one before it, and how long all of them did.
  const log = document.querySelector("[data-log]");
  log.addEventListener("submit", () => {
    const times = Object.entries(ticked).sort((one, other) => one[1] - other[1]), seconds = {};
    for (let index = 1; index < times.length; index += 1) {
      const took = (times[index][1] - times[index - 1][1]) / 1000;
      if (took > 1 && took < 900) seconds[times[index][0]] = took; // a longer rest is none of the line's
    }
    log.querySelector("[name=seconds]").value = JSON.stringify(seconds);
    const before = ticks.filter((tick) => tick.dataset.part === "before" && ticked[tick.dataset.tick]).map((tick) => ticked[tick.dataset.tick]);
    const ready = log.querySelector("[name=ready_min]"), took = (Math.max(...before) - Math.min(...before)) / 60000;
    if (!ready.value && before.length > 1 && took >= 0.5 && took <= 120) ready.value = took.toFixed(1);
  });

  tell();
  setInterval(tell, 15_000);
})();
