// The clock of the first run is the browser's, where the list knows it; it stays hers to change.
(() => {
  const field = document.querySelector("[data-zone]");
  const here = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const select = field?.querySelector("select");
  if (!select || field.dataset.zone !== "guess") return;
  if ([...select.options].some((option) => option.value === here)) select.value = here;
  const say = () => { field.querySelector("[data-zone-said]").textContent = select.selectedOptions[0].textContent; };
  select.addEventListener("change", say);
  say();
})();
