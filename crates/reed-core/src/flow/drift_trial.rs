//! The flow model held against real water: a pinch of something let go at the surface, seen again a
//! while later.
//!
//! No tank like the keeper's was ever measured for the model. What one pinch does is little, but it
//! is of this tank: where the model says otherwise, what it computed counts for less.

use std::f64::consts::TAU;

use reed_flow::Field;
use reed_flow::measure::{Muck, drifted};

use crate::tank::Tank;
use crate::units::{Length, Quantity, Refusal, Units};

/// What is let go.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum FoodRelease {
    /// Crumbled food, a few wetted flakes.
    #[default]
    FineFood,
    /// Water beads of gel: for a tank without animals alone, which would swallow them.
    GelBeads,
}

impl FoodRelease {
    /// All of them.
    pub const ALL: [Self; 2] = [Self::FineFood, Self::GelBeads];

    /// Stable id.
    pub const fn id(self) -> &'static str {
        match self {
            Self::FineFood => "fine-food",
            Self::GelBeads => "gel-beads",
        }
    }

    /// By its id.
    pub fn by_id(id: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|pinch| pinch.id() == id)
    }

    /// In words.
    pub const fn words(self) -> &'static str {
        match self {
            Self::FineFood => "fine food",
            Self::GelBeads => "gel beads",
        }
    }

    /// Wetted crumbs sink at some 4 mm/s, swollen beads at some 10; from memory.
    const fn muck(self) -> Muck {
        let [slow, fast] = Muck::SINKS;
        let sinks = match self {
            Self::FineFood => slow,
            Self::GelBeads => fast,
        };
        Muck {
            sinks,
            lifted_at: Muck::LIFTED_AT[1],
        }
    }
}

/// What was done and seen; centimetres from the front left corner of the tank's floor.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct DriftTrial {
    /// What was let go.
    pub pinch: FoodRelease,
    /// Where: from the left, from the front.
    pub from_cm: [f64; 2],
    /// Where most of it was at the end: from the left, from the front, above the floor.
    pub to_cm: [f64; 3],
    /// After so many seconds.
    pub seconds: f64,
}

/// Pieces that are followed.
const PIECES: usize = 600;
/// How well an eye and a finger place a cloud: this share of each length of the tank, and no better
/// than so many cm. Judgements.
const SHARE_OF_LENGTH: f64 = 0.12;
const AT_BEST_CM: f64 = 4.0;
/// One pinch does not speak louder than this for or against. A judgement.
const LOUDEST: f64 = 10.0;
/// How likely it is, before any test, that the model describes a tank. A judgement.
const BEFORE_ANY_TEST: f64 = 0.8;

impl DriftTrial {
    /// What cannot be, field by field, in the keeper's units.
    pub fn refusals(&self, tank: &Tank, units: &Units) -> Vec<Refusal> {
        let (length, width, level) = (
            tank.glass.length.as_cm(),
            tank.glass.width.as_cm(),
            tank.water_depth.as_cm(),
        );
        let within = |path: &str, what: &str, value: f64, most: f64| {
            let print = |cm: f64| units.print(cm, Length::UNITS, 0);
            (!(0.0..=most).contains(&value)).then(|| {
                Refusal::new(
                    path,
                    what,
                    &print(value),
                    format!("0 to {} is inside the water.", print(most)),
                )
            })
        };
        let [from_x, from_y] = self.from_cm;
        let [x, y, z] = self.to_cm;
        let time = !(10.0..=600.0).contains(&self.seconds);
        [
            within("from_x", "Let go, from the left", from_x, length),
            within("from_y", "Let go, from the front", from_y, width),
            within("to_x", "Seen, from the left", x, length),
            within("to_y", "Seen, from the front", y, width),
            within("to_z", "Seen, above the floor", z, level),
            time.then(|| {
                Refusal::new(
                    "seconds",
                    "Seconds",
                    &self.seconds.to_string(),
                    "10 to 600 seconds can be compared.".to_owned(),
                )
            }),
        ]
        .into_iter()
        .flatten()
        .collect()
    }

    /// How much likelier the model makes what was seen than chance does: the density of its cloud
    /// there, seen as well as an eye sees, over that of a cloud spread through all the water.
    /// `bed_cm` is where the field's floor lies.
    pub fn held_against(&self, field: &Field, bed_cm: f64) -> f64 {
        let metres = |cm: f64| {
            #[expect(clippy::cast_possible_truncation, reason = "a place in a tank")]
            let metres = (cm / 100.0) as f32;
            metres
        };
        #[expect(clippy::cast_possible_truncation, reason = "some minutes")]
        let seconds = self.seconds as f32;
        let cloud = drifted(
            field,
            self.from_cm.map(metres),
            seconds,
            self.pinch.muck(),
            PIECES,
        );
        let size = field.size().map(|side| f64::from(side) * 100.0);
        let seen = [
            self.to_cm[0],
            self.to_cm[1],
            (self.to_cm[2] - bed_cm).max(0.0),
        ];
        let spread = size.map(|side| (SHARE_OF_LENGTH * side).max(AT_BEST_CM));
        let near = |piece: &[f32; 3]| -> f64 {
            (0..3)
                .map(|axis| {
                    bell((seen[axis] - f64::from(piece[axis]) * 100.0) / spread[axis])
                        / spread[axis]
                })
                .product()
        };
        let density = cloud.iter().map(near).sum::<f64>() / cloud.len() as f64;
        (density * size.iter().product::<f64>()).clamp(1.0 / LOUDEST, LOUDEST)
    }
}

fn bell(off: f64) -> f64 {
    (-off * off / 2.0).exp() / TAU.sqrt()
}

/// What the flow model of a tank is worth, 0 to 1; all of it before any test.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Trust(f64);

impl Default for Trust {
    fn default() -> Self {
        Self(1.0)
    }
}

impl Trust {
    /// After tests with these factors: how likely it is that the model describes the tank, over how
    /// likely that was before.
    pub fn after(factors: &[f64]) -> Self {
        let odds = factors
            .iter()
            .fold(BEFORE_ANY_TEST / (1.0 - BEFORE_ANY_TEST), |odds, factor| {
                odds * factor
            });
        Self((odds / (1.0 + odds) / BEFORE_ANY_TEST).min(1.0))
    }

    /// As a share.
    pub const fn share(self) -> f64 {
        self.0
    }

    /// Tests speak against the model, and what it says counts for less.
    pub fn is_doubted(self) -> bool {
        self.0 < 0.9
    }
}

/// What a test says of the model, as a sentence.
pub fn says(factor: f64) -> &'static str {
    if factor >= 2.0 {
        "The model puts it there too."
    } else if factor >= 0.5 {
        "The model neither puts it there nor elsewhere: this test says little."
    } else {
        "The model puts it elsewhere."
    }
}

#[cfg(test)]
mod tests {
    use super::{DriftTrial, FoodRelease, Trust};
    use crate::document::start;
    use crate::flow::TankScene;
    use crate::units::Units;
    use reed_flow::Settings;
    use std::ops::ControlFlow;

    /// Where the model itself puts the pinch the test agrees, at the other end it does not, and
    /// what it says moves the trust.
    #[test]
    fn a_test_speaks_for_the_model_where_it_says_so_and_against_it_elsewhere() {
        let tank = start::by_id("planted-canister").expect("listed").tank();
        let drawn = TankScene::of(&tank);
        let settled = drawn
            .scene
            .settle(&Settings::of(&drawn.scene).coarsely(), |_| {
                ControlFlow::Continue(())
            })
            .expect("not broken off");
        let bed = tank.water_depth.as_cm() - f64::from(drawn.scene.size[2]) * 100.0;
        let mut test = DriftTrial {
            pinch: FoodRelease::FineFood,
            from_cm: [20.0, 20.0],
            to_cm: [0.0; 3],
            seconds: 60.0,
        };
        let cloud = reed_flow::measure::drifted(
            &settled.mean,
            [0.2, 0.2],
            60.0,
            FoodRelease::FineFood.muck(),
            400,
        );
        let mean = |axis: usize| {
            cloud
                .iter()
                .map(|piece| f64::from(piece[axis]) * 100.0)
                .sum::<f64>()
                / 400.0
        };
        test.to_cm = [mean(0), mean(1), mean(2) + bed];
        assert_eq!(test.refusals(&tank, &Units::BASE), []);
        let there = test.held_against(&settled.mean, bed);
        let far = if mean(0) > tank.glass.length.as_cm() / 2.0 {
            2.0
        } else {
            tank.glass.length.as_cm() - 2.0
        };
        let elsewhere = DriftTrial {
            to_cm: [far, mean(1), 40.0],
            ..test
        }
        .held_against(&settled.mean, bed);
        assert!(there > 2.0 && elsewhere < 0.5, "{there} and {elsewhere}");
        let share = |factors: &[f64]| Trust::after(factors).share();
        assert!((share(&[]) - 1.0).abs() < 1e-9 && (share(&[there]) - 1.0).abs() < 1e-9);
        assert!(share(&[elsewhere]) < 0.9 && share(&[elsewhere, elsewhere]) < share(&[elsewhere]));
        assert!(share(&[there, elsewhere]) > share(&[elsewhere]));
    }

    #[test]
    fn what_lies_outside_is_refused_by_name() {
        let tank = start::by_id("planted-canister").expect("listed").tank();
        let test = DriftTrial {
            pinch: FoodRelease::FineFood,
            from_cm: [-1.0, f64::NAN],
            to_cm: [5000.0, 5.0, 500.0],
            seconds: 1.0,
        };
        let refused: Vec<String> = test
            .refusals(&tank, &Units::BASE)
            .iter()
            .map(ToString::to_string)
            .collect();
        assert_eq!(refused.len(), 5, "{refused:?}");
        assert!(
            refused[0].contains("Let go, from the left")
                && refused[4].contains("10 to 600 seconds"),
            "{refused:?}"
        );
    }
}
