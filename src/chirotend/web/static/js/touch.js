// A place of a diary is touched on the body: it is chosen in the list beside the button, with its side.
(() => {
  const dialog = document.getElementById("touch");
  const zones = dialog.querySelectorAll(".zone");
  let place = null;

  document.addEventListener("click", (event) => {
    const button = event.target.closest("[data-touch]");
    if (!button) return;
    place = button;
    dialog.showModal();
  });

  function choose(name, value) {
    const select = name && document.getElementById(name);
    if (select && [...select.options].some((option) => option.value === value)) select.value = value;
    return select;
  }

  // one change is told, after both lists stand: it sends the whole page of answers
  function touched(zone) {
    const [where, side] = zone.dataset.key.split(".");
    choose(place.dataset.side, side);
    const select = choose(place.dataset.touch, where);
    dialog.close();
    select.focus();
    select.dispatchEvent(new Event("change", { bubbles: true }));
  }

  for (const zone of zones) {
    zone.addEventListener("click", () => touched(zone));
    zone.addEventListener("keydown", (event) => {
      if (event.key === "Enter" || event.key === " ") { event.preventDefault(); touched(zone); }
    });
  }
  dialog.querySelector("[data-close]").addEventListener("click", () => dialog.close());
})();
