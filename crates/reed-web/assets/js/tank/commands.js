// Buttons of the form: add, copy, take out, lock, and the tools above the drawing.

import { announce } from "../announce.js";
import { redo, settle, undo } from "./changes.js";
import { choose, raise } from "./choose.js";
import { load } from "./server.js";
import { fieldsOf, snapshot, studio } from "./studio.js";

// Buttons of the form that add, copy or take out.
export async function press(command) {
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

export function openFields(number) {
  choose(number, true);
  const fields = fieldsOf(number);
  const first = fields && fields.part.querySelector("input:not([type=hidden])");
  if (first) {
    first.focus();
    first.scrollIntoView({ block: "center" });
  }
}

export function tool(name) {
  if (name === "undo") return undo();
  if (name === "redo") return redo();
  const fields = studio.chosen && fieldsOf(studio.chosen);
  return fields ? press(name + ":" + fields.pointer) : undefined;
}
