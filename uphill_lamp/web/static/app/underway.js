// Files that are being sent and measured: how far they are, and a button that stops them. Without this script the page just waits.
(() => {
  const EVERY_MS = 400;

  // A name that nobody else has, by which the app tells how far the files are.
  function named() {
    return [...crypto.getRandomValues(new Uint8Array(16))].map((byte) => byte.toString(16).padStart(2, "0")).join("");
  }

  // Shows a panel until it is ended; true once somebody has stopped it.
  function follow(panel, csrf, name) {
    const address = panel.dataset.underway.replace("/0/", `/${name}/`);
    const bar = panel.querySelector("progress"), words = panel.querySelector("[data-underway-words]"), stop = panel.querySelector("[data-underway-stop]");
    const state = { stopped: false };
    const say = (text) => { if (words.textContent !== text) words.textContent = text; };
    async function told(options = {}) {
      const answer = await fetch(address, options).catch(() => null);
      return answer && answer.ok ? answer.json() : { share: null, stopped: false };
    }
    async function ask() {
      const { share } = await told();
      if (state.ended || state.stopped) return;
      if (share !== null) { // else it is on its way to the app still
        bar.value = share;
        say(share ? `Measuring: ${10 * Math.floor(10 * share)} % done.` : "Measuring. It takes some seconds.");
      }
      setTimeout(ask, EVERY_MS);
    }
    bar.value = 0;
    say("Sending it to the app on this machine.");
    panel.hidden = false;
    if (document.activeElement === document.body) stop.focus({ preventScroll: true }); // what was in hand is gone
    stop.onclick = async () => {
      state.stopped = true;
      say("Stopping.");
      const { stopped } = await told({ method: "POST", headers: { "X-CSRFToken": csrf } });
      if (stopped) return; // the app ends it, and says so
      window.stop(); // it was still on its way
      state.end();
    };
    ask();
    state.end = () => { state.ended = true; panel.hidden = true; };
    return state;
  }

  window.underway = { named, follow };

  for (const form of document.querySelectorAll("form[data-measures]")) {
    const panel = form.querySelector("[data-underway]"), name = form.querySelector("[name=underway]"), csrf = form.querySelector("[name=csrfmiddlewaretoken]").value;
    let shown = null;
    form.addEventListener("submit", (event) => {
      if (event.submitter && event.submitter.value === "csv") return; // a file comes, and the page stays
      name.value = named();
      shown = window.underway.follow(panel, csrf, name.value);
    });
    window.addEventListener("pageshow", () => { if (shown) shown.end(); }); // come back to from the browser's own history
  }
})();
