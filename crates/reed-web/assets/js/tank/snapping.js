// Where a thing snaps to while it is dragged.

const CM_STEP = 0.5; // a thing snaps to half centimetres
const NEAR = 1.0; // and to walls, water and other things from so near, in cm

// A size or a place on the grid, cm; freely, to the millimetre.
export function onGrid(cm, free) {
  const step = free ? 0.1 : CM_STEP;
  return Math.max(step, Math.round(cm / step) * step);
}

// The nearest place to snap to: an edge of the thing on an edge, its place on a middle, else the grid.
export function snap(place, low, high, to, free) {
  if (free) return { place: Math.round(place * 10) / 10, on: null };
  let best = { off: NEAR, place: Math.round(place / CM_STEP) * CM_STEP, on: null };
  const consider = (at, on) => {
    const off = Math.abs(at - place);
    if (off < best.off) best = { off, place: at, on };
  };
  for (const edge of to.edges) {
    consider(edge - low, edge);
    consider(edge - high, edge);
    consider(edge, edge);
  }
  for (const middle of to.middles) consider(middle, middle);
  return best;
}
