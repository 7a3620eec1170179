// Points on a picture: dragged, nudged with arrow keys, or typed; angles come from the server as they move.
(() => {
  const form = document.getElementById("points-form");
  if (!form) return;
  const box = document.getElementById("posed-box");
  const say = document.getElementById("posed-say");
  const handles = [...box.querySelectorAll(".point")];
  const field = (point, axis) => form.elements[`${point}.${axis}`];
  let asked = false;
  let again = false;

  function place(handle) {
    handle.style.left = `${handle.dataset.x}%`;
    handle.style.top = `${handle.dataset.y}%`;
  }

  function set(handle, x, y) {
    const inside = (v) => Math.max(0, Math.min(100, v));
    handle.dataset.x = inside(x).toFixed(2);
    handle.dataset.y = inside(y).toFixed(2);
    field(handle.dataset.point, "x").value = handle.dataset.x;
    field(handle.dataset.point, "y").value = handle.dataset.y;
    place(handle);
    look();
  }

  // one question at a time; what moved meanwhile is asked when the answer is there
  async function look() {
    if (asked) { again = true; return; }
    asked = true;
    try {
      const answer = await window.link.post(form.dataset.look, { body: new FormData(form) });
      if (answer.ok) {
        const page = new DOMParser().parseFromString(await answer.text(), "text/html");
        document.getElementById("posed-shapes").replaceChildren(...page.getElementById("posed-new").childNodes);
        page.getElementById("posed-new").remove();
        document.getElementById("angles").innerHTML = page.body.innerHTML;
        say.textContent = "Drag a point, or choose it and use the arrow keys.";
      } else {
        say.textContent = (await answer.json()).problem;
      }
    } catch (error) {
      say.textContent = "No link: the points are still here; the angles are not worked out.";
    }
    asked = false;
    if (again) { again = false; look(); }
  }

  handles.forEach((handle) => {
    place(handle);
    handle.addEventListener("pointerdown", (event) => {
      handle.setPointerCapture(event.pointerId);
      handle.focus();
      event.preventDefault();
    });
    handle.addEventListener("pointermove", (event) => {
      if (!handle.hasPointerCapture(event.pointerId)) return;
      const frame = box.getBoundingClientRect();
      set(handle, 100 * (event.clientX - frame.left) / frame.width, 100 * (event.clientY - frame.top) / frame.height);
    });
    handle.addEventListener("keydown", (event) => {
      const step = event.shiftKey ? 2 : 0.25;
      const moves = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step] };
      if (!moves[event.key]) return;
      event.preventDefault();
      const [x, y] = moves[event.key];
      set(handle, Number(handle.dataset.x) + x, Number(handle.dataset.y) + y);
    });
  });
  form.addEventListener("change", (event) => {
    const [point, axis] = event.target.name.split(".");
    const handle = handles.find((h) => h.dataset.point === point);
    if (handle && axis) {
      handle.dataset[axis] = event.target.value.replace(",", ".");
      place(handle);
    }
    look();
  });
  document.querySelectorAll("[data-zoom]").forEach((button) => button.addEventListener("click", () => {
    const times = Number(button.dataset.zoom);
    box.classList.toggle("zoomed", times > 1);
    box.style.width = times > 1 ? `${100 * times}%` : "";
  }));
})();
