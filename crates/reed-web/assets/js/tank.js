// Changing a tank on its drawing. The form is the state: a drag writes into its fields, the server draws what they say and
// says what does not fit. Undo goes back to what the fields said before.

const CM_STEP = 0.5; // a thing snaps to half centimetres
const NEAR = 1.0; // and to walls, water and other things from so near, in cm
const DRAFT = "reed-draft:" + location.pathname;
const SVG = "http://www.w3.org/2000/svg";

const studio = {
  form: document.getElementById("tank-form"),
  chosen: null, // number of the chosen thing
  past: [],
  future: [],
  present: "",
  asked: 0, // requests sent, so that a late answer is not shown over a newer one
  drag: null,
  stale: false, // the drawing is older than the form, because something was held when it came
};

// ── What the form says ──────────────────────────────────────────────────────────────────────────────────────────────

// Everything but buttons, note and the list of kinds: what undo goes back to.
function snapshot() {
  const data = new URLSearchParams(new FormData(studio.form));
  for (const name of ["note", "kind"]) data.delete(name);
  return data.toString();
}

function fieldsOf(number) {
  const part = studio.form.querySelector('[data-thing-fields="' + number + '"]');
  if (!part) return null;
  const of = (key) => part.querySelector('[name$="/' + key + '"]');
  return { part, pointer: part.dataset.pointer, of };
}

// A field in centimetres or degrees; NaN when there is none or it is no number.
function read(input, factor = 1) {
  return input ? parseFloat(input.value.replace(",", ".").replace("−", "-")) * factor : NaN;
}

function write(input, value, factor = 1, digits = 2) {
  if (input) input.value = String(Number((value / factor).toFixed(digits)));
}

const factor = () => Number(studio.form.dataset.factor);
const unit = () => studio.form.dataset.unit;
const say = (cm) => Number((cm / factor()).toFixed(1)) + " " + unit();

function box() {
  const of = (key) => read(studio.form.querySelector('[name="' + key + '"]'), factor());
  return {
    length: of("/glass/length_cm"), width: of("/glass/width_cm"), height: of("/glass/height_cm"),
    level: of("/water_level_cm"), bed: of("/bed/depth_cm"),
  };
}

// ── History ─────────────────────────────────────────────────────────────────────────────────────────────────────────

// Called when a change is finished: remembers it and has it drawn.
function settle(redraw = true) {
  const now = snapshot();
  if (now === studio.present) return;
  studio.past.push(studio.present);
  if (studio.past.length > 200) studio.past.shift();
  studio.future = [];
  studio.present = now;
  keepDraft();
  showTools();
  if (redraw) redrawSoon();
}

function keepDraft() {
  try {
    localStorage.setItem(DRAFT, studio.present);
  } catch (error) { /* a full or forbidden store: undo still works on this page */ }
}

function forgetDraft() {
  try { localStorage.removeItem(DRAFT); } catch (error) { /* nothing is kept there then */ }
}

async function travel(from, to, words) {
  if (from.length === 0) return;
  to.push(studio.present);
  studio.present = from.pop();
  keepDraft();
  await load(studio.present + "&do=show");
  announce(words);
}

const undo = () => travel(studio.past, studio.future, "Undone");
const redo = () => travel(studio.future, studio.past, "Done again");

// ── Asking the server ───────────────────────────────────────────────────────────────────────────────────────────────

async function ask(body) {
  const turn = ++studio.asked;
  try {
    const response = await fetch(studio.form.action, {
      method: "POST", body, headers: { "content-type": "application/x-www-form-urlencoded" },
    });
    const html = await response.text();
    return turn === studio.asked ? new DOMParser().parseFromString(html, "text/html") : null;
  } catch (error) {
    announce("The program does not answer. What you did is still here.", true);
    return null;
  }
}

let waiting = 0;
function redrawSoon() {
  clearTimeout(waiting);
  waiting = setTimeout(redraw, 60);
}

// Only the drawing and what does not fit; the list keeps its focus.
async function redraw() {
  const page = await ask(snapshot() + "&do=show&part=drawing");
  // What is held must not be replaced; the drawing is made anew when it is let go.
  if (studio.drag) studio.stale = true;
  if (!page || studio.drag) return;
  const focus = heldFocus();
  for (const id of ["drawing", "findings", "numbers"]) {
    const fresh = page.getElementById(id);
    if (fresh) document.getElementById(id).replaceWith(fresh);
  }
  markRefused(page);
  giveFocus(focus);
  choose(studio.chosen, false);
}

function markRefused(page) {
  for (const input of studio.form.querySelectorAll("[aria-invalid]")) input.removeAttribute("aria-invalid");
  for (const line of page.querySelectorAll("[data-field]")) {
    const input = studio.form.querySelector('[name="' + line.dataset.field + '"]');
    if (input) input.setAttribute("aria-invalid", "true");
  }
}

// The whole form anew: after buttons that add or take out, and after undo.
async function load(body) {
  const page = await ask(body);
  const fresh = page && page.getElementById("tank-form");
  if (!fresh) return false;
  const open = [...studio.form.querySelectorAll("details.chapter")].map((section) => section.open);
  const scroll = window.scrollY;
  const note = document.getElementById("note").value;
  const focus = heldFocus();
  studio.form.replaceWith(fresh);
  studio.form = fresh;
  document.getElementById("note").value = note;
  [...fresh.querySelectorAll("details.chapter")].forEach((section, index) => { section.open = open[index]; });
  window.scrollTo({ top: scroll, behavior: "instant" });
  wake();
  giveFocus(focus);
  choose(studio.chosen, false);
  return true;
}

// Buttons of the form that add, copy or take out.
async function press(command) {
  const body = snapshot() + "&kind=" + encodeURIComponent(document.getElementById("kind").value) + "&do=" + encodeURIComponent(command);
  if (!(await load(body))) return;
  const fresh = studio.form.dataset.fresh && studio.form.querySelector('[data-pointer="' + studio.form.dataset.fresh + '"]');
  settle(false);
  if (fresh) {
    choose(fresh.dataset.thingFields, true);
    raise(studio.chosen);
    announce("Added: " + fresh.querySelector(".part-name").textContent);
  } else {
    choose(studio.chosen, false);
    announce("Done");
  }
}

function heldFocus() {
  const active = document.activeElement;
  const thing = active && active.closest && active.closest("[data-thing]");
  if (thing) return { thing: thing.dataset.thing, view: thing.closest("[data-view]").dataset.view };
  return active && active.id ? { id: active.id } : null;
}

function giveFocus(focus) {
  if (!focus) return;
  const target = focus.id ? document.getElementById(focus.id) : thingIn(focus.view, focus.thing);
  if (target && target !== document.activeElement) target.focus({ preventScroll: true });
}

// ── Choosing ────────────────────────────────────────────────────────────────────────────────────────────────────────

const viewOf = (name) => studio.form.querySelector('[data-view="' + name + '"]');
const thingIn = (view, number) => studio.form.querySelector('[data-view="' + view + '"] [data-thing="' + number + '"]');
const allOf = (number) => studio.form.querySelectorAll('[data-thing="' + number + '"]');

function choose(number, openFields) {
  studio.chosen = number;
  for (const thing of studio.form.querySelectorAll(".thing.is-chosen")) thing.classList.remove("is-chosen");
  for (const part of studio.form.querySelectorAll(".part.is-chosen")) part.classList.remove("is-chosen");
  for (const old of studio.form.querySelectorAll(".guides")) old.remove();
  const line = document.getElementById("chosen");
  const fields = number && fieldsOf(number);
  if (!fields) {
    studio.chosen = null;
    line.textContent = "";
    showTools();
    return;
  }
  for (const thing of allOf(number)) thing.classList.add("is-chosen");
  fields.part.classList.add("is-chosen");
  if (openFields) {
    for (const other of studio.form.querySelectorAll("[data-thing-fields][open]")) other.open = other === fields.part;
    fields.part.open = true;
    showInList(fields.part);
  }
  sayPlace(fields);
  for (const view of ["front", "above"]) drawHandles(view, fields);
  showTools();
}

// What was chosen outside the drawing may stand behind other things there; it must be within reach. (Not what was chosen
// in the drawing: it would change its place in the order of the Tab key.)
function raise(number) {
  for (const group of allOf(number)) {
    const last = [...group.parentNode.querySelectorAll("[data-thing]")].pop();
    if (last !== group) last.after(group);
  }
}

// Beside the drawing the list scrolls by itself; below it, on a phone, the page must stay where the finger is.
function showInList(part) {
  const list = studio.form.querySelector(".studio-list");
  part.closest("details.chapter").open = true;
  if (list.scrollHeight > list.clientHeight + 1) {
    list.scrollTo({ top: list.scrollTop + part.getBoundingClientRect().top - list.getBoundingClientRect().top - 8, behavior: "instant" });
  }
}

function sayPlace(fields) {
  const cm = (key) => say(read(fields.of(key), factor()));
  document.getElementById("chosen").textContent =
    fields.part.querySelector(".part-name").textContent + ": " + cm("x_cm") + " from the left, " + cm("y_cm") + " from the front, " + cm("z_cm") + " up";
}

function showTools() {
  for (const element of studio.form.querySelectorAll("[data-tools]")) element.hidden = false;
  const tool = (name) => studio.form.querySelector('[data-tool="' + name + '"]');
  tool("undo").disabled = studio.past.length === 0;
  tool("redo").disabled = studio.future.length === 0;
  for (const name of ["copy", "lock", "remove"]) tool(name).disabled = !studio.chosen;
  const fields = studio.chosen && fieldsOf(studio.chosen);
  tool("lock").textContent = fields && isLocked(fields) ? "Unlock" : "Lock";
}

const isLocked = (fields) => fields.of("locked").value === "yes";

// ── Places ──────────────────────────────────────────────────────────────────────────────────────────────────────────

// A pointer on the drawing in centimetres of a view: x to the right, y as SVG has it, downwards.
function pointIn(view, event) {
  const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(view.getScreenCTM().inverse());
  return { x: point.x, y: point.y };
}

// x0 x1 y0 y1 z0 z1 in centimetres.
const boundsOf = (thing) => thing.dataset.bounds.split(" ").map(Number);

// Where a thing may snap to along one axis: walls, water, bed, the middle, other things' places.
function targets(axis, number) {
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

// The nearest place to snap to: an edge of the thing on an edge, its place on a middle, else the grid.
function snap(place, low, high, to, free) {
  if (free) return { place: Math.round(place * 10) / 10, on: null };
  let best = { off: NEAR, place: Math.round(place / CM_STEP) * CM_STEP, on: null };
  const consider = (at, on) => {
    const off = Math.abs(at - place);
    if (off < best.off) best = { off, place: at, on };
  };
  for (const edge of to.edges) {
    consider(edge - low, edge);
    consider(edge - high, edge);
    consider(edge, edge);
  }
  for (const middle of to.middles) consider(middle, middle);
  return best;
}

// ── Dragging ────────────────────────────────────────────────────────────────────────────────────────────────────────

function startDrag(event, thing) {
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

function moveDrag(event) {
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

function guidesIn(view) {
  let guides = view.querySelector(".guides.distances");
  if (!guides) {
    guides = document.createElementNS(SVG, "g");
    guides.setAttribute("class", "guides distances");
    guides.setAttribute("aria-hidden", "true");
    view.append(guides);
  }
  return guides;
}

function endDrag() {
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

// ── Turning and sizing ──────────────────────────────────────────────────────────────────────────────────────────────

// From above a heading or a turn, from the front a tilt.
function turnField(view, fields) {
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

function drawHandles(name, fields) {
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
    const [x0, x1, y0, y1, z0, z1] = boundsOf(thing);
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

function startHandle(event, handle) {
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

function moveHandle(event) {
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
  const step = free ? 0.1 : CM_STEP;
  const rounded = (cm) => Math.max(step, Math.round(cm / step) * step);
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

// ── Keys ────────────────────────────────────────────────────────────────────────────────────────────────────────────

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

function keyOnThing(event, thing) {
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

function openFields(number) {
  choose(number, true);
  const fields = fieldsOf(number);
  const first = fields && fields.part.querySelector("input:not([type=hidden])");
  if (first) {
    first.focus();
    first.scrollIntoView({ block: "center" });
  }
}

function tool(name) {
  if (name === "undo") return undo();
  if (name === "redo") return redo();
  const fields = studio.chosen && fieldsOf(studio.chosen);
  return fields ? press(name + ":" + fields.pointer) : undefined;
}

// ── Wiring ──────────────────────────────────────────────────────────────────────────────────────────────────────────

document.addEventListener("pointerdown", (event) => {
  if (event.button > 0 || studio.drag || !event.target.closest("#tank-form")) return;
  const handle = event.target.closest("[data-handle]");
  const thing = event.target.closest("[data-thing]");
  if (!handle && !thing) return;
  // Otherwise the browser starts to select or drag by itself and takes the pointer away.
  event.preventDefault();
  if (handle) startHandle(event, handle);
  else startDrag(event, thing);
});
// A finger on a thing moves the thing, not the page. touch-action is not enough: it is not heeded on every part of an SVG.
document.addEventListener("touchstart", (event) => {
  if (event.target.closest("#tank-form [data-thing], #tank-form [data-handle]")) event.preventDefault();
}, { passive: false });
document.addEventListener("pointermove", (event) => {
  if (!studio.drag || studio.drag.pointer !== event.pointerId) return;
  if (studio.drag.kind === "move") moveDrag(event);
  else moveHandle(event);
});
for (const end of ["pointerup", "pointercancel"]) {
  document.addEventListener(end, (event) => {
    if (studio.drag && studio.drag.pointer === event.pointerId) endDrag();
  });
}
document.addEventListener("focusin", (event) => {
  const thing = event.target.closest("[data-thing]");
  if (thing && thing.dataset.thing !== studio.chosen && !studio.drag) choose(thing.dataset.thing, false);
  const part = event.target.closest("[data-thing-fields]");
  if (part && part.dataset.thingFields !== studio.chosen) {
    choose(part.dataset.thingFields, false);
    raise(studio.chosen);
  }
});
document.addEventListener("keydown", (event) => {
  const thing = event.target.closest("[data-thing]");
  const typing = event.target.closest("input, select, textarea");
  if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "z" && !typing) {
    event.preventDefault();
    if (event.shiftKey) redo();
    else undo();
  } else if (thing && !event.ctrlKey && !event.metaKey && !event.altKey) {
    keyOnThing(event, thing);
  }
}, true);
document.addEventListener("change", (event) => {
  if (event.target.closest("#tank-form") && event.target.name !== "note" && event.target.name !== "kind") settle();
});
document.addEventListener("click", (event) => {
  const button = event.target.closest("button");
  const about = event.target.closest("[data-about]");
  if (about && about.closest("#tank-form")) {
    choose(about.dataset.about, true);
    raise(about.dataset.about);
  }
  if (!button) return;
  if (button.dataset.tool) tool(button.dataset.tool);
  if ("restoreDraft" in button.dataset) bringBack();
  if ("forgetDraft" in button.dataset) {
    forgetDraft();
    document.getElementById("unsaved").hidden = true;
  }
});
document.addEventListener("submit", (event) => {
  if (event.target !== studio.form) return;
  const command = event.submitter ? event.submitter.value : "show";
  if (command.startsWith("save")) {
    forgetDraft();
    return;
  }
  event.preventDefault();
  if (command === "show") settle();
  else press(command);
});

async function bringBack() {
  const draft = localStorage.getItem(DRAFT);
  document.getElementById("unsaved").hidden = true;
  if (draft && (await load(draft + "&do=show"))) {
    settle(false);
    announce("Brought back");
  }
}

// What has to be done to a form that was just put on the page.
function wake() {
  showTools();
}

function start() {
  wake();
  studio.present = snapshot();
  let draft = null;
  try { draft = localStorage.getItem(DRAFT); } catch (error) { /* none then */ }
  const base = (text) => new URLSearchParams(text).get("base");
  if (draft && draft !== studio.present && base(draft) === base(studio.present)) document.getElementById("unsaved").hidden = false;
}

start();
