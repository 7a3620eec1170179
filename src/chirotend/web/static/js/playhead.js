// One play-head: it moves over the whole recording while it is heard.
(() => {
  const audio = document.querySelector("audio[data-seconds]");
  const head = document.querySelector(".heard-whole .play-head");
  if (!audio || !head) return;
  const box = head.ownerSVGElement.viewBox.baseVal;
  const left = head.getBBox().x;
  const seconds = Number(audio.dataset.seconds);
  const move = () => {
    const x = (box.width - left) * Math.min(1, audio.currentTime / seconds);
    head.setAttribute("transform", `translate(${x} 0)`);
    if (!audio.paused) requestAnimationFrame(move);
  };
  audio.addEventListener("play", move);
  audio.addEventListener("seeked", move);
})();
