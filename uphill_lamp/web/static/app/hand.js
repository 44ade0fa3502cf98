// The bench's hand: a pointer that drags, and keys that nudge, turn and choose. A key changes something only where the thing it changes
// has the focus itself; what has none scrolls the page.
const NUDGE_M = 0.01;
const DRAG_FROM_PX = 4;
const benchHand = {
  grabbed(event) {
    const thing = event.target.closest("[data-thing]");
    const drawing = event.target.closest("svg[data-view]");
    if (!thing || !drawing || event.button !== 0) return;
    const box = drawing.getBoundingClientRect();
    const shape = drawing.viewBox.baseVal;
    const perUnit = Math.min(box.width / shape.width, box.height / shape.height);
    this.drag = {
      thing: thing.dataset.thing, view: drawing.dataset.view, startX: event.clientX, startY: event.clientY,
      perMetre: perUnit * Number(thing.dataset.scale ?? drawing.dataset.scale), moved: false, right: 0, up: 0,
    };
    event.preventDefault();
    thing.focus({ preventScroll: true });
  },
  dragged(event) {
    const drag = this.drag;
    if (!drag) return;
    const dx = event.clientX - drag.startX;
    const dy = event.clientY - drag.startY;
    if (!drag.moved && Math.hypot(dx, dy) < DRAG_FROM_PX) return;
    drag.moved = true;
    drag.right = dx / drag.perMetre;
    drag.up = -dy / drag.perMetre;
    this.root.classList.add("is-dragging");
    this.picked = drag.thing;
    this.preview(this.dragValues());
  },
  dragValues() {
    const drag = this.drag;
    return { action: "move", thing: drag.thing, view: drag.view, right: drag.right.toFixed(4), up: drag.up.toFixed(4) };
  },
  released() {
    const drag = this.drag;
    if (!drag) return;
    const values = this.dragValues();
    this.drag = null;
    this.root.classList.remove("is-dragging");
    if (drag.moved) this.change(values);
    else this.pick(drag.thing);
  },
  cancelled() {
    if (!this.drag) return;
    this.drag = null;
    this.waiting = null;
    this.root.classList.remove("is-dragging");
    this.catchUp(false);
  },

  pressed(event) {
    if (event.target.closest?.("dialog[open]")) return;
    if (event.key === "Escape") { this.letGo(event); return; }
    if (keyTaken(event) || event.metaKey) return;
    const thing = event.target.closest?.("[data-thing]");
    if (thing && this.turned(event, thing)) return;
    if (event.ctrlKey || event.altKey) return;
    if (thing && (event.key === "Enter" || event.key === " ")) { event.preventDefault(); this.pick(thing.dataset.thing); return; }
    if (thing && this.nudged(event, thing)) return;
    if (keysOn()) this.letter(event);
  },
  // Before the modifiers are looked at: on many keyboards the brackets are typed with one.
  turned(event, thing) {
    const way = { "[": -1, "]": 1 }[event.key];
    if (!way) return false;
    event.preventDefault();
    this.picked = thing.dataset.thing;
    this.change({ action: "turn", thing: this.picked, degrees: way });
    return true;
  },
  nudged(event, thing) {
    const ways = { ArrowLeft: [-1, 0, 0], ArrowRight: [1, 0, 0], ArrowUp: [0, 1, 0], ArrowDown: [0, -1, 0], PageUp: [0, 0, 1], PageDown: [0, 0, -1] };
    const way = ways[event.key];
    if (!way) return false;
    event.preventDefault();
    this.picked = thing.dataset.thing;
    const far = NUDGE_M * (event.shiftKey ? 10 : 1);
    const view = way[2] ? "raise" : thing.closest("svg[data-view]").dataset.view;
    this.change({ action: "move", thing: this.picked, view, right: (way[0] * far).toFixed(3), up: ((way[1] || way[2]) * far).toFixed(3) });
    return true;
  },
  letter(event) {
    const key = event.key.toLowerCase();
    if (key === "o") this.root.classList.toggle("no-overlays");
    else if (key === "l" && this.root.contains(event.target)) this.change({ action: "lamps" });
    else if (key === "f") this.switchLevels();
    else if (key === "g") this.switchSmall();
    else if (key === "b") this.holdBefore();
    else if (key === "/") { this.showPane("hand"); this.root.querySelector("[data-pick]").focus(); }
    else return;
    event.preventDefault();
  },
  letGo(event) {
    if (this.drag) { this.cancelled(); return; }
    if (event.target instanceof HTMLElement || event.target instanceof SVGElement) event.target.blur();
  },
};
