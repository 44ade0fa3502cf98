// Hear it: two microphones by turns, the same words, from the same place in them; one's own voice recorded as the dry sample.
(() => {
  const panel = document.querySelector("[data-hear]");
  if (!panel) return;
  const heard = JSON.parse(document.getElementById("heard").textContent);
  const part = (name) => panel.querySelector(`[data-${name}]`);
  const choices = [...panel.querySelectorAll("[data-which]")], buttons = [...panel.querySelectorAll("[data-play]")];
  const players = [new Audio(), new Audio()];
  const voice = part("voice"), said = part("said"), progress = part("progress"), recordButton = part("record");
  const RECORD_S = 10;
  let recording = null;

  const chosen = (which) => heard[Number(choices[which].value)];
  const address = (which) => `/hear/${chosen(which).address}/${voice.value}.wav`;
  const say = (words) => { said.textContent = words; };
  const busy = (on) => { progress.hidden = !on; };
  const step = (figure, unit, digits) => `${figure >= 0 ? "+" : "\u2212"}${Math.abs(figure).toFixed(digits)}${unit}`;

  function differ() {
    const [first, second] = [chosen(0), chosen(1)];
    part("differ").textContent = first === second ? "" :
      `${second.name} against ${first.name}: clarity ${step(second.sti - first.sti, "", 2)}, over noise ${step(second.snr - first.snr, " dB", 0)}, over the room ${step(second.drr - first.drr, " dB", 0)}.`;
  }
  function mark(which) {
    buttons.forEach((button, index) => { button.setAttribute("aria-pressed", String(index === which)); });
  }
  function stop() {
    for (const player of players) { player.pause(); player.removeAttribute("src"); player.load(); }
    busy(false); mark(-1);
  }
  async function play(which) {
    const player = players[which], other = players[1 - which];
    const from = other.paused ? 0 : other.currentTime;
    other.pause();
    if (player.getAttribute("src") !== address(which)) player.setAttribute("src", address(which));
    say(`Working out how you sound through: ${chosen(which).name} \u2026`); busy(true); mark(which);
    try {
      player.currentTime = from;
      await player.play();
      say(`Playing: ${chosen(which).name}`);
    } catch (fault) {
      if (fault.name !== "AbortError") say("It could not be played. Is the app still running?");
    }
    busy(false);
  }
  players.forEach((player, which) => player.addEventListener("ended", () => { mark(-1); say(`That was: ${chosen(which).name}`); }));
  buttons.forEach((button, which) => button.addEventListener("click", () => play(which)));
  choices.forEach((choice) => choice.addEventListener("change", () => { stop(); differ(); }));
  voice.addEventListener("change", stop);
  part("stop").addEventListener("click", () => { if (recording) finish(); stop(); say("Stopped."); });

  async function send(blob, name) {
    const form = new FormData();
    form.append("file", blob, name);
    busy(true);
    try {
      const answer = await fetch("/hear/own/", { method: "POST", body: form, headers: { "X-CSRFToken": panel.dataset.csrf } });
      const told = await answer.json();
      if (!answer.ok) { say(told.fault); return; }
      let option = [...voice.options].find((one) => one.value === told.voice);
      if (!option) { option = new Option(told.words, told.voice); voice.add(option); }
      voice.value = told.voice;
      stop();
      say("Your own voice is the sample now. Press Play.");
    } catch { say("The app does not answer, or the file is too large. Nothing was kept."); } finally { busy(false); }
  }
  part("file")?.addEventListener("change", (event) => {
    const [file] = event.target.files;
    if (file) send(file, file.name);
    event.target.value = "";
  });

  // Raw samples from the microphone, written out as a WAV file here: no other program is needed.
  async function record() {
    let stream;
    try {
      stream = await navigator.mediaDevices.getUserMedia({ audio: { echoCancellation: false, noiseSuppression: false, autoGainControl: false } });
    } catch { say("No microphone may be used here. Open a recording instead."); return; }
    const context = new AudioContext();
    await context.audioWorklet.addModule(panel.dataset.tap);
    const source = context.createMediaStreamSource(stream), tap = new AudioWorkletNode(context, "tap");
    recording = { stream, context, tap, parts: [], rate: context.sampleRate, count: 0 };
    tap.port.onmessage = (event) => {
      if (!recording) return;
      recording.parts.push(event.data);
      recording.count += event.data.length;
      const left = RECORD_S - recording.count / recording.rate;
      say(`Speak, near the microphone, in your quietest and softest corner: ${Math.max(Math.ceil(left), 0)} s left.`);
      if (left <= 0) finish();
    };
    source.connect(tap);
    recordButton.textContent = "That is enough";
  }
  function finish() {
    const { stream, context, tap, parts, rate } = recording;
    recording = null;
    tap.disconnect();
    for (const track of stream.getTracks()) track.stop();
    context.close();
    recordButton.textContent = "Record my own";
    send(wav(parts, rate), "voice.wav");
  }
  function wav(parts, rate) {
    const count = parts.reduce((sum, one) => sum + one.length, 0), view = new DataView(new ArrayBuffer(44 + 2 * count));
    const word = (at, text) => { for (let i = 0; i < text.length; i++) view.setUint8(at + i, text.charCodeAt(i)); };
    word(0, "RIFF"); view.setUint32(4, 36 + 2 * count, true); word(8, "WAVEfmt ");
    view.setUint32(16, 16, true); view.setUint16(20, 1, true); view.setUint16(22, 1, true); view.setUint32(24, rate, true);
    view.setUint32(28, 2 * rate, true); view.setUint16(32, 2, true); view.setUint16(34, 16, true); word(36, "data"); view.setUint32(40, 2 * count, true);
    let at = 44;
    for (const one of parts) for (const sample of one) { view.setInt16(at, Math.max(-1, Math.min(1, sample)) * 32767, true); at += 2; }
    return new Blob([view], { type: "audio/wav" });
  }
  recordButton?.addEventListener("click", () => (recording ? finish() : record()));
  differ();
})();
