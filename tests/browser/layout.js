// What is wrong with a page as it is drawn: a list of {kind, text, at}; empty = nothing was found.
//
// letters: words that fall into a letter a line; overlap: texts over one another; cut: text that its box or its drawing cuts off;
// beyond: text past the edge of the page; wide: a page wider than the screen; small: what is touched and under 24 pixels.
// Left out: what is hidden, folded, or scrolled out of its box; names of a drawing, which lie over it on purpose.
() => {
  const found = [], root = document.documentElement;
  const ancestors = (element) => {
    const all = [];
    for (let e = element; e && e.nodeType === 1 && e.tagName !== "BODY"; e = e.parentElement) all.push(e);
    return all;
  };
  const at = (element) => ancestors(element).slice(0, 4).reverse()
    .map((e) => [e.tagName.toLowerCase(), ...(e.getAttribute("class") || "").split(/\s+/)].filter(Boolean).join(".")).join(" > ");
  const tell = (kind, text, element) => found.push({kind, text: text.slice(0, 60), at: element ? at(element) : ""});
  // asked of every text, and answered by what stands round it: each element is looked at once
  const once = (ask) => {
    const known = new WeakMap();
    const answer = (e) => {
      if (!e || e.nodeType !== 1 || e.tagName === "BODY") return ask(null, answer);
      if (!known.has(e)) known.set(e, ask(e, answer));
      return known.get(e);
    };
    return answer;
  };
  const seen = once((e, answer) => {
    if (!e) return true;
    const style = getComputedStyle(e), box = e.getBoundingClientRect();
    if (style.display === "none" || style.visibility !== "visible" || +style.opacity < 0.05) return false;
    return !((box.width <= 1 || box.height <= 1) && style.overflow !== "visible") && answer(e.parentElement);
  });
  const folded = once((e, answer) => {
    if (!e) return false;
    const fold = e.parentElement && e.parentElement.tagName === "DETAILS" ? e.parentElement : null;
    return (fold && !fold.open && e.tagName !== "SUMMARY") || answer(e.parentElement);
  });
  // a sheet that opens over the page (placed, and lifted above it) covers it on purpose
  const floats = once((e, answer) => {
    if (!e) return false;
    const {position, zIndex} = getComputedStyle(e);
    return ["fixed", "sticky"].includes(position) || (position === "absolute" && +zIndex >= 5) || answer(e.parentElement);
  });
  const clipping = once((e, answer) => {
    if (!e) return [];
    const style = getComputedStyle(e), outer = answer(e.parentElement);
    return style.overflowX === "visible" && style.overflowY === "visible" ? outer : [e.getBoundingClientRect(), ...outer];
  });
  const inside = (box, element) => {
    const frames = clipping(element.parentElement);
    const left = Math.max(box.left, ...frames.map((f) => f.left)), top = Math.max(box.top, ...frames.map((f) => f.top));
    const right = Math.min(box.right, ...frames.map((f) => f.right)), bottom = Math.min(box.bottom, ...frames.map((f) => f.bottom));
    return {left, top, width: right - left, height: bottom - top};
  };
  const cutting = once((e, answer) => {
    if (!e) return null;
    const style = getComputedStyle(e);
    const clips = ["hidden", "clip"].includes(style.overflowX) && style.textOverflow !== "ellipsis";
    return clips && e.clientWidth > 4 && e.scrollWidth > e.clientWidth + 3 ? e : answer(e.parentElement);
  });
  const shown = (box) => box.width > 1 && box.height > 1;

  const texts = [], walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  while (walk.nextNode()) {
    const node = walk.currentNode, element = node.parentElement, text = node.nodeValue.trim();
    if (!text || element.closest("script,style,noscript,title,desc,option,select,datalist,[aria-hidden=true]")) continue;
    if (folded(element) || !seen(element)) continue;
    const range = document.createRange();
    range.selectNodeContents(node);
    const lines = [...range.getClientRects()].filter(shown);
    if (!lines.length) continue;
    const size = parseFloat(getComputedStyle(element).fontSize), scrolls = element.closest("[class*=scroll],pre,table,svg,.tabs");
    const longest = Math.max(...text.split(/\s+/).map((word) => word.length));
    if (lines.length > 4 && longest > 4 && Math.max(...lines.map((b) => b.width)) < size * 2.2) tell("letters", text, element);
    if (!scrolls && lines.some((b) => b.right > root.clientWidth + 2)) tell("beyond", text, element);
    const cuts = cutting(element);
    if (cuts) tell("cut", text, cuts);
    const drawing = element.closest("svg"), sheet = drawing && drawing.getBoundingClientRect();
    if (sheet && getComputedStyle(drawing).overflowX !== "visible"
      && lines.some((b) => b.left < sheet.left - 2 || b.right > sheet.right + 2 || b.bottom > sheet.bottom + 4)) {
      tell("cut", text, element);
    }
    const fixed = floats(element);
    for (const box of lines.map((line) => inside(line, element)).filter(shown)) {
      const top = box.top + box.height * 0.18, height = box.height * 0.64;
      texts.push({node, element, text, fixed, left: box.left, top, width: box.width, height});
    }
  }

  texts.sort((a, b) => a.top - b.top);
  const told = new Set();
  texts.forEach((a, n) => {
    for (let m = n + 1; m < texts.length && texts[m].top < a.top + a.height; m++) {
      const b = texts[m];
      if (a.node === b.node || a.fixed !== b.fixed) continue;
      const wide = Math.min(a.left + a.width, b.left + b.width) - Math.max(a.left, b.left);
      const high = Math.min(a.top + a.height, b.top + b.height) - Math.max(a.top, b.top);
      const both = `${a.text.slice(0, 28)} | ${b.text.slice(0, 28)}`;
      const least = 0.12 * Math.min(a.width * a.height, b.width * b.height);
      if (wide > 2 && high > 2 && wide * high > least && !told.has(both)) {
        told.add(both);
        tell("overlap", both, a.element);
      }
    }
  });

  for (const e of document.querySelectorAll("a[href],button,input:not([type=hidden]),select,summary,[role=button]")) {
    const box = e.getBoundingClientRect(), drawn = e.closest("svg"), worded = e.closest("p,li,td,dd,small,figcaption,label");
    if (drawn || worded || ["checkbox", "radio", "range"].includes(e.type) || folded(e) || !seen(e) || !box.width) continue;
    if (box.height < 24 || box.width < 24) tell("small", `${e.innerText || e.value || ""} ${Math.round(box.width)} x ${Math.round(box.height)}`, e);
  }
  if (root.scrollWidth > root.clientWidth + 1) tell("wide", `${root.scrollWidth} > ${root.clientWidth}`, null);
  return found;
}
