// Forms that are answered without leaving the page.

import { announce } from "../announce.js";
import { keep } from "./outbox.js";
import { watchNext } from "./strip.js";
import { forgetTyped } from "./typed.js";

// Forms marked data-inplace are sent in the background and the page's content is replaced, so that place and focus stay.
let replacedAt = -1000; // when content was last replaced, ms
document.addEventListener("submit", async (event) => {
  const form = event.target;
  if (!form.matches("form[data-inplace]") || event.defaultPrevented) return;
  event.preventDefault();
  // One answer to one press: not a second while the first is under way.
  if (form.dataset.underWay) return;
  form.dataset.underWay = "yes";
  const body = new URLSearchParams(new FormData(form, event.submitter));
  const pressed = event.submitter;
  if (pressed) pressed.classList.add("is-loading");
  try {
    const response = await fetch(form.action, { method: "POST", body });
    const html = await response.text();
    if (response.ok) forgetTyped(form);
    // An answer that leads to another page is that page, with its own scripts.
    if (response.redirected && new URL(response.url).pathname !== location.pathname) {
      location.assign(response.url);
      return;
    }
    replaceContent(html, pressed, form.dataset.then || "next");
    replacedAt = performance.now();
    // A refused form is answered at its own address, which is no page.
    if (response.redirected) {
      const there = new URL(response.url);
      history.replaceState(null, "", there.pathname + there.search);
    }
  } catch {
    delete form.dataset.underWay;
    if (pressed) pressed.classList.remove("is-loading");
    // What is not of the moment waits until the program answers.
    if (form.matches("[data-sends-later]") && keep(form, pressed)) {
      markKept(form);
      return forgetTyped(form);
    }
    announce("Not saved: the program does not answer. What you typed is still here.", true);
  }
});

// What was kept has been sent: the page that stands here is from before, and shown anew unless somebody is at work on it.
document.addEventListener("kept-sent", async () => {
  const main = document.querySelector("main");
  if (!main.querySelector("form[data-inplace]") || isAtWork(main)) return;
  try {
    const response = await fetch(location.href);
    if (response.ok && !response.redirected && !isAtWork(main)) replaceContent(await response.text(), document.activeElement, "here");
  } catch { /* it stays as it is until it is loaded again */ }
});

function isAtWork(main) {
  const fields = [...main.querySelectorAll("input:not([type=hidden]), textarea")];
  const isTyped = (field) => ("checked" in field && field.checked !== field.defaultChecked) || field.value !== field.defaultValue;
  return !main.isConnected || main.querySelector("[data-under-way]") !== null || fields.some((field) => field === document.activeElement || isTyped(field));
}

// A task that was done while nothing could be sent stands as done until it is.
function markKept(form) {
  const task = form.closest(".task");
  if (!task || task.classList.contains("is-kept")) return;
  task.classList.add("is-kept");
  const says = document.createElement("p");
  says.className = "task-kept";
  says.textContent = "Kept on this device, sent when the program answers.";
  task.append(says);
}

// The second half of a double click lands on whatever has come to lie there meanwhile: it means nothing. When the hand clicked
// counts, not when a busy page came to hear of it.
let clickedAt = -1000;
document.addEventListener("click", (event) => {
  if (event.detail > 1 && event.timeStamp - clickedAt < 500 && replacedAt > clickedAt) {
    event.preventDefault();
    event.stopPropagation();
  }
  clickedAt = event.timeStamp;
}, true);

function replaceContent(html, pressed, then) {
  const page = new DOMParser().parseFromString(html, "text/html");
  const fresh = page.querySelector("main");
  if (!fresh) throw new Error("no content");
  const open = [...document.querySelectorAll("main details[open] > summary")].map((summary) => summary.textContent.trim());
  const main = document.querySelector("main");
  const before = pressed && pressed.id ? pressed.getBoundingClientRect().top : null;
  main.replaceWith(fresh);
  document.title = page.title;
  for (const summary of document.querySelectorAll("main details:not(.when) > summary")) {
    if (open.includes(summary.textContent.trim())) summary.parentElement.open = true;
  }
  watchNext();
  const refused = document.querySelector("[aria-invalid=true]") || document.querySelector(".refused");
  const again = pressed && pressed.id && document.getElementById(pressed.id);
  if (refused && refused.focus) {
    refused.focus();
    announce(refused.closest("form").querySelector(".refused").textContent);
  } else if (again && before !== null && then === "here") {
    again.focus({ preventScroll: true });
    window.scrollBy(0, again.getBoundingClientRect().top - before);
    announce(firstSuspect());
  } else if (then === "here") {
    // What was pressed is gone: stay where it was.
    announce(firstSuspect());
  } else {
    const target = document.getElementById(then) || document.getElementById("next") || fresh;
    target.focus({ preventScroll: true });
    target.scrollIntoView({ block: "start" });
    announce(document.querySelector("#next h2") ? document.querySelector("#next h2").textContent : "");
  }
}

function firstSuspect() {
  const suspect = document.querySelector(".suspect summary");
  return suspect ? "First suspect: " + suspect.textContent.trim().replace(/\s+/g, " ") : "Saved";
}
