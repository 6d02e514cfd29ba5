//! The tank to scale: one drawing language for every page. [`draw`] is the small view from the
//! front, [`sheet`] the one with measures, from the front and from above.

mod cutaway;
mod drift;
mod pen;
mod scene;
mod sheet;
mod silhouette;
mod sump;
mod things;
mod view;

use reed_core::tank::Tank;

use self::pen::Pen;
pub(in crate::view) use self::pen::escaped;
use self::view::{Side, View};
pub(crate) use cutaway::cutaway;
pub(crate) use sheet::{Use, comparing_sheet, drift_sheet, sheet};
pub(crate) use silhouette::silhouette;
pub(crate) use sump::sump_drawing;

/// Where the fish are drawn.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub(crate) enum Mood {
    /// Through the whole height.
    AtEase,
    /// Near the surface.
    AtTheTop,
}

/// Draws the tank from the front, one unit to the centimetre.
pub(crate) fn draw(tank: &Tank, mood: Mood) -> String {
    let view = View::of(tank, Side::Front);
    let mut pen = Pen::new();
    pen.raw(format_args!(
        r#"<svg class="tank" viewBox="-2 -5 {:.1} {:.1}" role="img" aria-label="{}">"#,
        view.length + 4.0,
        view.height + 7.0,
        escaped(&words(tank))
    ));
    scene::water(&mut pen, &view);
    scene::plants(&mut pen, &view, tank.plants.planting);
    let mut far_first: Vec<_> = tank.things.iter().collect();
    far_first.sort_by(|a, b| b.y.as_cm().total_cmp(&a.y.as_cm()));
    for thing in far_first {
        things::thing(&mut pen, &view, thing, tank);
    }
    scene::animals(&mut pen, &view, tank, mood);
    scene::surface(&mut pen, &view, tank.surface);
    scene::glass(&mut pen, &view);
    pen.raw("</svg>");
    pen.finish()
}

fn words(tank: &Tank) -> String {
    format!(
        "Front view to scale: {:.0} by {:.0} cm of water, surface {}, {} animals",
        tank.glass.length.as_cm(),
        tank.water_depth.as_cm(),
        tank.surface.words(),
        tank.stock
            .iter()
            .map(|group| group.count)
            .fold(0, u32::saturating_add)
    )
}

#[cfg(test)]
mod tests {
    use super::{Mood, Use, draw, sheet};
    use reed_core::document::Document;
    use reed_core::document::start;
    use reed_core::tank::{Planting, Surface, Tank};
    use reed_core::units::{Length, LengthUnit, Quantity, Units, plain};

    #[test]
    fn every_tank_can_be_drawn_and_says_in_words_what_it_shows() {
        let examples = reed_fixtures::examples()
            .into_iter()
            .map(|(_, text)| Document::read(&text).expect("an example").document.tank);
        let extremes = [(10.0, 5.0, 3.0), (1000.0, 500.0, 300.0)]
            .map(|(l, w, d)| Tank::plain("x", Length::cm(l), Length::cm(w), Length::cm(d)));
        for mut tank in examples.chain(extremes) {
            for (surface, planting) in Surface::ALL
                .iter()
                .copied()
                .zip(Planting::ALL.iter().copied())
            {
                (tank.surface, tank.plants.planting) = (surface, planting);
                for mood in [Mood::AtEase, Mood::AtTheTop] {
                    let svg = draw(&tank, mood);
                    assert!(
                        !svg.contains("NaN")
                            && !svg.contains("inf")
                            && svg.contains(surface.words()),
                        "{svg}"
                    );
                    assert_eq!(svg.matches('<').count(), svg.matches('>').count());
                }
            }
        }
    }

    #[test]
    fn fish_in_distress_are_drawn_higher() {
        let tank = Document::read(&reed_fixtures::example("reading-room"))
            .expect("an example")
            .document
            .tank;
        let deepest = |mood| {
            let svg = draw(&tank, mood);
            let outlines = svg
                .split("class=\"fish\" d=\"")
                .nth(1)
                .and_then(|rest| rest.split('"').next())
                .expect("fish");
            let starts = outlines
                .split('M')
                .filter_map(|rest| rest.split(['q', ' ']).nth(1)?.parse::<f64>().ok());
            starts.fold(0.0, f64::max)
        };
        assert!(deepest(Mood::AtTheTop) < deepest(Mood::AtEase) / 2.0);
    }

    /// Every number in attributes that are places or sizes.
    fn numbers(svg: &str, attribute: &str) -> Vec<f64> {
        let start = format!(" {attribute}=\"");
        let parts = svg.split(&start).skip(1);
        parts
            .filter_map(|rest| rest.split('"').next()?.parse().ok())
            .collect()
    }

    #[test]
    fn every_set_up_is_drawn_whole_from_both_sides_in_both_uses_and_units() {
        let inches = Units {
            length: LengthUnit::Inches,
            ..Units::BASE
        };
        for start in start::ALL {
            let tank = start.tank();
            for (units, length) in [
                (Units::BASE, tank.glass.length.as_cm()),
                (inches, tank.glass.length.as_cm() / 2.54),
            ] {
                for purpose in [Use::Reading, Use::Changing] {
                    let svg = sheet(&tank, &units, &[], purpose);
                    assert!(!svg.contains("NaN") && !svg.contains("inf"), "{}", start.id);
                    assert_eq!(svg.matches("<g").count(), svg.matches("</g>").count());
                    assert_eq!(
                        svg.matches("class=\"thing").count(),
                        2 * tank.things.len(),
                        "each thing in each view"
                    );
                    assert_eq!(
                        svg.matches("tabindex").count(),
                        if purpose == Use::Changing {
                            2 * tank.things.len()
                        } else {
                            0
                        }
                    );
                    let measure = format!(
                        ">{} {}<",
                        plain((length * 10.0).round() / 10.0),
                        units.of(Length::UNITS).symbol
                    );
                    assert!(svg.contains(&measure), "{}: {measure}", start.id);
                    let radii = numbers(&svg, "r");
                    assert!(
                        numbers(&svg, "width")
                            .into_iter()
                            .chain(radii)
                            .all(|size| size >= 0.0),
                        "{}",
                        start.id
                    );
                }
            }
        }
    }

    #[test]
    fn what_does_not_fit_is_marked_where_it_is_and_said_in_its_name() {
        let mut tank = start::by_id("planted-canister").expect("listed").tank();
        tank.things[1].z = Length::cm(47.0);
        let conflicts = tank.conflicts(&Units::BASE);
        let svg = sheet(&tank, &Units::BASE, &conflicts, Use::Changing);
        assert_eq!(svg.matches("thing impossible").count(), 2, "in both views");
        assert!(svg.contains("Intake, intake: 4.0 cm from the left, 36.0 cm from the front, 47.0 cm above the floor. Intake reaches"));
        tank.things[3].locked = true;
        assert_eq!(
            sheet(&tank, &Units::BASE, &[], Use::Changing)
                .matches("thing locked")
                .count(),
            2
        );
    }

    /// The two views are of one scale and one place: a stone's left edge stands above its left
    /// edge.
    #[test]
    fn both_views_share_their_scale_and_left_edge() {
        let svg = sheet(
            &start::by_id("sponge-cube").expect("listed").tank(),
            &Units::BASE,
            &[],
            Use::Reading,
        );
        let transforms: Vec<&str> = svg
            .split("transform=\"translate(")
            .skip(1)
            .filter_map(|rest| rest.split('"').next())
            .collect();
        let part = |transform: &str| {
            (
                transform.split(' ').next().map(str::to_owned),
                transform.split("scale(").nth(1).map(str::to_owned),
            )
        };
        assert_eq!(transforms.len(), 2);
        assert_eq!(part(transforms[0]), part(transforms[1]));
    }
}
