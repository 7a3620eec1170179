// Records from the microphone for so many minutes, shows what is left, sends it when it ends.
(() => {
  const form = document.getElementById("take-form");
  if (!form) return;
  const button = document.getElementById("record");
  const left = document.getElementById("take-left");
  const say = document.getElementById("take-say");
  const again = document.getElementById("take-again");
  let recorder = null;

  function stop() { if (recorder?.state === "recording") recorder.stop(); }

  // the take stays on this page until the server has it
  async function send(data) {
    again.hidden = true;
    say.textContent = "Sending …";
    try {
      const answer = await window.link.post(form.action, { body: data });
      if (answer.ok) { window.location.reload(); return; }
      say.textContent = answer.status === 422
        ? (await answer.json()).problem
        : "The server could not take it now. It is still on this page.";
    } catch (error) {
      say.textContent = error instanceof window.link.SignedOut
        ? "Signed out: sign in on another page, then send it again. It is still on this page."
        : "No link: it is still on this page.";
    }
    again.hidden = false;
    again.onclick = () => send(data);
  }

  async function start() {
    let stream;
    try {
      stream = await navigator.mediaDevices.getUserMedia({ audio: true });
    } catch (error) {
      say.textContent = error.name === "NotAllowedError"
        ? "The microphone was refused. Allow it for this page in the browser, then try again. Nothing was recorded."
        : "No microphone was found. Nothing was recorded.";
      return;
    }
    const pieces = [];
    const began = performance.now();
    const most = Number(button.dataset.minutes) * 60;
    recorder = new MediaRecorder(stream);
    recorder.addEventListener("dataavailable", (event) => pieces.push(event.data));
    recorder.addEventListener("stop", async () => {
      clearInterval(clock);
      stream.getTracks().forEach((track) => track.stop());
      const data = new FormData(form);
      data.set("seconds", ((performance.now() - began) / 1000).toFixed(1));
      data.set("sound", new Blob(pieces, { type: recorder.mimeType }), "take");
      button.textContent = `Record ${button.dataset.minutes} minutes`;
      send(data);
    });
    const clock = setInterval(() => {
      const rest = Math.max(0, most - (performance.now() - began) / 1000);
      left.textContent = `${Math.floor(rest / 60)}:${String(Math.floor(rest % 60)).padStart(2, "0")}`;
      if (rest === 0) stop();
    }, 500);
    recorder.start(1000);
    left.hidden = false;
    button.textContent = "Stop";
    say.textContent = "Recording. Nothing sounds when it ends.";
  }

  button.addEventListener("click", () => { if (recorder?.state === "recording") stop(); else start(); });
})();
