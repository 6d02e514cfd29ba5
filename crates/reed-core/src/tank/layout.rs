//! What the drawing says about where the water goes, before any flow is computed.

use super::Tank;
use super::thing::Pipe;

impl Tank {
    /// Even clean, the filters pass the water less than three times an hour, and no powerhead
    /// helps. The limit is from memory; four to six times by the label are usual, of which 50 to 70
    /// % are left.
    pub fn has_little_flow(&self) -> bool {
        !self.has_wave_maker() && self.turnover_per_h() < 3.0
    }

    /// Intakes in the outer quarters of both ends.
    pub fn has_intakes_at_both_ends(&self) -> bool {
        let quarter = self.glass.length.as_cm() / 4.0;
        let at = |within: &dyn Fn(f64) -> bool| self.intakes().any(|(x, _, _)| within(x));
        at(&|x| x < quarter) && at(&|x| x > 3.0 * quarter)
    }

    /// A background stands there, and no intake is behind it.
    pub fn has_background_without_intake_behind(&self) -> bool {
        let backgrounds = (self.things.iter()).filter_map(|thing| thing.what.form().background());
        backgrounds
            .into_iter()
            .any(|background| !self.intakes().any(|(x, y, _)| background.hides(x, y, self)))
    }

    /// Some outlet, or a powerhead on a sponge, blows between a quarter and three quarters of the
    /// water's height, and none near the surface.
    pub fn has_stream_at_half_height(&self) -> bool {
        let level = self.water_depth.as_cm();
        let heights: Vec<f64> = (self.things.iter())
            .filter_map(|thing| Some(thing.z.as_cm() + thing.what.form().stream_above()?.as_cm()))
            .collect();
        heights
            .iter()
            .any(|z| (0.25 * level..0.75 * level).contains(z))
            && heights.iter().all(|z| *z < 0.75 * level)
    }

    /// Places of the intakes of plumbed filters, cm.
    pub(crate) fn intakes(&self) -> impl Iterator<Item = (f64, f64, f64)> {
        self.things
            .iter()
            .filter(|thing| thing.what.form().pipe() == Pipe::Intake)
            .map(|thing| (thing.x.as_cm(), thing.y.as_cm(), thing.z.as_cm()))
    }
}
