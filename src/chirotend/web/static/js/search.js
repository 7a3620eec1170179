// The search for the least pressure by pedal: Page Up and Page Down press the two answers, once a touch.
(() => {
  let waiting = false;
  const said = (text) => {
    const line = document.getElementById("search-said");
    if (line) line.textContent = text;
  };
  document.addEventListener("keydown", (event) => {
    if (event.target.closest("input, textarea, select") || event.repeat) return;
    const button = document.querySelector(`[data-key="${event.key}"]`);
    if (!button) return;
    event.preventDefault();
    if (!waiting) button.click();
  });
  document.body.addEventListener("htmx:beforeRequest", () => { waiting = true; });
  document.body.addEventListener("htmx:afterRequest", () => { waiting = false; });
  // an answer that did not arrive is not counted: the same try stands, and the page says so
  document.body.addEventListener("htmx:sendError", () => said("No link: not counted. Answer again."));
  document.body.addEventListener("htmx:responseError", () => said("Not taken. Answer again, or reload the page."));
})();
