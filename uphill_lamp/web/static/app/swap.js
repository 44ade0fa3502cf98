// The bench's regions: what comes back from the server put in place, and what is said over it.
const benchSwap = {
  swap(html, leave = []) {
    const fresh = new DOMParser().parseFromString(html, "text/html");
    const focus = document.activeElement;
    const handle = focus && focus.dataset ? focus.dataset.thing : undefined;
    const view = handle ? focus.closest("[data-region]").dataset.region : undefined;
    for (const region of fresh.querySelectorAll("[data-region]")) {
      const name = region.dataset.region;
      const here = this.root.querySelector(`[data-region="${name}"]`);
      if (!here || leave.includes(name) || here.isEqualNode(region)) continue;
      if (name === "findings" && this.drag && !this.newFindings(here, region)) continue;
      if (["plan", "side", "slope"].includes(name) || (this.drag && name === "readings")) {
        renewChildren(here, region);
      } else if (name === "hand" && "draft" in region.dataset) {
        this.draftHand(here, region);
      } else if (name === "seen") {
        this.swapPicture(here, region);
      } else {
        this.keepOpen(here, region);
        Alpine.morph(here, region.outerHTML);
      }
    }
    if (!fresh.querySelector('[data-region="notice"]')) this.root.querySelector('[data-region="notice"]')?.remove();
    this.readState();
    if (fresh.querySelector('[data-region="hand"]:not([data-draft])')) this.settleFields();
    if (handle) this.inHand = { handle, view };
    if (!this.inHand || this.drag) return; // to focus makes the browser lay the page out at once: a drag waits with it until its end
    if (handle || document.activeElement === document.body) {
      this.root.querySelector(`[data-region="${this.inHand.view}"] [data-thing="${CSS.escape(this.inHand.handle)}"]`)?.focus({ preventScroll: true });
    }
    this.inHand = null;
  },
  // What was folded out stays so.
  keepOpen(here, region) {
    for (const fold of here.querySelectorAll("details[open][key]")) {
      const fresh = region.querySelector(`details[key="${CSS.escape(fold.getAttribute("key"))}"]`);
      if (fresh) fresh.open = true;
    }
  },
  // A draft brings only the figures of what is in hand; they go into the fields that are there.
  draftHand(here, region) {
    for (const part of [".hand-words", ".advice", ".on-screen-frame"]) {
      const old = here.querySelector(part), fresh = region.querySelector(part);
      if (old && fresh && !old.isEqualNode(fresh)) old.replaceChildren(...fresh.childNodes);
    }
    for (const field of region.querySelectorAll("[data-field]")) {
      const old = here.querySelector(`[data-field="${field.dataset.field}"]`);
      if (old && old !== document.activeElement && old.value !== field.getAttribute("value")) old.value = field.getAttribute("value");
    }
  },
  // While something is dragged the findings follow by their words; what mends them is worked out on release.
  newFindings(here, region) {
    const told = (list) => [...list.querySelectorAll("[data-title]")].map((title) => title.textContent).sort().join("|");
    return told(here) !== told(region);
  },
  // A field that was typed in keeps its own value in the browser: after an answer it shows the answer's.
  settleFields() {
    for (const field of this.root.querySelectorAll("[data-field]")) {
      if (field === document.activeElement && field.id === this.typing) continue;
      if (field.type === "checkbox") field.checked = field.hasAttribute("checked");
      else if (field.tagName === "SELECT") field.value = field.querySelector("option[selected]")?.value ?? field.value;
      else field.value = field.getAttribute("value");
    }
    const pick = this.root.querySelector("[data-pick]");
    pick.value = this.picked;
  },
  say(words) { this.root.querySelector('[data-region="said"]').textContent = words; },
  notice(html) {
    this.root.querySelector('[data-region="notice"]')?.remove();
    const fresh = new DOMParser().parseFromString(html, "text/html").querySelector('[data-region="notice"]');
    this.root.prepend(fresh);
    fresh.querySelector("button").focus();
  },
  async catchUp(again) {
    const refused = this.refused;
    this.refused = null;
    this.shown = ++this.sent; // what is still on its way belongs to a state that has been left
    const answer = await fetch(`${this.root.dataset.base}fragment/?picked=${encodeURIComponent(this.picked)}`, { headers: { "X-Uphill-Fragment": "1" } });
    if (!answer.ok) return;
    this.swap(await answer.text());
    if (again && refused) await this.change(refused.values, refused.address);
    else await this.askGains();
  },
};
