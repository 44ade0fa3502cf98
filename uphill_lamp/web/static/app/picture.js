// The bench's picture: what it shows, and how the next one comes in its place.
const REST_MS = 180;
const QUIET_MS = 400;
const LATE_MS = 200; // what is there so soon need not be announced
const benchPicture = {
  plain: "", // address of the picture as the others see it
  levels: false, // whether its light is shown instead
  after: null, // address and words of the move that is pointed at
  pointer: "", // where the pointer was last
  quietUntil: 0, // until then focus is given, not taken [ms]
  resting: 0, // the timer that waits for a pointer to rest on it
  small: false, // whether it is shown as small as in a grid of many
  held: false, // whether the state before the last change is
  divided: false, // whether that state is, left of a line across the picture
  late: 0, // the timer after which a picture on its way is told

  // The picture stays until the next one has arrived; the lines over it change at once.
  swapPicture(here, region) {
    const image = here.querySelector("img");
    const next = region.querySelector("img");
    image.dataset.levels = next.dataset.levels;
    if (next.dataset.before) image.dataset.before = next.dataset.before;
    else delete image.dataset.before;
    here.querySelector("[data-divide-switch]").hidden = !next.dataset.before;
    this.plain = next.getAttribute("src");
    this.after = null;
    this.quietUntil = performance.now() + QUIET_MS;
    clearTimeout(this.resting);
    here.querySelector("[data-png]").href = region.querySelector("[data-png]").href;
    if (next.alt) image.alt = next.alt; // told anew where a preview brings figures too
    this.look();
    renewChildren(here.querySelector(".overlay-layer"), region.querySelector(".overlay-layer"));
  },
  // What the picture shows: the plain one, its light in false colours, the one after the move pointed at, or, while B is held, how it
  // was before the last change.
  look() {
    const image = this.root.querySelector("img.picture");
    const levels = this.levels && !this.drag && !this.after;
    this.root.classList.toggle("shows-levels", levels && !this.held);
    this.root.classList.toggle("shows-before", this.held);
    this.root.classList.toggle("shows-after", Boolean(this.after) && !this.held);
    this.root.classList.toggle("shows-small", this.small);
    this.root.classList.toggle("is-divided", this.divided && !this.held && !this.after && Boolean(image.dataset.before));
    this.root.querySelector("[data-divide-switch]").setAttribute("aria-pressed", String(this.divided));
    const before = this.root.querySelector("img.before");
    if (this.divided && image.dataset.before && before.getAttribute("src") !== image.dataset.before) before.src = image.dataset.before;
    this.root.querySelector("[data-levels-switch]")?.setAttribute("aria-pressed", String(this.levels));
    this.root.querySelector("[data-small-switch]")?.setAttribute("aria-pressed", String(this.small));
    const tag = this.root.querySelector("[data-picture-tag]");
    this.write(tag, this.held ? "Before the last change" : this.after ? `After: ${this.after.words}` : "");
    this.showPicture(image, this.held ? image.dataset.before : this.after ? this.after.address : levels ? image.dataset.levels : this.plain);
  },
  // The picture after a move follows a pointer or the focus that rests on it.
  // Only where a hand or a key has moved: what a swap puts under a resting pointer, or gives the focus back to, is not pointed at.
  pointed(event) {
    const place = `${event.clientX},${event.clientY}`;
    const moved = event.type === "focusin" ? performance.now() > this.quietUntil : place !== this.pointer;
    if (event.type !== "focusin") this.pointer = place;
    if (this.drag || !moved) return;
    const button = event.target.closest?.("[data-after]");
    if (!button || this.after?.address === button.dataset.after) return;
    clearTimeout(this.resting);
    this.resting = setTimeout(() => {
      if (this.drag || !button.isConnected) return;
      this.after = { address: button.dataset.after, words: button.textContent };
      this.look();
    }, REST_MS);
  },
  left(event) {
    if (!event.target.closest?.("[data-after]")) return;
    clearTimeout(this.resting);
    if (!this.after) return;
    this.after = null;
    this.look();
  },
  switchSmall() {
    this.small = !this.small;
    if (this.small) this.divided = false;
    this.look();
  },
  switchDivided() {
    this.divided = !this.divided;
    if (this.divided) this.levels = this.small = false;
    this.look();
    if (this.divided) this.root.querySelector("[data-divider]").focus({ preventScroll: true });
  },
  divideAt(slider) {
    slider.closest(".divider").parentElement.style.setProperty("--divided", `${slider.value}%`);
    slider.setAttribute("aria-valuetext", `${slider.value} % of the picture as before`);
  },
  switchLevels() {
    if (!this.root.querySelector("[data-levels-switch]")) return;
    this.levels = !this.levels;
    if (this.levels) this.divided = false;
    this.look();
  },
  holdBefore() {
    if (!this.root.querySelector("img.picture").dataset.before || this.drag) return;
    this.held = true;
    this.look();
  },
  lifted(event) {
    if (!this.held || (event.type === "keyup" && event.key.toLowerCase() !== "b")) return;
    this.held = false;
    this.look();
  },
  // A picture that is long on its way says that it is being drawn.
  drawing(on) {
    clearTimeout(this.late);
    const told = () => {
      this.root.classList.toggle("is-drawing", on);
      this.root.querySelector(".seen").toggleAttribute("aria-busy", on);
    };
    if (on) this.late = setTimeout(told, LATE_MS);
    else told();
  },
  firstPicture() {
    const image = this.root.querySelector("img.picture");
    if (image.complete) return;
    this.drawing(true);
    for (const end of ["load", "error"]) image.addEventListener(end, () => { if (!this.fetching) this.drawing(false); }, { once: true });
  },
  // One picture is fetched at a time, then the newest wanted: a drag would else cut off each before it arrives.
  showPicture(image, address) {
    this.wanted = address;
    if (this.fetching || image.getAttribute("src") === address) return;
    this.fetching = true;
    this.drawing(true);
    const done = () => {
      image.removeEventListener("load", done);
      image.removeEventListener("error", done);
      this.fetching = false;
      this.drawing(false);
      if (this.wanted !== address) this.showPicture(image, this.wanted);
    };
    image.addEventListener("load", done);
    image.addEventListener("error", done);
    image.src = address;
  },
};
