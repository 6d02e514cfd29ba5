// Moving a thing by hand.

import { announce } from "../announce.js";
import { settle } from "./changes.js";
import { choose, sayPlace } from "./choose.js";
import { redrawSoon } from "./server.js";
import { snap } from "./snapping.js";
import { SVG, allOf, boundsOf, box, factor, fieldsOf, guidesIn, isLocked, pointIn, read, say, studio, targets, write } from "./studio.js";

export function startDrag(event, thing) {
  const number = thing.dataset.thing;
  const fields = fieldsOf(number);
  if (!fields) return;
  choose(number, true);
  thing.focus({ preventScroll: true });
  if (isLocked(fields)) {
    announce("Locked in place");
    return;
  }
  const view = thing.closest("[data-view]");
  const second = view.dataset.view === "front" ? "z" : "y";
  const bounds = boundsOf(thing);
  const at = { x: read(fields.of("x_cm"), factor()), [second]: read(fields.of(second + "_cm"), factor()) };
  const offset = (axis, from) => ({ low: bounds[from] - at[axis], high: bounds[from + 1] - at[axis], to: targets(axis, number) });
  studio.drag = {
    kind: "move", pointer: event.pointerId, view, thing, fields, second, at, now: { ...at }, from: pointIn(view, event), moved: false,
    x: offset("x", 0), [second]: offset(second, second === "z" ? 4 : 2), groups: [...allOf(number)],
  };
  thing.setPointerCapture(event.pointerId);
}

export function moveDrag(event) {
  const drag = studio.drag;
  const here = pointIn(drag.view, event);
  const [dx, dy] = [here.x - drag.from.x, here.y - drag.from.y];
  // A finger trembles; a tap is no move.
  if (!drag.moved && Math.hypot(dx, dy) < 0.4) return;
  drag.moved = true;
  const free = event.shiftKey;
  const x = snap(drag.at.x + dx, drag.x.low, drag.x.high, drag.x.to, free);
  const other = snap(drag.at[drag.second] - dy, drag[drag.second].low, drag[drag.second].high, drag[drag.second].to, free);
  drag.now = { x: x.place, [drag.second]: other.place };
  shift(drag.groups, drag.now.x - drag.at.x, drag.second, drag.now[drag.second] - drag.at[drag.second]);
  write(drag.fields.of("x_cm"), drag.now.x, factor());
  write(drag.fields.of(drag.second + "_cm"), drag.now[drag.second], factor());
  distances(drag, x.on, other.on);
}

// Moves the pictures of a thing in both views, without drawing them anew.
function shift(groups, dx, axis, along) {
  for (const group of groups) {
    const shows = group.closest("[data-view]").dataset.view === "front" ? "z" : "y";
    group.setAttribute("transform", "translate(" + dx + " " + (shows === axis ? -along : 0) + ")");
  }
}

// The free distances to the walls, the floor and the water, as lines with their numbers.
function distances(drag, onX, onOther) {
  const { length, width, height, level } = box();
  const front = drag.second === "z";
  const [x0, x1] = [drag.now.x + drag.x.low, drag.now.x + drag.x.high];
  const [low, high] = [drag.now[drag.second] + drag[drag.second].low, drag.now[drag.second] + drag[drag.second].high];
  const tall = front ? height : width;
  const middle = { x: (x0 + x1) / 2, y: tall - (low + high) / 2 };
  const lines = [];
  const line = (ax, ay, bx, by, snapped) => {
    const cm = Math.hypot(bx - ax, by - ay);
    if (cm > 0.05) lines.push({ ax, ay, bx, by, words: say(cm), snapped });
  };
  line(0, middle.y, x0, middle.y, onX === 0);
  line(x1, middle.y, length, middle.y, onX === length);
  line(middle.x, tall, middle.x, tall - low, onOther === 0);
  const top = front ? level : width;
  line(middle.x, tall - high, middle.x, tall - top, onOther === top);
  const guides = guidesIn(drag.view);
  while (guides.children.length < 2 * lines.length) {
    guides.append(document.createElementNS(SVG, "line"), document.createElementNS(SVG, "text"));
  }
  const scale = drag.view.getCTM().a / drag.view.ownerSVGElement.getCTM().a;
  [...guides.children].forEach((element, index) => {
    const from = lines[Math.floor(index / 2)];
    element.classList.toggle("gone", !from);
    if (!from) {
      element.setAttribute("visibility", "hidden");
    } else if (element.tagName === "line") {
      element.setAttribute("visibility", "visible");
      element.classList.toggle("snapped", from.snapped);
      element.setAttribute("x1", from.ax);
      element.setAttribute("y1", from.ay);
      element.setAttribute("x2", from.bx);
      element.setAttribute("y2", from.by);
    } else {
      element.setAttribute("visibility", "visible");
      // Type is set in units of the sheet, the view is in centimetres.
      element.setAttribute("transform", "translate(" + (from.ax + from.bx) / 2 + " " + (from.ay + from.by) / 2 + ") scale(" + 1 / scale + ")");
      element.textContent = from.words;
    }
  });
}

export function endDrag() {
  const drag = studio.drag;
  studio.drag = null;
  for (const guides of studio.form.querySelectorAll(".guides.distances")) guides.remove();
  if (drag.moved) {
    sayPlace(drag.fields);
    settle();
  } else if (studio.stale) {
    redrawSoon();
  }
  studio.stale = false;
}
