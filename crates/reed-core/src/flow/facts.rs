//! What a survey of the flow found, as plain data in the keeper's measures.

use reed_flow::measure::BINS;
use reed_flow::{Band, Survey};

use super::drift_trial::Trust;
use super::scene::{LeftOut, TankScene};
use crate::statistics::{BAND, normal_below};
use crate::tank::{Serial, Tank};

/// A number with how far it may be off.
#[derive(Clone, Copy, Debug, Default, PartialEq, serde::Serialize, serde::Deserialize)]
pub struct Range {
    /// The least under any assumption.
    pub low: f64,
    /// Under the assumptions thought best.
    pub likely: f64,
    /// The most under any assumption.
    pub high: f64,
}

/// What an intake takes in.
#[derive(Clone, Debug, PartialEq, serde::Serialize, serde::Deserialize)]
pub struct Intake {
    /// The thing.
    pub thing: Serial,
    /// Its name.
    pub name: String,
    /// Share of all muck that it catches.
    pub caught: Range,
    /// Share of micro-bubbles, from outlets and air stones, that it takes in.
    pub bubbles: Range,
}

/// A place for an intake, cm from the front left corner of the tank's floor.
#[derive(Clone, Copy, Debug, PartialEq, serde::Serialize, serde::Deserialize)]
pub struct Spot {
    /// From the left.
    pub x_cm: f64,
    /// From the front.
    pub y_cm: f64,
    /// Above the floor.
    pub z_cm: f64,
    /// Share of the muck that comes within 3 cm.
    pub muck: f64,
    /// Share of the micro-bubbles that do.
    pub bubbles: f64,
}

/// Everything that is told of the flow in a tank.
#[derive(Clone, Debug, Default, PartialEq, serde::Serialize, serde::Deserialize)]
pub struct Facts {
    /// The loop did not settle under some assumption.
    pub unsteady: bool,
    /// Water through all intakes per hour over the water in the tank.
    pub turnover_per_h: f64,
    /// Mean speed just below the surface, cm/s.
    pub surface_cm_s: Range,
    /// How briskly the surface is renewed, 1/s.
    pub renewal_per_s: Range,
    /// Mean speed of all water, cm/s.
    pub mean_cm_s: Range,
    /// Mean speed of the lowest water, cm/s.
    pub over_bed_cm_s: Range,
    /// Share of the water that is slower than 1 cm/s.
    pub slow: Range,
    /// The same of the left, the middle and the right third.
    pub slow_thirds: [Range; 3],
    /// Share of the water in which fish rest at ease: neither standing nor pushing.
    pub gentle: Range,
    /// Minutes that 95 % of the water are at most away from the surface.
    pub since_surface_min: Range,
    /// How the loop turns seen from the front: 1 with the clock, −1 against it, 0 not at all.
    pub loop_turns: Range,
    /// Share of the thrust that streams spend against each other.
    pub facing: f64,
    /// Current over the parts of the bed, cm/s to the right and to the back; from the left, from
    /// the front.
    pub bed_cm_s: [[[f64; 2]; BINS[0]]; BINS[1]],
    /// Share of all muck that comes to rest on the bed.
    pub muck_rests: Range,
    /// The same of each part of the bed, in the same order.
    pub rests: [[Range; BINS[0]]; BINS[1]],
    /// How much more muck rests beside rock than on as much open bed; 0 without rock.
    pub shadow: Range,
    /// Every intake.
    pub intakes: Vec<Intake>,
    /// The best places for one more intake, best first.
    pub best: Vec<Spot>,
    /// What the scene does not show.
    pub left_out: Vec<LeftOut>,
    /// What the model is worth in this tank. It is of the tank, not of the scene, and not kept with
    /// it.
    #[serde(skip)]
    pub trust: Trust,
}

/// How many good places are kept, and how far apart, m.
const BEST: (usize, f32) = (5, 0.12);
/// Least spread of what the flow model says, as one standard deviation of the logarithm. It was
/// never held against a tank. A judgement.
const MODEL_LOG_SPREAD: f64 = 0.4;
/// Highest sureness that it gives. A judgement.
const SUREST: f64 = 0.9;

impl From<Band> for Range {
    fn from(band: Band) -> Self {
        Self {
            low: band.low.into(),
            likely: band.likely.into(),
            high: band.high.into(),
        }
    }
}

impl Range {
    fn times(self, factor: f64) -> Self {
        Self {
            low: self.low * factor,
            likely: self.likely * factor,
            high: self.high * factor,
        }
    }

    /// How sure it is that the value lies below a limit, from 0.1 to 0.9: a band of four in five,
    /// lognormal, never narrower than the model deserves.
    pub fn sure_below(&self, limit: f64) -> f64 {
        let log = |value: f64| value.max(1e-6).ln();
        let spread = ((log(self.high) - log(self.low)) / (2.0 * BAND)).max(MODEL_LOG_SPREAD);
        normal_below((log(limit) - log(self.likely)) / spread).clamp(1.0 - SUREST, SUREST)
    }
}

impl Facts {
    /// What a survey of a tank's scene found.
    pub fn of(tank: &Tank, drawn: &TankScene, survey: &Survey) -> Self {
        let bed_cm = tank.water_depth.as_cm() - f64::from(drawn.scene.size[2]) * 100.0;
        let intakes = drawn
            .intakes
            .iter()
            .zip(survey.caught.iter().zip(&survey.bubbles));
        let name = |thing: Serial| {
            tank.thing(thing)
                .map_or_else(String::new, |thing| thing.name.clone())
        };
        Self {
            unsteady: survey.unsteady,
            turnover_per_h: survey.turnover.into(),
            surface_cm_s: Range::from(survey.surface_speed).times(100.0),
            renewal_per_s: survey.surface_renewal.into(),
            mean_cm_s: Range::from(survey.mean_speed).times(100.0),
            over_bed_cm_s: Range::from(survey.bed_speed).times(100.0),
            slow: survey.slow.into(),
            slow_thirds: survey.slow_thirds.map(Range::from),
            gentle: survey.gentle.into(),
            since_surface_min: Range::from(survey.since_surface).times(1.0 / 60.0),
            loop_turns: survey.loop_turns.into(),
            facing: survey.facing.into(),
            bed_cm_s: survey
                .bed
                .map(|row| row.map(|part| part.mean.map(|speed| f64::from(speed) * 100.0))),
            muck_rests: survey.muck_rests.into(),
            rests: survey.rests.map(|row| row.map(Range::from)),
            shadow: survey.shadow.into(),
            intakes: intakes
                .map(|(thing, (caught, bubbles))| Intake {
                    thing: *thing,
                    name: name(*thing),
                    caught: (*caught).into(),
                    bubbles: (*bubbles).into(),
                })
                .collect(),
            best: survey
                .places
                .best(BEST.0, BEST.1)
                .iter()
                .map(|place| {
                    let [x_cm, y_cm, z_cm] = place
                        .at
                        .map(|metres| (f64::from(metres) * 1000.0).round() / 10.0);
                    Spot {
                        x_cm,
                        y_cm,
                        z_cm: ((z_cm + bed_cm) * 10.0).round() / 10.0,
                        muck: place.muck.into(),
                        bubbles: place.bubbles.into(),
                    }
                })
                .collect(),
            left_out: drawn.left_out.clone(),
            trust: Trust::default(),
        }
    }

    /// Share of all muck that the intakes of a filter of this tank catch; none where it has none
    /// that is drawn.
    pub fn caught_by_filter(&self, tank: &Tank, filter: Serial) -> Option<f64> {
        let is_own = |number: Serial| {
            let thing = tank.things.iter().find(|thing| thing.number == number);
            thing.is_some_and(|thing| thing.is_of(filter))
        };
        let own = self.intakes.iter().filter(|intake| is_own(intake.thing));
        let shares: Vec<f64> = own.map(|intake| intake.caught.likely).collect();
        (!shares.is_empty()).then(|| shares.iter().sum())
    }

    /// Share of all muck that the intakes catch together, likely.
    pub fn caught(&self) -> f64 {
        self.intakes.iter().map(|intake| intake.caught.likely).sum()
    }

    /// What the intakes catch over what one at the best place would; `None` without intakes, or
    /// where no place is worth a hose.
    pub fn caught_of_best(&self) -> Option<Range> {
        let best = self
            .best
            .first()
            .map(|spot| spot.muck)
            .filter(|muck| *muck > 0.02)?;
        let sum = |of: fn(&Range) -> f64| {
            self.intakes
                .iter()
                .map(|intake| of(&intake.caught))
                .sum::<f64>()
                / best
        };
        (!self.intakes.is_empty()).then(|| Range {
            low: sum(|range| range.low),
            likely: sum(|range| range.likely),
            high: sum(|range| range.high),
        })
    }

    /// What the worst intake catches over what the best one does; `None` with fewer than two.
    pub fn worst_over_best(&self) -> Option<Range> {
        let by = |pick: fn(f64, f64) -> f64, start: f64, of: fn(&Range) -> f64| {
            self.intakes
                .iter()
                .map(|intake| of(&intake.caught))
                .fold(start, pick)
        };
        let share =
            |of: fn(&Range) -> f64| by(f64::min, f64::INFINITY, of) / by(f64::max, 1e-3, of);
        (self.intakes.len() > 1).then(|| {
            let shares = [
                share(|range| range.low),
                share(|range| range.likely),
                share(|range| range.high),
            ];
            Range {
                low: shares[0].min(shares[2]),
                likely: shares[1],
                high: shares[0].max(shares[2]),
            }
        })
    }
}

/// Edition of the flow model: raised when the same scene is told otherwise, so that what an older
/// one computed is not told.
const MODEL: u32 = 7;

/// Key of what is kept of a survey: the same for tanks of which the same is told. What flows the
/// same but is called otherwise, or stands on a deeper bed, is told otherwise.
pub fn key(tank: &Tank, drawn: &TankScene) -> String {
    let names: Vec<&str> = drawn
        .intakes
        .iter()
        .filter_map(|thing| Some(tank.thing(*thing)?.name.as_str()))
        .collect();
    let told = format!("{MODEL}{drawn:?}{names:?}{}", tank.water_depth.as_cm());
    // FNV-1a over the numbers as written: stable from run to run, which the hasher of the standard
    // library does not promise.
    let hash = told.bytes().fold(0xcbf2_9ce4_8422_2325_u64, |hash, byte| {
        (hash ^ u64::from(byte)).wrapping_mul(0x0100_0000_01b3)
    });
    format!("{hash:016x}")
}

#[cfg(test)]
mod tests {
    use super::Range;

    #[test]
    fn a_band_is_never_surer_than_the_model_deserves() {
        let narrow = Range {
            low: 4.0,
            likely: 4.0,
            high: 4.0,
        };
        assert!((narrow.sure_below(4.0) - 0.5).abs() < 1e-9);
        assert!(
            (narrow.sure_below(100.0) - 0.9).abs() < 1e-9
                && (narrow.sure_below(0.1) - 0.1).abs() < 1e-9
        );
        let wide = Range {
            low: 1.0,
            likely: 4.0,
            high: 16.0,
        };
        assert!(wide.sure_below(6.0) < narrow.sure_below(6.0) && wide.sure_below(6.0) > 0.5);
        assert!(
            (Range::default().sure_below(1.0) - 0.9).abs() < 1e-9,
            "nothing caught is surely little"
        );
    }
}
