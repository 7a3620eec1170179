// Instruments are found by typing, chosen into chips, and kept in the order they were chosen: the first is the main one.
(() => {
  const field = document.querySelector("[data-instruments]");
  if (!field) return;
  const boxes = [...field.querySelectorAll("input[type=checkbox]")];
  const names = new Map(boxes.map((box) => [box.value, box.parentElement.textContent.trim()]));
  const find = field.querySelector("[data-find]");
  const chips = field.querySelector("[data-chips]");
  const told = field.querySelector("[data-told]");
  const all = field.querySelector("[data-all-instruments]");
  let chosen = JSON.parse(field.dataset.instruments).filter((id) => names.has(id));

  const plain = (text) => text.toLowerCase().normalize("NFD").replace(/\p{M}/gu, "");

  function part(tag, props, ...inside) {
    const made = Object.assign(document.createElement(tag), props);
    made.append(...inside);
    return made;
  }

  function button(label, sign, act) {
    const made = part("button", { type: "button", onclick: act }, sign);
    made.setAttribute("aria-label", label);
    return made;
  }

  // what is sent are the chips, in their order; the boxes only say what is chosen
  function draw(say = "") {
    chips.replaceChildren(...chosen.map((id, at) => {
      const name = names.get(id);
      const chip = part("li", {}, part("input", { type: "hidden", name: "instruments", value: id }));
      if (at) chip.append(button(`${name}: one place earlier`, "←", () => move(id, at)));
      chip.append(part("span", {}, name), button(`Take ${name} away`, "×", () => toggle(id)));
      return chip;
    }));
    for (const box of boxes) box.checked = chosen.includes(box.value);
    told.textContent = say;
  }

  function move(id, at) {
    [chosen[at - 1], chosen[at]] = [chosen[at], chosen[at - 1]];
    draw(`${names.get(id)} is number ${at}.`);
    chips.children[at - 1].querySelector("button").focus();
  }

  function toggle(id) {
    const had = chosen.includes(id);
    chosen = had ? chosen.filter((other) => other !== id) : [...chosen, id];
    draw(`${names.get(id)} ${had ? "taken away" : "chosen"}; ${chosen.length} in all.`);
    if (had && !field.contains(document.activeElement)) find.focus();
  }

  function search() {
    const words = plain(find.value).split(" ").filter(Boolean);
    for (const box of boxes) {
      const name = plain(names.get(box.value));
      box.parentElement.hidden = !words.every((word) => name.includes(word));
    }
    for (const family of field.querySelectorAll("[data-family]")) {
      family.hidden = ![...family.querySelectorAll("label")].some((label) => !label.hidden);
    }
    if (!find.value) return;
    all.open = true;
    const left = found().length;
    told.textContent = left ? `${left} found. Enter takes the first.` : "None of that name. You can add your own under G.";
  }

  // what begins with the word comes first: “viola” is not the viola da gamba
  function found() {
    const typed = plain(find.value).trim();
    const rank = (name) => (name === typed ? 0 : name.startsWith(typed) ? 1 : 2);
    return boxes.filter((box) => !box.parentElement.hidden)
      .sort((a, b) => rank(plain(names.get(a.value))) - rank(plain(names.get(b.value))));
  }

  for (const box of boxes) {
    box.removeAttribute("name");
    box.addEventListener("change", () => toggle(box.value));
  }
  find.addEventListener("input", search);
  find.addEventListener("keydown", (event) => {
    if (event.key === "ArrowDown" && found().length) {
      event.preventDefault();
      boxes.find((box) => !box.parentElement.hidden).focus();
    }
    if (event.key === "Backspace" && !find.value && chosen.length) toggle(chosen.at(-1));
    if (event.key !== "Enter") return;
    event.preventDefault();  // Enter takes the first found, and never sends the form half-filled
    const [first] = find.value ? found() : [];
    if (first && !chosen.includes(first.value)) toggle(first.value);
    find.value = "";
    search();
  });
  field.classList.add("found-by-typing");
  draw();
})();
