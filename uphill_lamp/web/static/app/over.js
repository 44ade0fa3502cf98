// The last good picture at half strength over today's, from the camera itself: nothing of it is kept or sent.
(() => {
  const root = document.querySelector("[data-over]");
  if (!root) return;
  const part = (name) => root.querySelector(`[data-over-${name}]`);
  const open = part("open"), stage = part("stage"), video = part("video"), picture = part("picture"), mix = part("mix"), fault = part("fault");
  let stream = null;
  const ERRORS = {
    NotAllowedError: "The browser may not use the camera here. Allow it in the address bar, and try again.",
    NotFoundError: "There is no camera on this machine.",
    NotReadableError: "Another program is using the camera. Close it, and try again.",
  };

  function say(text) { fault.textContent = text; fault.hidden = !text; }
  function blend() { picture.style.opacity = mix.value / 100; }
  function stop(text = "") {
    if (stream) for (const track of stream.getTracks()) { track.onended = null; track.stop(); }
    stream = null;
    stage.hidden = true;
    open.hidden = false;
    say(text);
    open.focus();
  }
  open.addEventListener("click", async () => {
    say("");
    open.disabled = true;
    try {
      stream = await navigator.mediaDevices.getUserMedia({ video: { width: { ideal: 1280 }, height: { ideal: 720 } } });
      picture.src = picture.dataset.source;
      video.srcObject = stream;
      stream.getVideoTracks()[0].onended = () => stop("The camera was taken away. Plug it in, and try again.");
      stage.hidden = false;
      open.hidden = true;
      blend();
      await video.play();
      mix.focus();
    } catch (wrong) {
      stop(ERRORS[wrong.name] || "The camera does not answer.");
    }
    open.disabled = false;
  });
  mix.addEventListener("input", blend);
  part("stop").addEventListener("click", () => stop());
  addEventListener("pagehide", () => { if (stream) stop(); });
})();
