// Which thing is chosen, on the drawing and in the list.

import { drawHandles } from "./handles.js";
import { allOf, factor, fieldsOf, isLocked, read, say, studio } from "./studio.js";

export function choose(number, openFields) {
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
export function raise(number) {
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

export function sayPlace(fields) {
  const cm = (key) => say(read(fields.of(key), factor()));
  document.getElementById("chosen").textContent =
    fields.part.querySelector(".part-name").textContent + ": " + cm("x_cm") + " from the left, " + cm("y_cm") + " from the front, " + cm("z_cm") + " up";
}

export function showTools() {
  for (const element of studio.form.querySelectorAll("[data-tools]")) element.hidden = false;
  const tool = (name) => studio.form.querySelector('[data-tool="' + name + '"]');
  tool("undo").disabled = studio.history.past.length === 0;
  tool("redo").disabled = studio.history.future.length === 0;
  for (const name of ["copy", "lock", "remove"]) tool(name).disabled = !studio.chosen;
  const fields = studio.chosen && fieldsOf(studio.chosen);
  tool("lock").textContent = fields && isLocked(fields) ? "Unlock" : "Lock";
}
