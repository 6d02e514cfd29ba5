// Answers in the program's place while it cannot be reached: with what pages are made of, and one page to write on. Records are
// never kept here: a page shows what the program holds now, or says that it cannot. But for the sheet of a visit, which is walked with
// where no network reaches: the last one that was seen is kept, and says as of when it is.
// The program puts self.ASSETS above this: every address of what pages are made of; another version has others.

const KEPT = "made-of-" + self.ASSETS[0].split("/")[2];
const SHEET = "sheet";

self.addEventListener("install", (event) => {
  event.waitUntil(caches.open(KEPT).then((kept) => kept.addAll(["/offline", ...self.ASSETS])).then(() => self.skipWaiting()));
});

self.addEventListener("activate", (event) => {
  const old = (names) => Promise.all(names.filter((name) => name !== KEPT && name !== SHEET).map((name) => caches.delete(name)));
  event.waitUntil(caches.keys().then(old).then(() => self.clients.claim()));
});

self.addEventListener("fetch", (event) => {
  const { request } = event;
  const url = new URL(request.url);
  if (url.origin !== location.origin) return;
  // Whoever logs out leaves no record behind.
  if (url.pathname === "/logout") event.waitUntil(caches.delete(SHEET));
  if (request.method !== "GET") return;
  if (url.pathname.startsWith("/assets/")) {
    event.respondWith(caches.match(request).then((known) => known || fetch(request)));
  } else if (request.mode === "navigate") {
    event.respondWith(url.pathname === "/visit" ? sheet(request) : fetch(request).catch(() => caches.match("/offline")));
  }
});

async function sheet(request) {
  const kept = await caches.open(SHEET);
  try {
    const answer = await fetch(request);
    // Led elsewhere is not let in any more: what was seen before is not to be seen either.
    if (answer.redirected) await caches.delete(SHEET);
    else if (answer.ok) await kept.put("/visit", answer.clone());
    return answer;
  } catch {
    return (await kept.match("/visit")) || caches.match("/offline");
  }
}
