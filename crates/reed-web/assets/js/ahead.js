// Nitrogen ahead: the part that is computed after the page, what is supposed, the guides of kits, and the events that can be moved on
// the charts. Without this script the charts, the sentences and the table stand.

import { announce } from "./announce.js";

document.addEventListener("alpine:init", () => {
  // A part that takes a moment to compute is fetched after the page.
  Alpine.data("fetched", () => ({
    async init() {
      const place = this.$root;
      try {
        const response = await fetch(place.dataset.fetch);
        if (!response.ok) throw new Error(response.status);
        place.innerHTML = await response.text();
      } catch {
        place.textContent = "It was not reckoned: the program does not answer. Load the page again.";
      }
    },
  }));
  // What if the event in the form happened now: the outlook is shown with it, and nothing is entered.
  Alpine.data("whatif", () => ({
    ofMedia: false,
    init() {
      this.choose(this.$root.elements.what);
    },
    choose(what) {
      this.ofMedia = ["tap-rinse", "new-media"].includes(what.value);
      this.$refs.unit.textContent = what.selectedOptions[0].dataset.unit;
    },
    // The share of the media that are meant becomes the amount.
    share(select) {
      if (select.value) this.$root.elements.amount.value = select.value;
    },
    async ask() {
      const { what, amount, units } = this.$root.elements;
      const place = document.querySelector("[data-fetch]");
      try {
        const asked = new URLSearchParams({ what: what.value, amount: amount.value, units: units.value });
        const response = await fetch(this.$root.dataset.ahead + "?" + asked);
        const text = await response.text();
        if (response.ok) {
          place.innerHTML = text;
          document.getElementById("ahead").scrollIntoView();
          announce(place.querySelector(".said").textContent);
        } else {
          const page = new DOMParser().parseFromString(text, "text/html");
          announce(page.querySelector("main p").textContent, true);
        }
      } catch {
        announce("Not reckoned: the program does not answer.", true);
      }
    },
  }));
  // The steps of the kit that is chosen in the form of the page; a value between two patches goes into the form.
  Alpine.data("guide", () => ({
    init() {
      const form = document.getElementById("reading-form");
      const show = () => {
        for (const guide of this.$root.querySelectorAll("[data-kit]")) guide.hidden = guide.dataset.kit !== form.elements.kit.value;
      };
      form.elements.kit.addEventListener("change", show);
      show();
    },
    between(button) {
      const row = button.closest(".patches");
      const read = (name) => Number(row.querySelector("[data-" + name + "]").value.replace(",", ".") || NaN);
      const [low, high, share] = [read("low"), read("high"), Number(row.querySelector("[data-closer]").value)];
      if (!Number.isFinite(low) || !Number.isFinite(high) || low === high) {
        announce("Give the values of two neighbouring patches of the card.", true);
        return;
      }
      const form = document.getElementById("reading-form");
      const round = (value) => String(Number(value.toFixed(3)));
      form.elements.value.value = round(low + share * (high - low));
      form.elements.spread.value = round(Math.abs(high - low) / 4);
      form.elements.value.focus();
    },
  }));
  // A clock of a step; its seconds are the keeper's to change.
  Alpine.data("timer", () => ({
    start() {
      clearInterval(this.ticking);
      const seconds = Number(this.$refs.seconds.value);
      const { left, start } = this.$refs;
      if (!(seconds > 0 && seconds <= 7200)) {
        left.textContent = "Give seconds, up to two hours.";
        return;
      }
      const end = Date.now() + 1000 * seconds;
      const show = () => {
        const remaining = Math.max(0, Math.round((end - Date.now()) / 1000));
        left.textContent = remaining > 0 ? Math.floor(remaining / 60) + ":" + String(remaining % 60).padStart(2, "0") : "Time is up: next step.";
        if (remaining > 0) return;
        clearInterval(this.ticking);
        if (navigator.vibrate) navigator.vibrate([200, 100, 200]);
      };
      start.textContent = "Start again";
      show();
      this.ticking = setInterval(show, 250);
    },
    destroy() {
      clearInterval(this.ticking);
    },
  }));
  Alpine.data("ahead", () => ({
    init() {
      const holder = this.$root.querySelector("[data-marks]");
      for (const event of JSON.parse(this.$root.dataset.events)) this.mark(holder, event);
      this.$root.dataset.ready = "yes";
    },
    // Events stand above the first chart; they are dragged to another day, or moved with the arrow keys.
    mark(holder, event) {
      const [first, width] = [Number(holder.dataset.first), Number(holder.dataset.day)];
      const mark = document.createElement("button");
      mark.type = "button";
      mark.className = "event-mark" + (event.id ? "" : " by-habit");
      const place = (day) => {
        mark.style.left = first + width * day + "%";
        const date = this.moment(day).toLocaleDateString("en-GB", { weekday: "short", day: "numeric", month: "short" });
        mark.title = event.words + ", " + date + (event.id ? "" : ", by habit");
        mark.setAttribute("aria-label", mark.title + ". Arrow keys move it.");
      };
      place(event.day);
      let day = event.day;
      mark.addEventListener("pointerdown", (down) => {
        down.preventDefault();
        mark.focus();
        mark.setPointerCapture(down.pointerId);
        const per = (width / 100) * holder.clientWidth;
        const from = { x: down.clientX, day };
        const move = (moved) => {
          day = Math.max(from.day + Math.round((moved.clientX - from.x) / per), 0.1);
          place(day);
        };
        mark.addEventListener("pointermove", move);
        mark.addEventListener("lostpointercapture", () => {
          mark.removeEventListener("pointermove", move);
          if (day !== event.day) this.move(event, day);
        }, { once: true });
      });
      mark.addEventListener("keydown", (key) => {
        const step = { ArrowLeft: -1, ArrowRight: 1 }[key.key];
        if (!step) return;
        key.preventDefault();
        day = Math.max(day + step, 0.1);
        place(day);
        clearTimeout(this.pause);
        this.pause = setTimeout(() => this.move(event, day), 700);
      });
      holder.append(mark);
    },
    moment(day) {
      return new Date(new Date(this.$root.dataset.now).getTime() + 86400000 * day);
    },
    async move(event, day) {
      const at = (days) => {
        const moment = this.moment(days);
        const two = (number) => String(number).padStart(2, "0");
        return moment.getFullYear() + "-" + two(moment.getMonth() + 1) + "-" + two(moment.getDate()) + "T" + two(moment.getHours()) + ":" + two(moment.getMinutes());
      };
      const water = this.$root.dataset.tank;
      const [address, body] = event.id
        ? [water.replace(/water$/, "log/") + event.id + "/move", { to: at(day), back: "water" }]
        : [water + "/habit", { from: event.at, to: at(day) }];
      try {
        const response = await fetch(address, { method: "POST", body: new URLSearchParams(body) });
        if (!response.ok) throw new Error(response.status);
        const fresh = await fetch(this.$root.dataset.tank + "/outlook");
        announce(event.words + " moved");
        this.$root.parentElement.innerHTML = await fresh.text();
      } catch {
        announce("Not moved: the program refused it or does not answer. Up to a year away can be planned.", true);
      }
    },
  }));
});
