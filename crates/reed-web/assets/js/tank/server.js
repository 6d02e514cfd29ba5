// Asking the program: what the form says, drawn, and what does not fit.

import { announce } from "../announce.js";
import { choose, showTools } from "./choose.js";
import { snapshot, studio, thingIn } from "./studio.js";

async function ask(body) {
  const turn = ++studio.asked;
  try {
    const response = await fetch(studio.form.action, {
      method: "POST", body, headers: { "content-type": "application/x-www-form-urlencoded" },
    });
    const html = await response.text();
    return turn === studio.asked ? new DOMParser().parseFromString(html, "text/html") : null;
  } catch {
    announce("The program does not answer. What you did is still here.", true);
    return null;
  }
}

let waiting = 0;
export function redrawSoon() {
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
export async function load(body) {
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
  showTools();
  giveFocus(focus);
  choose(studio.chosen, false);
  return true;
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
