// Water to watch: particles drift through the computed flow, over the drawing, from the front and from above at once.
// The flow itself comes packed from the program; see `Field::packed`. Without this script the drawing and the words stand.

// How many of each are in the water.
const STROKES = 350;
const PIECES = 260;
const BUBBLES = 14;
// Seconds: the longest step, the way that a stroke of water shows, how long a stroke and resting muck last.
const LONGEST = 0.1;
const TRAIL = 1;
const STROKE_LASTS = 8;
const REST_LASTS = 25;
// Milliseconds between two moves that are told.
const TELL_EVERY = 50;
// What comes to rest is lifted by so much, m.
const LIFT = 0.03;

function unpack(buffer) {
  const head = new DataView(buffer);
  const [nx, ny, nz] = [0, 4, 8].map((at) => head.getUint32(at, true));
  const h = head.getFloat32(12, true);
  const unit = head.getFloat32(16, true);
  const speeds = new Int16Array(buffer.slice(20, 20 + 6 * nx * ny * nz));
  const rock = new Uint8Array(buffer, 20 + 6 * nx * ny * nz);
  return { nx, ny, nz, h, unit, speeds, rock, size: [(nx - 1) * h, (ny - 1) * h, (nz - 1) * h] };
}

// Speed at a place, linear between the corners around it.
function speedAt(field, [px, py, pz], into) {
  const along = (value, n) => {
    const at = Math.min(Math.max(value / field.h, 0), n - 1.001);
    const low = Math.floor(at);
    return [low, at - low];
  };
  const [i, x] = along(px, field.nx);
  const [j, y] = along(py, field.ny);
  const [k, z] = along(pz, field.nz);
  into[0] = into[1] = into[2] = 0;
  for (let corner = 0; corner < 8; corner += 1) {
    const [a, b, c] = [corner & 1, (corner >> 1) & 1, corner >> 2];
    const share = (a ? x : 1 - x) * (b ? y : 1 - y) * (c ? z : 1 - z) * field.unit;
    const at = 3 * (i + a + field.nx * (j + b + field.ny * (k + c)));
    into[0] += share * field.speeds[at];
    into[1] += share * field.speeds[at + 1];
    into[2] += share * field.speeds[at + 2];
  }
}

function inRock(field, [px, py, pz]) {
  const cell = (value, n) => Math.min(Math.max(Math.floor(value / field.h), 0), n - 2);
  const [i, j, k] = [cell(px, field.nx), cell(py, field.ny), cell(pz, field.nz)];
  return field.rock[i + (field.nx - 1) * (j + (field.ny - 1) * k)] === 1;
}

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
      async init() {
        if (!this.$root.dataset.field) return;
        let response;
        try {
          response = await fetch(this.$root.dataset.field);
          if (!response.ok) return;
          now.water = unpack(await response.arrayBuffer());
        } catch (error) {
          return;
        }
        now.shown = { water: true, muck: true, bubbles: true };
        this.begin();
        this.$refs.run.hidden = false;
        new ResizeObserver(() => this.draw()).observe(this.$refs.picture);
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
      // Things can be tried elsewhere: dragged in either view, or moved with the arrow keys.
      hold() {
        const picture = this.$refs.picture;
        now.places = Object.fromEntries(this.$root.dataset.things.split(";").filter(Boolean).map((line) => {
          const [number, place] = line.split(":");
          return [number, place.split(",").map(Number)];
        }));
        now.stood = structuredClone(now.places);
        this.$refs.hint.hidden = false;
        picture.addEventListener("pointerdown", (event) => {
          const thing = event.target.closest("[data-thing]");
          if (!thing || thing.classList.contains("locked")) return;
          event.preventDefault();
          thing.focus({ preventScroll: true });
          const view = thing.closest(".view");
          const scale = view.getScreenCTM().a;
          const from = { x: event.clientX, y: event.clientY, place: now.places[thing.dataset.thing].slice() };
          picture.setPointerCapture(event.pointerId);
          // The water is let on its way before anything moves: it takes a moment to begin.
          this.tell(thing.dataset.thing + ":" + from.place.join(","));
          const move = (moved) => {
            const right = (moved.clientX - from.x) / scale;
            const up = (from.y - moved.clientY) / scale;
            const [x, y, z] = from.place;
            this.put(thing.dataset.thing, view.dataset.view === "front" ? [x + right, y, z + up] : [x + right, y + up, z]);
          };
          const end = () => {
            picture.removeEventListener("pointermove", move);
            this.weigh();
          };
          picture.addEventListener("pointermove", move);
          picture.addEventListener("lostpointercapture", end, { once: true });
        });
        picture.addEventListener("keydown", (event) => {
          const thing = event.target.closest("[data-thing]");
          const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key];
          if (!thing || !way || thing.classList.contains("locked")) return;
          event.preventDefault();
          const step = event.shiftKey ? 5 : 1;
          const [x, y, z] = now.places[thing.dataset.thing];
          const front = thing.closest(".view").dataset.view === "front";
          this.put(thing.dataset.thing, front ? [x + way[0] * step, y, z + way[1] * step] : [x + way[0] * step, y + way[1] * step, z]);
          clearTimeout(now.pause);
          now.pause = setTimeout(() => this.weigh(), 700);
        });
      },
      // Puts a thing elsewhere: on both views, and in the water that is stepped for us.
      put(number, place) {
        now.places[number] = place.map((cm) => Math.round(cm * 10) / 10);
        const [dx, dy, dz] = now.places[number].map((cm, axis) => cm - now.stood[number][axis]);
        for (const [view, way] of [["front", [dx, -dz]], ["above", [dx, -dy]]]) {
          const thing = this.$refs.picture.querySelector("[data-view=" + view + "] [data-thing='" + number + "']");
          thing.setAttribute("transform", "translate(" + way.join(" ") + ")");
        }
        this.$refs.picture.classList.add("is-tried");
        this.tell(number + ":" + now.places[number].join(","));
      },
      tell(move) {
        now.last = move;
        if (!now.socket) {
          const address = new URL(this.$root.dataset.tank + "/live", location.href);
          address.protocol = address.protocol.replace("http", "ws");
          now.socket = new WebSocket(address);
          now.socket.binaryType = "arraybuffer";
          now.socket.addEventListener("open", () => now.socket && now.socket.send(now.last));
          now.socket.addEventListener("message", (event) => {
            now.water = unpack(event.data);
            this.$root.dataset.live = Number(this.$root.dataset.live || 0) + 1;
            if (!now.running) {
              this.advance(LONGEST);
              this.draw();
            }
          });
          // Without the socket the water follows when the try has been settled.
          now.socket.addEventListener("close", () => { now.socket = null; });
        } else if (!now.telling) {
          // Each move that is told costs a picture: no more of them than are seen.
          now.telling = setTimeout(() => {
            now.telling = 0;
            if (now.socket && now.socket.readyState === WebSocket.OPEN) now.socket.send(now.last);
          }, TELL_EVERY);
        }
      },
      // Settles the try in the background and sets its measures beside those of the tank as it stands.
      async weigh() {
        const moved = Object.keys(now.places).filter((number) => now.places[number].some((cm, axis) => cm !== now.stood[number][axis]));
        if (moved.length === 0) return;
        const query = "?moves=" + encodeURIComponent(moved.map((number) => number + ":" + now.places[number].join(",")).join(";"));
        now.asked = query;
        for (;;) {
          let part;
          try {
            const response = await fetch(this.$root.dataset.tank + "/try" + query);
            const page = new DOMParser().parseFromString(await response.text(), "text/html");
            part = response.ok ? page.querySelector("#try") : page.querySelector("main");
          } catch (error) {
            announce("The try was not computed: the program does not answer.", true);
            return;
          }
          if (now.asked !== query || !this.$root.isConnected) return;
          this.$refs.try.replaceChildren(part);
          if (!part.dataset.wait) break;
          await new Promise((resolve) => setTimeout(resolve, 1200));
        }
        const response = await fetch(this.$root.dataset.tank + "/try.bin" + query);
        if (!response.ok || now.asked !== query) return;
        if (now.socket) now.socket.close();
        now.water = unpack(await response.arrayBuffer());
        this.draw();
      },
      begin() {
        const water = now.water;
        now.strokes = Array.from({ length: STROKES }, () => ({ at: somewhere(water), age: Math.random() * STROKE_LASTS }));
        now.muck = Array.from({ length: PIECES }, () => ({ at: somewhere(water), rests: 0 }));
        const sources = this.$root.dataset.bubbles.split(";").filter(Boolean).map((line) => line.split(" ").map(Number));
        now.bubbles = sources.flatMap(([x, y, z, rise]) => Array.from({ length: BUBBLES }, () => ({ source: [x, y, z], rise, at: this.born([x, y, z]) })));
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
          }
          move(stroke, 0);
          stroke.speed = speed.slice();
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
          move(bubble, bubble.rise);
          if (bubble.at[2] >= top - 0.002) bubble.at = this.born(bubble.source);
        }
      },
      // Where the two views lie on the canvas: for each, centimetres of the view to pixels.
      views() {
        const canvas = this.$refs.canvas;
        const box = this.$refs.picture.getBoundingClientRect();
        const ratio = window.devicePixelRatio || 1;
        const [width, height] = [Math.round(box.width * ratio), Math.round(box.height * ratio)];
        if (canvas.width !== width || canvas.height !== height) [canvas.width, canvas.height] = [width, height];
        return ["front", "above"].map((name) => {
          const matrix = this.$refs.picture.querySelector(".view." + name).getScreenCTM();
          return { a: matrix.a * ratio, x: (matrix.e - box.left) * ratio, y: (matrix.f - box.top) * ratio };
        });
      },
      draw() {
        const [front, above] = this.views();
        const { bed, height, width } = this.$root.dataset;
        const context = this.$refs.canvas.getContext("2d");
        const style = getComputedStyle(document.documentElement);
        const colour = (name) => style.getPropertyValue(name).trim();
        context.clearRect(0, 0, this.$refs.canvas.width, this.$refs.canvas.height);
        const places = [
          ([x, , z]) => [front.x + front.a * 100 * x, front.y + front.a * (Number(height) - Number(bed) - 100 * z)],
          ([x, y]) => [above.x + above.a * 100 * x, above.y + above.a * (Number(width) - 100 * y)],
        ];
        const unit = Math.max(front.a * 0.32, 1.2);
        for (const place of places) {
          if (now.shown.water) this.drawWater(context, place, colour("--water-deep"), unit);
          if (now.shown.muck) this.drawMuck(context, place, colour("--fish"), unit);
          if (now.shown.bubbles) this.drawBubbles(context, place, colour("--ink"), unit);
        }
      },
      drawWater(context, place, colour, unit) {
        context.strokeStyle = colour;
        context.lineWidth = unit * 0.7;
        context.beginPath();
        for (const { at, speed } of now.strokes) {
          const [x, y] = place(at);
          const [fromX, fromY] = place(at.map((value, axis) => value - TRAIL * speed[axis]));
          context.moveTo(fromX, fromY);
          context.lineTo(x, y);
        }
        context.stroke();
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
        for (const { at, rise } of now.bubbles) {
          const [x, y] = place(at);
          context.beginPath();
          context.arc(x, y, unit * (rise > 0.1 ? 1.8 : 0.9), 0, 7);
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
