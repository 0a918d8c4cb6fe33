// Texts that are cut off, lie beyond the page or on one another, in words; [] if there are none.
// What lies within another scrolled region is hidden by it, not on top of it; where a probe's name lies is where its pin is.
() => {
  const found = [];
  const name = (e) =>
    `${e.tagName.toLowerCase()}.${String(e.className?.baseVal ?? e.className)
      .split(" ")
      .join(".")} "${e.textContent.trim().slice(0, 40)}"`;
  const texts = [];
  const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  for (let n = walker.nextNode(); n; n = walker.nextNode()) {
    if (!n.textContent.trim()) continue;
    const e = n.parentElement;
    if (
      !e ||
      e.closest(".unseen, script, style, title, option, noscript, .probe, .whole-choice option") ||
      !e.checkVisibility({ visibilityProperty: true, opacityProperty: true })
    )
      continue;
    const range = document.createRange();
    range.selectNodeContents(n);
    const rects = [...range.getClientRects()].filter((r) => r.width > 1 && r.height > 1);
    if (!rects.length) continue;
    let scrolled = false,
      hidden = false,
      within = null;
    for (let a = e; a && a !== document.body; a = a.parentElement) {
      const s = getComputedStyle(a);
      if (s.clipPath !== "none") {
        hidden = true;
        break;
      }
      if (["auto", "scroll"].includes(s.overflowX)) scrolled = true;
      if (!within && (["auto", "scroll"].includes(s.overflowX) || ["auto", "scroll"].includes(s.overflowY))) within = a;
      if (!scrolled && ["hidden", "clip"].includes(s.overflowX) && !(a instanceof SVGElement)) {
        const box = a.getBoundingClientRect();
        const out = rects.find(
          (r) =>
            r.right > box.right + 1.5 ||
            r.left < box.left - 1.5 ||
            (["hidden", "clip"].includes(s.overflowY) && r.bottom > box.bottom + 4),
        );
        if (out && s.textOverflow !== "ellipsis") found.push(`cut by ${name(a)}: ${name(e)}`);
        if (out && s.textOverflow === "ellipsis" && !a.title && !a.closest("[title]"))
          found.push(`shortened without a title: ${name(e)}`);
      }
    }
    if (hidden) continue;
    if (!scrolled && rects.some((r) => r.right > innerWidth + 1 || r.left < -1))
      found.push(`beyond the page: ${name(e)}`);
    const fixed = !!e.closest(".MuiDialog-root, .MuiSnackbar-root, .skip, .tour");
    if (!fixed) texts.push({ e, rects, within });
  }
  for (let i = 0; i < texts.length; i++)
    for (let j = i + 1; j < texts.length; j++) {
      const [a, b] = [texts[i], texts[j]];
      if (a.within !== b.within || a.e === b.e || a.e.contains(b.e) || b.e.contains(a.e)) continue;
      for (const r of a.rects)
        for (const q of b.rects) {
          const w = Math.min(r.right, q.right) - Math.max(r.left, q.left),
            h = Math.min(r.bottom, q.bottom) - Math.max(r.top, q.top);
          if (w > 3 && h > Math.min(r.height, q.height) * 0.45) {
            found.push(`overlap: ${name(a.e)} and ${name(b.e)}`);
          }
        }
    }
  if (document.documentElement.scrollWidth > innerWidth + 1)
    found.push(`page ${document.documentElement.scrollWidth} wide`);
  return [...new Set(found)];
};
