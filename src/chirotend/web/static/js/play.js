// The stand: touches and pedal become events with ids made here; what cannot be sent is kept and sent again.
(() => {
  const main = document.querySelector("main[data-events]");
  const token = document.querySelector("meta[name=csrf-token]").content;
  const serverNow = Date.parse(document.querySelector("meta[name=server-now]").content);
  const loaded = performance.now();
  const KEY = "chirotend-unsent";
  const device = sessionStorage.device || (sessionStorage.device = id());
  let seq = Number(sessionStorage.seq || 0);
  let sending = false;
  let drawn = performance.now();

  function id() { return [...crypto.getRandomValues(new Uint8Array(16))].map((b) => b.toString(16).padStart(2, "0")).join(""); }
  function now() { return new Date(serverNow + performance.now() - loaded).toISOString(); }
  function kept() { return JSON.parse(localStorage.getItem(KEY) || "[]"); }
  function keep(list) { localStorage.setItem(KEY, JSON.stringify(list)); }
  function stand() { return document.getElementById("stand"); }

  function say() {
    const line = document.getElementById("unsent");
    const n = kept().length;
    if (line) line.textContent = n ? `no link: ${n} kept on this device` : "";
  }

  function add(kind, payload) {
    const el = stand();
    if (!el) return;
    sessionStorage.seq = ++seq;
    keep([...kept(), { uid: id(), session: el.dataset.session, device, seq, kind, payload, at_utc: now(),
      monotonic_ms: Math.round(performance.now()) }]);
    say();
    send();
  }

  async function send() {
    const list = kept();
    if (sending || !list.length) return;
    sending = true;
    let again = false;
    try {
      const answer = await fetch(main.dataset.events, { method: "POST", body: JSON.stringify(list),
        headers: { "Content-Type": "application/json", "X-CSRFToken": token, "HX-Request": "true" } });
      if (answer.ok || answer.status === 404 || answer.status === 422) {
        const sent = new Set(list.map((e) => e.uid));
        keep(kept().filter((e) => !sent.has(e.uid)));
        if (answer.ok) draw(await answer.text()); else window.location.reload();
        again = kept().length > 0;
      }
    } catch { /* no link: everything is kept and sent by the next try */ } finally {
      sending = false;
      say();
      if (again) send();
    }
  }

  function draw(html) {
    const part = new DOMParser().parseFromString(html, "text/html").getElementById("stand");
    if (!part) { window.location.href = main.dataset.page; return; }
    const open = stand()?.querySelector("details.switch")?.open;
    stand().replaceWith(part);
    if (open) part.querySelector("details.switch").open = true;
    drawn = performance.now();
    say();
  }

  async function refresh() {
    if (kept().length) { send(); return; }
    try {
      const answer = await fetch(main.dataset.page, { headers: { "HX-Request": "true" } });
      if (answer.ok) draw(await answer.text());
    } catch { /* shown again when the link is back */ }
  }

  document.addEventListener("submit", (event) => {
    const form = event.target;
    if (!form.matches(".act")) return;
    event.preventDefault();
    const data = new FormData(form);
    const payload = {};
    for (const [name, value] of data) if (value && !["csrf_token", "uid", "session", "kind"].includes(name)) payload[name] = value;
    add(data.get("kind"), payload);
  });

  document.addEventListener("keydown", (event) => {
    const el = stand();
    if (!el) return;
    if (["PageDown", "ArrowRight"].includes(event.key)) { event.preventDefault(); el.querySelector(".next")?.click(); }
    if (["PageUp", "ArrowLeft"].includes(event.key)) { event.preventDefault(); el.querySelector(".pedal:not(.next)")?.click(); }
  });

  // sounds only when she asked for it: one soft tick when a bar turns
  function tick() {
    if (!("tick" in main.dataset)) return;
    const sound = new AudioContext();
    const tone = sound.createOscillator();
    const soft = sound.createGain();
    soft.gain.setValueAtTime(0.08, sound.currentTime);
    soft.gain.exponentialRampToValueAtTime(0.0001, sound.currentTime + 0.12);
    tone.connect(soft).connect(sound.destination);
    tone.start();
    tone.stop(sound.currentTime + 0.12);
  }

  setInterval(() => {
    const el = stand();
    if (!el || el.dataset.phase === "paused") return;
    const left = Math.max(0, Number(el.dataset.left) - (performance.now() - drawn) / 1000);
    const clock = document.getElementById("left");
    if (clock) clock.textContent = `${Math.floor(left / 60)}:${String(Math.floor(left % 60)).padStart(2, "0")}`;
    const rest = document.getElementById("rest-number");
    if (rest) rest.textContent = Math.ceil(left / 60);
    if (left === 0 && !el.dataset.turned) { el.dataset.turned = "1"; tick(); add(el.dataset.next === "rest" ? "rest" : "block", {}); }
  }, 500);
  setInterval(refresh, 20000);
  window.addEventListener("online", send);
  document.addEventListener("visibilitychange", () => { if (!document.hidden) refresh(); });
  if ("wakeLock" in navigator) navigator.wakeLock.request("screen").catch(() => {});
  send();
})();
