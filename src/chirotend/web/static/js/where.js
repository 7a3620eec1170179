// Touch a place on the drawing of a form: it is chosen in the two lists below it, with its side.
(() => {
  const where = document.querySelector(".where");
  const place = where.querySelector("[name=zone]");
  const side = where.querySelector("[name=side]");
  const said = where.querySelector("[data-said]");
  const zones = [...where.querySelectorAll(".zone")];
  const parts = [...where.querySelectorAll("[data-show-part]")];

  function show() {
    const key = `${place.value}.${side.value || "none"}`;
    const chosen = zones.filter((zone) => zone.dataset.key === key);
    zones.forEach((zone) => zone.setAttribute("aria-pressed", String(chosen.includes(zone))));
    if (chosen.length) said.textContent = `Chosen: ${chosen[0].getAttribute("aria-label")}`;
    else if (place.value) said.textContent = `Chosen: ${place.selectedOptions[0].textContent}. Which side?`;
  }

  function touched(zone) {
    const [name, which] = zone.dataset.key.split(".");
    place.value = name;
    side.value = which === "none" ? "" : which;
    show();
  }

  zones.forEach((zone) => {
    zone.addEventListener("click", () => touched(zone));
    zone.addEventListener("keydown", (event) => {
      if (event.key === "Enter" || event.key === " ") { event.preventDefault(); touched(zone); }
    });
  });
  parts.forEach((button) => button.addEventListener("click", () => {
    where.dataset.part = button.dataset.showPart;
    parts.forEach((other) => other.setAttribute("aria-pressed", String(other === button)));
  }));
  place.addEventListener("change", show);
  side.addEventListener("change", show);
  where.classList.add("touched-here");
  show();
})();
