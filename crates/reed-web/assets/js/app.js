// What the pages gain from scripts; without any of it every form still works.

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
  } catch (error) {
    delete form.dataset.underWay;
    if (pressed) pressed.classList.remove("is-loading");
    announce("Not saved: the program does not answer. What you typed is still here.", true);
  }
});

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

// Every form says what the browser's clock shows, as minutes ahead of UTC: "8 pm" is that of whoever types.
document.addEventListener("formdata", (event) => {
  if (event.formData.has("zone")) event.formData.set("zone", String(-new Date().getTimezoneOffset()));
});

// What is typed into a form marked data-keeps outlives a reload and a lost connection; what the server sent back after a refusal is newer.
const keptAs = (form) => "typed:" + location.pathname + "#" + form.id;
function typedIn(form) {
  const data = new URLSearchParams(new FormData(form));
  for (const name of ["units", "zone"]) data.delete(name);
  return data.toString();
}
function forgetTyped(form) {
  if (!form.id) return;
  try { sessionStorage.removeItem(keptAs(form)); } catch (error) { /* nothing is kept there then */ }
}
document.addEventListener("input", (event) => {
  const form = event.target.form;
  if (!form || !form.matches("form[data-keeps]")) return;
  try { sessionStorage.setItem(keptAs(form), typedIn(form)); } catch (error) { /* a full or forbidden store: the page itself still holds it */ }
});
document.addEventListener("submit", (event) => {
  // A form that leaves the page is answered by another one, or by this one with what was typed.
  if (event.target.matches("form[data-keeps]:not([data-inplace])") && !event.defaultPrevented && navigator.onLine) forgetTyped(event.target);
});
function bringBackTyped(root) {
  for (const form of root.querySelectorAll("form[data-keeps]")) {
    let kept = null;
    try { kept = sessionStorage.getItem(keptAs(form)); } catch (error) { /* none then */ }
    if (!kept || form.querySelector("[aria-invalid=true], .refused[role=alert]")) continue;
    const data = new URLSearchParams(kept);
    for (const field of form.elements) {
      if (!field.name || field.type === "hidden" || !data.has(field.name)) continue;
      if (field.type === "radio" || field.type === "checkbox") field.checked = data.getAll(field.name).includes(field.value);
      else field.value = data.get(field.name);
      const fold = field.closest("details");
      if (fold && field.value && field.value !== field.defaultValue) fold.open = true;
    }
    for (const choice of form.querySelectorAll("select")) choice.dispatchEvent(new Event("change", { bubbles: true }));
  }
}
document.addEventListener("alpine:initialized", () => bringBackTyped(document));

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

// Drawings further down a list come when they are about to be seen.
const drawings = new IntersectionObserver((seen) => {
  for (const { target, isIntersecting } of seen) {
    if (!isIntersecting) continue;
    drawings.unobserve(target);
    fetch(target.dataset.drawn).then((response) => (response.ok ? response.text() : "")).then((svg) => { target.innerHTML = svg; }).catch(() => { /* a line without its picture is a line all the same */ });
  }
}, { rootMargin: "400px" });
document.addEventListener("DOMContentLoaded", () => document.querySelectorAll("[data-drawn]").forEach((place) => drawings.observe(place)));

// On a phone a strip keeps the next step in sight, but not while the step itself is.
let watcher = null;
function watchNext() {
  if (watcher) watcher.disconnect();
  const strip = document.querySelector("[data-strip]");
  const next = document.getElementById("next");
  if (!strip || !next) return;
  watcher = new IntersectionObserver(([seen]) => { strip.hidden = seen.isIntersecting; }, { threshold: 0.5 });
  watcher.observe(next);
}
document.addEventListener("DOMContentLoaded", watchNext);

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

document.addEventListener("alpine:init", () => {
  // Questions come by a place on the drawing or by words, from the server; without this script the form asks for the page.
  Alpine.data("finder", () => ({
    typed() {
      clearTimeout(this.pause);
      this.pause = setTimeout(() => this.ask(), 180);
    },
    choose(pin) {
      const was = pin.getAttribute("aria-pressed") === "true";
      for (const other of this.$root.querySelectorAll(".pin")) other.setAttribute("aria-pressed", "false");
      pin.setAttribute("aria-pressed", was ? "false" : "true");
      this.ask();
    },
    async ask() {
      const pin = this.$root.querySelector(".pin[aria-pressed=true]");
      const asked = new URLSearchParams();
      if (pin) asked.set("place", pin.value);
      const find = this.$root.querySelector("[data-find]").value.trim();
      if (find) asked.set("find", find);
      const number = (this.asked = (this.asked || 0) + 1);
      const list = this.$refs.list;
      if (!pin && !find) {
        list.replaceChildren();
        return;
      }
      try {
        const response = await fetch(this.$root.dataset.questions + "?" + asked);
        if (!response.ok) throw new Error(response.status);
        const html = await response.text();
        // A later question overtook this one.
        if (number !== this.asked || !list.isConnected) return;
        list.innerHTML = html;
        const count = list.querySelectorAll(".question").length;
        announce(count === 1 ? "One question" : count + " questions");
      } catch (error) {
        announce("The questions did not come: the program does not answer. Try again.", true);
      }
    },
  }));
  // A count with a button on each side.
  Alpine.data("stepper", () => ({
    step(by) {
      const count = this.$refs.count;
      const next = Math.max(0, (parseInt(count.value, 10) || 0) + by);
      count.value = next > 0 ? String(next) : "";
      count.dispatchEvent(new Event("input", { bubbles: true }));
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
        const field = place.querySelector("input:not([type=hidden]), button");
        if (field) field.focus();
      } catch (error) {
        announce("It did not come: the program does not answer. Try again.", true);
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
      const card = this.$refs.card;
      // Asked of kits that report nitrogen; the unit beside the value follows.
      const asks = Boolean(card) && "nitrogen" in kit.dataset;
      if (card) card.hidden = !asks;
      const says = asks ? card.querySelector("input:checked").value : "";
      this.$refs.unit.textContent = says === "nitrogen" ? kit.dataset.unit.replace(/N[HO].$/, "N") : kit.dataset.unit;
      this.$refs.spread.placeholder = says === "nitrogen" ? "" : kit.dataset.spread;
      this.$refs.bucket.hidden = kit.value !== "bucket";
    },
  }));
});

document.addEventListener("click", (event) => {
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
    n: () => focusOn(document.querySelector("#next .look-round input:not([type=hidden]), #next .act, #next .answer button, #noticed [data-find]")),
    r: () => focusOn(document.getElementById("reading-value")),
    "/": () => focusOn(document.querySelector("[data-find]")),
    y: () => press("#next [data-answer=yes], #next .times button"),
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
