// Filter: media carried along the way of the water with a hand, and the bucket with its watch.

import { announce } from "./announce.js";

// A medium is carried to where another lies: it goes before that one. Without this script its two buttons do the same.
let held = null;
let over = null;

function placeUnder(event) {
  const under = document.elementFromPoint(event.clientX, event.clientY);
  const place = under && under.closest("[data-here]");
  return place && place !== held ? place : null;
}

function show(place) {
  if (over) over.classList.remove("is-over");
  over = place;
  if (over) over.classList.add("is-over");
}

document.addEventListener("pointerdown", (event) => {
  const hold = event.target.closest(".medium-hold");
  if (!hold || event.button > 0) return;
  held = hold.closest(".medium");
  held.classList.add("is-held");
  hold.setPointerCapture(event.pointerId);
  event.preventDefault();
});
document.addEventListener("pointermove", (event) => {
  if (held) show(placeUnder(event));
});
function letGo(event) {
  if (!held) return;
  // Where it was carried last counts: a hand that lets go may say no place.
  const [from, to] = [held, event.type === "pointerup" ? over : null];
  held.classList.remove("is-held");
  show(null);
  held = null;
  if (!to) return;
  // Taken out of a stop, what lay behind it there moves up by one.
  const [fromStop, toStop] = [from, to].map((place) => place.dataset.here.split("-"));
  const isSame = fromStop[0] === toStop[0] && fromStop[1] === toStop[1];
  if (isSame && Number(toStop[2]) > Number(fromStop[2])) toStop[2] = String(Number(toStop[2]) - 1);
  const form = from.querySelector("form");
  const field = document.createElement("input");
  field.type = "hidden";
  field.name = "to";
  field.value = toStop.join("-");
  form.append(field);
  form.requestSubmit();
  announce("Moved");
}
document.addEventListener("pointerup", letGo);
document.addEventListener("pointercancel", letGo);
