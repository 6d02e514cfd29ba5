// Where a dragged thing snaps to: its place is 20, its body reaches from 5 below to 5 above.
const { onGrid, snap } = await load("tank/snapping.js");
const to = (edges, middles) => ({ edges, middles });
is(snap(20.2, -5, 5, to([], []), false).place, 20, "the grid of half centimetres");
is(snap(20.3, -5, 5, to([], []), false).place, 20.5, "the next line of it");
is(snap(20.34, -5, 5, to([0], []), true).place, 20.3, "freely, to the millimetre");
is(snap(5.6, -5, 5, to([0], []), false).place, 5, "its lower edge on a wall");
is(snap(5.6, -5, 5, to([0], []), false).on, 0, "and says which");
is(snap(94.4, -5, 5, to([100], []), false).place, 95, "its upper edge on a wall");
is(snap(49.3, -5, 5, to([], [50]), false).place, 50, "its middle on a middle");
is(snap(48.4, -5, 5, to([], [50]), false).on, null, "nothing is near");
is(snap(49.6, -5, 5, to([54.9], [50]), false).place, 49.9, "the nearest of two");
is(onGrid(0.1, false), 0.5, "never nothing");
is(onGrid(7.26, false), 7.5, "half centimetres");
is(Math.abs(onGrid(7.26, true) - 7.3) < 1e-9, true, "millimetres");
