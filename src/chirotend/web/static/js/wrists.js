// A clip is read on this page: two frames a second are sent one after another, and the angles that come back are saved.
(() => {
  const form = document.getElementById("wrists-form");
  if (!form) return;
  const STEP_S = 0.5;
  const LONGEST_S = 60;
  const SIDE = 960;
  const video = document.getElementById("clip-video");
  const read = document.getElementById("read-clip");
  const stop = document.getElementById("stop-clip");
  const say = document.getElementById("clip-say");
  let stopped = false;

  document.getElementById("clip-file").addEventListener("change", (event) => {
    const file = event.target.files[0];
    read.disabled = video.hidden = true;
    say.textContent = "";
    if (file) video.src = URL.createObjectURL(file);
  });
  video.addEventListener("loadeddata", () => {
    if (!video.videoWidth) { say.textContent = "This clip holds no pictures. Choose another one."; return; }
    video.hidden = read.disabled = false;
  });
  video.addEventListener("error", () => { say.textContent = "This clip cannot be read by this browser. Try MP4 or WebM."; });
  stop.addEventListener("click", () => { stopped = true; });

  // Returns the second the film stands at; less than asked for = it is over.
  function seek(second) {
    return new Promise((done) => {
      video.addEventListener("seeked", () => done(video.currentTime), { once: true });
      video.currentTime = second;
    });
  }

  async function angles(second) {
    const { blob, width, height } = await window.film.frame(video, SIDE);
    const data = new FormData(form);
    data.delete("clip-file");
    data.set("frame", blob, "frame.jpg");
    data.set("width", width);
    data.set("height", height);
    const answer = await window.link.post(form.dataset.frame, { body: data });
    const told = await answer.json();
    if (!answer.ok) throw new Error(told.problem);
    return [second.toFixed(2), told.left ?? "-", told.right ?? "-"].join(" ");
  }

  function ended(words) {
    say.textContent = words;
    read.disabled = false;
    stop.hidden = true;
  }

  read.addEventListener("click", async () => {
    const last = Math.min(LONGEST_S, Number.isFinite(video.duration) ? video.duration : LONGEST_S);
    const count = Math.max(1, Math.floor(last / STEP_S));
    const lines = [];
    stopped = false;
    read.disabled = true;
    stop.hidden = false;
    try {
      for (let n = 0; n < count; n += 1) {
        if (stopped) { ended("Stopped. Nothing is kept."); return; }
        say.textContent = `Frame ${n + 1} of ${count} …`;
        const second = (n + 0.5) * STEP_S;
        if (await seek(second) < second - STEP_S / 2) break;
        lines.push(await angles(second));
      }
    } catch (error) {
      const told = error instanceof TypeError || error instanceof window.link.SignedOut ? "No link to the server." : error.message;
      ended(`${told} Nothing is kept yet: press Read the wrists again.`);
      return;
    }
    document.getElementById("frames").value = lines.join("\n");
    document.getElementById("clip-file").disabled = true;
    form.requestSubmit();
  });
})();
