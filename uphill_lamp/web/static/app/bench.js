// The bench's behaviour. The server computes and draws; this turns a hand's drag, key or typing into a number and
// swaps in what comes back. Previews are numbered: the newest wins, and never more than LANES are under way.
const WHOLE_MS = 400;
const LANES = 2; // while the picture of one is drawn, the figures of the next are worked out

function bench() {
  return {
    drag: null, // {thing, view, startX, startY, perMetre, right, up, moved}
    underWay: 0,
    waiting: null,
    sent: 0,
    shown: 0,
    chain: Promise.resolve(),
    inHand: null, // what had the focus before a drag took its element away
    brief: null, // the last wish of a drag, if its answer left figures and findings out
    wholeAt: 0, // when the last answer with them was asked for [ms]
    typing: null, // id of the field being typed in; kept here, since a swap takes attributes away
    ...benchPicture,
    ...benchPanes,
    ...benchSwap,
    ...benchHand,
    refused: null, // the last change that a stale page could not make

    init() {
      this.plain = this.root.querySelector("img.picture").getAttribute("src");
      this.readState();
      this.startPanes();
      this.firstPicture();
      this.askGains();
    },

    // ---- state
    get root() { return this.$root; },
    readState() {
      const state = this.root.querySelector('[data-region="state"]').dataset;
      this.parent = state.parentId;
      this.picked = state.picked;
      this.units = state.unitSystem;
      for (const field of document.querySelectorAll("[data-parent]")) field.value = this.parent;
      for (const field of document.querySelectorAll("[data-picked-field]")) field.value = this.picked;
      // Not disabled, which would take the focus away from somebody who steps back to the first state.
      document.querySelector("[data-undo]").setAttribute("aria-disabled", String(state.canUndo !== "1"));
      document.querySelector("[data-redo]").setAttribute("aria-disabled", String(state.canRedo !== "1"));
      const units = document.querySelector("[data-units]");
      this.write(units, this.units === "inch" ? "inch" : "cm");
      units.setAttribute("aria-label", `${units.textContent}, change the units`);
      this.write(document.querySelector(".setup-name").lastChild, state.name);
    },
    // Text put in place again is laid out and painted again, even where it says the same.
    write(place, text) { if (place.textContent !== text) place.textContent = text; },

    // ---- talking to the server
    form(values) {
      const body = new URLSearchParams({ parent: this.parent, picked: this.picked, ...values });
      return { method: "POST", body, headers: { "X-CSRFToken": this.root.dataset.csrf, "X-Uphill-Fragment": "1" } };
    },
    async ask(address, values) {
      const number = ++this.sent;
      try {
        const answer = await fetch(address, this.form(values));
        return { number, address, values, status: answer.status, html: await answer.text() };
      } catch {
        this.say("The app does not answer. Is it still running? Your last change was not made.");
        return null;
      }
    },
    // Puts an answer on the page; whether it was one that says how things are now.
    show(answer) {
      if (!answer || answer.number < this.shown) return false; // something newer is on the page already
      const { number, address, values, status, html } = answer;
      this.shown = number;
      if (status === 409) { this.refused = { address, values }; this.notice(html); return false; }
      if (status >= 400 && status !== 422) { this.say("That was not understood. Nothing has changed."); return false; }
      this.swap(html);
      return true;
    },
    // Changes go one after another, each on the revision that the one before it made.
    change(values, address = `${this.root.dataset.base}change/`, then = null) {
      this.chain = this.chain.then(async () => {
        this.waiting = null;
        const shown = this.show(await this.ask(address, values));
        if (shown) then?.();
        if (shown) await this.askGains();
        return shown;
      });
      return this.chain;
    },
    // A second press while the first is under way would ask for a move that may be gone by then.
    async doMove(move) {
      if (this.doing) return;
      this.doing = true;
      await this.change({ action: "do", move }, undefined, () => { this.doing = false; this.toFindings(); });
      this.doing = false;
    },
    step(way) {
      if (document.querySelector(`[data-${way}]`).getAttribute("aria-disabled") === "true") return null;
      return this.change({ stage: this.root.dataset.stage }, `/setups/${this.root.dataset.setup}/${way}/`);
    },
    // The server works on the newest place of the hand while the page is still busy with the answer before it.
    async preview(values) {
      this.waiting = values;
      if (this.underWay >= LANES) return;
      this.underWay++;
      let asked = null;
      while (this.drag && (asked ??= this.askWaiting() ?? this.askWhole())) {
        const answer = await asked;
        asked = this.askWaiting();
        if (this.drag) this.show(answer);
      }
      this.underWay--;
    },
    // Picture and drawings follow the hand each time, figures and findings a few times a second, and once more when it rests.
    askWaiting() {
      const values = this.waiting;
      this.waiting = null;
      if (!values || !this.drag) return null;
      this.brief = performance.now() - this.wholeAt < WHOLE_MS ? values : null;
      if (!this.brief) this.wholeAt = performance.now();
      return this.ask(`${this.root.dataset.base}preview/`, this.brief ? { ...values, brief: "1" } : values);
    },
    askWhole() {
      if (!this.brief) return null;
      this.waiting = this.brief;
      this.wholeAt = -WHOLE_MS;
      return this.askWaiting();
    },
    async askGains() {
      const findings = this.root.querySelector('[data-region="findings"]');
      if (findings.dataset.gains === "1") return;
      const asked = findings.dataset.for;
      try {
        const answer = await fetch(`${this.root.dataset.base}findings/`, { headers: { "X-Uphill-Fragment": "1" } });
        if (!answer.ok) throw new Error(answer.status);
        const html = await answer.text();
        if (asked === this.parent) this.swap(html);
      } catch {
        if (asked === this.parent) this.gainsFailed();
      }
    },
    // What mends it could not be worked out: said in its place, with a way to ask again.
    gainsFailed() {
      for (const place of this.root.querySelectorAll("[data-working]")) place.textContent = "What mends it could not be worked out just now.";
      const first = this.root.querySelector("[data-working]");
      if (!first) return;
      const again = document.createElement("button");
      again.type = "button";
      again.className = "button is-small";
      again.dataset.gainsAgain = "";
      again.textContent = "Try again";
      first.after(again);
    },
    async pick(handle) {
      if (handle === this.picked) return;
      const address = `${this.root.dataset.base}fragment/?picked=${encodeURIComponent(handle)}`;
      const answer = await fetch(address, { headers: { "X-Uphill-Fragment": "1" } });
      if (!answer.ok) return;
      this.swap(await answer.text(), ["findings"]);
      history.replaceState(null, "", `?picked=${encodeURIComponent(handle)}`);
    },

    // ---- clicks and fields
    clicked(event) {
      if (event.target.closest("[data-levels-switch]")) this.switchLevels();
      if (event.target.closest("[data-small-switch]")) this.switchSmall();
      if (event.target.closest("[data-divide-switch]")) this.switchDivided();
      const pane = event.target.closest("[data-show]");
      if (pane) this.showPane(pane.dataset.show);
      if (event.target.closest("[data-gains-again]")) { event.target.closest("[data-gains-again]").remove(); this.askGains(); }
      const lens = event.target.closest(".lens-figures summary");
      if (lens) requestAnimationFrame(() => lens.scrollIntoView({ block: "start" }));
      const act = event.target.closest("[data-act]");
      if (act) this.act(act.dataset);
      const finish = event.target.closest("[data-choose]");
      if (finish) this.change({ action: "enter", thing: this.picked, field: finish.dataset.choose, value: finish.value });
      const count = event.target.closest("[data-furnish]");
      if (count) this.change({ action: "furnish", kind: count.dataset.furnish, more: count.value });
      const catchUp = event.target.closest("[data-catch-up]");
      if (catchUp) this.catchUp(catchUp.dataset.catchUp === "again");
    },
    // A thing put here, copied or taken away: what comes back says what is selected then.
    async act({ act, kind = "", kit = "" }) {
      if (this.doing) return;
      this.doing = true;
      await this.change({ action: act, thing: this.picked, kind, kit }, undefined, () => { this.doing = false; this.toHand(); });
      this.doing = false;
    },
    putHere(values) { return this.change({ action: "put", ...values }, undefined, () => this.toHand()); },
    toHand() { this.showPane("hand"); this.root.querySelector("[data-things]").focus(); }, // a field would keep Ctrl+Z to itself
    // However it is typed, pasted or dictated: an answer that arrives meanwhile leaves the field alone.
    typed(event) {
      if (event.target.matches("[data-divider]")) this.divideAt(event.target);
      if (event.target.matches("[data-field]")) this.typing = event.target.id;
    },
    changed(event) {
      const field = event.target;
      if (field.matches("[data-pick]")) { this.pick(field.value); return; }
      if (field.matches("[data-change-kind]") && field.value) { this.act({ act: "kind", kind: field.value }); return; }
      if (!field.matches("[data-field]")) return;
      this.typing = null;
      const value = field.type === "checkbox" ? (field.checked ? "on" : "") : field.value;
      this.change({ action: "enter", thing: this.picked, field: field.dataset.field, value });
    },
    submitted(event) {
      const form = event.target;
      if (!form.matches("[data-move], [data-find], [data-purpose], [data-answer]")) return; // a file goes up by a form of its own
      event.preventDefault();
      if (form.matches("[data-purpose]")) {
        const { action, finding, reason } = form.elements;
        this.change({ action: action.value, finding: finding.value, reason: reason?.value ?? "" }, undefined, () => this.toFindings());
      }
      if (form.matches("[data-answer]")) {
        const { action, finding } = form.elements;
        this.change({ action: action.value, finding: finding.value, answer: event.submitter.value }, undefined, () => this.toFindings());
      }
      if (form.matches("[data-move]")) this.doMove(form.elements.move.value);
    },
  };
}

document.addEventListener("alpine:init", () => {
  Alpine.data("bench", bench);
});

// Undo, redo and units stand in the top line, outside the bench's own element.
document.addEventListener("DOMContentLoaded", () => {
  const root = document.querySelector(".bench[x-data]"); // one that is only looked at has no state
  if (!root) return;
  const data = () => Alpine.$data(root);
  for (const form of document.querySelectorAll("[data-step]")) {
    form.addEventListener("submit", (event) => { event.preventDefault(); data().step(form.dataset.step); });
  }
  document.querySelector("[data-to-fix]").addEventListener("click", (event) => { event.preventDefault(); data().toFindings(); });
  document.querySelector("[data-units]").addEventListener("click", () => {
    data().change({ action: "units", value: data().units === "cm" ? "inch" : "cm" });
  });
});
