// Water to watch: particles drift through the computed flow, over the drawing, from the front and from above at once.
// Without this script the drawing and the words stand.
// How many of each are in the water.

import { searchPlaces, tapPlaces } from "./search.js";
import { LONGEST } from "./time.js";
import { tryThings } from "./tries.js";
import { MAPS, classOf, cutWords, holdCuts, inRock, paintMap, paintPlaces, speedAt, tankOf, unpack, viewsOf, writeLegend } from "./water.js";

const STROKES = 350;
const PIECES = 260;
const BUBBLES = 14;
// Seconds: the way that a stroke of water shows and between its points, how long a stroke and resting muck last.
const TRAIL = 3;
const POINT_EVERY = 0.5;
const STROKE_LASTS = 8;
const REST_LASTS = 25;
// Way of a stroke from which it counts as fast, m.
const FAST = 0.05;
// What comes to rest is lifted by so much, m.
const LIFT = 0.03;
// A stroke is drawn with a map when it is so near to the cut, m.
const NEAR_CUT = 0.04;

function somewhere(field) {
  for (let tries = 0; tries < 50; tries += 1) {
    const place = field.size.map((length) => Math.random() * length);
    if (!inRock(field, place)) return place;
  }
  return field.size.map((length) => length / 2);
}

document.addEventListener("alpine:init", () => {
  Alpine.data("drift", () => {
    // What moves is kept from Alpine: watching every number of it would cost more than drawing it.
    const now = {};
    return {
      ...tryThings(now),
      ...tapPlaces(now),
      ...searchPlaces(now),
      async init() {
        if (!this.$root.dataset.field) return;
        let response;
        try {
          response = await fetch(this.$root.dataset.field);
          if (!response.ok) return;
          now.water = unpack(await response.arrayBuffer());
        } catch {
          return;
        }
        now.settled = now.water;
        now.shown = { water: true, muck: true, bubbles: true };
        now.tank = tankOf(this.$root.dataset, () => 100 * now.water.size[2]);
        now.cut = { y: now.tank.width / 2, z: now.tank.bed + now.tank.depth() / 2 };
        now.map = "";
        now.taps = [];
        this.begin();
        this.$refs.run.hidden = false;
        this.$refs.maps.hidden = false;
        new ResizeObserver(() => { this.paint(); this.draw(); }).observe(this.$refs.picture);
        new MutationObserver(() => { this.paint(); this.draw(); }).observe(document.documentElement, { attributes: true, attributeFilter: ["data-theme"] });
        holdCuts(this.$refs.picture, now.tank, now.cut, () => { this.paint(); this.draw(); });
        // Settled for a while before anybody looks: muck is already where it goes.
        for (let step = 0; step < 400; step += 1) this.advance(LONGEST);
        // Whoever asks for less motion gets a still picture, whose strokes say as much.
        now.running = !matchMedia("(prefers-reduced-motion: reduce)").matches;
        this.label();
        this.draw();
        if (now.running) this.loop();
        this.hold();
        this.$root.dataset.ready = "yes";
      },
      begin() {
        const water = now.water;
        now.strokes = Array.from({ length: STROKES }, () => ({ at: somewhere(water), way: [], age: Math.random() * STROKE_LASTS }));
        now.muck = Array.from({ length: PIECES }, () => ({ at: somewhere(water), rests: 0 }));
        now.sources = this.$root.dataset.bubbles.split(";").filter(Boolean).map((line) => {
          const [x, y, z, rise] = line.split(" ").map(Number);
          return { at: [x, y, z], stood: [x, y, z], rise };
        });
        now.bubbles = now.sources.flatMap((source) => Array.from({ length: BUBBLES }, () => ({ source, at: this.born(source.at) })));
      },
      born(source) {
        return source.map((value, axis) => Math.min(Math.max(value + (Math.random() - 0.5) * 0.04, 0), now.water.size[axis]));
      },
      advance(seconds) {
        const water = now.water;
        const speed = [0, 0, 0];
        const top = water.size[2];
        const move = (particle, rises) => {
          speedAt(water, particle.at, speed);
          const next = particle.at.map((value, axis) => Math.min(Math.max(value + seconds * (speed[axis] + (axis === 2 ? rises : 0)), 0), water.size[axis]));
          if (!inRock(water, next)) particle.at = next;
          return inRock(water, next);
        };
        for (const stroke of now.strokes) {
          stroke.age += seconds;
          if (stroke.age > STROKE_LASTS) {
            stroke.at = somewhere(water);
            stroke.age = 0;
            stroke.way = [];
          }
          if (Math.floor(stroke.age / POINT_EVERY) !== Math.floor((stroke.age - seconds) / POINT_EVERY)) {
            stroke.way.push(stroke.at);
            if (stroke.way.length > TRAIL / POINT_EVERY) stroke.way.shift();
          }
          move(stroke, 0);
        }
        const lifts = Number(this.$root.dataset.lifts);
        for (const piece of now.muck) {
          if (piece.rests > 0) {
            piece.rests += seconds;
            if (piece.rests > REST_LASTS) {
              piece.at = somewhere(water);
              piece.rests = 0;
            }
            continue;
          }
          const stopped = move(piece, -Number(this.$root.dataset.sinks));
          if (piece.at[2] <= 0.001 || (stopped && speed[2] <= 0)) {
            speedAt(water, [piece.at[0], piece.at[1], piece.at[2] + water.h / 2], speed);
            const chance = (Math.hypot(speed[0], speed[1]) / lifts) ** 2;
            if (Math.random() < chance) piece.at[2] = Math.min(piece.at[2] + LIFT, top);
            else piece.rests = seconds;
          }
        }
        for (const bubble of now.bubbles) {
          move(bubble, bubble.source.rise);
          if (bubble.at[2] >= top - 0.002) bubble.at = this.born(bubble.source.at);
        }
      },
      draw() {
        const [front, above] = viewsOf(this.$refs.picture, this.$refs.canvas);
        const { bed, height, width } = now.tank;
        const context = this.$refs.canvas.getContext("2d");
        const style = getComputedStyle(document.documentElement);
        const colour = (name) => style.getPropertyValue(name).trim();
        context.clearRect(0, 0, this.$refs.canvas.width, this.$refs.canvas.height);
        const places = [
          ([x, , z]) => [front.x + front.a * 100 * x, front.y + front.a * (height - bed - 100 * z)],
          ([x, y]) => [above.x + above.a * 100 * x, above.y + above.a * (width - 100 * y)],
        ];
        const unit = Math.max(front.a * 0.32, 1.2);
        // With a map, water is shown where it is cut.
        const near = now.map && now.map !== "places"
          ? [({ at }) => Math.abs(100 * at[1] - now.cut.y) < 100 * NEAR_CUT, ({ at }) => Math.abs(100 * at[2] + bed - now.cut.z) < 100 * NEAR_CUT]
          : [() => true, () => true];
        for (const [index, place] of places.entries()) {
          if (now.shown.water) this.drawWater(context, place, now.strokes.filter(near[index]), colour(now.map ? "--ink" : "--water-deep"), unit);
          if (now.shown.muck) this.drawMuck(context, place, colour(now.map ? "--ink" : "--fish"), unit);
          if (now.shown.bubbles) this.drawBubbles(context, place, colour("--ink"), unit);
        }
        this.drawTaps(context, front, above, colour("--now"));
      },
      drawWater(context, place, strokes, colour, unit) {
        context.strokeStyle = colour;
        // What goes fast is drawn stronger: the loop stands out from water that idles.
        const went = ({ at, way }) => (way.length ? Math.hypot(...at.map((value, axis) => value - way[0][axis])) : 0);
        for (const [fast, width, ink] of [[false, 0.45, 0.55], [true, 0.95, 1]]) {
          context.lineWidth = unit * width;
          context.globalAlpha = now.map === "places" ? 0.25 : ink;
          context.beginPath();
          for (const { at, way } of strokes.filter((stroke) => went(stroke) >= FAST === fast)) {
            const [first, ...rest] = way.concat([at]);
            context.moveTo(...place(first));
            for (const point of rest) context.lineTo(...place(point));
          }
          context.stroke();
        }
        context.globalAlpha = 1;
      },
      drawMuck(context, place, colour, unit) {
        context.fillStyle = colour;
        for (const { at, rests } of now.muck) {
          const [x, y] = place(at);
          if (rests > 0) {
            context.fillRect(x - 1.3 * unit, y - unit, 2.6 * unit, unit);
          } else {
            context.beginPath();
            context.moveTo(x, y - 1.3 * unit);
            context.lineTo(x + 1.3 * unit, y);
            context.lineTo(x, y + 1.3 * unit);
            context.lineTo(x - 1.3 * unit, y);
            context.fill();
          }
        }
      },
      drawBubbles(context, place, colour, unit) {
        context.strokeStyle = colour;
        context.lineWidth = Math.max(unit * 0.35, 0.8);
        for (const { at, source } of now.bubbles) {
          const [x, y] = place(at);
          context.beginPath();
          context.arc(x, y, unit * (source.rise > 0.1 ? 1.8 : 0.9), 0, 7);
          context.stroke();
        }
      },
      loop() {
        let before = performance.now();
        const frame = (time) => {
          if (!now.running || !this.$root.isConnected) return;
          // A page that was in the background does not catch up.
          let left = Math.min((time - before) / 1000, 0.1) * Number(this.$refs.pace.value);
          before = time;
          while (left > 0) {
            this.advance(Math.min(left, LONGEST));
            left -= LONGEST;
          }
          this.draw();
          requestAnimationFrame(frame);
        };
        requestAnimationFrame(frame);
      },
      label() {
        this.$refs.toggle.textContent = now.running ? "Stop" : "Let it move";
      },
      toggle() {
        now.running = !now.running;
        this.label();
        if (now.running) this.loop();
      },
      chooseMap(map) {
        now.map = map;
        this.paint();
        this.draw();
      },
      // The map under the drawing. Speed is that of the water as it moves; the rest is known of settled water alone.
      paint() {
        const { picture, under, legend, cut } = this.$refs;
        const map = MAPS[now.map];
        picture.classList.toggle("is-mapped", Boolean(map));
        picture.classList.toggle("is-cut", Boolean(map) && now.map !== "places");
        cut.textContent = !map ? "" : now.map === "places" ? "In each view the best place behind each spot." : cutWords(now.tank, now.cut);
        if (now.legend !== now.map) {
          now.legend = now.map;
          legend.replaceChildren();
          if (map) writeLegend(legend, map, false);
        }
        if (now.map === "places") {
          paintPlaces(picture, under, now.tank, now.settled);
        } else {
          const water = now.map === "speed" ? now.water : now.settled;
          paintMap(picture, under, now.tank, now.cut, water, map && ((place) => {
            const value = map.at(water, place);
            if (value === undefined) return null;
            const step = classOf(value, map.limits, map.bestFirst);
            return step === map.clear ? "clear" : step;
          }));
        }
      },
      show(what, on) {
        if (!now.water) return;
        now.shown[what] = on;
        this.draw();
      },
      layer(name, on) {
        for (const group of this.$refs.picture.querySelectorAll("[data-layer=" + name + "]")) group.classList.toggle("is-off", !on);
      },
    };
  });
});
