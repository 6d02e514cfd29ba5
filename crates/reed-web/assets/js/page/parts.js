// Parts of pages that react to hands, as Alpine calls them.

import { announce } from "../announce.js";
import { listen } from "./listening.js";

// A field, or several, with what is in them; of what is hidden nothing is sent.
function show(part, shown) {
  part.hidden = !shown;
  for (const field of part.querySelectorAll("input, select")) field.disabled = !shown;
}

// A sheet is printed by a button too.
document.addEventListener("click", (event) => {
  if (event.target.closest("[data-print]")) window.print();
});

// Pressed, it begins; pressed again, it says how many seconds it took.
const stopwatch = {
  press() {
    if (this.began) {
      const seconds = (Date.now() - this.began) / 1000;
      this.began = null;
      this.stopped(seconds);
      return;
    }
    this.began = Date.now();
    this.$refs.press.textContent = "Stop: the bucket is full";
    this.$refs.says.textContent = "";
  },
};

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
      } catch {
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
  // A clock beside a check or a step. One with a name of its own (data-kept) runs on while the page is away, the program or the
  // network too: its end is kept on this device.
  Alpine.data("countdown", () => ({
    init() {
      this.$root.hidden = false;
      const end = this.kept();
      if (end > Date.now()) this.run(end);
      else this.show(Number(this.$root.dataset.seconds));
    },
    key() {
      return "clock:" + this.$root.dataset.kept;
    },
    kept() {
      if (!this.$root.dataset.kept) return 0;
      try { return Number(localStorage.getItem(this.key())) || 0; } catch { return 0; }
    },
    start() {
      const end = Date.now() + 1000 * Number(this.$root.dataset.seconds);
      if (this.$root.dataset.kept) {
        try { localStorage.setItem(this.key(), String(end)); } catch { /* it runs while this page stands */ }
      }
      this.run(end);
    },
    run(end) {
      clearInterval(this.ticking);
      this.$refs.start.textContent = "Start again";
      const tick = () => {
        const left = Math.max(0, Math.round((end - Date.now()) / 1000));
        this.show(left);
        if (left > 0) return;
        clearInterval(this.ticking);
        this.$refs.left.textContent = this.$root.dataset.up || "Time is up: what did you see?";
        if (navigator.vibrate) navigator.vibrate([200, 100, 200]);
      };
      tick();
      this.ticking = setInterval(tick, 250);
    },
    show(seconds) {
      this.$refs.left.textContent = `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, "0")}`;
    },
    destroy() {
      clearInterval(this.ticking);
    },
  }));
  // One's own plan: what the picked changes come to, fetched from the page itself as they are picked.
  Alpine.data("mix", () => ({
    asked: 0,
    async picked() {
      const number = ++this.asked;
      const form = this.$refs.form;
      const address = form.getAttribute("action") + "?" + new URLSearchParams(new FormData(form));
      const place = this.$refs.mixed;
      place.setAttribute("aria-busy", "true");
      try {
        const response = await fetch(address);
        const page = new DOMParser().parseFromString(await response.text(), "text/html");
        const fresh = page.getElementById("mixed");
        // A later pick overtook this one.
        if (number !== this.asked || !fresh) return;
        place.innerHTML = fresh.innerHTML;
        history.replaceState(null, "", address);
      } catch {
        announce("Not reckoned: the program does not answer. What you picked stays.", true);
      } finally {
        if (number === this.asked) place.removeAttribute("aria-busy");
      }
    },
  }));
  // The plan of a card tried in the water; what comes out stands in the card, and goes with its form.
  Alpine.data("inWater", () => ({
    start() {
      this.stop();
      const form = this.$root.parentElement.querySelector("form[id^=plan-form]");
      const asked = new URLSearchParams(new FormData(form));
      asked.append("form", form.id);
      const [start, ...before] = this.$root.children;
      for (const old of before) old.remove();
      start.hidden = true;
      start.insertAdjacentHTML("afterend", '<div><p role="status"></p><progress class="progress" max="100" value="0"></progress><button type="button" class="button">Stop</button></div><div tabindex="-1"></div>');
      const [, searching, found] = this.$root.children;
      const [searched, share, stop] = searching.children;
      stop.addEventListener("click", () => this.stop());
      this.stopped = listen(form.getAttribute("action").replace(/plan$/, "currents") + "?" + asked, { searching, searched, share, found }, {
        found: () => {},
        ended: () => {
          this.stopped = null;
          start.hidden = false;
        },
      });
    },
    stop() {
      this.stopped?.();
    },
    destroy() {
      this.stop();
    },
  }));
  // Bucket and watch: the flow from the time that so many litres take. It goes into the form where that is in the same unit.
  Alpine.data("bucket", () => ({
    ...stopwatch,
    stopped(seconds) {
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
  // The same for three runs of a filter's own test: each stop fills the next field, in seconds.
  Alpine.data("bucketRuns", () => ({
    ...stopwatch,
    stopped(seconds) {
      const runs = [...this.$root.querySelectorAll("[data-run]")];
      const next = runs.find((run) => run.value.trim() === "") || runs[runs.length - 1];
      next.value = seconds.toFixed(1);
      next.dispatchEvent(new Event("input", { bubbles: true }));
      const left = runs.filter((run) => run.value.trim() === "").length;
      this.$refs.press.textContent = left > 0 ? `Start run ${runs.length - left + 1}` : "Start the last run again";
      this.$refs.says.textContent = left > 0 ? `${seconds.toFixed(1)} s. Empty the bucket; ${left} more.` : `${seconds.toFixed(1)} s. Three runs: enter them.`;
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
      } catch {
        announce("It did not come: the program does not answer. Try again.", true);
        this.$root.open = false;
      }
      this.loading = false;
    },
  }));
  // Of an entry of the log only what belongs to its kind is shown; what is hidden is not sent.
  Alpine.data("entry", () => ({
    init() {
      this.chosen();
    },
    chosen() {
      const kind = this.$refs.what.selectedOptions[0];
      show(this.$refs.amount, Boolean(kind.dataset.unit));
      this.$refs.unit.textContent = kind.dataset.unit;
      if (this.$refs.makes) show(this.$refs.makes, "makes" in kind.dataset);
      const on = this.$refs.on;
      if (on) {
        show(on, Boolean(kind.dataset.on));
        for (const option of on.querySelectorAll("[data-on]")) {
          option.hidden = option.disabled = option.dataset.on !== kind.dataset.on;
          if (option.disabled && option.selected) option.parentElement.value = "";
        }
      }
      for (const more of this.$root.querySelectorAll("[data-for]")) show(more, more.dataset.for === kind.value);
    },
  }));
  // Photos for an entry that is being filled in are sent as they are chosen, so that a refused form does not lose them.
  Alpine.data("photos", () => ({
    async send(chooser) {
      const { taken, said } = this.$refs;
      for (const file of chooser.files) {
        said.textContent = "Sending " + file.name + " …";
        const body = new FormData();
        body.append("photos", file);
        try {
          const response = await fetch(this.$root.dataset.to, { method: "POST", body });
          const text = await response.text();
          if (!response.ok) {
            said.textContent = file.name + ": " + ({ 413: "it is too large.", 422: text }[response.status] || "not taken. Try once more.");
            announce(said.textContent, true);
            break;
          }
          taken.insertAdjacentHTML("beforeend", text);
          said.textContent = "";
          announce("Photo added");
        } catch {
          said.textContent = file.name + ": not sent, the program does not answer. Choose it again.";
          announce(said.textContent, true);
          break;
        }
      }
      chooser.value = "";
    },
    leave(button) {
      button.closest("li").remove();
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
