// The catalogue: shows only the kinds whose name holds what is typed; where they are too many for one page, the app looks.
(() => {
  const find = document.querySelector("[data-find-kind]"), found = document.querySelector("[data-found]");
  const kinds = [...document.querySelectorAll(".catalogue-list > li")];
  const whole = "whole" in find.form.dataset;
  find.form.addEventListener("submit", (event) => { if (!whole) event.preventDefault(); });
  find.addEventListener("input", () => {
    if (whole) return;
    const wanted = find.value.trim().toLowerCase();
    let shown = 0;
    for (const kind of kinds) {
      kind.hidden = Boolean(wanted) && !kind.querySelector(".catalogue-name").textContent.toLowerCase().includes(wanted);
      if (!kind.hidden) shown += 1;
    }
    for (const group of document.querySelectorAll(".catalogue-groups .panel")) group.hidden = !group.querySelector("li:not([hidden])");
    found.textContent = wanted ? `${shown} found` : "";
  });

  // A row's form is sent beside the page and only the row is put anew, so that the list stays where it is.
  const said = document.querySelector("[data-catalogue-said]");
  document.querySelector(".catalogue-groups").addEventListener("submit", async (event) => {
    const form = event.target, row = form.closest("li"), button = event.submitter;
    event.preventDefault();
    const body = new FormData(form, button);
    let html = null, refused = false;
    try {
      const answer = await fetch(form.action, { method: "POST", body: new URLSearchParams(body) });
      refused = !answer.ok;
      html = await answer.text();
    } catch { said.textContent = "The app does not answer. Is it still running? Nothing was changed."; said.classList.remove("is-silent"); return; }
    const page = new DOMParser().parseFromString(html, "text/html");
    const fresh = page.getElementById(row.id);
    const next = row.nextElementSibling ?? row.previousElementSibling;
    if (fresh) row.replaceWith(fresh); else row.remove();
    for (const place of document.querySelectorAll("input[name=parent]")) place.value = page.querySelector("input[name=parent]")?.value ?? place.value;
    for (const way of ["undo", "redo"]) {
      const there = page.querySelector(`[data-${way}]`), here = document.querySelector(`[data-${way}]`);
      if (there && here) here.setAttribute("aria-disabled", there.getAttribute("aria-disabled"));
    }
    const taken = page.querySelector("[data-taken-away]");
    if (taken) document.querySelector("[data-taken-away]").replaceWith(taken);
    const told = page.querySelector("[data-catalogue-said]")?.textContent || (refused ? page.querySelector(".notice.is-fault")?.textContent ?? "" : "");
    said.textContent = told;
    said.classList.toggle("is-silent", !told);
    const bad = fresh?.querySelector("[aria-invalid]");
    const same = fresh && button?.name ? fresh.querySelector(`button[name="${button.name}"]`) : fresh?.querySelector(".price-form button");
    (bad ?? same ?? next?.querySelector("button, input:not([type=hidden])"))?.focus({ preventScroll: true });
  });
})();
