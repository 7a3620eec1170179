// What a page for no network asks (the card, the morning, a mark) is sent from here: without a link, or signed out, it
// is kept on this device and sent later.
// "Saved" is said only when the server has said so. What waits is sent from every page: a yes to an urgent sign
// must not wait until the card is opened again.
(() => {
  const PREFIX = `chirotend-card-${window.link.player}-`;
  const sent = document.getElementById("kept-said");

  const AGAIN_MS = 8000;
  const onTheirWay = new Set();
  const waiting = () => Object.keys(localStorage).filter((k) => k.startsWith(PREFIX)).sort();
  const say = (text) => { if (sent) sent.textContent = text; };

  async function send(key) {
    if (onTheirWay.has(key)) return "";
    onTheirWay.add(key);
    try { return await sendOnce(key); } finally { onTheirWay.delete(key); }
  }

  async function sendOnce(key) {
    const { url, fields } = JSON.parse(localStorage.getItem(key));
    const answer = await window.link.post(url, { body: new URLSearchParams(fields) });
    if (answer.ok) { localStorage.removeItem(key); return (await answer.json()).ending; }
    if (answer.status === 422) {
      say(`Not saved: ${(await answer.json()).problem} Answer that and send it again.`);
      localStorage.setItem(key.replace(PREFIX, "chirotend-refused-"), localStorage.getItem(key));
      localStorage.removeItem(key);
    } else say("Not saved yet; it is kept on this device and tried again.");
    return "";
  }

  async function flush() {
    let done = 0;
    for (const key of waiting()) {
      try { if (await send(key)) done += 1; } catch (error) { tell(error); return; }
    }
    if (done && !sent) window.location.reload();
    if (done) say("Saved.");
  }

  function tell(error) {
    say(error instanceof window.link.SignedOut
      ? "Kept on this device: sign in, and it is saved."
      : "No link: kept on this device, saved when the link is back.");
  }

  function keep(url, form, submitter) {
    const fields = [...new FormData(form, submitter)].filter(([name]) => name !== "csrf_token");
    const uid = window.link.id();
    fields.push(["at_utc", new Date().toISOString()], ["uid", uid]);
    const key = `${PREFIX}${Date.now()}-${uid}`;
    localStorage.setItem(key, JSON.stringify({ url, fields }));
    return key;
  }

  if (sent) document.addEventListener("submit", async (event) => {
    const form = event.target;
    event.preventDefault();
    const key = keep(form.action, form, event.submitter);
    if (form.matches(".sign-form")) {
      try { await send(key); } catch { /* kept; what to do now does not wait for it */ }
      if ("urgent" in form.dataset) { window.location.href = "/urgent"; return; }
      const over = document.getElementById("hand-over");
      over.classList.add("shown");
      over.focus();
      over.scrollIntoView();
      return;
    }
    try {
      const ending = await send(key);
      if (ending && "after" in sent.dataset) { window.location.href = sent.dataset.after + ending; return; }
      if (ending) { say("Saved."); form.reset(); }
    } catch (error) { tell(error); form.reset(); }
    window.scrollTo(0, 0);
  });
  window.addEventListener("online", flush);
  // a browser does not always tell that the link is back
  setInterval(() => { if (waiting().length) flush(); }, AGAIN_MS);
  flush();
})();
