// Without a network the card is kept on this device and sent when the link is back.
(() => {
  const KEY = "chirotend-curtain";
  const sent = document.getElementById("curtain-sent");
  const token = document.querySelector("meta[name=csrf-token]").content;

  async function post(fields) {
    const body = new URLSearchParams(fields);
    body.set("csrf_token", token);
    const answer = await fetch("/curtain/", { method: "POST", body, headers: { "HX-Request": "true", "X-CSRFToken": token } });
    return answer.status < 500;
  }

  async function flush() {
    const kept = JSON.parse(localStorage.getItem(KEY) || "[]");
    while (kept.length) {
      try { if (!await post(kept[0])) return; } catch { return; }
      kept.shift();
      localStorage.setItem(KEY, JSON.stringify(kept));
      sent.textContent = "Written in.";
    }
  }

  document.addEventListener("submit", (event) => {
    if (navigator.onLine) return;
    event.preventDefault();
    const fields = [...new FormData(event.target, event.submitter)].filter(([name]) => name !== "csrf_token");
    localStorage.setItem(KEY, JSON.stringify([...JSON.parse(localStorage.getItem(KEY) || "[]"), fields]));
    sent.textContent = "No link: kept on this device, written in when the link is back.";
    window.scrollTo(0, 0);
  });
  window.addEventListener("online", flush);
  if (navigator.onLine) flush();
})();
