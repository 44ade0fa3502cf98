// A test led step by step: one recording of the sound, uncompressed, and one still; both go to the app on this machine and nowhere else.
(() => {
  const root = document.querySelector("[data-take]");
  if (!root) return;
  const part = (name) => root.querySelector(`[data-${name}]`);
  const begin = part("begin"), stop = part("stop"), stage = part("stage"), words = part("words"), left = part("left"), video = part("video"), fault = part("fault");
  const STEPS = JSON.parse(document.getElementById("take-steps").textContent);
  const LOUD = 0.05; // of full: a tap on a microphone, and not beside it
  let streams = [], context = null, turn = 0, parts = [], still = null, told = [];

  const ERRORS = {
    NotAllowedError: "The browser may not use camera or microphone here. Allow it in the address bar, and begin again.",
    NotFoundError: "There is neither a camera nor a microphone on this machine. Send a file instead.",
    NotReadableError: "Another program is using the camera or the microphone. Close it, and begin again.",
  };

  function say(text) { fault.textContent = text; fault.hidden = !text; }

  async function devices() {
    const sound = { echoCancellation: false, noiseSuppression: false, autoGainControl: false }, picture = { width: { ideal: 1280 }, height: { ideal: 720 } };
    try {
      return await navigator.mediaDevices.getUserMedia({ audio: sound, video: picture });
    } catch (wrong) {
      if (wrong.name !== "NotFoundError") throw wrong;
      const alone = await navigator.mediaDevices.getUserMedia({ audio: sound }).catch(() => navigator.mediaDevices.getUserMedia({ video: picture }));
      return alone;
    }
  }

  function granted(stream) {
    const notes = [];
    for (const track of stream.getTracks()) {
      const set = track.getSettings();
      if (track.kind === "video") notes.push(`picture ${set.width} × ${set.height} px`);
      else {
        const on = ["echoCancellation", "noiseSuppression", "autoGainControl"].filter((name) => set[name]);
        notes.push(on.length ? `the browser kept on: ${on.map((name) => name.replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`)).join(", ")}` : "sound as it comes");
      }
      track.onended = () => end("A device was taken away in the middle. Plug it in, and begin again.");
    }
    return notes;
  }

  function end(text = "") {
    turn += 1; // whatever still runs is no longer this one
    for (const stream of streams) for (const track of stream.getTracks()) { track.onended = null; track.stop(); }
    streams = [];
    if (context) context.close();
    context = null;
    stage.hidden = true;
    begin.hidden = false;
    say(text);
    if (root.contains(document.activeElement) || document.activeElement === document.body) begin.focus();
  }

  function grab() {
    if (!video.videoWidth) return Promise.resolve(null);
    const canvas = document.createElement("canvas");
    canvas.width = video.videoWidth;
    canvas.height = video.videoHeight;
    canvas.getContext("2d").drawImage(video, 0, 0);
    return new Promise((done) => canvas.toBlob(done, "image/png"));
  }

  function wav(rate) {
    const count = parts.reduce((sum, one) => sum + one.length, 0), view = new DataView(new ArrayBuffer(44 + 2 * count));
    const word = (at, text) => [...text].forEach((letter, index) => view.setUint8(at + index, letter.charCodeAt(0)));
    word(0, "RIFF"); view.setUint32(4, 36 + 2 * count, true); word(8, "WAVEfmt ");
    view.setUint32(16, 16, true); view.setUint16(20, 1, true); view.setUint16(22, 1, true);
    view.setUint32(24, rate, true); view.setUint32(28, 2 * rate, true); view.setUint16(32, 2, true); view.setUint16(34, 16, true);
    word(36, "data"); view.setUint32(40, 2 * count, true);
    let at = 44;
    for (const one of parts) for (const sample of one) { view.setInt16(at, Math.max(-1, Math.min(1, sample)) * 32767, true); at += 2; }
    return new Blob([view], { type: "audio/wav" });
  }

  async function send(blob, name) {
    const form = new FormData();
    form.append("file", blob, name);
    form.append("notes", told.join("; "));
    const answer = await fetch(root.dataset.address, { method: "POST", body: form, headers: { "X-CSRFToken": root.dataset.csrf, "X-Take": "led" } });
    const found = await answer.json();
    if (!answer.ok) throw new Error(found.fault);
    return found.address;
  }

  const rest = (seconds) => new Promise((done) => setTimeout(done, 1000 * seconds));

  async function run() {
    const mine = ++turn, gone = () => mine !== turn;
    parts = []; still = null;
    say("");
    begin.hidden = true; stage.hidden = false;
    stop.focus({ preventScroll: true });
    stage.scrollIntoView({ block: "nearest" });
    words.textContent = "Allow camera and microphone.";
    let stream;
    try {
      stream = await devices();
    } catch (wrong) {
      if (gone()) return;
      return end(ERRORS[wrong.name] || "Camera and microphone cannot be reached. Send a file instead.");
    }
    if (gone()) { for (const track of stream.getTracks()) track.stop(); return; }
    streams = [stream];
    told = granted(stream);
    const hears = stream.getAudioTracks().length > 0, sees = stream.getVideoTracks().length > 0;
    if (sees) { video.srcObject = stream; await video.play().catch(() => {}); }
    video.hidden = !sees;
    let loudest = 0, recording = false;
    if (hears) {
      context = new AudioContext();
      await context.audioWorklet.addModule(root.dataset.tap);
      const tap = new AudioWorkletNode(context, "tap");
      tap.port.onmessage = ({ data }) => { for (const one of data) loudest = Math.max(loudest, Math.abs(one)); if (recording) parts.push(data); };
      context.createMediaStreamSource(stream).connect(tap);
      await context.resume();
    }
    for (const step of STEPS) {
      if (!hears && step.sound) continue;
      words.textContent = step.words;
      recording = hears && step.recorded;
      if (step.still && sees) setTimeout(async () => { if (!gone()) still = await grab(); }, 1000 * step.seconds * 0.6);
      for (let second = step.seconds; second > 0; second -= 1) { left.textContent = `${second}`; await rest(1); if (gone()) return; }
      if (step.tap && hears && loudest < LOUD) told.push("no tap was heard: another microphone may be the one in use");
    }
    recording = false;
    words.textContent = "Measuring. It takes some seconds.";
    left.textContent = "";
    const rate = context ? context.sampleRate : 48000;
    try {
      let address = "";
      if (parts.length) address = await send(wav(rate), "led test.wav");
      if (still) address = await send(still, "led test.png");
      if (!address) return end("Neither a picture nor a sound came. Send a file instead.");
      if (gone()) return;
      end();
      location.assign(address);
    } catch (wrong) {
      if (gone()) return;
      end(wrong.message || "It could not be measured. Begin again, or send a file.");
    }
  }

  if (!navigator.mediaDevices || !navigator.mediaDevices.getUserMedia) {
    begin.disabled = true;
    say("This browser gives no page a camera or a microphone here. Send a file instead.");
  }
  begin.addEventListener("click", run);
  stop.addEventListener("click", () => end("Stopped. Nothing was kept."));
  stage.addEventListener("keydown", (event) => { if (event.key === "Escape") { event.preventDefault(); end("Stopped. Nothing was kept."); } });
})();
