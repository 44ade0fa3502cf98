// Where there is not room for all of the bench: which part of it is shown beside or under the picture.
const NARROW = matchMedia("(max-width: 640px)");
const benchPanes = {
  startPanes() {
    let last = null;
    try { last = sessionStorage.getItem("uphill-pane"); } catch { /* a private window: from above */ }
    this.root.dataset.pane = ["plan", "side", "readings", "hand"].includes(last) ? last : "plan";
    NARROW.addEventListener("change", () => this.tellPanes());
    this.tellPanes();
  },
  showPane(which) {
    if (which === "fix") this.root.dataset.fix = "1";
    else {
      this.root.dataset.fix = "0";
      this.root.dataset.pane = which;
      try { sessionStorage.setItem("uphill-pane", which); } catch { /* a private window */ }
    }
    this.tellPanes();
  },
  tellPanes() {
    const { pane, fix } = this.root.dataset;
    const listShown = NARROW.matches && fix === "1";
    for (const button of this.root.querySelectorAll("[data-show]")) {
      const pressed = button.dataset.show === "fix" ? listShown : button.dataset.show === pane && !listShown;
      button.setAttribute("aria-pressed", String(pressed));
    }
  },
  // The list's heading takes the focus: after a move, and from the link that skips to it.
  toFindings() {
    if (NARROW.matches) this.showPane("fix");
    this.root.querySelector("#what-to-fix")?.focus();
  },
};
