// A test led step by step: the sound uncompressed, one still and a clip; all go to the app on this machine and nowhere else.
(() => {
  const root = document.querySelector("[data-take]");
  if (!root) return;
  const part = (name) => root.querySelector(`[data-${name}]`);
  const begin = part("begin"), stop = part("stop"), on = part("on"), stage = part("stage"), words = part("words"), left = part("left"), video = part("video"), fault = part("fault");
  const STEPS = JSON.parse(document.getElementById("take-steps").textContent);
  const LOUD = 0.05; // of full: a tap on a microphone, and not beside it
  let streams = [], context = null, turn = 0, parts = [], still = null, told = [], looks = {}, filmed = 0;
  let loudest = 0, recording = false, hurry = () => {}, hurried = false;

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

  function release() {
    for (const stream of streams) for (const track of stream.getTracks()) { track.onended = null; track.stop(); }
    streams = [];
    if (context) context.close();
    context = null;
  }

  function end(text = "") {
    turn += 1; // whatever still runs is no longer this one
    release();
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

  async function send(files) {
    const form = new FormData();
    for (const [name, blob, file] of files) form.append(name, blob, file);
    form.append("notes", told.join("; "));
    form.append("known", JSON.stringify(looks));
    const name = window.underway.named(), shown = window.underway.follow(root.querySelector("[data-underway]"), root.dataset.csrf, name);
    form.append("underway", name);
    const answer = await fetch(root.dataset.address, { method: "POST", body: form, headers: { "X-CSRFToken": root.dataset.csrf, "X-Take": "led" } }).finally(shown.end);
    const found = await answer.json();
    if (!answer.ok) throw new Error(found.fault);
    return found.address;
  }

  // What a browser may never answer is waited for so long and no longer.
  const within = (seconds, answer) => Promise.race([answer, new Promise((done) => setTimeout(done, 1000 * seconds))]);

  // A step's time: over at its end, or as soon as somebody goes on by the key.
  function rest(seconds) {
    return new Promise((done) => {
      const timer = setTimeout(done, 1000 * seconds);
      hurry = () => { clearTimeout(timer); hurried = true; done(); };
    });
  }

  // A short tone between two steps, while nothing is recorded.
  async function tone() {
    if (!context || !part("tones").checked) return;
    const swing = context.createOscillator(), gain = context.createGain(), now = context.currentTime;
    swing.frequency.value = 660;
    gain.gain.setValueAtTime(0, now);
    gain.gain.linearRampToValueAtTime(0.12, now + 0.02);
    gain.gain.linearRampToValueAtTime(0, now + 0.14);
    swing.connect(gain).connect(context.destination);
    swing.start(now);
    swing.stop(now + 0.15);
    await new Promise((over) => setTimeout(over, 400)); // until the room is silent again
  }

  async function hear(stream) {
    context = new AudioContext();
    await context.audioWorklet.addModule(root.dataset.tap);
    const tap = new AudioWorkletNode(context, "tap");
    tap.port.onmessage = ({ data }) => { for (const one of data) loudest = Math.max(loudest, Math.abs(one)); if (recording) parts.push(data); };
    context.createMediaStreamSource(stream).connect(tap);
    await within(5, context.resume());
  }

  function film(stream) {
    const kind = ["video/webm;codecs=vp8,opus", "video/webm", "video/mp4"].find((name) => window.MediaRecorder && MediaRecorder.isTypeSupported(name));
    if (!kind) return null;
    const recorder = new MediaRecorder(stream, { mimeType: kind, videoBitsPerSecond: 6e6 }), chunks = [];
    recorder.ondataavailable = ({ data }) => { if (data.size) chunks.push(data); };
    recorder.onstart = () => { filmed = performance.now(); };
    const whole = new Promise((done) => { recorder.onstop = () => done(new Blob(chunks, { type: kind.split(";")[0] })); });
    recorder.start(500);
    return { recorder, whole, file: kind.startsWith("video/mp4") ? "led test.mp4" : "led test.webm" };
  }

  // One step after another; false as soon as the test is no longer this one.
  async function lead(steps, hears, sees, gone) {
    for (const step of steps) {
      if (!hears && step.sound) continue;
      recording = false;
      words.textContent = step.words;
      left.textContent = `${step.seconds}`;
      await tone();
      if (gone()) return false;
      recording = hears && step.recorded;
      const begun = performance.now();
      if (step.still && sees) setTimeout(async () => { if (!gone()) still = await grab(); }, 1000 * step.seconds * 0.6);
      hurried = false;
      for (let second = step.seconds; second > 0 && !hurried; second -= 1) { left.textContent = `${second}`; await rest(1); if (gone()) return false; }
      if (step.still && sees && !still) still = await grab();
      if (step.look && filmed) looks[step.look] = [[(begun - filmed) / 1000 + 0.4, (performance.now() - filmed) / 1000]]; // eyes need a moment to get there
      if (step.tap && hears && loudest < LOUD) told.push("no tap was heard: another microphone may be the one in use");
    }
    recording = false;
    return true;
  }

  // Noise as a voice has it, some four syllables a second at the level of a call, through the loudspeakers.
  function speak(seconds) {
    const rate = context.sampleRate, sound = context.createBuffer(1, rate * seconds, rate), data = sound.getChannelData(0);
    for (let index = 0; index < data.length; index += 1) data[index] = 0.16 * (Math.random() * 2 - 1) * Math.max(Math.sin((2 * Math.PI * 2 * index) / rate), 0);
    const source = context.createBufferSource(), low = context.createBiquadFilter();
    source.buffer = sound;
    low.type = "lowpass";
    low.frequency.value = 3000;
    source.connect(low).connect(context.destination);
    source.start();
    return () => source.stop();
  }

  async function echo(gone) {
    parts = [];
    const steps = JSON.parse(document.getElementById("take-echo-steps").textContent).map((step) => ({ ...step, sound: true, recorded: true }));
    const silence = speak(steps[0].seconds + 1);
    const led = await lead(steps, true, false, gone);
    if (context) silence();
    return led ? wav(context.sampleRate) : null;
  }

  // Once more with all that a browser does to the sound of a call.
  async function sent(gone) {
    release();
    const stream = await navigator.mediaDevices.getUserMedia({ audio: { echoCancellation: true, noiseSuppression: true, autoGainControl: true } });
    if (gone()) { for (const track of stream.getTracks()) track.stop(); return null; }
    streams = [stream];
    parts = [];
    await hear(stream);
    const steps = JSON.parse(document.getElementById("take-sent-steps").textContent).map((step) => ({ ...step, sound: true, recorded: true }));
    if (!await lead(steps, true, false, gone)) return null;
    return wav(context.sampleRate);
  }

  async function run() {
    const mine = ++turn, gone = () => mine !== turn;
    parts = []; still = null; looks = {}; filmed = 0; loudest = 0;
    say("");
    begin.hidden = true; stage.hidden = false;
    on.focus({ preventScroll: true });
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
    if (sees) { video.srcObject = stream; await within(5, video.play().catch(() => {})); }
    video.hidden = !sees;
    try {
      if (hears) await hear(stream);
      const filming = sees ? film(stream) : null;
      if (!await lead(STEPS, hears, sees, gone)) { if (filming && filming.recorder.state !== "inactive") filming.recorder.stop(); return; }
      const files = [];
      if (parts.length) files.push(["sound", wav(context.sampleRate), "led test.wav"]);
      if (still) files.push(["still", still, "led test.png"]);
      if (filming) { filming.recorder.stop(); const clip = await within(20, filming.whole); if (clip && clip.size) files.push(["clip", clip, filming.file]); }
      if (!files.length) return end("Neither a picture nor a sound came. Send a file instead.");
      if (hears && part("echo").checked) { const back = await echo(gone); if (gone()) return; if (back) files.push(["echo", back, "echo.wav"]); }
      if (hears && part("sent").checked) { const again = await sent(gone); if (gone()) return; if (again) files.push(["sent", again, "sent.wav"]); }
      release();
      stage.hidden = true;
      const address = await send(files);
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
  on.addEventListener("click", () => hurry());
  stage.addEventListener("keydown", (event) => {
    if (event.key === "Escape") { event.preventDefault(); end("Stopped. Nothing was kept."); }
    if (event.key === " " && event.target !== stop && event.target !== on) { event.preventDefault(); hurry(); }
  });
})();
