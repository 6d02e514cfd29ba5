// Water to watch: particles drift through the computed flow, over the drawing, from the front and from above at once.
// Without this script the drawing and the words stand.
"use strict";

// How many of each are in the water.
const STROKES = 350;
const PIECES = 260;
const BUBBLES = 14;
// Seconds: the longest step, the way that a stroke of water shows and between its points, how long a stroke and resting muck last.
const LONGEST = 0.1;
const TRAIL = 3;
const POINT_EVERY = 0.5;
const STROKE_LASTS = 8;
const REST_LASTS = 25;
// Milliseconds between two moves that are told.
const TELL_EVERY = 50;
// Way of a stroke from which it counts as fast, m.
const FAST = 0.05;
// What comes to rest is lifted by so much, m.
const LIFT = 0.03;
// A stroke is drawn with a map when it is so near to the cut, m.
const NEAR_CUT = 0.04;
// Degrees that a key turns a stream.
const TURN = 15;
// A source of bubbles goes with the thing that stands so near, cm.
const SOURCE_OF = 10;

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
      // Things can be tried elsewhere: dragged in either view, or moved with the arrow keys.
      hold() {
        const picture = this.$refs.picture;
        now.places = Object.fromEntries(this.$root.dataset.things.split(";").filter(Boolean).map((line) => {
          const [number, place] = line.split(":");
          return [number, place.split(",").map(Number)];
        }));
        now.stood = structuredClone(now.places);
        for (const source of now.sources) {
          const far = ([x, y]) => Math.hypot(100 * source.at[0] - x, 100 * source.at[1] - y);
          const nearest = Object.keys(now.places).sort((one, other) => far(now.places[one]) - far(now.places[other]))[0];
          source.thing = nearest && far(now.places[nearest]) < SOURCE_OF ? nearest : null;
        }
        this.$refs.hint.hidden = false;
        picture.addEventListener("pointerdown", (event) => {
          if (this.tapped(event)) return;
          const handle = event.target.closest(".turn");
          if (handle) {
            this.turnBy(event, handle);
            return;
          }
          const thing = event.target.closest("[data-thing]");
          if (!thing || thing.classList.contains("locked")) return;
          event.preventDefault();
          thing.focus({ preventScroll: true });
          this.choose(thing.dataset.thing);
          const view = thing.closest(".view");
          const scale = view.getScreenCTM().a;
          const from = { x: event.clientX, y: event.clientY, place: now.places[thing.dataset.thing].slice() };
          picture.setPointerCapture(event.pointerId);
          // The water is let on its way before anything moves: it takes a moment to begin.
          this.tell(thing.dataset.thing + ":" + from.place.join(","));
          const move = (moved) => {
            const right = (moved.clientX - from.x) / scale;
            const up = (from.y - moved.clientY) / scale;
            const [x, y, z, ...heading] = from.place;
            this.put(thing.dataset.thing, (view.dataset.view === "front" ? [x + right, y, z + up] : [x + right, y + up, z]).concat(heading));
          };
          const end = () => {
            picture.removeEventListener("pointermove", move);
            this.weigh();
          };
          picture.addEventListener("pointermove", move);
          picture.addEventListener("lostpointercapture", end, { once: true });
        });
        picture.addEventListener("focusin", (event) => {
          const thing = event.target.closest("[data-thing]");
          if (thing && !thing.classList.contains("locked")) this.choose(thing.dataset.thing);
        });
        picture.addEventListener("keydown", (event) => {
          const thing = event.target.closest("[data-thing]");
          const turns = { t: 3, u: 4 }[event.key.toLowerCase()];
          if (thing && turns && !event.ctrlKey && !event.metaKey && !thing.classList.contains("locked") && now.places[thing.dataset.thing].length > 3) {
            event.preventDefault();
            const place = now.places[thing.dataset.thing].slice();
            place[turns] += event.shiftKey ? -TURN : TURN;
            this.put(thing.dataset.thing, place);
            this.weighSoon();
            return;
          }
          const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key];
          if (!thing || !way || thing.classList.contains("locked")) return;
          event.preventDefault();
          const step = event.shiftKey ? 5 : 1;
          const [x, y, z, ...heading] = now.places[thing.dataset.thing];
          const front = thing.closest(".view").dataset.view === "front";
          this.put(thing.dataset.thing, (front ? [x + way[0] * step, y, z + way[1] * step] : [x + way[0] * step, y + way[1] * step, z]).concat(heading));
          this.weighSoon();
        });
      },
      weighSoon() {
        clearTimeout(now.pause);
        now.pause = setTimeout(() => this.weigh(), 700);
      },
      // A thing whose stream can be turned shows a handle at the end of it, in both views.
      choose(number) {
        for (const handle of this.$refs.picture.querySelectorAll(".turn")) handle.remove();
        now.chosen = number;
        if (now.places[number].length < 4) return;
        for (const view of this.$refs.picture.querySelectorAll("[data-view]")) {
          const group = document.createElementNS("http://www.w3.org/2000/svg", "g");
          group.setAttribute("class", "turn");
          for (const [name, kind] of [["line", "turn-line"], ["circle", "turn-handle"]]) {
            const part = document.createElementNS("http://www.w3.org/2000/svg", name);
            part.setAttribute("class", kind);
            group.append(part);
          }
          view.append(group);
        }
        this.placeHandles();
      },
      placeHandles() {
        const place = now.places[now.chosen];
        if (!place || place.length < 4) return;
        const [x, y, z, around, up] = place;
        const [a, b] = [(around * Math.PI) / 180, (up * Math.PI) / 180];
        const reach = Math.min(now.tank.width, 40) / 3;
        for (const view of this.$refs.picture.querySelectorAll("[data-view]")) {
          const front = view.dataset.view === "front";
          const [fromX, fromY] = front ? [x, now.tank.height - z] : [x, now.tank.width - y];
          const [dx, dy] = front ? [Math.cos(a) * Math.cos(b), -Math.sin(b)] : [Math.cos(a) * Math.cos(b), -Math.sin(a) * Math.cos(b)];
          const [line, circle] = view.querySelector(".turn").children;
          for (const [name, value] of [["x1", fromX], ["y1", fromY], ["x2", fromX + reach * dx], ["y2", fromY + reach * dy]]) line.setAttribute(name, value);
          for (const [name, value] of [["cx", fromX + reach * dx], ["cy", fromY + reach * dy], ["r", 1.6]]) circle.setAttribute(name, value);
        }
      },
      // Dragging the handle turns the stream from above, and tilts it from the front.
      turnBy(event, handle) {
        event.preventDefault();
        const picture = this.$refs.picture;
        const view = handle.closest("[data-view]");
        const number = now.chosen;
        picture.setPointerCapture(event.pointerId);
        this.tell(number + ":" + now.places[number].join(","));
        const move = (moved) => {
          const [x, y, z, around, up] = now.places[number];
          const at = new DOMPoint(moved.clientX, moved.clientY).matrixTransform(view.getScreenCTM().inverse());
          if (view.dataset.view === "above") {
            this.put(number, [x, y, z, (Math.atan2(now.tank.width - y - at.y, at.x - x) * 180) / Math.PI, up]);
          } else {
            this.put(number, [x, y, z, around, (Math.atan2(now.tank.height - z - at.y, Math.abs(at.x - x)) * 180) / Math.PI]);
          }
        };
        picture.addEventListener("pointermove", move);
        picture.addEventListener("lostpointercapture", () => { picture.removeEventListener("pointermove", move); this.weigh(); }, { once: true });
      },
      // Puts a thing elsewhere: on both views, and in the water that is stepped for us.
      put(number, place) {
        // Headings go round, tilts do not.
        const wrapped = place.map((value, index) => (index === 3 ? ((value % 360) + 360) % 360 : index === 4 ? Math.min(Math.max(value, -90), 90) : value));
        now.places[number] = wrapped.map((value) => Math.round(value * 10) / 10);
        const [x, y, z, around, up] = now.places[number];
        const stood = now.stood[number];
        const { height, width } = now.tank;
        const turned = { front: "", above: "" };
        if (around !== undefined) {
          // What points the other way seen from the front is drawn mirrored, then tilted.
          const right = (degrees) => Math.cos((degrees * Math.PI) / 180) >= 0;
          const flips = right(around) !== right(stood[3]) ? -1 : 1;
          const tilts = (right(around) ? -1 : 1) * up - flips * (right(stood[3]) ? -1 : 1) * stood[4];
          const about = (px, py, words) => " translate(" + px + " " + py + ") " + words + " translate(" + -px + " " + -py + ")";
          turned.front = about(stood[0], height - stood[2], "rotate(" + tilts + ") scale(" + flips + " 1)");
          turned.above = about(stood[0], width - stood[1], "rotate(" + (stood[3] - around) + ")");
        }
        for (const [view, right, down] of [["front", x - stood[0], stood[2] - z], ["above", x - stood[0], stood[1] - y]]) {
          const thing = this.$refs.picture.querySelector("[data-view=" + view + "] [data-thing='" + number + "']");
          thing.setAttribute("transform", "translate(" + right + " " + down + ")" + turned[view]);
        }
        for (const source of now.sources.filter((source) => source.thing === number)) {
          [x, y, z].forEach((cm, axis) => { source.at[axis] = source.stood[axis] + (cm - stood[axis]) / 100; });
        }
        this.placeHandles();
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
            this.paint();
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
            part = page.querySelector("#try") || page.querySelector("main");
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
        now.water = now.settled = unpack(await response.arrayBuffer());
        this.paint();
        this.draw();
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
      // The drift test: the next tap on the drawing says a place.
      tap(what) {
        now.tap = now.tap === what ? null : what;
        this.$refs.picture.classList.toggle("is-tapped", Boolean(now.tap));
        for (const button of this.$root.querySelectorAll(".taps .button")) button.setAttribute("aria-pressed", String(Boolean(now.tap) && button.id === "tap-" + now.tap));
        if (now.tap) this.$refs.picture.scrollIntoView({ block: "nearest" });
      },
      tapped(event) {
        if (!now.tap) return false;
        const view = event.target.closest("[data-view]");
        if (!view) return false;
        event.preventDefault();
        const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(view.getScreenCTM().inverse());
        const front = view.dataset.view === "front";
        const write = (name, cm) => { this.$root.querySelector("#drift-test [name=" + name + "]").value = String(Math.round((10 * cm) / Number(this.$root.dataset.unitCm)) / 10); };
        const within = (cm, most) => Math.min(Math.max(cm, 0), most);
        write(now.tap + "_x", within(at.x, 100 * now.water.size[0]));
        if (!front) write(now.tap + "_y", within(now.tank.width - at.y, now.tank.width));
        if (front && now.tap === "to") write("to_z", within(now.tank.height - at.y, now.tank.bed + now.tank.depth()));
        now.taps = now.taps.filter((tap) => tap.front !== front || tap.what !== now.tap).concat([{ what: now.tap, front, x: at.x, y: at.y }]);
        this.draw();
        return true;
      },
      drawTaps(context, front, above, colour) {
        context.strokeStyle = context.fillStyle = colour;
        context.lineWidth = 2;
        for (const tap of now.taps) {
          const view = tap.front ? front : above;
          const [x, y, r] = [view.x + view.a * tap.x, view.y + view.a * tap.y, Math.max(6, view.a * 1.4)];
          context.beginPath();
          context.arc(x, y, r, 0, 7);
          context.moveTo(x - r, y);
          context.lineTo(x + r, y);
          context.moveTo(x, y - r);
          context.lineTo(x, y + r);
          context.stroke();
          context.fillText(tap.what === "from" ? "let go" : "seen", x + r + 3, y - 3);
        }
      },
      // Better places are searched for by the program, which tells how far it is.
      search() {
        this.stopSearch();
        const { better, searching, searched, share, found } = this.$refs;
        const source = new EventSource(this.$root.dataset.tank + "/better?" + new URLSearchParams(new FormData(better)));
        now.search = source;
        found.replaceChildren();
        this.markPlaces([]);
        searching.hidden = false;
        searched.textContent = "Beginning";
        share.value = 0;
        const end = (words) => {
          this.stopSearch();
          if (words) found.textContent = words;
        };
        source.addEventListener("progress", (event) => {
          const [percent, ...words] = event.data.split(" ");
          share.value = Number(percent);
          searched.textContent = words.join(" ");
        });
        source.addEventListener("found", (event) => {
          end("");
          found.replaceChildren(...new DOMParser().parseFromString(event.data, "text/html").body.children);
          this.showFound();
        });
        source.addEventListener("failed", (event) => end(event.data));
        source.addEventListener("error", () => end("The search was not finished: the program refused it, or does not answer. At least one thing has to matter."));
      },
      stopSearch() {
        if (now.search) now.search.close();
        now.search = null;
        this.$refs.searching.hidden = true;
      },
      showFound() {
        const cards = [...this.$refs.found.querySelectorAll("[data-moves]")];
        this.markPlaces(cards.map((card) => card.dataset.moves));
        for (const card of cards) {
          card.querySelector("[data-show-place]").addEventListener("click", () => {
            const [number, place] = card.dataset.moves.split(":");
            const wanted = place.split(",").map(Number);
            this.choose(number);
            this.put(number, wanted.concat(now.stood[number].slice(wanted.length)));
            this.weigh();
            this.$refs.picture.scrollIntoView({ block: "nearest" });
          });
        }
        this.$refs.found.focus({ preventScroll: true });
      },
      // Letters on both views, where the cards are.
      markPlaces(moves) {
        for (const mark of this.$refs.picture.querySelectorAll(".found-place")) mark.remove();
        for (const [index, one] of moves.entries()) {
          const [x, y, z] = one.split(":")[1].split(",").map(Number);
          for (const view of this.$refs.picture.querySelectorAll("[data-view]")) {
            const group = document.createElementNS("http://www.w3.org/2000/svg", "g");
            group.setAttribute("class", "found-place");
            const down = view.dataset.view === "front" ? now.tank.height - z : now.tank.width - y;
            group.setAttribute("transform", "translate(" + x + " " + down + ")");
            const ring = document.createElementNS("http://www.w3.org/2000/svg", "circle");
            ring.setAttribute("r", 2);
            const letter = document.createElementNS("http://www.w3.org/2000/svg", "text");
            letter.setAttribute("y", 0.9);
            letter.textContent = "ABC"[index];
            group.append(ring, letter);
            view.append(group);
          }
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
