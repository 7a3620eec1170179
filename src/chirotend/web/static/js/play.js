// The stand: touches and pedal become events with ids made here; what cannot be sent is kept and sent again.
(() => {
  const main = document.querySelector("main[data-events]");
  const serverNow = Date.parse(document.querySelector("meta[name=server-now]").content);
  const loaded = performance.now();
  const { id, player, post, SignedOut } = window.link;
  const PREFIX = `chirotend-event-${player}-`;
  const device = id();  // one for each stand that is open, also for two on one device
  let seq = 0;
  let out = false;
  let problem = "";
  let sending = false;
  let drawn = performance.now();

  function now() { return new Date(serverNow + performance.now() - loaded).toISOString(); }
  // each event lies under a key of its own, so that two stands on one device never write over each other
  function kept() {
    return Object.keys(localStorage).filter((k) => k.startsWith(PREFIX)).map((k) => JSON.parse(localStorage.getItem(k)))
      .sort((a, b) => a.at_utc.localeCompare(b.at_utc) || a.seq - b.seq);
  }
  function keep(event) { localStorage.setItem(PREFIX + event.uid, JSON.stringify(event)); }
  // one that can never be taken is not sent again, and not thrown away either
  function setAside(refused) {
    const event = localStorage.getItem(PREFIX + refused.uid);
    if (event) localStorage.setItem(`chirotend-refused-${refused.uid}`, event);
    drop(refused.uid);
    problem = refused.problem;
  }
  function drop(uid) { localStorage.removeItem(PREFIX + uid); }
  function stand() { return document.getElementById("stand"); }

  function say() {
    const line = document.getElementById("unsent");
    const n = kept().length;
    const why = out ? "signed out" : "no connection";
    if (line) line.textContent = n ? `${why}: ${n} kept on this device` : problem && `one touch was not taken: ${problem}`;
  }

  function add(kind, payload) {
    const el = stand();
    if (!el) return;
    keep({ uid: id(), session: el.dataset.session, device, seq: ++seq, kind, payload, at_utc: now(),
      monotonic_ms: Math.round(performance.now()) });
    say();
    send();
  }

  async function send() {
    const list = kept().slice(0, 200);
    if (sending || !list.length) return;
    sending = true;
    let again = false;
    try {
      const answer = await post(main.dataset.events, { body: JSON.stringify(list),
        headers: { "Content-Type": "application/json" } });
      out = false;
      if (answer.ok) {
        // only what the server names is dropped: stored now, stored before, or refused for good
        const told = await answer.json();
        told.stored.forEach(drop);
        told.refused.forEach(setAside);
        draw(told.part);
        again = kept().length > 0;
      }
    } catch (error) {
      out = error instanceof SignedOut; // without a link too everything is kept, and sent by the next try
    } finally {
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
      const answer = await fetch(main.dataset.page, { headers: { "HX-Request": "true" }, redirect: "manual" });
      out = answer.status === 401;
      if (answer.ok) draw(await answer.text());
      say();
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

  // a pedal turns when it is let go; held for a second it takes the next of her usual holds instead:
  // the right one the grip, the left one the seat
  const PEDALS = { PageDown: [".next", "grip"], ArrowRight: [".next", "grip"],
    PageUp: [".pedal:not(.next)", "posture"], ArrowLeft: [".pedal:not(.next)", "posture"] };
  const HELD_MS = 900;
  let down = null;

  function nextHold(name) {
    const row = stand()?.querySelector(`[data-holds="${name}"]`);
    const all = row ? [...row.querySelectorAll(".hold")] : [];
    const now = all.findIndex((b) => b.classList.contains("chosen-hold"));
    all[(now + 1) % all.length]?.click();
  }

  document.addEventListener("keydown", (event) => {
    const pedal = PEDALS[event.key];
    if (!pedal || !stand() || event.target.closest("input, select, textarea")) return;
    event.preventDefault();
    if (event.repeat || down) return;
    down = { key: event.key, timer: setTimeout(() => { down.done = true; nextHold(pedal[1]); }, HELD_MS) };
  });
  document.addEventListener("keyup", (event) => {
    if (!down || down.key !== event.key) return;
    clearTimeout(down.timer);
    if (!down.done) stand()?.querySelector(PEDALS[event.key][0])?.click();
    down = null;
  });

  // sounds only when she asked for it: one soft tick when a block ends
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
    if (left === 0 && !el.dataset.turned) { el.dataset.turned = "1"; tick(); add(el.dataset.next === "rest" ? "rest" : "block", { by: "clock" }); }
  }, 500);
  setInterval(refresh, 20000);
  window.addEventListener("online", send);
  document.addEventListener("visibilitychange", () => { if (!document.hidden) refresh(); });
  if ("wakeLock" in navigator) navigator.wakeLock.request("screen").catch(() => {});
  send();
})();
