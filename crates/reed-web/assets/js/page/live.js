// What devices send, as it comes: places marked data-live-of show it, with when it was heard; what is marked data-now holds what stands
// now. What rings is told in the title, and by the screen where the keeper let it.
const TITLE = document.title;
const told = new Set();

function ring(part) {
  const ringing = [...part.querySelectorAll("[data-rings]")];
  document.title = ringing.length > 0 ? `(${ringing.length}) ${TITLE}` : TITLE;
  for (const key of told) if (!ringing.some((alarm) => alarm.dataset.rings === key)) told.delete(key);
  for (const alarm of ringing) {
    if (told.has(alarm.dataset.rings)) continue;
    told.add(alarm.dataset.rings);
    if ("Notification" in window && Notification.permission === "granted") {
      new Notification(alarm.querySelector("h2").textContent, { body: alarm.querySelector("p").textContent, tag: alarm.dataset.rings });
    }
  }
}

for (const part of document.querySelectorAll("[data-live]")) {
  const source = new EventSource(part.dataset.live);
  source.addEventListener("reading", (event) => {
    const { key, shown } = JSON.parse(event.data);
    for (const place of part.querySelectorAll(`[data-live-of="${CSS.escape(key)}"]`)) place.textContent = shown;
    for (const place of part.querySelectorAll(`[data-live-at="${CSS.escape(key)}"]`)) place.textContent = "just now";
  });
  const now = part.querySelector("[data-now]");
  // What stands is not changed under somebody's fingers: it waits until they have left it.
  let waits = null;
  const show = (stands) => {
    waits = null;
    now.innerHTML = stands;
    ring(part);
  };
  source.addEventListener("now", (event) => {
    if (now.contains(document.activeElement)) waits = event.data;
    else show(event.data);
  });
  now.addEventListener("focusout", (event) => {
    if (waits !== null && !now.contains(event.relatedTarget)) show(waits);
  });
  ring(part);
  addEventListener("pagehide", () => source.close());
}

// May the screen tell? Asked only when the keeper says so.
for (const button of document.querySelectorAll("[data-tell-here]")) {
  if (!("Notification" in window) || Notification.permission !== "default") continue;
  button.hidden = false;
  button.addEventListener("click", async () => {
    await Notification.requestPermission();
    button.hidden = true;
  });
}
