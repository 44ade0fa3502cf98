// The bench's picture: what it shows, and how the next one comes in its place.
const benchPicture = {
  plain: "", // address of the picture as the others see it
  levels: false, // whether its light is shown instead
  held: false, // whether the state before the last change is

  // The picture stays until the next one has arrived; the lines over it change at once.
  swapPicture(here, region) {
    const image = here.querySelector("img");
    const next = region.querySelector("img");
    image.dataset.levels = next.dataset.levels;
    if (next.dataset.before) image.dataset.before = next.dataset.before;
    else delete image.dataset.before;
    this.plain = next.getAttribute("src");
    image.alt = next.alt;
    this.look();
    here.querySelector(".overlay-layer").replaceChildren(...region.querySelector(".overlay-layer").childNodes);
  },
  // What the picture shows: the plain one, its light in false colours, or, while B is held, how it was before the last change.
  look() {
    const image = this.root.querySelector("img.picture");
    const levels = this.levels && !this.drag;
    this.root.classList.toggle("shows-levels", levels && !this.held);
    this.root.classList.toggle("shows-before", this.held);
    this.root.querySelector("[data-levels-switch]")?.setAttribute("aria-pressed", String(this.levels));
    this.showPicture(image, this.held ? image.dataset.before : levels ? image.dataset.levels : this.plain);
  },
  switchLevels() {
    if (!this.root.querySelector("[data-levels-switch]")) return;
    this.levels = !this.levels;
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
  // One picture is fetched at a time, then the newest wanted: a drag would else cut off each before it arrives.
  showPicture(image, address) {
    this.wanted = address;
    if (this.fetching || image.getAttribute("src") === address) return;
    this.fetching = true;
    const done = () => {
      image.removeEventListener("load", done);
      image.removeEventListener("error", done);
      this.fetching = false;
      if (this.wanted !== address) this.showPicture(image, this.wanted);
    };
    image.addEventListener("load", done);
    image.addEventListener("error", done);
    image.src = address;
  },
};
