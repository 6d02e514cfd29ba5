// Moving, turning and changing a thing by keys.

import { announce } from "../announce.js";
import { settle } from "./changes.js";
import { sayPlace } from "./choose.js";
import { openFields, tool } from "./commands.js";
import { turnField } from "./handles.js";
import { allOf, factor, fieldsOf, isLocked, read, write } from "./studio.js";

let nudging = 0;
function nudge(thing, key, fine) {
  const fields = fieldsOf(thing.dataset.thing);
  if (!fields) return;
  if (isLocked(fields)) {
    announce("Locked in place");
    return;
  }
  const second = thing.closest("[data-view]").dataset.view === "front" ? "z" : "y";
  const [axis, sign] = { ArrowLeft: ["x", -1], ArrowRight: ["x", 1], ArrowUp: [second, 1], ArrowDown: [second, -1] }[key];
  const input = fields.of(axis + "_cm");
  const step = sign * (fine ? 0.1 : 1);
  const was = read(input, factor());
  write(input, was + step, factor());
  const groups = allOf(thing.dataset.thing);
  for (const group of groups) {
    const before = group.transform.baseVal.consolidate();
    const [x, y] = before ? [before.matrix.e, before.matrix.f] : [0, 0];
    const shows = group.closest("[data-view]").dataset.view === "front" ? "z" : "y";
    const dy = axis === "x" ? 0 : shows === axis ? -step : 0;
    group.setAttribute("transform", "translate(" + (x + (axis === "x" ? step : 0)) + " " + (y + dy) + ")");
  }
  sayPlace(fields);
  announce(document.getElementById("chosen").textContent);
  clearTimeout(nudging);
  nudging = setTimeout(settle, 350);
}

function turnBy(thing, degrees) {
  const fields = fieldsOf(thing.dataset.thing);
  const input = fields && turnField(thing.closest("[data-view]").dataset.view, fields);
  if (!input || isLocked(fields)) return;
  const tilts = input.name.endsWith("/up_deg");
  const angle = read(input) + degrees;
  write(input, tilts ? Math.max(-90, Math.min(90, angle)) : (angle + 360) % 360, 1, 1);
  announce(read(input) + "°");
  clearTimeout(nudging);
  nudging = setTimeout(settle, 350);
}

export function keyOnThing(event, thing) {
  const number = thing.dataset.thing;
  if (event.key.startsWith("Arrow")) nudge(thing, event.key, event.shiftKey);
  else if (event.key === "[") turnBy(thing, event.shiftKey ? -1 : -5);
  else if (event.key === "]") turnBy(thing, event.shiftKey ? 1 : 5);
  else if (event.key === "Enter" || event.key === " ") openFields(number);
  else if (event.key === "Delete" || event.key === "Backspace") tool("remove");
  else if (event.key === "d") tool("copy");
  else if (event.key === "l") tool("lock");
  else return;
  event.preventDefault();
  event.stopPropagation();
}
