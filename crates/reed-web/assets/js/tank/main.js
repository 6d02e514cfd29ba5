// Changing a tank on its drawing: what hands and keys do is led to where it belongs.

import { begin, bringBack, forgetDraft, redo, settle, undo } from "./changes.js";
import { choose, raise } from "./choose.js";
import { press, tool } from "./commands.js";
import { endDrag, moveDrag, startDrag } from "./drag.js";
import { moveHandle, startHandle } from "./handles.js";
import { keyOnThing } from "./keys.js";
import { studio } from "./studio.js";

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

begin();
