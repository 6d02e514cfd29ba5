// Changes of the form: taken when they are finished, undone, done again, and kept as a draft.

import { announce } from "../announce.js";
import { showTools } from "./choose.js";
import { load, redrawSoon } from "./server.js";
import { snapshot, studio } from "./studio.js";

const DRAFT = "reed-draft:" + location.pathname;

// Called when a change is finished: remembers it and has it drawn.
export function settle(redraw = true) {
  if (!studio.history.take(snapshot())) return;
  keepDraft();
  showTools();
  if (redraw) redrawSoon();
}

function keepDraft() {
  try {
    localStorage.setItem(DRAFT, studio.history.present);
  } catch { /* a full or forbidden store: undo still works on this page */ }
}

export function forgetDraft() {
  try { localStorage.removeItem(DRAFT); } catch { /* nothing is kept there then */ }
}

async function show(text, words) {
  if (text === null) return;
  keepDraft();
  await load(text + "&do=show");
  announce(words);
}

export const undo = () => show(studio.history.undo(), "Undone");
export const redo = () => show(studio.history.redo(), "Done again");

export async function bringBack() {
  const draft = localStorage.getItem(DRAFT);
  document.getElementById("unsaved").hidden = true;
  if (draft && (await load(draft + "&do=show"))) {
    settle(false);
    announce("Brought back");
  }
}

// What was left unsaved is offered; of an older state of the tank it is not.
export function begin() {
  showTools();
  studio.history.begin(snapshot());
  let draft = null;
  try { draft = localStorage.getItem(DRAFT); } catch { /* none then */ }
  const base = (text) => new URLSearchParams(text).get("base");
  const present = studio.history.present;
  if (draft && draft !== present && base(draft) === base(present)) document.getElementById("unsaved").hidden = false;
}
