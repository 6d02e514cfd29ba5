// Nitrogen ahead: one chart to each quantity with its band, the readings on it, and the events that can be moved. Without this script
// the sentences and the table stand.

import { announce } from "./announce.js";

const CHART_HEIGHT = 150;
// Room for the marks of events, px.
const MARKS_ABOVE = 30;

// How far the axis of a quantity goes: from zero, unless it has none, and up to its limit where that is not far above.
function reach(series, low, high) {
  if (series.reach === null) return [low - 0.2, high + 0.2];
  const limit = series.limit !== null && series.limit < 3 * high ? series.limit : 0;
  return [0, 1.1 * Math.max(high, limit, series.reach)];
}

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
  Alpine.data("ahead", () => {
    const now = { charts: [] };
    return {
      init() {
        now.data = JSON.parse(this.$root.dataset.chart);
        this.draw();
        const holder = this.$refs.charts;
        let width = holder.clientWidth;
        new ResizeObserver(() => {
          // A part that was replaced draws no more.
          if (!holder.isConnected || holder.clientWidth === width) return;
          width = holder.clientWidth;
          this.draw();
        }).observe(holder);
        new MutationObserver(() => { if (holder.isConnected) this.draw(); }).observe(document.documentElement, { attributes: true, attributeFilter: ["data-theme"] });
        this.$root.dataset.ready = "yes";
      },
      draw() {
        for (const chart of now.charts) chart.destroy();
        this.$refs.charts.replaceChildren();
        const style = getComputedStyle(document.documentElement);
        const colour = (name) => style.getPropertyValue(name).trim();
        const start = new Date(now.data.now).getTime() / 1000;
        const seconds = (day) => start + 86400 * day;
        // Charts of one row share their height and what is above their plot; marks of events stand in the first row.
        const columns = getComputedStyle(this.$refs.charts).gridTemplateColumns.split(" ").length;
        now.charts = now.data.series.map((series, index) => {
          const above = index < columns ? MARKS_ABOVE : 8;
          const days = [...series.dots.map(([day]) => day), ...now.data.days];
          const blanks = series.dots.map(() => null);
          const dots = [...series.dots.map(([, value]) => value), ...now.data.days.map(() => null)];
          const holder = document.createElement("figure");
          holder.className = "ahead-chart";
          holder.innerHTML = "<figcaption></figcaption>";
          holder.firstChild.textContent = series.name + (series.unit ? ", " + series.unit : "") + (series.limit === null ? "" : "; dashed: " + series.means + " " + Number(series.limit.toPrecision(2)));
          this.$refs.charts.append(holder);
          const axis = { stroke: colour("--soft"), grid: { stroke: colour("--rule"), width: 1 }, ticks: { stroke: colour("--rule"), width: 1 }, font: "13px 'Atkinson Hyperlegible Next', sans-serif" };
          const plot = new uPlot({
            width: holder.clientWidth,
            height: CHART_HEIGHT + above,
            padding: [above, 12, 0, 0],
            cursor: { drag: { x: false, y: false } },
            legend: { show: false },
            scales: { y: { range: (_, low, high) => reach(series, low, high) } },
            axes: [{ ...axis, values: (_, ticks) => ticks.map((tick) => new Date(tick * 1000).toLocaleDateString("en-GB", { day: "numeric", month: "short" })) }, { ...axis, size: 52 }],
            series: [
              {},
              { stroke: "transparent" },
              { stroke: "transparent" },
              { stroke: colour("--reed"), width: 2 },
              { stroke: colour("--now"), width: 0, paths: () => null, points: { show: true, size: 8, fill: colour("--now") } },
            ],
            bands: [{ series: [2, 1], fill: colour("--water") }],
            hooks: {
              draw: [(chart) => this.lines(chart, seconds(0), series.limit, colour)],
              ready: index === 0 ? [(chart) => this.mark(chart, holder, seconds)] : [],
            },
          }, [days.map(seconds), [...blanks, ...series.low], [...blanks, ...series.high], [...blanks, ...series.likely], dots], holder);
          return plot;
        });
      },
      // Now, and the limit where it lies on the chart.
      lines(chart, today, limit, colour) {
        const { left, top, width, height } = chart.bbox;
        const line = (from, to, name) => {
          chart.ctx.strokeStyle = colour(name);
          chart.ctx.beginPath();
          chart.ctx.moveTo(...from);
          chart.ctx.lineTo(...to);
          chart.ctx.stroke();
        };
        chart.ctx.save();
        chart.ctx.setLineDash([4, 4]);
        const x = chart.valToPos(today, "x", true);
        line([x, top], [x, top + height], "--soft");
        if (limit !== null && limit <= chart.scales.y.max) {
          const y = chart.valToPos(limit, "y", true);
          chart.ctx.setLineDash([10, 6]);
          chart.ctx.lineWidth = 2;
          line([left, y], [left + width, y], "--alarm");
        }
        chart.ctx.restore();
      },
      // Events stand above the first chart; they are dragged to another day, or moved with the arrow keys.
      mark(plot, holder, seconds) {
        const over = plot.over.getBoundingClientRect();
        const left = over.left - holder.getBoundingClientRect().left;
        for (const event of now.data.events) {
          const mark = document.createElement("button");
          mark.type = "button";
          mark.className = "event-mark" + (event.id ? "" : " by-habit");
          const place = (day) => {
            mark.style.left = left + plot.valToPos(seconds(day), "x") + "px";
            const date = new Date(seconds(day) * 1000).toLocaleDateString("en-GB", { weekday: "short", day: "numeric", month: "short" });
            mark.title = event.words + ", " + date + (event.id ? "" : ", by habit");
            mark.setAttribute("aria-label", mark.title + ". Arrow keys move it.");
          };
          place(event.day);
          let day = event.day;
          mark.addEventListener("pointerdown", (down) => {
            down.preventDefault();
            mark.focus();
            mark.setPointerCapture(down.pointerId);
            const per = plot.valToPos(seconds(1), "x") - plot.valToPos(seconds(0), "x");
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
            clearTimeout(now.pause);
            now.pause = setTimeout(() => this.move(event, day), 700);
          });
          holder.append(mark);
        }
      },
      async move(event, day) {
        const at = (days) => {
          const moment = new Date(new Date(now.data.now).getTime() + 86400000 * days);
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
    };
  });
});
