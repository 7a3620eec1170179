// A short clip stepped through on this device: only the frames that are taken leave it, one after another.
(() => {
  const form = document.getElementById("picture-form");
  const part = document.getElementById("clip");
  if (!form || !part) return;
  part.hidden = false;
  const video = document.getElementById("clip-video");
  const tools = document.getElementById("clip-tools");
  const say = document.getElementById("clip-say");
  const send = document.getElementById("clip-send");
  const frames = [];

  document.getElementById("clip-file").addEventListener("change", (event) => {
    const file = event.target.files[0];
    frames.length = 0;
    send.disabled = true;
    tools.hidden = video.hidden = true;
    if (!file) return;
    video.src = URL.createObjectURL(file);
  });
  video.addEventListener("loadeddata", () => {
    if (!video.videoWidth) { say.textContent = "This clip holds no pictures. Choose another one."; return; }
    video.hidden = tools.hidden = false;
    say.textContent = "Step to a moment, take the frame; three to ten are enough.";
  });
  video.addEventListener("error", () => { say.textContent = "This clip cannot be read by this browser. Try MP4 or WebM."; });
  tools.querySelectorAll("[data-step]").forEach((button) => button.addEventListener("click", () => {
    video.currentTime = Math.max(0, Math.min(video.duration || 0, video.currentTime + Number(button.dataset.step)));
  }));
  document.getElementById("clip-take").addEventListener("click", async () => {
    const at = video.currentTime;
    const { blob } = await window.film.frame(video, 1600);
    frames.push({ blob, at });
    send.disabled = false;
    say.textContent = `${frames.length} taken, the last at ${at.toFixed(1)} s.`;
  });
  send.addEventListener("click", async () => {
    const clip = window.link.id();
    let first = "";
    send.disabled = true;
    for (let n = 0; n < frames.length; n += 1) {
      say.textContent = `Sending ${n + 1} of ${frames.length} …`;
      const data = new FormData(form);
      data.set("picture", frames[n].blob, "frame.jpg");
      data.set("clip", clip);
      data.set("at_s", frames[n].at.toFixed(2));
      try {
        const answer = await window.link.post(form.action, { body: data });
        const told = await answer.json();
        if (!answer.ok) { say.textContent = told.problem; send.disabled = false; return; }
        first = first || told.where;
      } catch (error) {
        say.textContent = `No link: ${n} of ${frames.length} are there. The rest is still on this page.`;
        frames.splice(0, n);
        send.disabled = false;
        return;
      }
    }
    if (first) window.location.href = first;
  });
})();
