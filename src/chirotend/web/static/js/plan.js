// Blocks slide by hand and by keys; each move is sent, and the week with its loads comes back.
(() => {
  const KEYS = { ArrowLeft: { minutes: -15 }, ArrowRight: { minutes: 15 }, ArrowUp: { days: -1 }, ArrowDown: { days: 1 },
    "+": { longer: 5 }, "=": { longer: 5 }, "-": { longer: -5 }, "−": { longer: -5 } };
  let focus = "";

  function plan() { return document.getElementById("plan"); }

  function send(uid, what, values = {}) {
    focus = uid;
    htmx.ajax("POST", `/plan/block/${uid}/${what}`, { source: plan(), target: "#plan", swap: "outerHTML",
      values: { week: plan().dataset.week, ...values } });
  }

  document.addEventListener("keydown", (event) => {
    const block = event.target.closest?.(".blk.own");
    if (!block || event.ctrlKey || event.metaKey || event.altKey) return;
    if (KEYS[event.key]) { event.preventDefault(); send(block.dataset.uid, "move", KEYS[event.key]); }
    if (event.key === "r" || event.key === "R" || event.key === "Delete") {
      event.preventDefault(); event.stopPropagation(); send(block.dataset.uid, "rub-out");
    }
  }, true);

  document.addEventListener("htmx:afterSwap", () => {
    if (!focus) return;
    const again = [...document.querySelectorAll(`.blk[data-uid="${focus}"]`)].find((b) => b.getBoundingClientRect().width > 0);
    focus = "";
    if (again) again.focus();
  });

  let held = null;
  document.addEventListener("pointerdown", (event) => {
    const block = event.target.closest?.(".blk.own");
    if (!block || event.button) return;
    const svg = block.ownerSVGElement;
    const scale = svg.viewBox.baseVal.width / svg.getBoundingClientRect().width;
    held = { block, svg, scale, x: event.clientX, y: event.clientY, moved: false };
    if (event.pointerType !== "touch") event.preventDefault();
  });
  document.addEventListener("pointermove", (event) => {
    if (!held) return;
    const dx = (event.clientX - held.x) * held.scale;
    const dy = (event.clientY - held.y) * held.scale;
    if (Math.hypot(dx, dy) > 5) held.moved = true;
    if (held.moved) held.block.setAttribute("transform", `translate(${dx} ${dy})`);
  });
  document.addEventListener("pointerup", (event) => {
    if (!held) return;
    const { block, svg, scale, x, y, moved } = held;
    held = null;
    if (!moved) { if (event.pointerType !== "touch") block.focus(); return; }
    block.addEventListener("click", (click) => click.preventDefault(), { once: true });
    const minutes = Math.round(((event.clientX - x) * scale / svg.dataset.hour * 60) / 15) * 15;
    const days = Math.round((event.clientY - y) * scale / svg.dataset.day);
    if (minutes || days) send(block.dataset.uid, "move", { minutes, days });
    else block.removeAttribute("transform");
  });
  document.addEventListener("dragstart", (event) => { if (event.target.closest?.(".blk")) event.preventDefault(); });
  document.addEventListener("pointercancel", () => { held?.block.removeAttribute("transform"); held = null; });
})();
