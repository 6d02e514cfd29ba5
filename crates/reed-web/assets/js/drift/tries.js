// Drift: things tried elsewhere. They are moved or turned on both views, the water is stepped for us while they are, and when they
// come to rest the try is settled and measured.
// Milliseconds between two moves that are told.

import { announce } from "../announce.js";
import { LONGEST } from "./time.js";
import { unpack } from "./water.js";

const TELL_EVERY = 50;
// Degrees that a key turns a stream.
const TURN = 15;
// A source of bubbles goes with the thing that stands so near, cm.
const SOURCE_OF = 10;

// A part of the page's component; `now` is what it keeps from Alpine.
export const tryThings = (now) => ({
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
      for (const [name, kind] of [["line", "turn-line"], ["circle", "turn-reach"], ["circle", "turn-handle"]]) {
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
      const [line, touch, handle] = view.querySelector(".turn").children;
      for (const [name, value] of [["x1", fromX], ["y1", fromY], ["x2", fromX + reach * dx], ["y2", fromY + reach * dy]]) line.setAttribute(name, value);
      // Fingers are wider than the handle.
      for (const [circle, radius] of [[touch, 5], [handle, 1.6]]) {
        for (const [name, value] of [["cx", fromX + reach * dx], ["cy", fromY + reach * dy], ["r", radius]]) circle.setAttribute(name, value);
      }
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
    for (const source of now.sources.filter((one) => one.thing === number)) {
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
      } catch {
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
});
