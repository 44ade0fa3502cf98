// Hands on what a microphone gives, sample by sample, in parts of a tenth of a second or so.
class Tap extends AudioWorkletProcessor {
  constructor() { super(); this.kept = []; }
  process([input]) {
    if (input.length) this.kept.push(...input[0]);
    if (this.kept.length >= 4096) { this.port.postMessage(new Float32Array(this.kept)); this.kept = []; }
    return true;
  }
}
registerProcessor("tap", Tap);
