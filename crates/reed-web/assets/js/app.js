// What the pages gain from scripts; without any of it every form still works.

// Forms marked data-inplace are sent in the background and the page's content is replaced, so that place and focus stay.
document.addEventListener("submit", async (event) => {
  const form = event.target;
  if (!form.matches("form[data-inplace]")) return;
  event.preventDefault();
  const body = new URLSearchParams(new FormData(form, event.submitter));
  const pressed = event.submitter;
  if (pressed) pressed.classList.add("is-loading");
  let response;
  try {
    response = await fetch(form.action, { method: "POST", body });
    const html = await response.text();
    replaceContent(html, pressed, form.dataset.then || "next");
    // A refused form is answered at its own address, which is no page.
    if (response.redirected) history.replaceState(null, "", new URL(response.url).pathname);
  } catch (error) {
    if (pressed) pressed.classList.remove("is-loading");
    announce("Not saved: the program does not answer. What you typed is still here.", true);
  }
});

function replaceContent(html, pressed, then) {
  const page = new DOMParser().parseFromString(html, "text/html");
  const fresh = page.querySelector("main");
  if (!fresh) throw new Error("no content");
  const open = [...document.querySelectorAll("main details[open] > summary")].map((summary) => summary.textContent.trim());
  const search = document.querySelector("[data-find]");
  const typed = search ? search.value : "";
  const place = document.querySelector(".place[aria-pressed=true]");
  const main = document.querySelector("main");
  const before = pressed && pressed.id ? pressed.getBoundingClientRect().top : null;
  main.replaceWith(fresh);
  document.title = page.title;
  for (const summary of document.querySelectorAll("main details > summary")) {
    if (open.includes(summary.textContent.trim())) summary.parentElement.open = true;
  }
  restoreSearch(typed, place && place.dataset.place);
  const refused = document.querySelector("[aria-invalid=true]") || document.querySelector(".refused");
  const again = pressed && pressed.id && document.getElementById(pressed.id);
  if (refused && refused.focus) {
    refused.focus();
    announce(refused.closest("form").querySelector(".refused").textContent);
  } else if (again && before !== null && then === "here") {
    again.focus({ preventScroll: true });
    window.scrollBy(0, again.getBoundingClientRect().top - before);
    announce(firstSuspect());
  } else {
    const target = document.getElementById(then) || document.getElementById("next") || fresh;
    target.focus({ preventScroll: true });
    target.scrollIntoView({ block: "start" });
    announce(document.querySelector("#next h2") ? document.querySelector("#next h2").textContent : "");
  }
}

function restoreSearch(typed, place) {
  const search = document.querySelector("[data-find]");
  if (!search) return;
  search.value = typed;
  const button = place && document.querySelector('.place[data-place="' + place + '"]');
  if (button) button.setAttribute("aria-pressed", "true");
  filter(document.getElementById("finder"));
}

// A part that waits for a computation asks for itself again until it no longer has to; the page stays as it is.
async function poll(part) {
  await new Promise((resolve) => setTimeout(resolve, 2000));
  if (!part.isConnected) return;
  let fresh = part;
  try {
    const response = await fetch(part.dataset.poll);
    if (response.ok) {
      fresh = new DOMParser().parseFromString(await response.text(), "text/html").body.firstElementChild;
      // A page that shows more than this part is asked for as a whole when the part is there.
      const then = part.dataset.then;
      if (then === "reload" && !fresh.dataset.poll) location.reload();
      if (then) fresh.dataset.then = then;
      part.replaceWith(fresh);
    }
  } catch (error) { /* The program does not answer just now: asked again. */ }
  if (fresh.dataset.poll) poll(fresh);
}
document.addEventListener("DOMContentLoaded", () => document.querySelectorAll("[data-poll]").forEach(poll));

function firstSuspect() {
  const suspect = document.querySelector(".suspect summary");
  return suspect ? "First suspect: " + suspect.textContent.trim().replace(/\s+/g, " ") : "Saved";
}

function announce(words, loudly) {
  const place = document.querySelector("[data-announce]");
  place.textContent = words;
  place.classList.toggle("loud", Boolean(loudly));
}

// Shows the questions that match the typed letters and the chosen place. Until one of the two is given, none.
function filter(finder) {
  const letters = finder.querySelector("[data-find]").value.trim().toLowerCase();
  const pressed = finder.querySelector(".place[aria-pressed=true]");
  const place = pressed ? pressed.dataset.place : "";
  let shown = 0;
  for (const group of finder.querySelectorAll(".place-questions")) {
    let here = 0;
    for (const question of group.querySelectorAll(".question")) {
      const fits = (letters || place) && (!place || group.dataset.place === place) && letters.split(/\s+/).every((word) => question.dataset.words.includes(word));
      question.hidden = !fits;
      if (fits) here += 1;
    }
    group.hidden = here === 0;
    shown += here;
  }
  finder.querySelector("[x-ref=none]").hidden = shown > 0 || !(letters || place);
}

document.addEventListener("alpine:init", () => {
  Alpine.data("finder", () => ({
    init() {
      if (this.$refs.text) filter(this.$root);
    },
    search() {
      filter(this.$root);
    },
    choose(button) {
      const was = button.getAttribute("aria-pressed") === "true";
      for (const other of this.$root.querySelectorAll(".place")) other.setAttribute("aria-pressed", "false");
      button.setAttribute("aria-pressed", was ? "false" : "true");
      filter(this.$root);
    },
  }));
  // A clock beside a check: how long to watch.
  Alpine.data("countdown", () => ({
    init() {
      this.$root.hidden = false;
      this.show(Number(this.$root.dataset.seconds));
    },
    start() {
      clearInterval(this.ticking);
      const end = Date.now() + 1000 * Number(this.$root.dataset.seconds);
      this.$refs.start.textContent = "Start again";
      this.ticking = setInterval(() => {
        const left = Math.max(0, Math.round((end - Date.now()) / 1000));
        this.show(left);
        if (left > 0) return;
        clearInterval(this.ticking);
        this.$refs.left.textContent = "Time is up: what did you see?";
        if (navigator.vibrate) navigator.vibrate([200, 100, 200]);
      }, 250);
    },
    show(seconds) {
      this.$refs.left.textContent = `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, "0")}`;
    },
    destroy() {
      clearInterval(this.ticking);
    },
  }));
  // Bucket and watch: the flow from the time that so many litres take. It goes into the form where that is in the same unit.
  Alpine.data("bucket", () => ({
    press() {
      if (!this.began) {
        this.began = Date.now();
        this.$refs.press.textContent = "Stop: the bucket is full";
        this.$refs.says.textContent = "";
        return;
      }
      const seconds = (Date.now() - this.began) / 1000;
      this.began = null;
      this.$refs.press.textContent = "Start again";
      const litres = Number(this.$refs.litres.value.replace(",", "."));
      if (!(litres > 0 && litres <= 1000)) {
        this.$refs.says.textContent = `“${this.$refs.litres.value}” is no volume: give the litres of the bucket, more than 0 and at most 1000.`;
        return;
      }
      const perHour = Math.round((litres / seconds) * 3600);
      this.$refs.says.textContent = `${litres} L in ${seconds.toFixed(1)} s is ${perHour} L/h.`;
      const form = this.$root.closest("form");
      if (form.querySelector("[x-ref=unit]").textContent.trim() === "L/h") form.elements.value.value = perHour;
    },
  }));
  // What stands in a fold is fetched when it is opened for the first time.
  Alpine.data("opened", () => ({
    async load() {
      // A fold that comes open, with a form that was refused, says that it was opened too: what was typed stays.
      if (!this.$root.open || this.loading || this.$root.querySelector("form")) return;
      const place = this.$root.querySelector("div");
      this.loading = true;
      try {
        const response = await fetch(this.$root.dataset.fetch);
        if (!response.ok) throw new Error(response.status);
        place.innerHTML = await response.text();
        place.querySelector("input").focus();
      } catch (error) {
        announce("The form did not come: the program does not answer. Try again.", true);
        this.$root.open = false;
      }
      this.loading = false;
    },
  }));
  Alpine.data("reading", () => ({
    init() {
      this.chosen();
    },
    chosen() {
      const kit = this.$refs.kit.selectedOptions[0];
      this.$refs.unit.textContent = kit.dataset.unit;
      this.$refs.spread.placeholder = kit.dataset.spread;
      this.$refs.bucket.hidden = kit.value !== "bucket";
    },
  }));
});

document.addEventListener("click", (event) => {
  const pick = event.target.closest("[data-pick]");
  if (pick) {
    event.preventDefault();
    pickPlace(pick.dataset.pick);
  }
  const link = event.target.closest("[data-focus]");
  const field = link && document.getElementById(link.dataset.focus);
  if (field) {
    event.preventDefault();
    field.scrollIntoView({ block: "center" });
    field.focus({ preventScroll: true });
  }
  // A link to something folded unfolds it.
  const anchor = event.target.closest("a[href^='#']");
  const folded = anchor && document.getElementById(anchor.getAttribute("href").slice(1));
  if (folded instanceof HTMLDetailsElement) folded.open = true;
  if (event.target.closest("[data-theme-switch]")) switchTheme();
});

// A tap on the drawing of the tank: the questions of that place.
function pickPlace(place) {
  const button = document.querySelector('.place[data-place="' + place + '"]');
  if (button.getAttribute("aria-pressed") === "false") button.click();
  document.getElementById("finder").scrollIntoView({ block: "start" });
  button.focus({ preventScroll: true });
}

function switchTheme() {
  const root = document.documentElement;
  const dark = root.dataset.theme ? root.dataset.theme === "dark" : matchMedia("(prefers-color-scheme: dark)").matches;
  root.dataset.theme = dark ? "light" : "dark";
  try { localStorage.setItem("theme", root.dataset.theme); } catch (error) { /* it holds for this page */ }
}

// Keys; never while typing.
document.addEventListener("keydown", (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey || event.target.closest("input, select, textarea, dialog")) return;
  const go = {
    "?": () => document.querySelector("[data-keys]").showModal(),
    g: () => location.assign("/"),
    n: () => focusOn(document.querySelector("#next .act, #next [data-answer]")),
    r: () => focusOn(document.getElementById("reading-value")),
    "/": () => focusOn(document.querySelector("[data-find]")),
    y: () => press("#next [data-answer=yes]"),
    x: () => press("#next [data-answer=no]"),
  }[event.key];
  if (!go) return;
  event.preventDefault();
  go();
});

function focusOn(element) {
  if (!element) return;
  element.scrollIntoView({ block: "center" });
  element.focus({ preventScroll: true });
}

function press(selector) {
  const button = document.querySelector(selector);
  if (button) button.click();
}
