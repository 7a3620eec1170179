// Records so many seconds from the microphone and sends them with the form; what a script cannot do, a file can.
(() => {
  const form = document.getElementById("record-form");
  const button = document.getElementById("record");
  if (!form || !button || !navigator.mediaDevices || !window.MediaRecorder) return;
  const left = document.getElementById("left");
  const say = document.getElementById("record-say");
  button.hidden = false;
  let recorder = null;

  async function send(sound) {
    const data = new FormData(form);
    if (sound) data.set("sound", sound, "recorded here");
    say.textContent = "Listening …";
    try {
      const answer = await window.link.post(form.action, { body: data });
      const told = await answer.json();
      if (answer.ok) { window.location.href = told.where; return; }
      say.textContent = told.problem;
    } catch (error) {
      say.textContent = error instanceof window.link.SignedOut
        ? "Signed out: sign in on another page, then send it again. It is still on this page."
        : "No link: it is still on this page.";
    }
    button.textContent = "Send it again";
    button.onclick = () => send(sound);
  }

  async function start() {
    let stream;
    try {
      stream = await navigator.mediaDevices.getUserMedia({
        audio: { autoGainControl: false, noiseSuppression: false, echoCancellation: false } });
    } catch (error) {
      say.textContent = error.name === "NotAllowedError"
        ? "The microphone was refused. Allow it for this page, or bring a file."
        : "No microphone was found. Bring a file.";
      return;
    }
    const pieces = [];
    const most = Number(button.dataset.seconds);
    const began = performance.now();
    recorder = new MediaRecorder(stream);
    recorder.addEventListener("dataavailable", (event) => pieces.push(event.data));
    recorder.addEventListener("stop", () => {
      clearInterval(clock);
      left.hidden = true;
      stream.getTracks().forEach((track) => track.stop());
      send(new Blob(pieces, { type: recorder.mimeType }));
    });
    const clock = setInterval(() => {
      const rest = Math.max(0, most - (performance.now() - began) / 1000);
      left.textContent = `${Math.ceil(rest)} s`;
      if (rest === 0 && recorder.state === "recording") recorder.stop();
    }, 250);
    recorder.start(1000);
    left.hidden = false;
    button.textContent = "Stop";
    say.textContent = "Recording. Nothing sounds when it ends.";
  }

  button.onclick = () => { if (recorder?.state === "recording") recorder.stop(); else start(); };
})();
