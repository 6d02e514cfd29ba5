//! What is in the tank besides its things: water, bed, plants, animals, the surface, the glass.

use reed_core::tank::{Planting, Surface, Tank};

use super::Mood;
use super::pen::{Num, Pen, scatter};
use super::view::{Side, View};

/// Most animals drawn; a shoal of two hundred is a pattern, not a count.
const MOST_ANIMALS: u32 = 36;

/// Water and bed, behind everything.
pub(super) fn water(pen: &mut Pen, view: &View) {
    match view.side {
        Side::Front => {
            pen.rect(
                "water",
                view.place(0.0, 0.0, view.level),
                (view.length, view.level),
                0.0,
            );
            pen.rect(
                "bed",
                view.place(0.0, 0.0, view.bed),
                (view.length, view.bed),
                0.0,
            );
        }
        Side::Above => pen.rect("water", (0.0, 0.0), view.size(), 0.0),
    }
}

/// The glass, before everything. Seen from the front it is open at the top.
pub(super) fn glass(pen: &mut Pen, view: &View) {
    let (width, height) = view.size();
    match view.side {
        Side::Front => pen.path("glass", format_args!("M0 0V{height:.2}H{width:.2}V0")),
        Side::Above => pen.rect("glass", (0.0, 0.0), (width, height), 0.0),
    }
}

/// The surface from the front.
pub(super) fn surface(pen: &mut Pen, view: &View, surface: Surface) {
    let (wave, step, class) = match surface {
        Surface::Filmed => (0.0, 5.0, "surface film"),
        Surface::Still => (0.0, 5.0, "surface"),
        Surface::Rippled => (0.7, 5.0, "surface"),
        Surface::Broken => (1.7, 3.0, "surface"),
    };
    let (length, y) = (view.length, view.height - view.level);
    let waves = (length / (2.0 * step)).ceil().max(1.0);
    let step = length / waves / 2.0;
    let mut d = format!("M0 {y:.2}");
    let mut x = 0.0;
    while x < length - 0.01 {
        let [half, up, down, whole] = [step / 2.0, -2.0 * wave, 2.0 * wave, step].map(Num);
        d += &format!("q{half} {up} {whole} 0q{half} {down} {whole} 0");
        x += 2.0 * step;
    }
    pen.path(class, d);
}

/// Reeds and stems: more of them, and higher, the denser the planting. From above they are tufts.
pub(super) fn plants(pen: &mut Pen, view: &View, planting: Planting) {
    let (every_cm, share) = match planting {
        Planting::None => return,
        Planting::Sparse => (18.0, 0.45),
        Planting::Moderate => (9.0, 0.6),
        Planting::Dense => (5.0, 0.8),
        Planting::Overgrown => (3.5, 1.0),
    };
    let mut d = String::new();
    let (mut x, mut index) = (every_cm * 0.6, 0);
    while x < view.length - 2.0 {
        for blade in 0..3 {
            let tall = (view.level - view.bed) * share * (0.6 + 0.4 * scatter(index * 3 + blade));
            match view.side {
                Side::Front => {
                    let lean = 4.5 * (f64::from(blade) - 1.0) + 3.0 * (scatter(index + 7) - 0.5);
                    let [x, y, knee, lean, tip] =
                        [x, view.height - view.bed, -0.7 * tall, lean, -tall].map(Num);
                    d += &format!("M{x} {y}q0 {knee} {lean} {tip}");
                }
                Side::Above => {
                    let y = view.width * (0.15 + 0.25 * scatter(index));
                    let angle = 2.1 * f64::from(blade) + scatter(index);
                    let [x, y, dx, dy] = [x, y, 2.5 * angle.cos(), 2.5 * angle.sin()].map(Num);
                    d += &format!("M{x} {y}l{dx} {dy}");
                }
            }
        }
        x += every_cm * (0.7 + 0.6 * scatter(index + 3));
        index += 1;
    }
    pen.path("plants", d);
}

/// Animals from the front, at ease through the whole height or near the surface.
pub(super) fn animals(pen: &mut Pen, view: &View, tank: &Tank, mood: Mood) {
    let total: u32 = tank
        .stock
        .iter()
        .map(|group| group.count)
        .fold(0, u32::saturating_add);
    let depth = view.level - view.bed;
    let mut index = 0;
    // One path to all fish, and one to those that belong at the surface: an outline each would be
    // most of a page of tanks.
    let (mut usual, mut at_the_surface) = (String::new(), String::new());
    for group in &tank.stock {
        let shown = if total > MOST_ANIMALS {
            (u64::from(group.count) * u64::from(MOST_ANIMALS) / u64::from(total)).max(1)
        } else {
            u64::from(group.count)
        };
        // Body length from mass: about 1 cm³ per gram, a body four times as long as it is high and
        // thick.
        let from_mass = (16.0 * group.mass_each().as_grams()).cbrt();
        let long = group
            .length
            .map_or(from_mass, |length| length.as_cm())
            .clamp(1.6, view.length * 0.3);
        for _ in 0..shown {
            let x = long + (view.length - 2.0 * long) * scatter(index * 3 + 1);
            let (from, share) = if mood == Mood::AtTheTop {
                (0.04, 0.2)
            } else {
                (0.15, 0.75)
            };
            let y = view.height - view.level
                + long * 0.3
                + (depth - long * 0.6) * (from + share * scatter(index * 5 + 2));
            let outlines = if group.breathes_air {
                &mut at_the_surface
            } else {
                &mut usual
            };
            *outlines += &fish((x, y), long, index % 2 == 0);
            index += 1;
        }
    }
    for (class, outlines) in [("fish", usual), ("fish surface-kind", at_the_surface)] {
        if !outlines.is_empty() {
            pen.path(class, outlines);
        }
    }
}

fn fish((x, y): (f64, f64), long: f64, to_the_left: bool) -> String {
    let turn = if to_the_left { -1.0 } else { 1.0 };
    let (body, high) = (long * 0.36, long * 0.16);
    let [start, y, belly, back, across, tail, up, down] = [
        x + turn * body,
        y,
        turn * body,
        -2.0 * high,
        turn * 2.0 * body,
        turn * long * 0.2,
        -high,
        2.0 * high,
    ]
    .map(Num);
    let [ahead, behind, fin] = [-turn * body, -turn * 2.0 * body, -turn * long * 0.2].map(Num);
    format!(
        "M{start} {y}q{ahead} {back} {behind} 0l{fin} {up}v{down}l{tail} {up}q{belly} {down} {across} 0"
    )
}
