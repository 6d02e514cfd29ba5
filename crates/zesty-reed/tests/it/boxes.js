// What is wrong with the boxes of the page that is open: controls that lie on each other, text that is cut off, what lies outside its
// sheet, what is too small for a finger, a page wider than its screen. Answers with sentences.
const wide = arguments[0];
const wrong = [];
const name = (e) => `<${e.tagName.toLowerCase()}${e.id ? "#" + e.id : ""}${e.className && e.className.baseVal === undefined ? "." + String(e.className).trim().replace(/\s+/g, ".") : ""}> “${(e.textContent || e.value || e.getAttribute("aria-label") || "").trim().replace(/\s+/g, " ").slice(0, 40)}”`;
const shown = (e) => e.checkVisibility({ checkOpacity: true, checkVisibilityCSS: true }) && e.getClientRects().length > 0;
const fixed = (e) => { for (let at = e; at && at !== document.body; at = at.parentElement) if (["fixed", "sticky"].includes(getComputedStyle(at).position)) return true; return false; };
// Something that scrolls on its own may hold more than it shows.
const scrolls = (e) => { for (let at = e.parentElement; at && at !== document.body; at = at.parentElement) if (["auto", "scroll"].includes(getComputedStyle(at).overflowX)) return at; return null; };

if (document.documentElement.scrollWidth > wide) {
  const beyond = [...document.querySelectorAll("body *")].filter((e) => shown(e) && e.getBoundingClientRect().right > wide + 0.5 && !scrolls(e));
  wrong.push(`the page is ${document.documentElement.scrollWidth} px wide: ${beyond.slice(-3).map(name).join("; ")}`);
}

const controls = [...document.querySelectorAll("a[href], button, input:not([type=hidden]), select, textarea, summary")]
  .filter((e) => shown(e) && !e.disabled && !e.closest(".skip, dialog, svg") && !e.matches(".skip, .visually-hidden"));
const boxes = controls.map((e) => ({ e, box: e.getBoundingClientRect(), fixed: fixed(e) }));
// What a part that scrolls on its own does not show just now is not there.
const clipped = (e, rect) => {
  let { left, top, right, bottom } = rect;
  for (let at = e.parentElement; at && at !== document.body; at = at.parentElement) {
    const style = getComputedStyle(at);
    if (!["auto", "scroll"].includes(style.overflowX) && !["auto", "scroll"].includes(style.overflowY)) continue;
    const frame = at.getBoundingClientRect();
    [left, top, right, bottom] = [Math.max(left, frame.left), Math.max(top, frame.top), Math.min(right, frame.right), Math.min(bottom, frame.bottom)];
  }
  return { left, top, right, bottom };
};
// Each line of a link that runs over several is a box of its own.
for (const item of boxes) item.parts = [...item.e.getClientRects()].map((rect) => clipped(item.e, rect));
for (let i = 0; i < boxes.length; i++) {
  for (let j = i + 1; j < boxes.length; j++) {
    const [one, other] = [boxes[i], boxes[j]];
    if (one.fixed !== other.fixed || one.e.contains(other.e) || other.e.contains(one.e)) continue;
    // A tick and the label it belongs to are one control; so are a mark on a chart and its neighbour, which may meet.
    if (one.e.matches(".event-mark") && other.e.matches(".event-mark")) continue;
    for (const a of one.parts) for (const b of other.parts) {
      const across = Math.min(a.right, b.right) - Math.max(a.left, b.left);
      const down = Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top);
      // Lines of running text may touch.
      if (across > 1.5 && down > 4.5) wrong.push(`${name(one.e)} and ${name(other.e)} overlap by ${across.toFixed(0)} × ${down.toFixed(0)} px`);
    }
  }
}

// A finger needs 40 px; links within running text are read, not aimed at. A small mark may have a larger reach around it.
for (const { e, box } of boxes) {
  const reach = getComputedStyle(e, "::after");
  const around = reach.content !== "none" && reach.position === "absolute" ? -2 * Math.min(0, parseFloat(reach.top) || 0) : 0;
  const inText = e.matches("a") && e.closest("p, li, td, th, dd, label, small, figcaption, .given") && getComputedStyle(e).display === "inline";
  const ticked = e.matches("input[type=checkbox], input[type=radio]") && e.closest("label");
  const height = ticked ? ticked.getBoundingClientRect().height : box.height + around;
  if (!inText && height < 39.5) wrong.push(`${name(e)} is ${height.toFixed(0)} px high`);
}

// Text that its own box cuts off.
for (const e of document.querySelectorAll("main *, .bar *, .tank-bar *")) {
  if (e.closest("svg, .skip, .visually-hidden, dialog") || !shown(e)) continue;
  const style = getComputedStyle(e);
  const hides = ["hidden", "clip"].includes(style.overflowX) || ["hidden", "clip"].includes(style.overflowY);
  if (hides && (e.scrollWidth > e.clientWidth + 1 || e.scrollHeight > e.clientHeight + 1) && e.textContent.trim() && !e.matches("input, select, textarea") && style.textOverflow !== "ellipsis") wrong.push(`${name(e)} is cut off`);
  if (e.matches(".button, .plain") && (e.scrollWidth > e.clientWidth + 1)) wrong.push(`${name(e)} is wider than its button`);
}

// What lies outside the sheet that it belongs to.
for (const sheet of document.querySelectorAll(".sheet, .next, .round, .part, .said, .caution, .misfit")) {
  if (!shown(sheet)) continue;
  const out = sheet.getBoundingClientRect();
  for (const e of sheet.querySelectorAll("*")) {
    if (e.closest("svg, .event-mark") || !shown(e) || fixed(e) || scrolls(e)) continue;
    const box = e.getBoundingClientRect();
    if (box.width > 0 && (box.left < out.left - 8 || box.right > out.right + 8)) { wrong.push(`${name(e)} lies outside ${name(sheet)}`); break; }
  }
}
return wrong.slice(0, 12);
