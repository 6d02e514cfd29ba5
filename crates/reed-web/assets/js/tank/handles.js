// Grips on the chosen thing: turning and sizing it.

import { onGrid } from "./snapping.js";
import { SVG, boundsOf, box, factor, fieldsOf, guidesIn, isLocked, pointIn, read, say, studio, thingIn, viewOf, write } from "./studio.js";

// From above a heading or a turn, from the front a tilt.
export function turnField(view, fields) {
  if (view === "above") return fields.of("heading_deg") || fields.of("turn_deg");
  return fields.of("up_deg");
}

const sizeFields = (view, fields) => ({
  along: fields.of("length_cm") || fields.of("across_cm") || fields.of("lip_cm") || fields.of("bar_cm"),
  other: view === "front" ? fields.of("height_cm") : fields.of("width_cm"),
});

// The middle of a thing on a view, in the view's own centimetres.
function middleOn(view, fields) {
  const { width, height } = box();
  const [x, y, z] = ["x_cm", "y_cm", "z_cm"].map((key) => read(fields.of(key), factor()));
  return view === "front" ? { x, y: height - z } : { x, y: width - y };
}

export function drawHandles(name, fields) {
  const view = viewOf(name);
  const thing = thingIn(name, studio.chosen);
  if (!view || !thing || isLocked(fields) || fields.pointer === null) return;
  const group = document.createElementNS(SVG, "g");
  group.setAttribute("class", "guides handles");
  const middle = middleOn(name, fields);
  const reach = 12;
  const size = Math.max(1.2, 10 / view.getScreenCTM().a);
  const turn = turnField(name, fields);
  if (turn && Number.isFinite(read(turn))) {
    const direction = directionOn(name, fields);
    const at = { x: middle.x + direction.x * reach, y: middle.y + direction.y * reach };
    const line = document.createElementNS(SVG, "line");
    for (const [key, value] of Object.entries({ x1: middle.x, y1: middle.y, x2: at.x, y2: at.y })) line.setAttribute(key, value);
    const knob = document.createElementNS(SVG, "circle");
    for (const [key, value] of Object.entries({ cx: at.x, cy: at.y, r: size })) knob.setAttribute(key, value);
    knob.setAttribute("class", "handle");
    knob.dataset.handle = "turn";
    group.append(line, knob);
  }
  const sizes = sizeFields(name, fields);
  if (sizes.along || sizes.other) {
    const [, x1, , y1, , z1] = boundsOf(thing);
    const { width, height } = box();
    const corner = name === "front" ? { x: x1, y: height - z1 } : { x: x1, y: width - y1 };
    const square = document.createElementNS(SVG, "rect");
    for (const [key, value] of Object.entries({ x: corner.x - size, y: corner.y - size, width: 2 * size, height: 2 * size })) square.setAttribute(key, value);
    square.setAttribute("class", "handle");
    square.dataset.handle = "size";
    group.append(square);
  }
  view.append(group);
}

// Where a thing points on a view: a unit vector in the view's centimetres.
function directionOn(name, fields) {
  const around = ((read(fields.of("heading_deg") || fields.of("turn_deg")) || 0) * Math.PI) / 180;
  if (name === "above") return { x: Math.cos(around), y: -Math.sin(around) };
  const up = ((read(fields.of("up_deg")) || 0) * Math.PI) / 180;
  const side = Math.cos(around) < -0.01 ? -1 : 1;
  return { x: side * Math.cos(up), y: -Math.sin(up) };
}

export function startHandle(event, handle) {
  const view = handle.closest("[data-view]");
  const fields = fieldsOf(studio.chosen);
  const bounds = boundsOf(thingIn(view.dataset.view, studio.chosen));
  studio.drag = {
    kind: handle.dataset.handle, pointer: event.pointerId, view, fields, bounds, moved: false, from: pointIn(view, event),
    turn: (read(fields.of("turn_deg")) || 0),
    size: { along: read(sizeFields(view.dataset.view, fields).along, factor()), other: read(sizeFields(view.dataset.view, fields).other, factor()) },
  };
  handle.setPointerCapture(event.pointerId);
}

export function moveHandle(event) {
  const drag = studio.drag;
  drag.moved = true;
  const here = pointIn(drag.view, event);
  if (drag.kind === "turn") turnTo(here, event.shiftKey);
  else sizeTo(here, event.shiftKey);
}

function turnTo(here, free) {
  const { view, fields } = studio.drag;
  const name = view.dataset.view;
  const middle = middleOn(name, fields);
  const [dx, dy] = [here.x - middle.x, middle.y - here.y];
  const step = free ? 1 : 5;
  const degrees = (angle) => Math.round((angle * 180) / Math.PI / step) * step;
  let angle;
  if (name === "above") {
    angle = (degrees(Math.atan2(dy, dx)) + 360) % 360;
  } else {
    const side = directionOn("front", fields).x < 0 ? -1 : 1;
    angle = Math.max(-90, Math.min(90, degrees(Math.atan2(dy, Math.max(0.001, dx * side)))));
  }
  write(turnField(name, fields), angle, 1, 1);
  for (const old of studio.form.querySelectorAll(".guides.handles")) {
    if (old.parentNode === view) pointAt(old, middle, directionOn(name, fields));
  }
  document.getElementById("chosen").textContent = fields.part.querySelector(".part-name").textContent + ": " + angle + "°";
}

function pointAt(group, middle, direction) {
  const at = { x: middle.x + direction.x * 12, y: middle.y + direction.y * 12 };
  const [line, knob] = [group.querySelector("line"), group.querySelector("circle")];
  line.setAttribute("x2", at.x);
  line.setAttribute("y2", at.y);
  knob.setAttribute("cx", at.x);
  knob.setAttribute("cy", at.y);
}

function sizeTo(here, free) {
  const { view, fields, bounds, from, turn, size } = studio.drag;
  const front = view.dataset.view === "front";
  const rounded = (cm) => onGrid(cm, free);
  const sizes = sizeFields(view.dataset.view, fields);
  // From above the corner moves along the thing's own sides; from the front only its length shows.
  const angle = front ? 0 : (turn * Math.PI) / 180;
  const [dx, dy] = [here.x - from.x, from.y - here.y];
  const along = dx * Math.cos(angle) + dy * Math.sin(angle);
  const other = dy * Math.cos(angle) - dx * Math.sin(angle);
  // The middle stays, so a side grows at both ends; a height grows upwards.
  if (sizes.along) write(sizes.along, rounded(size.along + 2 * along), factor());
  if (sizes.other) write(sizes.other, rounded(size.other + (front ? 1 : 2) * other), factor());
  const [length, second] = [read(sizes.along, factor()), read(sizes.other, factor())];
  document.getElementById("chosen").textContent =
    fields.part.querySelector(".part-name").textContent + ": " + [length, second].filter(Number.isFinite).map(say).join(" × ");
  ghost(view, front, bounds, 2 * along, (front ? 1 : 2) * other);
}

// The size it will have, until it is drawn anew.
function ghost(view, front, [x0, x1, y0, y1, z0, z1], wider, taller) {
  const { width, height } = box();
  const guides = guidesIn(view);
  let rect = guides.querySelector("rect");
  if (!rect) {
    rect = document.createElementNS(SVG, "rect");
    guides.append(rect);
  }
  const [low, high] = front ? [z0, z1 + taller] : [y0 - taller / 2, y1 + taller / 2];
  const values = { x: x0 - wider / 2, y: (front ? height : width) - high, width: Math.max(0.1, x1 - x0 + wider), height: Math.max(0.1, high - low) };
  for (const [key, value] of Object.entries(values)) rect.setAttribute(key, value);
}
