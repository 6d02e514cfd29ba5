//! The tank from the front, to scale: one drawing language for every page.

use std::fmt::Write as _;

use reed_core::tank::{Bubbles, Planting, Running, StockGroup, Surface, Tank};

/// Where the fish are drawn.
#[derive(Clone, Copy, PartialEq, Eq)]
pub(crate) enum Mood {
    /// Through the whole height.
    AtEase,
    /// Near the surface.
    AtTheTop,
}

/// Most animals drawn; a shoal of two hundred is a pattern, not a count.
const MOST_ANIMALS: u32 = 36;
/// Air above the water and glass below it, cm.
const RIM_CM: f64 = 5.0;
const BED_CM: f64 = 5.0;

/// Draws the tank, one unit to the centimetre.
pub(crate) fn draw(tank: &Tank, mood: Mood) -> String {
    let (length, depth) = (tank.length.as_cm(), tank.water_depth.as_cm());
    let height = depth + RIM_CM;
    let mut svg = String::with_capacity(4096);
    let _ = write!(
        svg,
        r#"<svg class="tank" viewBox="-2 -2 {:.1} {:.1}" role="img" aria-label="{}">"#,
        length + 4.0,
        height + 4.0,
        words(tank)
    );
    let _ = write!(svg, r#"<rect class="water" x="0" y="{RIM_CM}" width="{length:.1}" height="{depth:.1}"/>"#);
    bed(&mut svg, length, height);
    plants(&mut svg, tank, height);
    air(&mut svg, tank, height);
    outlet(&mut svg, tank);
    animals(&mut svg, tank, mood);
    surface(&mut svg, tank.surface, length);
    let _ = write!(svg, r#"<path class="glass" d="M0 0V{height:.1}H{length:.1}V0"/></svg>"#);
    svg
}

fn words(tank: &Tank) -> String {
    format!(
        "Front view to scale: {:.0} by {:.0} cm of water, surface {}, {} animals",
        tank.length.as_cm(),
        tank.water_depth.as_cm(),
        tank.surface.words(),
        tank.stock.iter().map(|group| group.count).sum::<u32>()
    )
}

fn surface(svg: &mut String, surface: Surface, length: f64) {
    let (wave, class) = match surface {
        Surface::Filmed => (0.0, "surface film"),
        Surface::Still => (0.0, "surface"),
        Surface::Rippled => (0.7, "surface"),
        Surface::Broken => (1.7, "surface"),
    };
    let _ = write!(svg, r#"<path class="{class}" d="M0 {RIM_CM}"#);
    if wave == 0.0 {
        let _ = write!(svg, "H{length:.1}");
    } else {
        let step = if surface == Surface::Broken { 3.0 } else { 5.0 };
        let waves = (length / (2.0 * step)).ceil().max(1.0);
        let step = length / waves / 2.0;
        let mut x = 0.0;
        while x < length - 0.01 {
            let _ = write!(svg, "q{:.2} {:.2} {step:.2} 0q{:.2} {:.2} {step:.2} 0", step / 2.0, -2.0 * wave, step / 2.0, 2.0 * wave);
            x += 2.0 * step;
        }
    }
    svg.push_str("\"/>");
}

fn bed(svg: &mut String, length: f64, height: f64) {
    let _ = write!(svg, r#"<rect class="bed" x="0" y="{:.1}" width="{length:.1}" height="{BED_CM}"/>"#, height - BED_CM);
}

/// Reeds and stems: more of them, and higher, the denser the planting.
fn plants(svg: &mut String, tank: &Tank, height: f64) {
    let (every_cm, share) = match tank.plants.planting {
        Planting::None => return,
        Planting::Sparse => (18.0, 0.45),
        Planting::Moderate => (9.0, 0.6),
        Planting::Dense => (5.0, 0.8),
        Planting::Overgrown => (3.5, 1.0),
    };
    let (length, depth) = (tank.length.as_cm(), tank.water_depth.as_cm());
    let _ = write!(svg, r#"<path class="plants" d=""#);
    let mut x = every_cm * 0.6;
    let mut index = 0;
    while x < length - 2.0 {
        // A tuft of three blades.
        for blade in 0..3 {
            let tall = (depth - BED_CM) * share * (0.6 + 0.4 * scatter(index * 3 + blade));
            let lean = 4.5 * (f64::from(blade) - 1.0) + 3.0 * (scatter(index + 7) - 0.5);
            let _ = write!(svg, "M{x:.1} {:.1}q0 {:.1} {lean:.1} {:.1}", height - BED_CM, -0.7 * tall, -tall);
        }
        x += every_cm * (0.7 + 0.6 * scatter(index + 3));
        index += 1;
    }
    svg.push_str("\"/>");
}

fn air(svg: &mut String, tank: &Tank, height: f64) {
    let length = tank.length.as_cm();
    for (place, air) in (1..).zip(&tank.air) {
        let x = length - f64::from(place) * length.min(60.0) * 0.18;
        let from = (RIM_CM + air.depth.as_cm()).min(height - BED_CM);
        let _ = write!(
            svg,
            r#"<path class="tube" d="M{:.1} 0V{from:.1}"/><rect class="device" x="{:.1}" y="{:.1}" width="4" height="3" rx="1"/>"#,
            x + 3.5,
            x - 2.0,
            from - 2.0
        );
        if air.running == Running::Stopped {
            continue;
        }
        let radius = if air.bubbles == Bubbles::Fine { 0.45 } else { 0.8 };
        let mut rise = 4.0;
        let mut index = 0;
        while from - rise > RIM_CM + 1.0 {
            let sway = 2.4 * (scatter(index) - 0.5) * (1.0 + rise / 20.0);
            let _ = write!(svg, r#"<circle class="bubble" cx="{:.1}" cy="{:.1}" r="{radius}"/>"#, x + sway, from - rise);
            rise += 2.6;
            index += 1;
        }
    }
}

/// The filter's outlet at the left; water that falls comes from a lip there.
fn outlet(svg: &mut String, tank: &Tank) {
    let length = tank.length.as_cm();
    if let Some(fall) = tank.falling_water {
        let top = RIM_CM - fall.height.as_cm().min(RIM_CM - 1.0);
        let class = if fall.stopped { "device" } else { "device falling" };
        let _ = write!(svg, r#"<rect class="{class}" x="0" y="{:.1}" width="7" height="{:.1}"/>"#, top - 1.5, RIM_CM - top + 1.5);
    } else if tank.surface >= Surface::Rippled {
        let reach = (length * 0.3).min(30.0);
        let _ = write!(
            svg,
            r#"<path class="device pipe" d="M3 0V{:.1}h4"/><path class="jet" d="M9 {:.1}h{reach:.1}M9 {:.1}h{:.1}"/>"#,
            RIM_CM + 1.2,
            RIM_CM + 1.0,
            RIM_CM + 2.6,
            reach * 0.7
        );
    } else {
        let down = RIM_CM + (tank.water_depth.as_cm() * 0.25).min(10.0);
        let _ = write!(
            svg,
            r#"<path class="device pipe" d="M3 0V{down:.1}h4"/><path class="jet" d="M9 {:.1}h{:.1}"/>"#,
            down + 1.0,
            (length * 0.2).min(20.0)
        );
    }
}

fn animals(svg: &mut String, tank: &Tank, mood: Mood) {
    let total: u32 = tank.stock.iter().map(|group| group.count).sum();
    let (length, depth) = (tank.length.as_cm(), tank.water_depth.as_cm() - BED_CM);
    let mut index = 0;
    for group in &tank.stock {
        let shown = if total > MOST_ANIMALS { (group.count * MOST_ANIMALS / total).max(1) } else { group.count };
        // Body length from mass: about 1 cm³ per gram, a body four times as long as it is high and thick.
        let long = (16.0 * group.mass_each.as_grams()).cbrt().clamp(1.6, length * 0.3);
        for _ in 0..shown {
            let x = long + (length - 2.0 * long) * scatter(index * 3 + 1);
            let (from, share) = if mood == Mood::AtTheTop { (0.04, 0.2) } else { (0.15, 0.75) };
            let y = RIM_CM + long * 0.3 + (depth - long * 0.6) * (from + share * scatter(index * 5 + 2));
            fish(svg, group, x, y, long, index % 2 == 0);
            index += 1;
        }
    }
}

fn fish(svg: &mut String, group: &StockGroup, x: f64, y: f64, long: f64, to_the_left: bool) {
    let turn = if to_the_left { -1.0 } else { 1.0 };
    let (body, high) = (long * 0.36, long * 0.16);
    let class = if group.breathes_air { "fish surface-kind" } else { "fish" };
    let _ = write!(
        svg,
        r#"<path class="{class}" d="M{:.2} {y:.2}q{:.2} {:.2} {:.2} 0l{:.2} {:.2}v{:.2}l{:.2} {:.2}q{:.2} {:.2} {:.2} 0"/>"#,
        x + turn * body,
        -turn * body,
        -2.0 * high,
        -turn * 2.0 * body,
        -turn * long * 0.2,
        -high,
        2.0 * high,
        turn * long * 0.2,
        -high,
        turn * body,
        2.0 * high,
        turn * 2.0 * body,
    );
}

/// A number from 0 to 1 that looks like chance and is the same at every drawing (the finisher of a common integer hash).
fn scatter(index: u32) -> f64 {
    let mut mixed = (index + 1).wrapping_mul(0x9E37_79B9);
    mixed = (mixed ^ (mixed >> 16)).wrapping_mul(0x85EB_CA6B);
    mixed = (mixed ^ (mixed >> 13)).wrapping_mul(0xC2B2_AE35);
    f64::from((mixed ^ (mixed >> 16)) % 1009) / 1008.0
}

#[cfg(test)]
mod tests {
    use super::{Mood, draw};
    use reed_core::document::Document;
    use reed_core::tank::{Planting, Surface, Tank};
    use reed_core::units::Length;

    #[test]
    fn every_tank_can_be_drawn_and_says_in_words_what_it_shows() {
        let examples = reed_fixtures::examples().into_iter().map(|(_, text)| Document::read(&text).expect("an example").tank);
        let extremes =
            [(10.0, 5.0, 3.0), (1000.0, 500.0, 300.0)].map(|(l, w, d)| Tank::plain("x", Length::cm(l), Length::cm(w), Length::cm(d)));
        for mut tank in examples.chain(extremes) {
            for (surface, planting) in Surface::ALL.iter().copied().zip(Planting::ALL.iter().copied()) {
                (tank.surface, tank.plants.planting) = (surface, planting);
                for mood in [Mood::AtEase, Mood::AtTheTop] {
                    let svg = draw(&tank, mood);
                    assert!(!svg.contains("NaN") && !svg.contains("inf") && svg.contains(surface.words()), "{svg}");
                    assert_eq!(svg.matches('<').count(), svg.matches('>').count());
                }
            }
        }
    }

    #[test]
    fn fish_in_distress_are_drawn_higher() {
        let tank = Document::read(&reed_fixtures::example("reading-room")).expect("an example").tank;
        let deepest = |mood| {
            let svg = draw(&tank, mood);
            let starts = svg.split("class=\"fish\" d=\"M").skip(1).filter_map(|rest| rest.split(['q', ' ']).nth(1)?.parse::<f64>().ok());
            starts.fold(0.0, f64::max)
        };
        assert!(deepest(Mood::AtTheTop) < deepest(Mood::AtEase) / 2.0);
    }
}
