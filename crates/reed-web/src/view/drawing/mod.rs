//! The tank to scale: one drawing language for every page. [`draw`] is the small view from the front, [`sheet`] the one
//! with measures, from the front and from above.

mod pen;
mod scene;
mod sheet;
mod things;
mod view;

use reed_core::tank::Tank;

use self::pen::{Pen, escaped};
use self::view::{Side, View};
pub(crate) use sheet::{Use, sheet};

/// Where the fish are drawn.
#[derive(Clone, Copy, PartialEq, Eq)]
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
        tank.stock.iter().map(|group| group.count).fold(0, u32::saturating_add)
    )
}

#[cfg(test)]
mod tests {
    use super::{Mood, draw};
    use reed_core::document::Document;
    use reed_core::tank::{Planting, Surface, Tank};
    use reed_core::units::Length;

    #[test]
    fn every_tank_can_be_drawn_and_says_in_words_what_it_shows() {
        let examples = reed_fixtures::examples().into_iter().map(|(_, text)| Document::read(&text).expect("an example").document.tank);
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
        let tank = Document::read(&reed_fixtures::example("reading-room")).expect("an example").document.tank;
        let deepest = |mood| {
            let svg = draw(&tank, mood);
            let starts = svg.split("class=\"fish\" d=\"M").skip(1).filter_map(|rest| rest.split(['q', ' ']).nth(1)?.parse::<f64>().ok());
            starts.fold(0.0, f64::max)
        };
        assert!(deepest(Mood::AtTheTop) < deepest(Mood::AtEase) / 2.0);
    }
}
