// Drift: better places that the program searches for, and places of the drift test that are tapped.
// Parts of the page's component; `now` is what it keeps from Alpine.
import { listen } from "../page/listening.js";

export const searchPlaces = (now) => ({
  // Better places are searched for by the program, which tells how far it is.
  search() {
    this.stopSearch();
    this.markPlaces([]);
    const { better } = this.$refs;
    now.search = listen(this.$root.dataset.tank + "/better?" + new URLSearchParams(new FormData(better)), this.$refs, {
      found: () => this.showFound(),
      ended: () => { now.search = null; },
    });
  },
  stopSearch() {
    if (now.search) now.search();
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
});

export const tapPlaces = (now) => ({
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
});
