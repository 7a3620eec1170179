// Letters open pages; an urgent answer jumps at once; the urgent page is kept for when there is no network.
(() => {
  const typing = (el) => el.closest("input:not([type=checkbox]):not([type=radio]), textarea, select, [contenteditable]");

  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey || typing(event.target)) return;
    if (!document.querySelector("[data-letters]")) return;
    const link = document.querySelector(`[data-letter="${event.key.toUpperCase()}"]`);
    if (link && event.key.length === 1) link.click();
  });

  document.addEventListener("change", (event) => {
    if (!event.target.matches("[data-urgent]") || !event.target.checked) return;
    const form = event.target.form;
    // the page says what to do whether or not it could be saved
    window.link.post(form.action, { body: new FormData(form) })
      .catch(() => {})
      .finally(() => { window.location.href = "/urgent"; });
  });

  const print = document.getElementById("print");
  if (print) print.addEventListener("click", () => window.print());

  if ("serviceWorker" in navigator && window.isSecureContext) {
    const signedIn = document.querySelector("nav.letters") !== null;
    navigator.serviceWorker.register("/sw.js").then(() => caches.open("urgent-2"))
      .then((cache) => cache.add("/urgent/offline"))
      .then(() => (signedIn ? caches.open("card-3").then((cache) => cache.addAll(["/curtain/", "/away/"])) : caches.delete("card-3")))
      .catch(() => {});
    // these pages are hers: they go with the session; the urgent page stays, without her number
    document.querySelectorAll("[data-sign-out]").forEach((form) => form.addEventListener("submit", () => {
      caches.delete("card-3");
    }));
  }
})();
