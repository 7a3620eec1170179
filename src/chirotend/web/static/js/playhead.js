// One recording, one place in it: a play-head moves over every picture that time runs in, while it is heard.
(() => {
  const audio = document.querySelector("audio[data-begins]");
  if (!audio) return;
  const begins = Number(audio.dataset.begins); // the second of the pictures at which the sound begins
  const pictures = [...document.querySelectorAll("svg[data-stops]")].map((svg) => {
    const head = svg.querySelector(".play-head");
    return { svg, head, from: head.getBBox().x,
      stops: svg.dataset.stops.split(" ").map((stop) => stop.split(":").map(Number)) };
  });

  // what lies beside `value` between two stops; null = outside of them
  function beside(value, stops) {
    const next = stops.findIndex(([at]) => at > value);
    if (next < 1) return null;
    const [[a, x], [b, y]] = [stops[next - 1], stops[next]];
    return x + (y - x) * (value - a) / (b - a);
  }

  function move() {
    for (const { head, from, stops } of pictures) {
      const x = beside(audio.currentTime + begins, stops);
      head.toggleAttribute("data-away", x === null);
      if (x !== null) head.setAttribute("transform", `translate(${x - from} 0)`);
    }
    if (!audio.paused) requestAnimationFrame(move);
  }
  audio.addEventListener("play", move);
  audio.addEventListener("seeked", move);

  // a touch on a picture goes to that second
  for (const { svg, stops } of pictures) {
    svg.addEventListener("click", (event) => {
      const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
      const second = beside(at.x, stops.map(([t, x]) => [x, t]));
      if (second !== null) audio.currentTime = Math.max(0, second - begins);
    });
  }

  move(); // what is not at its beginning has no play-head yet

  const half = document.getElementById("half-speed");
  half.hidden = false;
  half.addEventListener("click", () => {
    const slow = half.getAttribute("aria-pressed") !== "true";
    half.setAttribute("aria-pressed", slow);
    audio.playbackRate = slow ? 0.5 : 1;
  });
})();
