// The tank's form and its drawing. The form is the state: what is done on the drawing is written into its fields, the server draws
// what they say and says what does not fit.

import { History } from "./history.js";
import { parse, shown } from "./numbers.js";

export const SVG = "http://www.w3.org/2000/svg";

export const studio = {
  form: document.getElementById("tank-form"),
  history: new History(),
  chosen: null, // number of the chosen thing
  asked: 0, // requests sent, so that a late answer is not shown over a newer one
  drag: null,
  stale: false, // the drawing is older than the form, because something was held when it came
};

// Everything but buttons, note and the list of kinds: what undo goes back to.
export function snapshot() {
  const data = new URLSearchParams(new FormData(studio.form));
  for (const name of ["note", "kind"]) data.delete(name);
  return data.toString();
}

export function fieldsOf(number) {
  const part = studio.form.querySelector('[data-thing-fields="' + number + '"]');
  if (!part) return null;
  const of = (key) => part.querySelector('[name$="/' + key + '"]');
  return { part, pointer: part.dataset.pointer, of };
}

// A field in centimetres or degrees; NaN when there is none or it is no number.
export function read(input, factor = 1) {
  return input ? parse(input.value, factor) : NaN;
}

export function write(input, value, factor = 1, digits = 2) {
  if (input) input.value = shown(value, factor, digits);
}

export const factor = () => Number(studio.form.dataset.factor);
const unit = () => studio.form.dataset.unit;
export const say = (cm) => Number((cm / factor()).toFixed(1)) + " " + unit();

export function box() {
  const of = (key) => read(studio.form.querySelector('[name="' + key + '"]'), factor());
  return {
    length: of("/glass/length_cm"), width: of("/glass/width_cm"), height: of("/glass/height_cm"),
    level: of("/water_level_cm"), bed: of("/bed/depth_cm"),
  };
}

export const isLocked = (fields) => fields.of("locked").value === "yes";

export const viewOf = (name) => studio.form.querySelector('[data-view="' + name + '"]');
export const thingIn = (view, number) => studio.form.querySelector('[data-view="' + view + '"] [data-thing="' + number + '"]');
export const allOf = (number) => studio.form.querySelectorAll('[data-thing="' + number + '"]');

// A pointer on the drawing in centimetres of a view: x to the right, y as SVG has it, downwards.
export function pointIn(view, event) {
  const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(view.getScreenCTM().inverse());
  return { x: point.x, y: point.y };
}

// x0 x1 y0 y1 z0 z1 in centimetres.
export const boundsOf = (thing) => thing.dataset.bounds.split(" ").map(Number);

// Where a thing may snap to along one axis: walls, water, bed, the middle, other things' places.
export function targets(axis, number) {
  const { length, width, level, bed } = box();
  const edges = { x: [0, length], y: [0, width], z: [0, bed, level] }[axis];
  const middles = { x: [length / 2], y: [width / 2], z: [] }[axis];
  for (const other of viewOf("front").querySelectorAll("[data-thing]")) {
    if (other.dataset.thing === number) continue;
    const bounds = boundsOf(other);
    const from = { x: 0, y: 2, z: 4 }[axis];
    edges.push(bounds[from], bounds[from + 1]);
    if (axis !== "z") middles.push((bounds[from] + bounds[from + 1]) / 2);
  }
  return { edges, middles };
}

export function guidesIn(view) {
  let guides = view.querySelector(".guides.distances");
  if (!guides) {
    guides = document.createElementNS(SVG, "g");
    guides.setAttribute("class", "guides distances");
    guides.setAttribute("aria-hidden", "true");
    view.append(guides);
  }
  return guides;
}
