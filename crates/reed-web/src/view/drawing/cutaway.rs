//! A filter cut open: what is in it, the way of the water through it, the dirt on that way. Heights
//! follow the litres in each stop; everything else is a sketch.

use reed_core::filter::State;
use reed_core::tank::{Filter, FilterKind, Medium, Stage, Stop, TrayPlace};

use super::pen::{Num, Pen, escaped, scatter};

/// The drawing is so large, in units of its own.
const WIDE: f64 = 120.0;
const HIGH: f64 = 132.0;

/// How the water goes through what is in the housing.
#[derive(Clone, Copy, PartialEq, Eq)]
enum Goes {
    Up,
    Down,
    Across,
}

const fn goes(kind: FilterKind) -> Goes {
    match kind {
        FilterKind::RisingBasketCanister
        | FilterKind::CartridgeSlotCanister
        | FilterKind::HangOnBack
        | FilterKind::MovingBed => Goes::Up,
        FilterKind::FallingBasketCanister
        | FilterKind::RingAndCoreCanister
        | FilterKind::InternalTopDown
        | FilterKind::WetDryTower => Goes::Down,
        FilterKind::InternalSideIn
        | FilterKind::SpongeOnAir
        | FilterKind::SpongeWithPowerhead
        | FilterKind::Sump
        | FilterKind::Mat => Goes::Across,
    }
}

/// A box in the drawing.
#[derive(Clone, Copy)]
struct Room {
    x: f64,
    y: f64,
    wide: f64,
    high: f64,
}

impl Room {
    const fn middle(self) -> (f64, f64) {
        (self.x + self.wide / 2.0, self.y + self.high / 2.0)
    }

    /// Parts of it one after the other along the way, by weight.
    fn parted(self, goes: Goes, weights: &[f64]) -> Vec<Self> {
        let all: f64 = weights.iter().sum::<f64>().max(1e-9);
        let mut begun = 0.0;
        weights
            .iter()
            .map(|weight| {
                let (from, share) = (begun, weight / all);
                begun += share;
                match goes {
                    Goes::Down => Self {
                        y: self.y + from * self.high,
                        high: share * self.high,
                        ..self
                    },
                    Goes::Up => Self {
                        y: self.y + (1.0 - from - share) * self.high,
                        high: share * self.high,
                        ..self
                    },
                    Goes::Across => Self {
                        x: self.x + from * self.wide,
                        wide: share * self.wide,
                        ..self
                    },
                }
            })
            .collect()
    }

    /// Where water enters and leaves it.
    const fn ends(self, goes: Goes) -> [(f64, f64); 2] {
        let (x, y) = self.middle();
        match goes {
            Goes::Up => [(x, self.y + self.high), (x, self.y)],
            Goes::Down => [(x, self.y), (x, self.y + self.high)],
            Goes::Across => [(self.x, y), (self.x + self.wide, y)],
        }
    }
}

/// Draws a filter as it stands; the number of each stop stands in it, as in the list beside it.
pub(crate) fn cutaway(filter: &Filter, state: &State) -> String {
    let mut pen = Pen::new();
    let has_hoses = state.plumbing.back.is_some();
    let is_sump = filter.sump.is_some() || filter.kind == FilterKind::Sump;
    let name = escaped(&filter.name);
    pen.raw(format_args!(
        r#"<svg class="cutaway" viewBox="0 0 {WIDE} {HIGH}" role="img" aria-label="{name} cut open: the water passes its stops in the order of the list">"#
    ));
    let housing = housing(filter.kind, has_hoses);
    let water = match filter.kind {
        // The box of a hang-on filter stands open.
        FilterKind::HangOnBack => Room {
            y: housing.y + 8.0,
            high: housing.high - 8.0,
            ..housing
        },
        _ => housing,
    };
    pen.rect(
        "cut-water",
        (water.x, water.y),
        (water.wide, water.high),
        2.0,
    );
    let path = filter.path();
    let way = goes(filter.kind);
    let inner = inside(filter.kind, housing);
    let inside: Vec<usize> = (0..path.len())
        .filter(|index| path[*index].place == TrayPlace::Inside)
        .collect();
    let weights: Vec<f64> = inside.iter().map(|index| weight(&path[*index])).collect();
    let outer = ring(filter.kind, &path, &inside);
    let rooms = if outer > 0 {
        in_ring_and_core(inner, &weights, outer)
    } else {
        inner.parted(way, &weights)
    };
    let share = state
        .clogging
        .as_ref()
        .and_then(|clogging| clogging.share)
        .map_or(0.0, |share| share.middle);
    let full = state
        .clogging
        .as_ref()
        .and_then(|clogging| state.plumbing.beds.get(clogging.bed));
    let is_full = |index: usize, portion: usize| {
        full.is_some_and(|laid| laid.at == path[index].at && laid.portion == portion)
    };
    for (place, (index, room)) in inside.iter().zip(&rooms).enumerate() {
        if place < outer {
            // The ring is cut on both sides.
            let other = Room {
                x: 2.0 * inner.middle().0 - room.x - room.wide,
                ..*room
            };
            stop(&mut pen, &path[*index], other, Goes::Up, |_| 0.0);
            stop(&mut pen, &path[*index], *room, Goes::Up, |portion| {
                if is_full(*index, portion) { share } else { 0.0 }
            });
            number(&mut pen, *index, *room);
            continue;
        }
        stop(&mut pen, &path[*index], *room, way, |portion| {
            if is_full(*index, portion) { share } else { 0.0 }
        });
        number(&mut pen, *index, *room);
    }
    if is_sump {
        for room in rooms.iter().skip(1) {
            pen.line(
                "cut-baffle",
                (room.x, housing.y + 14.0),
                (room.x, housing.y + housing.high),
            );
        }
    }
    let [enters, leaves] = inner.ends(way);
    let (mouth_in, mouth_out) = mouths(filter.kind, housing, has_hoses);
    let before: Vec<usize> = (0..path.len())
        .filter(|index| path[*index].place == TrayPlace::Before)
        .collect();
    let after: Vec<usize> = (0..path.len())
        .filter(|index| path[*index].place == TrayPlace::After)
        .collect();
    for (chambers, x) in [(&before, mouth_in.0 - 9.0), (&after, mouth_out.0 - 9.0)] {
        for (place, index) in chambers.iter().enumerate() {
            let room = Room {
                x: x.clamp(1.0, WIDE - 19.0),
                y: 14.0 + 20.0 * place as f64,
                wide: 18.0,
                high: 16.0,
            };
            pen.rect("cut-water", (room.x, room.y), (room.wide, room.high), 2.0);
            stop(&mut pen, &path[*index], room, Goes::Down, |_| 0.0);
            pen.rect("cut-housing", (room.x, room.y), (room.wide, room.high), 2.0);
            number(&mut pen, *index, room);
        }
    }
    pen.rect(
        "cut-housing",
        (housing.x, housing.y),
        (housing.wide, housing.high),
        3.0,
    );
    stream(
        &mut pen,
        filter.kind,
        &[mouth_in, enters],
        &rooms,
        (way, outer),
        &[leaves, mouth_out],
        housing,
    );
    pump(&mut pen, filter.kind, housing, leaves);
    pen.raw("</svg>");
    pen.finish()
}

/// How many of the first stops of a ring-and-core canister lie in its ring: the foams that water
/// rises through before it comes down the core.
fn ring(kind: FilterKind, path: &[Stop<'_>], inside: &[usize]) -> usize {
    if kind != FilterKind::RingAndCoreCanister {
        return 0;
    }
    let is_foam = |index: &&usize| {
        let media = path[**index].media;
        !media.is_empty()
            && media
                .iter()
                .all(|portion| portion.medium.stage() <= Stage::Medium)
    };
    inside
        .iter()
        .take_while(is_foam)
        .count()
        .min(inside.len().saturating_sub(1))
}

/// The first of the rooms one above the other at the left, in the ring; the others down the core.
fn in_ring_and_core(inner: Room, weights: &[f64], outer: usize) -> Vec<Room> {
    const RING: f64 = 15.0;
    let column = Room {
        wide: RING,
        ..inner
    };
    let core = Room {
        x: inner.x + RING + 2.0,
        wide: inner.wide - 2.0 * (RING + 2.0),
        ..inner
    };
    let mut rooms = column.parted(Goes::Up, &weights[..outer]);
    rooms.extend(core.parted(Goes::Down, &weights[outer..]));
    rooms
}

/// How much of the height a stop gets: by its litres, but never a sliver.
fn weight(stop: &Stop<'_>) -> f64 {
    let litres = stop
        .litres()
        .max(stop.holds.map_or(0.0, reed_core::units::Volume::as_litres));
    litres.sqrt().max(0.35)
}

const fn housing(kind: FilterKind, has_hoses: bool) -> Room {
    match kind {
        FilterKind::Sump | FilterKind::Mat => Room {
            x: 4.0,
            y: 52.0,
            wide: 112.0,
            high: 72.0,
        },
        FilterKind::SpongeOnAir | FilterKind::SpongeWithPowerhead => Room {
            x: 18.0,
            y: 62.0,
            wide: 84.0,
            high: 62.0,
        },
        FilterKind::HangOnBack => Room {
            x: 34.0,
            y: 24.0,
            wide: 68.0,
            high: 92.0,
        },
        _ if has_hoses => Room {
            x: 18.0,
            y: 34.0,
            wide: 84.0,
            high: 94.0,
        },
        _ => Room {
            x: 26.0,
            y: 16.0,
            wide: 68.0,
            high: 108.0,
        },
    }
}

/// The part of a housing that media take.
const fn inside(kind: FilterKind, housing: Room) -> Room {
    match kind {
        FilterKind::Sump | FilterKind::Mat => Room {
            x: housing.x + 2.0,
            y: housing.y + 20.0,
            wide: housing.wide - 4.0,
            high: housing.high - 22.0,
        },
        FilterKind::HangOnBack => Room {
            x: housing.x + 4.0,
            y: housing.y + 16.0,
            wide: housing.wide - 8.0,
            high: housing.high - 22.0,
        },
        FilterKind::InternalTopDown => Room {
            x: housing.x + 4.0,
            y: housing.y + 8.0,
            wide: housing.wide - 8.0,
            high: housing.high - 32.0,
        },
        _ => Room {
            x: housing.x + 5.0,
            y: housing.y + 20.0,
            wide: housing.wide - 10.0,
            high: housing.high - 32.0,
        },
    }
}

/// Where water comes into the drawing and leaves it.
const fn mouths(kind: FilterKind, housing: Room, has_hoses: bool) -> ((f64, f64), (f64, f64)) {
    match kind {
        FilterKind::HangOnBack => ((14.0, 124.0), (WIDE - 4.0, 34.0)),
        FilterKind::Sump => ((14.0, 4.0), (WIDE - 12.0, 4.0)),
        _ if has_hoses => ((30.0, 2.0), (WIDE - 30.0, 2.0)),
        FilterKind::SpongeOnAir | FilterKind::SpongeWithPowerhead => {
            ((4.0, housing.y + 30.0), (60.0, 20.0))
        }
        _ => ((4.0, housing.y + 10.0), (WIDE - 4.0, housing.y + 10.0)),
    }
}

/// What a stop is filled with: each portion a layer along the way.
fn stop(pen: &mut Pen, stop: &Stop<'_>, room: Room, way: Goes, dirt: impl Fn(usize) -> f64) {
    let litres: Vec<f64> = stop
        .media
        .iter()
        .map(|portion| portion.litres.as_litres().sqrt().max(0.2))
        .collect();
    let gap = 0.6;
    let layers = Room {
        x: room.x + gap,
        y: room.y + gap,
        wide: room.wide - 2.0 * gap,
        high: room.high - 2.0 * gap,
    }
    .parted(way, &litres);
    for (index, (portion, layer)) in stop.media.iter().zip(layers).enumerate() {
        medium(pen, portion.medium, layer);
        let share = dirt(index);
        if share > 0.0 {
            // Dirt lies where the water comes in.
            let [soiled, _] = [share, 1.0 - share];
            let part = layer.parted(way, &[soiled.max(0.02), (1.0 - soiled).max(0.001)])[0];
            pen.rect("cut-dirt", (part.x, part.y), (part.wide, part.high), 0.8);
        }
    }
    if stop.media.is_empty() {
        pen.rect(
            "cut-empty",
            (room.x + gap, room.y + gap),
            (room.wide - 2.0 * gap, room.high - 2.0 * gap),
            1.0,
        );
    }
}

/// A medium by how it looks: the finer, the closer its grains.
fn medium(pen: &mut Pen, medium: Medium, room: Room) {
    let (class, apart, grain) = match medium.stage() {
        Stage::Coarse => ("cut-coarse", 6.0, 1.5),
        Stage::Medium => ("cut-medium", 4.5, 1.0),
        Stage::Fine => ("cut-fine", 3.2, 0.5),
        Stage::Biological => ("cut-biological", 7.0, 2.0),
        Stage::Chemical => ("cut-chemical", 5.0, 1.0),
    };
    pen.rect(class, (room.x, room.y), (room.wide, room.high), 0.8);
    let (across, down) = (grains(room.wide, apart), grains(room.high, apart));
    let mut dots = String::new();
    for row in 0..down {
        for column in 0..across {
            let seed = row * 97 + column;
            let x = room.x
                + (f64::from(column) + 0.25 + 0.5 * scatter(seed)) * room.wide / f64::from(across);
            let y = room.y
                + (f64::from(row) + 0.25 + 0.5 * scatter(seed + 5000)) * room.high
                    / f64::from(down);
            // A stroke of no length with round ends is a dot.
            dots += &format!("M{} {}h.01", Num(x), Num(y));
        }
    }
    let dot = match medium.stage() {
        Stage::Biological => "cut-grain cut-large",
        Stage::Chemical => "cut-grain cut-dark",
        _ if grain > 1.2 => "cut-grain",
        _ if grain > 0.8 => "cut-grain cut-small",
        _ => "cut-grain cut-tiny",
    };
    pen.path(dot, dots);
}

/// So many grains over a length, some at least, and never so many that the page grows heavy.
fn grains(length: f64, apart: f64) -> u32 {
    #[expect(
        clippy::cast_possible_truncation,
        clippy::cast_sign_loss,
        reason = "between 1 and 24"
    )]
    let count = (length / apart).clamp(1.0, 24.0) as u32;
    count
}

fn number(pen: &mut Pen, index: usize, room: Room) {
    let (x, y) = (room.x + 5.4, room.y + room.high / 2.0);
    pen.circle("cut-number", (x, y), 4.2);
    pen.text("cut-number-words", (x, y + 2.0), &(index + 1).to_string());
}

/// The line of the water, in through its mouth, through every room, and out.
fn stream(
    pen: &mut Pen,
    kind: FilterKind,
    begins: &[(f64, f64); 2],
    rooms: &[Room],
    (way, outer): (Goes, usize),
    ends: &[(f64, f64); 2],
    housing: Room,
) {
    if matches!(
        kind,
        FilterKind::SpongeOnAir | FilterKind::SpongeWithPowerhead
    ) {
        // From both sides through the sponge, and up the riser in its middle.
        let (middle, y) = (WIDE / 2.0, Num(begins[1].1));
        let d = format!("M4 {y}H{middle}V20M{} {y}H{middle}", WIDE - 4.0);
        pen.path("cut-stream-back", &d);
        pen.path("cut-stream", &d);
        return;
    }
    let mut d = format!("M{} {}", Num(begins[0].0), Num(begins[0].1));
    let mut to = |x: f64, y: f64| d += &format!("L{} {}", Num(x), Num(y));
    match kind {
        FilterKind::RisingBasketCanister
        | FilterKind::CartridgeSlotCanister
        | FilterKind::MovingBed => {
            // Down beside the baskets to the bottom, then up through them.
            to(begins[0].0, housing.y + 6.0);
            to(housing.x + 2.4, housing.y + 10.0);
            to(housing.x + 2.4, housing.y + housing.high - 6.0);
            to(begins[1].0, housing.y + housing.high - 6.0);
        }
        FilterKind::RingAndCoreCanister => {
            to(begins[0].0, housing.y + 6.0);
            to(housing.x + 2.4, housing.y + 10.0);
            to(housing.x + 2.4, housing.y + housing.high - 6.0);
            if outer == 0 {
                to(begins[1].0, housing.y + 12.0);
            }
        }
        FilterKind::HangOnBack => {
            to(begins[0].0, housing.y + 6.0);
            to(housing.x + 2.2, housing.y + 6.0);
            to(housing.x + 2.2, housing.y + housing.high - 3.0);
            to(begins[1].0, housing.y + housing.high - 3.0);
        }
        _ => to(
            begins[1].0,
            begins[0].1.max(begins[1].1 - 4.0).min(begins[1].1),
        ),
    }
    for (place, room) in rooms.iter().enumerate() {
        let [enters, leaves] = room.ends(if place < outer { Goes::Up } else { way });
        to(enters.0, enters.1);
        to(leaves.0, leaves.1);
    }
    if matches!(
        kind,
        FilterKind::FallingBasketCanister
            | FilterKind::RingAndCoreCanister
            | FilterKind::WetDryTower
    ) {
        to(housing.x + housing.wide - 2.4, ends[0].1 + 4.0);
        to(housing.x + housing.wide - 2.4, housing.y + 8.0);
    }
    to(ends[1].0, ends[0].1.min(housing.y + 8.0).max(ends[1].1));
    to(ends[1].0, ends[1].1);
    pen.path("cut-stream-back", &d);
    pen.path("cut-stream", &d);
}

/// The pump, where it sits.
fn pump(pen: &mut Pen, kind: FilterKind, housing: Room, leaves: (f64, f64)) {
    let at = match kind {
        FilterKind::SpongeOnAir => return,
        FilterKind::HangOnBack => (housing.x + 2.2, housing.y + housing.high - 6.0),
        FilterKind::Sump | FilterKind::Mat => (
            housing.x + housing.wide - 8.0,
            housing.y + housing.high - 9.0,
        ),
        FilterKind::InternalTopDown => (leaves.0, housing.y + housing.high - 11.0),
        _ => (leaves.0, housing.y + 10.0),
    };
    pen.circle("cut-pump", at, 6.0);
    let (x, y) = (Num(at.0), Num(at.1));
    pen.path("cut-blade", format_args!("M{x} {y}m-4 0h8m-4 -4v8"));
}
