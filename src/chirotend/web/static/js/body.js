// Zones on the map and places in the list are the same choice.
(() => {
  const maps = document.querySelector(".maps");
  const title = document.getElementById("tell-title");
  const boxes = new Map([...document.querySelectorAll("input[name=places]")].map((b) => [b.value, b]));

  function show() {
    const names = [...boxes.values()].filter((b) => b.checked).map((b) => b.dataset.name);
    title.textContent = names.length ? names.join(", ") : title.dataset.empty;
    document.querySelectorAll(".zone").forEach((z) => z.setAttribute("aria-pressed", String(boxes.get(z.dataset.key).checked)));
  }

  function toggle(zone) {
    const box = boxes.get(zone.dataset.key);
    box.checked = !box.checked;
    show();
  }

  // a spread is painted: press on one zone, draw over the others
  let painting = null;
  const stop = () => { painting = null; };
  document.addEventListener("pointerup", stop);
  document.addEventListener("pointercancel", stop);

  function paint(zone) {
    const box = boxes.get(zone.dataset.key);
    if (!box.checked) { box.checked = true; show(); }
  }

  document.querySelectorAll(".zone").forEach((zone) => {
    zone.addEventListener("click", () => toggle(zone));
    zone.addEventListener("pointerdown", (event) => { if (event.pointerType !== "touch") painting = zone; });
    zone.addEventListener("pointerenter", () => { if (painting && painting !== zone) { paint(painting); paint(zone); } });
    zone.addEventListener("keydown", (event) => {
      if (event.key === "Enter" || event.key === " ") { event.preventDefault(); toggle(zone); }
    });
  });
  boxes.forEach((box) => box.addEventListener("change", show));

  function press(group, button) {
    group.forEach((b) => b.setAttribute("aria-pressed", String(b === button)));
  }
  const sides = [...document.querySelectorAll("[data-show]")];
  sides.forEach((b) => b.addEventListener("click", () => {
    maps.dataset.view = b.dataset.show;
    document.getElementById("view-field").value = b.dataset.show;
    press(sides, b);
  }));
  const hands = [...document.querySelectorAll(".map-tools [data-hand]")];
  hands.forEach((b) => b.addEventListener("click", () => {
    maps.dataset.hand = b.dataset.hand;
    hands.forEach((h) => h.setAttribute("aria-pressed", String(h.dataset.hand === b.dataset.hand)));
  }));

  const strength = document.getElementById("strength-words");
  document.querySelectorAll("input[name=intensity]").forEach((input) => {
    const say = () => { if (input.checked) strength.textContent = `${input.value} · ${input.dataset.words}`; };
    input.addEventListener("change", say);
    say();
  });
  show();
})();
