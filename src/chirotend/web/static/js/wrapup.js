// Keys 0-9 choose the effort, Enter saves: a good day is one, two, three.
(() => {
  document.addEventListener("keydown", (event) => {
    if (event.target.closest("textarea, select, input:not([type=radio])")) return;
    if (/^[0-9]$/.test(event.key)) document.querySelector(`input[name=effort][value="${event.key}"]`).click();
  });
})();
