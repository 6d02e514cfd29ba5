// Water on a page, shared by Drift and by the comparison of tries: the packed flow, maps of it under a drawing, and where it is cut.
// The flow comes packed from the program: see `Field::packed`, and `Survey::packed` for what follows it.
export function unpack(buffer) {
  const head = new DataView(buffer);
  const [nx, ny, nz] = [0, 4, 8].map((at) => head.getUint32(at, true));
  const h = head.getFloat32(12, true);
  const unit = head.getFloat32(16, true);
  const [corners, cells] = [nx * ny * nz, (nx - 1) * (ny - 1) * (nz - 1)];
  let at = 20;
  const take = (type, count) => {
    const bytes = count * type.BYTES_PER_ELEMENT;
    at += bytes;
    return new type(buffer.slice(at - bytes, at));
  };
  const water = { nx, ny, nz, h, unit, size: [(nx - 1) * h, (ny - 1) * h, (nz - 1) * h] };
  water.speeds = take(Int16Array, 3 * corners);
  water.rock = take(Uint8Array, cells);
  // Water that is stepped while it is watched comes without maps: those are of settled water.
  if (at < buffer.byteLength) {
    at += 4 + 2 * corners;
    water.age = take(Uint16Array, cells);
    water.bubbles = take(Uint16Array, cells);
    water.places = take(Float32Array, 5 * head.getUint32((at += 4) - 4, true));
  }
  return water;
}

// Speed at a place, linear between the corners around it.
export function speedAt(water, [px, py, pz], into) {
  const along = (value, n) => {
    const at = Math.min(Math.max(value / water.h, 0), n - 1.001);
    const low = Math.floor(at);
    return [low, at - low];
  };
  const [i, x] = along(px, water.nx);
  const [j, y] = along(py, water.ny);
  const [k, z] = along(pz, water.nz);
  into[0] = into[1] = into[2] = 0;
  for (let corner = 0; corner < 8; corner += 1) {
    const [a, b, c] = [corner & 1, (corner >> 1) & 1, corner >> 2];
    const share = (a ? x : 1 - x) * (b ? y : 1 - y) * (c ? z : 1 - z) * water.unit;
    const at = 3 * (i + a + water.nx * (j + b + water.ny * (k + c)));
    into[0] += share * water.speeds[at];
    into[1] += share * water.speeds[at + 1];
    into[2] += share * water.speeds[at + 2];
  }
}

export function cellAt(water, [px, py, pz]) {
  const cell = (value, n) => Math.min(Math.max(Math.floor(value / water.h), 0), n - 2);
  return cell(px, water.nx) + (water.nx - 1) * (cell(py, water.ny) + (water.ny - 1) * cell(pz, water.nz));
}

export function inRock(water, place) {
  return water.rock[cellAt(water, place)] === 1;
}

// The maps: a value at a place, the limits between its five classes, which end is good, and which class is left the colour of plain
// water. Differences have limits of their own.
const speedThere = [0, 0, 0];
export const MAPS = {
  speed: {
    limits: [1, 2, 4, 8], differences: [-3, -0.5, 0.5, 3], unit: "cm/s", more: "faster", less: "slower", bestFirst: false,
    at: (water, place) => { speedAt(water, place, speedThere); return 100 * Math.hypot(...speedThere); },
  },
  age: {
    limits: [1, 2, 5, 10], differences: [-4, -1, 1, 4], unit: "min", more: "longer", less: "shorter", bestFirst: true,
    at: (water, place) => water.age && water.age[cellAt(water, place)] / 60,
  },
  bubbles: {
    limits: [0.5, 2, 5, 20], differences: [-5, -1, 1, 5], unit: "% pass by", more: "more", less: "fewer", bestFirst: true, clear: 4,
    at: (water, place) => water.bubbles && water.bubbles[cellAt(water, place)] / 655.35,
  },
  places: { limits: [1, 3, 6, 12], unit: "% of the muck, less half of the bubbles", bestFirst: false },
  rests: { limits: [1, 3, 6, 12], differences: [-5, -1, 1, 5], unit: "% of all muck", more: "more", less: "less", bestFirst: true },
};

// The class of a value, 0 for the worst and 4 for the best.
export function classOf(value, limits, bestFirst) {
  const step = limits.filter((limit) => value >= limit).length;
  return bestFirst ? 4 - step : step;
}

// Colours of the classes, of plain water and of what is no water.
export function colours() {
  const style = getComputedStyle(document.documentElement);
  const colour = (name) => style.getPropertyValue(name).trim();
  return Object.assign([0, 1, 2, 3, 4].map((step) => colour("--map-" + step)), { clear: colour("--water"), rock: colour("--rule") });
}

// Writes a legend: five swatches with what they stand for.
export function writeLegend(list, map, difference) {
  const limits = difference ? map.differences : map.limits;
  const words = (step) => {
    const [from, to] = [limits[step - 1], limits[step]];
    if (difference) {
      if (step === 2) return "about the same";
      const [a, b] = step < 2 ? [-to, from === undefined ? undefined : -from] : [from, to];
      return (b === undefined ? "over " + a : a + " to " + b) + " " + map.unit + " " + (step < 2 ? map.less : map.more);
    }
    if (from === undefined) return "under " + to + " " + map.unit;
    return to === undefined ? "over " + from + " " + map.unit : from + " to " + to;
  };
  list.replaceChildren(...limits.concat(0).map((_, step) => {
    const item = document.createElement("li");
    const swatch = document.createElement("span");
    const kind = map.bestFirst ? 4 - step : step;
    swatch.className = "swatch map-" + (kind === map.clear && !difference ? "clear" : kind);
    item.append(swatch, " " + words(step));
    return item;
  }));
}

// The two views of a drawing as they lie on a canvas over or under it: pixels to a centimetre, and where the glass begins.
export function viewsOf(picture, canvas) {
  const box = picture.getBoundingClientRect();
  const ratio = window.devicePixelRatio || 1;
  const [width, height] = [Math.round(box.width * ratio), Math.round(box.height * ratio)];
  if (canvas.width !== width || canvas.height !== height) [canvas.width, canvas.height] = [width, height];
  return ["front", "above"].map((name) => {
    const matrix = picture.querySelector(".view." + name).getScreenCTM();
    return { a: matrix.a * ratio, x: (matrix.e - box.left) * ratio, y: (matrix.f - box.top) * ratio };
  });
}

// Edge of a square of a map, cm.
const SQUARE = 1;

// Paints a map under both views. `tank` has bed, height and width in cm, `cut` y and z in cm; `classAt(place)` gives the class at a
// place in m from the bed, or null where there is nothing.
export function paintMap(picture, canvas, tank, cut, water, classAt) {
  const views = viewsOf(picture, canvas);
  const context = canvas.getContext("2d");
  context.clearRect(0, 0, canvas.width, canvas.height);
  if (!classAt) return;
  const palette = colours();
  const [length, width, depth] = water.size.map((side) => 100 * side);
  const paint = (view, columns, rows, top, placeOf) => {
    for (let row = 0; row < rows; row += 1) {
      for (let column = 0; column < columns; column += 1) {
        const place = placeOf((column + 0.5) * SQUARE, (row + 0.5) * SQUARE);
        const step = inRock(water, place) ? "rock" : classAt(place);
        if (step === null) continue;
        context.fillStyle = palette[step];
        const [x, y] = [view.x + view.a * column * SQUARE, view.y + view.a * (top + row * SQUARE)];
        context.fillRect(Math.floor(x), Math.floor(y), Math.ceil(view.a * SQUARE) + 1, Math.ceil(view.a * SQUARE) + 1);
      }
    }
  };
  const [front, above] = views;
  const surface = tank.height - tank.bed - depth;
  paint(front, Math.round(length / SQUARE), Math.round(depth / SQUARE), surface, (x, down) => [x / 100, cut.y / 100, (depth - down) / 100]);
  const z = Math.min(Math.max(cut.z - tank.bed, 0.5), depth - 0.5);
  paint(above, Math.round(length / SQUARE), Math.round(tank.width / SQUARE), 0, (x, down) => [x / 100, (width - down) / 100, z / 100]);
}

// Paints the intake score: in each view the best of what lies behind each place.
export function paintPlaces(picture, canvas, tank, water) {
  const [front, above] = viewsOf(picture, canvas);
  const context = canvas.getContext("2d");
  context.clearRect(0, 0, canvas.width, canvas.height);
  if (!water.places) return;
  const palette = colours();
  const depth = 100 * water.size[2];
  for (const [view, seen] of [[front, (x, y, z) => [x, tank.height - tank.bed - z]], [above, (x, y) => [x, tank.width - y]]]) {
    const best = new Map();
    for (let at = 0; at < water.places.length; at += 5) {
      const [x, y, z, muck, bubbles] = water.places.slice(at, at + 5);
      const place = seen(100 * x, 100 * y, 100 * z);
      const key = place.map(Math.round).join(" ");
      const score = 100 * (muck - 0.5 * bubbles);
      if (!best.has(key) || best.get(key).score < score) best.set(key, { place, score });
    }
    for (const { place: [x, y], score } of [...best.values()].sort((one, other) => one.score - other.score)) {
      context.fillStyle = palette[classOf(score, MAPS.places.limits, false)];
      context.beginPath();
      context.arc(view.x + view.a * x, view.y + view.a * y, view.a * Math.min(2, depth / 12), 0, 7);
      context.fill();
    }
  }
}

// Grips that move the cut, in every drawing within `root`: by pointer and by keys. `moved` is told after each move.
export function holdCuts(root, tank, cut, moved) {
  const grips = [...root.querySelectorAll(".cut")];
  const place = () => {
    for (const grip of grips) {
      const axis = grip.dataset.cut;
      const down = axis === "z" ? tank.height - cut.z : tank.width - cut.y;
      grip.setAttribute("transform", "translate(0 " + down + ")");
      grip.setAttribute("aria-valuenow", Math.round(cut[axis]));
      grip.setAttribute("aria-valuetext", tank.print(cut[axis]) + (axis === "z" ? " above the floor" : " from the front"));
    }
  };
  const put = (axis, value) => {
    const most = axis === "z" ? tank.bed + tank.depth() : tank.width;
    cut[axis] = Math.min(Math.max(value, axis === "z" ? tank.bed : 0), most);
    place();
    moved();
  };
  for (const grip of grips) {
    const axis = grip.dataset.cut;
    grip.addEventListener("pointerdown", (event) => {
      event.preventDefault();
      event.stopPropagation();
      grip.focus({ preventScroll: true });
      grip.setPointerCapture(event.pointerId);
      const scale = grip.closest(".view").getScreenCTM().a;
      const from = { y: event.clientY, value: cut[axis] };
      const move = (to) => put(axis, from.value + (from.y - to.clientY) / scale);
      grip.addEventListener("pointermove", move);
      grip.addEventListener("lostpointercapture", () => grip.removeEventListener("pointermove", move), { once: true });
    });
    grip.addEventListener("keydown", (event) => {
      const step = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1, PageUp: 5, PageDown: -5 }[event.key];
      if (!step) return;
      event.preventDefault();
      event.stopPropagation();
      put(axis, cut[axis] + step);
    });
  }
  place();
}

// The tank's lengths off the page, with words for them in the keeper's unit.
export function tankOf(data, depth) {
  const per = Number(data.unitCm || 1);
  return {
    bed: Number(data.bed), height: Number(data.height), width: Number(data.width), depth,
    print: (cm) => (cm / per).toFixed(per > 1 ? 1 : 0) + " " + (data.unit || "cm"),
  };
}

export function cutWords(tank, cut) {
  return "Seen from the front: the water " + tank.print(cut.y) + " from the front. From above: " + tank.print(cut.z) + " above the floor. The dashed lines move.";
}
