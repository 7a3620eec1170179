// Arrows move by day and by region; what lies there is spoken.
(() => {
  const spoken = document.getElementById("spoken");
  let region = -1;

  document.addEventListener("keydown", (event) => {
    const bar = document.activeElement?.closest?.(".bar");
    if (!bar || !event.key.startsWith("Arrow")) return;
    event.preventDefault();
    if (event.key === "ArrowLeft" || event.key === "ArrowRight") {
      const bars = [...bar.closest(".score").querySelectorAll(".bar")];
      const next = bars[bars.indexOf(bar) + (event.key === "ArrowRight" ? 1 : -1)];
      if (next) { region = -1; next.focus(); }
      return;
    }
    const regions = Object.entries(JSON.parse(bar.dataset.regions));
    if (!regions.length) { spoken.textContent = "nothing marked"; return; }
    region = (region + (event.key === "ArrowDown" ? 1 : -1) + regions.length) % regions.length;
    spoken.textContent = `${regions[region][0]}: ${regions[region][1]}`;
  });
})();
