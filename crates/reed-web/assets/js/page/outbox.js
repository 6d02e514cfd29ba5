// What is sent while the program cannot be reached is kept on this device, and sent when it answers again: once, and as of when it
// was typed.

import { announce } from "../announce.js";

const KEPT = "outbox";
const TANKS = "tanks";

function read(name) {
  try { return JSON.parse(localStorage.getItem(name)) || []; } catch { return []; }
}
function write(name, value) {
  try {
    localStorage.setItem(name, JSON.stringify(value));
    return true;
  } catch {
    return false;
  }
}

// What stands in a form, in a few words for whoever looks at what is not sent yet.
function inWords(form, body, submitter) {
  if (form.dataset.words) return form.dataset.words;
  const asked = form.closest(".question")?.querySelector("p") || (form.matches(".answer") && form.closest(".next")?.querySelector("h2"));
  const chosen = [...form.querySelectorAll("input:not([type=hidden]), select, textarea")]
    .filter((field) => field.name && body.has(field.name) && !field.closest("[hidden]") && (field.type !== "radio" || field.checked))
    .map((field) => (field.selectedOptions ? field.selectedOptions[0]?.textContent : field.value) || "");
  const said = [asked ? asked.textContent : "", ...chosen, asked && submitter ? submitter.textContent : ""];
  const words = said.map((word) => word.trim()).filter(Boolean).join(" · ") || (submitter ? submitter.textContent.trim() : "a form");
  return words.length > 500 ? words.slice(0, 499) + "…" : words;
}

// Keeps a form that could not be sent; whether there was room.
export function keep(form, submitter) {
  const data = new FormData(form, submitter);
  const body = new URLSearchParams(data);
  const tank = body.get("tank");
  const action = form.dataset.sendsLater || (tank ? `/tanks/${tank}/log/quick/enter` : new URL(form.action).pathname);
  const kept = {
    id: crypto.randomUUID ? crypto.randomUUID() : Array.from(crypto.getRandomValues(new Uint32Array(4)), (part) => part.toString(16)).join("-"),
    action,
    body: body.toString(),
    words: inWords(form, body, submitter),
    at: new Date().toISOString(),
  };
  if (!write(KEPT, [...read(KEPT), kept])) {
    announce("Not sent, and this device has no room to keep it: note it down.", true);
    return false;
  }
  if (!form.matches("[data-inplace]")) form.reset();
  show();
  announce("No connection: kept on this device, and sent when the program answers.", true);
  return true;
}

// The program answers at all.
export async function answers() {
  if (!navigator.onLine) return false;
  try {
    await fetch("/health", { cache: "no-store", signal: AbortSignal.timeout(4000) });
    return true;
  } catch {
    return false;
  }
}

function show() {
  const place = document.querySelector("[data-outbox]");
  if (!place) return;
  const all = read(KEPT);
  place.hidden = all.length === 0;
  if (all.length === 0) {
    place.replaceChildren();
    return;
  }
  const title = document.createElement("strong");
  title.textContent = all.length === 1 ? "One thing is not sent yet" : all.length + " things are not sent yet";
  const list = document.createElement("ul");
  for (const kept of all) {
    const line = document.createElement("li");
    const at = new Date(kept.at).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" });
    line.textContent = `${at} ${kept.words}${kept.refused ? `: not taken (${kept.refused})` : ""} `;
    if (kept.refused) {
      const leave = document.createElement("button");
      leave.type = "button";
      leave.className = "plain";
      leave.textContent = "Leave it";
      leave.addEventListener("click", () => {
        write(KEPT, read(KEPT).filter((other) => other.id !== kept.id));
        show();
      });
      line.append(leave);
    }
    list.append(line);
  }
  const send = document.createElement("button");
  send.type = "button";
  send.className = "button small";
  send.textContent = "Send now";
  send.addEventListener("click", () => sendAll(true));
  place.replaceChildren(title, list, send);
}

// What a refusal says, without the page around it.
function reason(html, status) {
  const page = new DOMParser().parseFromString(html, "text/html");
  const words = page.querySelector("main .refused, main .note, main p");
  return words ? words.textContent.trim() : "answer " + status;
}

async function sendAll(asked) {
  const turn = (work) => (navigator.locks ? navigator.locks.request("outbox", work) : work());
  await turn(async () => {
    let sent = 0;
    for (const kept of read(KEPT).filter((one) => asked || !one.refused)) {
      let response, text;
      try {
        response = await fetch(kept.action, {
          method: "POST",
          body: new URLSearchParams(kept.body),
          headers: { "X-Kept-Id": kept.id, "X-Typed-At": kept.at },
        });
        text = await response.text();
      } catch {
        break;
      }
      if (response.status === 401) {
        if (asked) location.assign("/login?to=" + encodeURIComponent(location.pathname));
        break;
      }
      if (response.status >= 500) break;
      const rest = read(KEPT);
      if (response.ok) {
        sent += 1;
        write(KEPT, rest.filter((other) => other.id !== kept.id));
      } else {
        write(KEPT, rest.map((other) => (other.id === kept.id ? { ...other, refused: reason(text, response.status) } : other)));
      }
    }
    show();
    if (sent > 0) document.dispatchEvent(new Event("kept-sent"));
    if (sent > 0) announce(sent === 1 ? "Sent what was kept" : `Sent all ${sent} that were kept`);
    else if (asked && read(KEPT).length > 0) announce("Still not sent: the program does not answer.", true);
  });
}

// Whether the program answers is asked before a form leaves the page: a browser that gets no answer has lost the form.
document.addEventListener("submit", async (event) => {
  const form = event.target;
  if (!form.matches("form[data-sends-later]:not([data-inplace])") || event.defaultPrevented || form.dataset.goes) return;
  event.preventDefault();
  const { submitter } = event;
  const never = form.id === "offline-form";
  if (!never && (await answers())) {
    form.dataset.goes = "yes";
    form.requestSubmit(submitter);
    delete form.dataset.goes;
  } else if (keep(form, submitter) && never) {
    await sendAll(false);
  }
});

// The tanks that this device has seen, for when no page can be fetched.
const name = document.querySelector(".tank-bar-name");
if (name) {
  const id = name.getAttribute("href").split("/").pop();
  write(TANKS, [{ id, name: name.textContent.trim() }, ...read(TANKS).filter((other) => other.id !== id)].slice(0, 100));
}
for (const choice of document.querySelectorAll("[data-known-tanks]")) {
  for (const tank of read(TANKS)) choice.append(new Option(tank.name, tank.id));
}

show();
addEventListener("online", () => sendAll(false));
addEventListener("storage", (event) => event.key === KEPT && show());
setInterval(() => read(KEPT).some((kept) => !kept.refused) && sendAll(false), 20000);
if (read(KEPT).length > 0) sendAll(false);

// Kept by the browser, the program opens without a network too; browsers allow that only where nobody can read along.
if ("serviceWorker" in navigator && isSecureContext) navigator.serviceWorker.register("/sw.js").catch(() => { /* then not */ });
