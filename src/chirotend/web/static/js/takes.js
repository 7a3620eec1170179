// Records from the microphone for so many minutes, shows what is left, sends it when it ends.
(() => {
  const form = document.getElementById("take-form");
  const button = document.getElementById("record");
  const left = document.getElementById("take-left");
  const say = document.getElementById("take-say");
  let recorder = null;

  function stop() { if (recorder?.state === "recording") recorder.stop(); }

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
      say.textContent = "Sending …";
      try {
        const answer = await fetch(form.action, { method: "POST", body: data });
        if (answer.ok) { window.location.reload(); return; }
        say.textContent = "The server could not take it. It is lost; record again.";
      } catch { say.textContent = "No link: the take could not be sent. Stay on this page and record again."; }
      button.textContent = `Record ${button.dataset.minutes} minutes`;
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
