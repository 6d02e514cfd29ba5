//! The tank on a sheet: from the front and from above, to the same scale, with its measures; for
//! reading, for changing, for printing.

use reed_core::flow::Facts;
use reed_core::tank::thing::{Thing, Wall};
use reed_core::tank::{Conflict, Tank, Weight};
use reed_core::units::{Length, Quantity, Units};

use super::Mood;
use super::pen::{Pen, escaped};
use super::view::{Side, View};
use super::{drift, scene, things};

/// Width of the sheet in its own units; type sizes in the style sheet are in these.
const WIDTH: f64 = 1000.0;
/// Room for measures at the left and above each view.
const LEFT: f64 = 122.0;
const ABOVE: f64 = 64.0;
/// Room at the right, for the depth of the bed.
const RIGHT: f64 = 70.0;
/// Air above the rim in which pipes end, cm.
const HEADROOM: f64 = 4.0;

/// What a sheet is for.
#[derive(Clone, Copy, PartialEq, Eq)]
pub(crate) enum Use {
    /// To look at: with animals.
    Reading,
    /// To change: things can be taken hold of.
    Changing,
    /// To watch the water, and to try things elsewhere: without animals and plants.
    Watching,
    /// To compare the water of two: the same, and nothing can be taken hold of.
    Comparing,
}

impl Use {
    fn can_be_held(self) -> bool {
        matches!(self, Self::Changing | Self::Watching)
    }
}

/// Draws both views.
pub(crate) fn sheet(tank: &Tank, units: &Units, conflicts: &[Conflict], purpose: Use) -> String {
    drawn(tank, units, conflicts, purpose, &|_, _| ())
}

/// Draws both views for watching the water, with what the flow model says of the bed over that from
/// above, and good places for an intake over both.
pub(crate) fn drift_sheet(tank: &Tank, units: &Units, facts: &Facts) -> String {
    drawn(tank, units, &[], Use::Watching, &|pen, view| {
        if view.side == Side::Above {
            drift::bed(pen, view, facts);
        }
        drift::places(pen, view, facts);
        drift::cut(pen, view);
    })
}

/// Draws both views for comparing the water of two arrangements.
pub(crate) fn comparing_sheet(tank: &Tank, units: &Units) -> String {
    drawn(tank, units, &[], Use::Comparing, &drift::cut)
}

fn drawn(
    tank: &Tank,
    units: &Units,
    conflicts: &[Conflict],
    purpose: Use,
    over: &dyn Fn(&mut Pen, &View),
) -> String {
    let (front, above) = (View::of(tank, Side::Front), View::of(tank, Side::Above));
    let scale = ((WIDTH - LEFT - RIGHT) / front.length)
        .min(480.0 / (front.height + HEADROOM))
        .min(380.0 / front.width);
    let front_top = ABOVE + HEADROOM * scale;
    // Boxes that hang outside need room between the views, or below the second.
    let outside = |wall| {
        if hangs_on(tank, wall) {
            things::HANG_ON_BOX * scale
        } else {
            0.0
        }
    };
    let above_top = front_top + front.height * scale + 30.0 + ABOVE + outside(Wall::Back);
    let full = above_top + above.width * scale + 16.0 + outside(Wall::Front);
    let mut pen = Pen::new();
    pen.raw(format_args!(
        r#"<svg xmlns="http://www.w3.org/2000/svg" class="tank sheet-drawing" viewBox="0 0 {WIDTH} {full:.0}" role="{}" aria-label="{}">"#,
        if purpose == Use::Reading { "img" } else { "group" },
        escaped(&words(tank, units)),
    ));
    for (view, top, title) in [
        (&front, front_top, "From the front"),
        (&above, above_top, "From above, the back at the top"),
    ] {
        measures(&mut pen, view, (LEFT, top), scale, units);
        pen.text(
            "view-title",
            (
                LEFT,
                top - if view.side == Side::Front {
                    HEADROOM * scale
                } else {
                    outside(Wall::Back)
                } - 14.0,
            ),
            title,
        );
        let name = if view.side == Side::Front {
            "front"
        } else {
            "above"
        };
        pen.raw(format_args!(r#"<g class="view {name}" data-view="{name}" transform="translate({LEFT} {top:.1}) scale({scale:.4})">"#));
        picture(&mut pen, view, tank, conflicts, purpose, units);
        over(&mut pen, view);
        pen.raw("</g>");
    }
    pen.raw("</svg>");
    pen.finish()
}

fn hangs_on(tank: &Tank, wall: Wall) -> bool {
    tank.things
        .iter()
        .any(|thing| thing.what.form().hangs_outside() == Some(wall))
}

fn words(tank: &Tank, units: &Units) -> String {
    let cm = |length: Length| units.print(length.as_cm(), Length::UNITS, 0);
    format!(
        "{} to scale, from the front and from above: {} long, {} wide, {} high, {} things in it",
        tank.name,
        cm(tank.glass.length),
        cm(tank.glass.width),
        cm(tank.glass.height),
        tank.things.len()
    )
}

fn picture(
    pen: &mut Pen,
    view: &View,
    tank: &Tank,
    conflicts: &[Conflict],
    purpose: Use,
    units: &Units,
) {
    scene::water(pen, view);
    if purpose == Use::Reading {
        scene::plants(pen, view, tank.plants.planting);
    }
    let mut far_first: Vec<&Thing> = tank.things.iter().collect();
    match view.side {
        Side::Front => far_first.sort_by(|a, b| b.y.as_cm().total_cmp(&a.y.as_cm())),
        Side::Above => far_first.sort_by(|a, b| a.body(tank).top.total_cmp(&b.body(tank).top)),
    }
    // A background would hide what stands behind it.
    far_first.sort_by_key(|thing| thing.what.form().background().is_none());
    for thing in far_first {
        hold(pen, view, thing, tank, conflicts, purpose, units);
    }
    if purpose == Use::Reading && view.side == Side::Front {
        scene::animals(pen, view, tank, Mood::AtEase);
    }
    if view.side == Side::Front {
        scene::surface(pen, view, tank.surface);
    }
    scene::glass(pen, view);
}

/// A thing, with what is needed to take hold of it and to say where it is.
fn hold(
    pen: &mut Pen,
    view: &View,
    thing: &Thing,
    tank: &Tank,
    conflicts: &[Conflict],
    purpose: Use,
    units: &Units,
) {
    let about: Vec<&Conflict> = conflicts
        .iter()
        .filter(|conflict| conflict.things.contains(&thing.number))
        .collect();
    let weight = about.iter().map(|conflict| conflict.weight).max();
    let mark = match weight {
        Some(Weight::Impossible) => " impossible",
        Some(Weight::Odd) => " odd",
        None => "",
    };
    let outline = view.outline(&thing.body(tank)).bounds();
    let number = thing.number;
    if purpose.can_be_held() {
        let body = thing.body(tank);
        let (x0, x1, y0, y1) = body.footprint.bounds();
        pen.raw(format_args!(
            r#"<g class="thing{mark}{}" data-thing="{number}" data-bounds="{x0:.2} {x1:.2} {y0:.2} {y1:.2} {:.2} {:.2}" tabindex="0" role="button" aria-label="{}">"#,
            if thing.locked { " locked" } else { "" },
            body.bottom,
            body.top,
            escaped(&described(thing, &about, units)),
        ));
        // Fingers are wider than pipes.
        let (x, y, width, height) = outline;
        let (more_x, more_y) = ((5.0 - width).max(0.8) / 2.0, (5.0 - height).max(0.8) / 2.0);
        pen.rect(
            "hand",
            (x - more_x, y - more_y),
            (width + 2.0 * more_x, height + 2.0 * more_y),
            0.8,
        );
    } else {
        pen.raw(format_args!(r#"<g class="thing{mark}">"#));
    }
    things::thing(pen, view, thing, tank);
    if weight.is_some() {
        let (x, y, width, height) = outline;
        let place = (x + width / 2.0, y + height / 2.0);
        pen.circle("mark", place, 2.2);
        pen.raw(format_args!(
            r#"<text class="mark-sign" x="{:.2}" y="{:.2}">!</text>"#,
            place.0,
            place.1 + 1.2
        ));
    }
    pen.raw(format_args!(
        "<title>{}</title></g>",
        escaped(&described(thing, &about, units))
    ));
}

fn described(thing: &Thing, about: &[&Conflict], units: &Units) -> String {
    let cm = |length: Length| units.print(length.as_cm(), Length::UNITS, 1);
    let mut words = format!(
        "{}, {}: {} from the left, {} from the front, {} above the floor",
        thing.name,
        thing.what.words(),
        cm(thing.x),
        cm(thing.y),
        cm(thing.z)
    );
    for conflict in about {
        words += ". ";
        words += &conflict.words;
    }
    words
}

/// Length above, heights at the left, and a tick every ten centimetres (or four inches) along the
/// floor.
fn measures(pen: &mut Pen, view: &View, (left, top): (f64, f64), scale: f64, units: &Units) {
    let (width, height) = (view.size().0 * scale, view.size().1 * scale);
    let say = |cm: f64| {
        let unit = units.of(Length::UNITS);
        format!(
            "{} {}",
            reed_core::units::plain((unit.from_base(cm) * 10.0).round() / 10.0),
            unit.symbol
        )
    };
    let bottom = top + height;
    let rule = |pen: &mut Pen| {
        pen.text(
            "measure middle",
            (left + width / 2.0, bottom + 40.0),
            &say(view.length),
        );
        pen.path(
            "rule",
            format_args!(
                "M{left:.1} {:.1}v12M{:.1} {:.1}v12M{left:.1} {:.1}h{width:.1}",
                bottom + 8.0,
                left + width,
                bottom + 8.0,
                bottom + 14.0
            ),
        );
        let step = if units.of(Length::UNITS).symbol == "in" {
            4.0 * 2.54
        } else {
            10.0
        };
        let mut ticks = String::new();
        let mut at = step;
        while at < view.size().0 - 0.1 {
            ticks += &format!("M{:.1} {:.1}v6", left + at * scale, bottom + 14.0);
            at += step;
        }
        pen.path("rule", ticks);
    };
    let x = left - 16.0;
    let upright = |pen: &mut Pen, from: f64, to: f64, words: &str| {
        pen.path(
            "rule",
            format_args!(
                "M{:.1} {from:.1}h12M{:.1} {to:.1}h12M{x:.1} {from:.1}V{to:.1}",
                x - 6.0,
                x - 6.0
            ),
        );
        pen.text(
            "measure end",
            (x - 10.0, f64::midpoint(from, to) + 6.0),
            words,
        );
    };
    match view.side {
        Side::Above => upright(pen, top, bottom, &say(view.width)),
        Side::Front => {
            rule(pen);
            let surface = bottom - view.level * scale;
            upright(pen, surface, bottom, &say(view.level));
            if surface - top > 30.0 {
                pen.text("measure end", (x - 10.0, top + 8.0), &say(view.height));
            }
            if view.bed * scale > 24.0 {
                pen.text(
                    "measure bed-depth",
                    (left + width + 6.0, bottom - view.bed * scale / 2.0 + 6.0),
                    &say(view.bed),
                );
            }
        }
    }
}
