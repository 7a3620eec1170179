// A ruler and its typed value are one; choosing another instrument loads its own rulers.
(() => {
  const form = document.getElementById("bench-form");
  if (!form) return;
  form.addEventListener("input", (event) => {
    const ruler = event.target.matches("input[type=range]") ? event.target : null;
    if (ruler) document.getElementById(ruler.dataset.for).value = ruler.value;
    else {
      const twin = form.querySelector(`input[data-for="${event.target.id}"]`);
      if (twin) twin.value = event.target.value.replace(",", ".");
    }
  });
  form.addEventListener("change", (event) => {
    if (!event.target.matches("[data-reload]")) return;
    const kept = new URLSearchParams();
    form.querySelectorAll("select").forEach((s) => kept.set(s.name, s.value));
    window.location.search = kept;
  });
})();
