// Two arrangements of one tank on one scale, and what differs. Without this script the drawings and the numbers stand.

import { MAPS, classOf, cutWords, holdCuts, inRock, paintMap, tankOf, unpack, writeLegend } from "./water.js";

document.addEventListener("alpine:init", () => {
  Alpine.data("compare", () => {
    const now = {};
    return {
      async init() {
        const load = async (address) => {
          const response = await fetch(address);
          if (!response.ok) throw new Error(address);
          return unpack(await response.arrayBuffer());
        };
        const data = this.$root.dataset;
        try {
          [now.now, now.tried] = await Promise.all([load(data.now), load(data.tried)]);
        } catch {
          return;
        }
        const bins = (text) => text.split(";").map((row) => row.split(",").map(Number));
        now.rests = { now: bins(data.restsNow), tried: bins(data.restsTried) };
        now.tank = tankOf(data, () => 100 * now.now.size[2]);
        now.cut = { y: now.tank.width / 2, z: now.tank.bed + now.tank.depth() / 2 };
        now.map = "speed";
        this.$refs.map.value = now.map;
        this.$refs.maps.hidden = false;
        this.$refs.differences.hidden = false;
        holdCuts(this.$root, now.tank, now.cut, () => this.paint());
        new ResizeObserver(() => this.paint()).observe(this.$root);
        new MutationObserver(() => this.paint()).observe(document.documentElement, { attributes: true, attributeFilter: ["data-theme"] });
        this.paint();
        this.$root.dataset.ready = "yes";
      },
      chooseMap(map) {
        now.map = map;
        this.paint();
      },
      // A share of all muck, by the part of the bed.
      rest(of, [x, y]) {
        const bins = now.rests[of];
        const [length, width] = now.now.size;
        const index = (share, count) => Math.min(Math.floor(share * count), count - 1);
        return 100 * bins[index(y / width, bins.length)][index(x / length, bins[0].length)];
      },
      classAt(of) {
        const map = MAPS[now.map];
        if (!map) return null;
        // Muck at rest has no height: it is seen from above alone.
        const value = now.map === "rests" ? (which, place) => (place[2] === now.above ? this.rest(which, place) : null) : (which, place) => map.at(now[which], place);
        if (of === "difference") {
          return (place) => {
            const [before, after] = [value("now", place), value("tried", place)];
            return before === null || inRock(now.now, place) ? null : classOf(after - before, map.differences, map.bestFirst);
          };
        }
        return (place) => {
          const there = value(of, place);
          if (there === null) return null;
          const step = classOf(there, map.limits, map.bestFirst);
          return step === map.clear ? "clear" : step;
        };
      },
      paint() {
        const map = MAPS[now.map];
        const depth = now.tank.depth();
        now.above = Math.min(Math.max(now.cut.z - now.tank.bed, 0.5), depth - 0.5) / 100;
        this.$root.classList.toggle("is-mapped", Boolean(map));
        for (const picture of this.$root.querySelectorAll(".drift-picture")) {
          const of = picture.dataset.of;
          picture.classList.toggle("is-mapped", Boolean(map));
          paintMap(picture, picture.querySelector("canvas.under"), now.tank, now.cut, of === "now" ? now.now : now.tried, this.classAt(of));
        }
        this.$refs.cut.textContent = !map || now.map === "rests" ? "" : cutWords(now.tank, now.cut);
        this.$refs.differences.hidden = !map;
        if (!map) {
          this.$refs.legend.replaceChildren();
          return;
        }
        writeLegend(this.$refs.legend, map, false);
        writeLegend(this.$refs.differenceLegend, map, true);
      },
    };
  });
});
