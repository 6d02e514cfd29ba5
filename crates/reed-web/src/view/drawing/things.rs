//! Each kind of thing as it looks from the front and from above. To add a kind, add its arm in
//! [`thing`].

use reed_core::tank::thing::{
    Background, BackgroundStyle, Body, Cover, Heading, Outlet, OutletStyle, Rock, RockMaterial,
    RockShape, SpongeDrive, SpongeFilter, Thing, ThingKind, Wall,
};
use reed_core::tank::{Bubbles, Running, Tank};

use super::pen::{Num, Pen, scatter};
use super::view::{Outline, Side, View};

/// Draws a thing.
pub(super) fn thing(pen: &mut Pen, view: &View, thing: &Thing, tank: &Tank) {
    let body = thing.body(tank);
    let (x, y, z) = (thing.x.as_cm(), thing.y.as_cm(), thing.z.as_cm());
    let mouth = view.place(x, y, z);
    match &thing.what {
        ThingKind::Rock(rock) => draw_rock(pen, view, &body, thing.number.0, rock),
        ThingKind::Outlet(outlet) => draw_outlet(pen, view, &body, (x, y, z), outlet),
        ThingKind::Intake(intake) => {
            pipe(pen, view, (x, y), z);
            outline(
                pen,
                if intake.cover == Cover::Sponge {
                    "sponge"
                } else {
                    "device"
                },
                view,
                &body,
                0.6,
            );
            slits(pen, &view.outline(&body));
        }
        ThingKind::AirStone(stone) => {
            tube(pen, view, (x, y), z);
            outline(pen, "device", view, &body, 0.7);
            bubbles(pen, view, (x, y, z + 2.0), stone.bubbles, stone.running);
        }
        ThingKind::SpongeFilter(sponge) => draw_sponge_filter(pen, view, &body, (x, y, z), sponge),
        ThingKind::HangOnBack(filter) => {
            hang_on(pen, view, &body, (x, y, z), filter.wall, filter.running);
        }
        ThingKind::InternalFilter(filter) => {
            outline(pen, "device", view, &body, 0.8);
            slits(pen, &view.outline(&body));
            let top = view.place(x, y, body.top - 2.0);
            jet(
                pen,
                view,
                top,
                Heading {
                    around: filter.heading,
                    up: filter.up,
                },
                view.length * 0.18,
            );
        }
        ThingKind::Powerhead(powerhead) => {
            outline(pen, "device", view, &body, 1.5);
            if powerhead.running != Running::Stopped {
                jet(
                    pen,
                    view,
                    mouth,
                    Heading {
                        around: powerhead.heading,
                        up: powerhead.up,
                    },
                    view.length * 0.22,
                );
            }
        }
        ThingKind::Overflow(_) => {
            outline(pen, "overflow", view, &body, 0.5);
            comb(pen, view, &body);
        }
        ThingKind::Background(background) => moulded(pen, view, &body, background),
        ThingKind::Heater(_) => {
            outline(pen, "heater", view, &body, 1.4);
            core(pen, "coil", &view.outline(&body));
        }
        ThingKind::Uv(_) => {
            outline(pen, "device", view, &body, 1.4);
            core(pen, "lamp", &view.outline(&body));
        }
    }
}

/// A root is gnarled, a rock is rough, a cylinder is a pot or a pillar.
fn draw_rock(pen: &mut Pen, view: &View, body: &Body, seed: u32, rock: &Rock) {
    let class = match rock.material {
        RockMaterial::Root => "rock root",
        RockMaterial::LiveRock => "rock live",
        RockMaterial::Ceramic => "rock pot",
        RockMaterial::Stone => "rock",
    };
    match (rock.material, rock.shape) {
        (RockMaterial::Root, _) => root(pen, class, &view.outline(body), view.side, seed),
        (_, RockShape::Box) => rough(pen, class, &view.outline(body), seed),
        (_, RockShape::Cylinder) => outline(pen, class, view, body, 1.5),
    }
}

/// An outlet with its pipe and its stream.
fn draw_outlet(
    pen: &mut Pen,
    view: &View,
    body: &Body,
    (x, y, z): (f64, f64, f64),
    outlet: &Outlet,
) {
    let mouth = view.place(x, y, z);
    pipe(pen, view, (x, y), z);
    let heading = Heading {
        around: outlet.heading,
        up: outlet.up,
    };
    match outlet.style {
        OutletStyle::SprayBar | OutletStyle::Slotted => outline(pen, "device", view, body, 0.6),
        OutletStyle::Nozzle | OutletStyle::Flared => nozzle(
            pen,
            view,
            mouth,
            heading,
            outlet.bore.as_mm() / 10.0,
            outlet.style,
        ),
    }
    jet(pen, view, mouth, heading, view.length * 0.2);
}

/// A sponge with its riser, and what drives it.
fn draw_sponge_filter(
    pen: &mut Pen,
    view: &View,
    body: &Body,
    (x, y, z): (f64, f64, f64),
    sponge: &SpongeFilter,
) {
    let top = z + sponge.height.as_cm() + sponge.riser.as_cm();
    outline(pen, "sponge", view, body, 1.0);
    slits(pen, &view.outline(body));
    if view.side == Side::Front {
        pen.line("pipe", view.place(x, y, body.top), view.place(x, y, top));
    }
    match sponge.drive {
        SpongeDrive::Air => {
            tube(pen, view, (x + 1.0, y), top);
            bubbles(pen, view, (x, y, top), Bubbles::Coarse, sponge.running);
        }
        SpongeDrive::Powerhead => {
            let mouth = view.place(x, y, top);
            pen.rect("device", (mouth.0 - 2.0, mouth.1 - 1.5), (4.0, 3.0), 0.8);
            jet(
                pen,
                view,
                mouth,
                Heading {
                    around: sponge.heading,
                    up: sponge.up,
                },
                view.length * 0.15,
            );
        }
    }
}

fn outline(pen: &mut Pen, class: &str, view: &View, body: &Body, round: f64) {
    match view.outline(body) {
        Outline::Box {
            x,
            y,
            width,
            height,
        } => pen.rect(
            class,
            (x, y),
            (width, height),
            round.min(width / 2.0).min(height / 2.0),
        ),
        Outline::Circle { x, y, radius } => pen.circle(class, (x, y), radius),
        Outline::Polygon(points) => pen.polygon(class, &points),
    }
}

/// A rock is no box: its corners are knocked off, differently for each.
fn rough(pen: &mut Pen, class: &str, outline: &Outline, seed: u32) {
    let corners = match outline {
        Outline::Box {
            x,
            y,
            width,
            height,
        } => vec![
            (*x, *y),
            (x + width, *y),
            (x + width, y + height),
            (*x, y + height),
        ],
        Outline::Polygon(points) => points.clone(),
        Outline::Circle { x, y, radius } => return pen.circle(class, (*x, *y), *radius),
    };
    let toward = |from: (f64, f64), to: (f64, f64), share: f64| {
        (
            from.0 + (to.0 - from.0) * share,
            from.1 + (to.1 - from.1) * share,
        )
    };
    let mut points = Vec::with_capacity(8);
    for (index, corner) in (0u32..).zip(&corners) {
        let here = index as usize;
        let (before, after) = (corners[(here + 3) % 4], corners[(here + 1) % 4]);
        points.push(toward(
            *corner,
            before,
            0.06 + 0.16 * scatter(seed * 8 + 2 * index),
        ));
        points.push(toward(
            *corner,
            after,
            0.06 + 0.16 * scatter(seed * 8 + 2 * index + 1),
        ));
    }
    pen.polygon(class, &points);
}

/// A root: a trunk along its length and branches that reach the edges of the room it takes.
fn root(pen: &mut Pen, class: &str, outline: &Outline, side: Side, seed: u32) {
    let (x, y, width, height) = outline.bounds();
    let corners = match outline {
        Outline::Polygon(points) if points.len() == 4 => [points[0], points[1], points[3]],
        // Lower left, lower right, upper left.
        _ => [(x, y + height), (x + width, y + height), (x, y)],
    };
    let at = |u: f64, v: f64| {
        let along = |a: f64, b: f64, c: f64| a + u * (b - a) + v * (c - a);
        (
            along(corners[0].0, corners[1].0, corners[2].0),
            along(corners[0].1, corners[1].1, corners[2].1),
        )
    };
    let thick = 0.24 * width.min(height);
    let (low, high) = if side == Side::Front {
        (0.12, 0.38)
    } else {
        (0.5, 0.5)
    };
    branch(
        pen,
        class,
        at(0.01, low),
        at(0.99, high),
        (thick, thick * 0.35),
        0.12,
    );
    for (index, (from, to)) in (0u32..).zip([(0.22, 0.06), (0.45, 0.3), (0.6, 0.72), (0.78, 0.97)])
    {
        let reach = 0.72 + 0.28 * scatter(seed * 4 + index);
        let tip = if side == Side::Front || index % 2 == 0 {
            reach
        } else {
            1.0 - reach
        };
        let bow = if to < from { 0.22 } else { -0.22 };
        branch(
            pen,
            class,
            at(from, low + (high - low) * from),
            at(to, tip),
            (thick * 0.7, thick * 0.08),
            bow,
        );
    }
}

/// A limb that bends and thins towards its tip.
fn branch(
    pen: &mut Pen,
    class: &str,
    from: (f64, f64),
    to: (f64, f64),
    (thick, thin): (f64, f64),
    bow: f64,
) {
    let (dx, dy) = (to.0 - from.0, to.1 - from.1);
    let long = dx.hypot(dy).max(1e-6);
    let (ax, ay) = (-dy / long / 2.0, dx / long / 2.0);
    let edge = |at: (f64, f64), width: f64| (at.0 + ax * width, at.1 + ay * width);
    let knee = (from.0 + dx * 0.5 - dy * bow, from.1 + dy * 0.5 + dx * bow);
    let middle = f64::midpoint(thick, thin);
    let points = [
        edge(from, thick),
        edge(knee, middle),
        edge(to, thin),
        edge(to, -thin),
        edge(knee, -middle),
        edge(from, -thick),
    ];
    let [a, b, c, d, e, f] = points.map(|(x, y)| format!("{} {}", Num(x), Num(y)));
    pen.path(class, format_args!("M{a}Q{b} {c}L{d}Q{e} {f}Z"));
}

/// The pipe of an outlet or intake, from above the rim down; from above it is a dot.
fn pipe(pen: &mut Pen, view: &View, (x, y): (f64, f64), z: f64) {
    match view.side {
        Side::Front => pen.line(
            "pipe",
            view.place(x, y, view.height + 2.0),
            view.place(x, y, z),
        ),
        Side::Above => pen.circle("pipe-end", view.place(x, y, z), 0.9),
    }
}

fn tube(pen: &mut Pen, view: &View, (x, y): (f64, f64), z: f64) {
    if view.side == Side::Front {
        pen.line(
            "tube",
            view.place(x, y, view.height + 2.0),
            view.place(x, y, z),
        );
    }
}

fn nozzle(
    pen: &mut Pen,
    view: &View,
    (x, y): (f64, f64),
    heading: Heading,
    bore: f64,
    style: OutletStyle,
) {
    let (dx, dy) = view.direction(heading);
    let (back, front) = (
        bore.max(0.8) / 2.0,
        if style == OutletStyle::Flared {
            bore.max(1.5)
        } else {
            bore.max(0.8) / 2.0
        },
    );
    let long = 3.0;
    // Across the stream on the picture.
    let norm = dx.hypot(dy).max(1e-6);
    let (ax, ay) = (-dy / norm, dx / norm);
    let at = |along: f64, across: f64| (x + dx * along + ax * across, y + dy * along + ay * across);
    pen.polygon(
        "device",
        &[
            at(-long, -back),
            at(0.5, -front),
            at(0.5, front),
            at(-long, back),
        ],
    );
}

/// The first stretch of a stream: three dashes that spread as a jet does.
fn jet(pen: &mut Pen, view: &View, (x, y): (f64, f64), heading: Heading, reach: f64) {
    let (dx, dy) = view.direction(heading);
    let reach = reach.clamp(6.0, 35.0);
    let flat = dx.hypot(dy);
    if flat < 0.05 {
        return pen.circle("jet", (x, y), 1.8);
    }
    let (ax, ay) = (-dy / flat, dx / flat);
    for (spread, share) in [(0.0, 1.0), (0.12, 0.75), (-0.12, 0.75)] {
        let end = reach * share;
        let from = (x + dx * 2.0, y + dy * 2.0);
        let to = (
            x + dx * end + ax * spread * end,
            y + dy * end + ay * spread * end,
        );
        pen.line("jet", from, to);
    }
}

fn slits(pen: &mut Pen, outline: &Outline) {
    let Outline::Box {
        x,
        y,
        width,
        height,
    } = outline
    else {
        return;
    };
    for share in [0.25, 0.5, 0.75] {
        pen.line(
            "slit",
            (x + width * 0.2, y + height * share),
            (x + width * 0.8, y + height * share),
        );
    }
}

/// What glows inside a rod.
fn core(pen: &mut Pen, class: &str, outline: &Outline) {
    let (x, y, width, height) = outline.bounds();
    let (from, to) = if height > width {
        (
            (x + width / 2.0, y + height * 0.2),
            (x + width / 2.0, y + height * 0.85),
        )
    } else {
        (
            (x + width * 0.2, y + height / 2.0),
            (x + width * 0.85, y + height / 2.0),
        )
    };
    pen.line(class, from, to);
}

fn bubbles(
    pen: &mut Pen,
    view: &View,
    (x, y, z): (f64, f64, f64),
    size: Bubbles,
    running: Running,
) {
    if running == Running::Stopped {
        return;
    }
    let radius = if size == Bubbles::Fine { 0.45 } else { 0.8 };
    match view.side {
        Side::Front => {
            let (mut rise, mut index) = (1.5, 0);
            while z + rise < view.level - 0.5 {
                let sway = 2.4 * (scatter(index) - 0.5) * (1.0 + rise / 20.0);
                pen.circle("bubble", view.place(x + sway, y, z + rise), radius);
                rise += 2.6;
                index += 1;
            }
        }
        Side::Above => {
            for index in 0..7 {
                let (dx, dy) = (
                    6.0 * (scatter(index) - 0.5),
                    6.0 * (scatter(index + 20) - 0.5),
                );
                pen.circle("bubble", view.place(x + dx, y + dy, z), radius);
            }
        }
    }
}

/// How far the box of a hang-on filter stands out, cm.
pub(super) const HANG_ON_BOX: f64 = 9.0;

/// The box outside, the tube inside, the water between lip and surface.
fn hang_on(
    pen: &mut Pen,
    view: &View,
    body: &Body,
    (x, y, z): (f64, f64, f64),
    wall: Wall,
    running: Running,
) {
    let (x0, x1, y0, y1) = body.footprint.bounds();
    match view.side {
        Side::Front => {
            let (left, width) = match wall {
                Wall::Back | Wall::Front => (x0, x1 - x0),
                Wall::Left => (-HANG_ON_BOX, HANG_ON_BOX + 2.0),
                Wall::Right => (view.length - 2.0, HANG_ON_BOX + 2.0),
            };
            let tube_x = match wall {
                Wall::Back | Wall::Front => x + (x1 - x0) * 0.3,
                Wall::Left => 2.0,
                Wall::Right => view.length - 2.0,
            };
            pen.line(
                "pipe",
                view.place(tube_x, y, z),
                view.place(tube_x, y, body.bottom),
            );
            if running != Running::Stopped && z > view.level {
                let (fall_x, fall_width) =
                    (left.max(0.5), (x1.min(view.length) - x0.max(0.0)).max(2.0));
                pen.rect(
                    "falling",
                    view.place(fall_x, y, z),
                    (fall_width, z - view.level),
                    0.0,
                );
            }
            pen.rect("device", view.place(left, y, z + 3.0), (width, 3.0), 1.0);
        }
        Side::Above => {
            let (left, back, width, depth) = match wall {
                Wall::Back => (x0, y1 + HANG_ON_BOX, x1 - x0, HANG_ON_BOX),
                Wall::Front => (x0, 0.0, x1 - x0, HANG_ON_BOX),
                Wall::Left => (-HANG_ON_BOX, y1, HANG_ON_BOX, y1 - y0),
                Wall::Right => (view.length, y1, HANG_ON_BOX, y1 - y0),
            };
            pen.rect("device", view.place(left, back, z), (width, depth), 1.0);
            pen.rect(
                if running == Running::Stopped {
                    "slit"
                } else {
                    "falling"
                },
                view.place(x0, y1, z),
                (x1 - x0, y1 - y0),
                0.0,
            );
        }
    }
}

/// The comb along the sill of an overflow.
fn comb(pen: &mut Pen, view: &View, body: &Body) {
    let (x, y, width, height) = view.outline(body).bounds();
    if view.side == Side::Front {
        let teeth = (width / 1.5).floor().clamp(3.0, 40.0);
        let mut at = 0.5;
        while at < teeth {
            let place = x + width * at / teeth;
            pen.line("slit", (place, y), (place, y + 2.5_f64.min(height)));
            at += 1.0;
        }
    } else {
        pen.circle(
            "pipe-end",
            (x + width / 2.0, y + height / 2.0),
            1.6_f64.min(width / 3.0),
        );
    }
}

fn moulded(pen: &mut Pen, view: &View, body: &Body, background: &Background) {
    outline(
        pen,
        if background.style == BackgroundStyle::WithChamber {
            "moulded chamber"
        } else {
            "moulded"
        },
        view,
        body,
        0.0,
    );
    let (x0, x1, y0, y1) = body.footprint.bounds();
    for opening in &background.openings {
        let (along, above) = (opening.along.as_cm(), opening.above.as_cm());
        let (width, height) = (opening.width.as_cm(), opening.height.as_cm());
        match (view.side, background.wall) {
            (Side::Front, Wall::Back | Wall::Front) => {
                pen.rect(
                    "opening",
                    view.place(along - width / 2.0, y0, above + height),
                    (width, height),
                    0.6,
                );
            }
            (Side::Front, _) => pen.rect(
                "opening",
                view.place(x0, y0, above + height),
                (x1 - x0, height),
                0.0,
            ),
            (Side::Above, Wall::Back | Wall::Front) => {
                pen.rect(
                    "opening",
                    view.place(along - width / 2.0, y1, above),
                    (width, y1 - y0),
                    0.0,
                );
            }
            (Side::Above, _) => pen.rect(
                "opening",
                view.place(x0, along + width / 2.0, above),
                (x1 - x0, width),
                0.0,
            ),
        }
    }
}
