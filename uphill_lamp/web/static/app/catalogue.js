// The catalogue: shows only the kinds whose name holds what is typed.
(() => {
  const find = document.querySelector("[data-find-kind]"), found = document.querySelector("[data-found]");
  const kinds = [...document.querySelectorAll(".catalogue-list > li")];
  find.addEventListener("input", () => {
    const wanted = find.value.trim().toLowerCase();
    let shown = 0;
    for (const kind of kinds) {
      kind.hidden = Boolean(wanted) && !kind.querySelector(".catalogue-name").textContent.toLowerCase().includes(wanted);
      if (!kind.hidden) shown += 1;
    }
    for (const group of document.querySelectorAll(".catalogue-groups .panel")) group.hidden = !group.querySelector("li:not([hidden])");
    found.textContent = wanted ? `${shown} found` : "";
  });
})();
