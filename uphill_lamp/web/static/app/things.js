// What can be put into the room lies over the bench: chosen from the button, or for a place on the plan that is pressed twice.
(() => {
  const over = () => document.querySelector("[data-things-over]");
  const bench = () => Alpine.$data(document.querySelector(".bench[x-data]"));

  async function open(address) {
    const place = over();
    try {
      const answer = await fetch(address, { headers: { "X-Uphill-Fragment": "1" } });
      if (!answer.ok) throw new Error(answer.status);
      const fresh = new DOMParser().parseFromString(await answer.text(), "text/html");
      place.replaceChildren(...fresh.body.children);
    } catch { location.assign(address); return; }
    place.showModal();
    place.scrollTop = 0;
  }

  document.addEventListener("click", (event) => {
    const link = event.target.closest("[data-things]");
    if (link && !event.ctrlKey && !event.metaKey && !event.shiftKey) { event.preventDefault(); open(link.href); }
    if (event.target === over()) over().close();
  });

  document.addEventListener("submit", (event) => {
    if (!event.target.matches("[data-put]") || !over()?.open) return;
    event.preventDefault();
    const { kind, kit, x, y } = event.target.elements;
    over().close();
    bench().putHere({ kind: kind.value, kit: kit.value, x: x.value, y: y.value });
  });

  // Towns as one types: what the field then holds is looked up again when it is left.
  let asked = 0;
  document.addEventListener("input", async (event) => {
    if (!event.target.matches('[data-field="town"]') || event.target.value.length < 2) return;
    const list = document.getElementById("towns"), number = ++asked;
    const answer = await fetch(`${list.dataset.address}?find=${encodeURIComponent(event.target.value)}`);
    if (!answer.ok || number !== asked) return;
    const { towns } = await answer.json();
    list.replaceChildren(...towns.map(({ label, country }) => new Option(country, label)));
  });

  document.addEventListener("dblclick", (event) => {
    const drawing = event.target.closest('svg[data-view="plan"]');
    if (!drawing || event.target.closest("[data-thing]")) return;
    const box = drawing.getBoundingClientRect(), shape = drawing.viewBox.baseVal;
    const perUnit = Math.min(box.width / shape.width, box.height / shape.height);
    const left = box.left + (box.width - shape.width * perUnit) / 2, top = box.top + (box.height - shape.height * perUnit) / 2;
    const x = ((event.clientX - left) / perUnit - Number(drawing.dataset.left)) / Number(drawing.dataset.scale);
    const y = (Number(drawing.dataset.foot) - (event.clientY - top) / perUnit) / Number(drawing.dataset.scale);
    const link = document.querySelector("[data-things]");
    if (link) open(`${link.href}?x=${x.toFixed(3)}&y=${y.toFixed(3)}`);
  });
})();
