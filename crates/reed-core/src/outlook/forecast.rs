//! Forecasts with their uncertainty: many twins, each weighed by how well it fits what is known.

use std::sync::Arc;

use crate::figure::Figure;
use crate::statistics::normal_below;
use crate::tank::{Purpose, Tank};
use crate::twin::{Doubt, Stirring, Twin};
use crate::water::oxygen::Settled;

/// Spread (standard deviation of the logarithm) of everything that brings oxygen in: transfer
/// velocities are known to within half and double.
pub const EXCHANGE_SPREAD: Figure = Figure::from_memory(0.35);
/// The same for everything that uses it up.
pub const DEMAND_SPREAD: Figure = Figure::from_memory(0.30);

/// What the well-mixed, settled model leaves out: one standard deviation between model and a
/// perfect reading, mg/L.
pub const MODEL_RESIDUAL_MG_L: Figure = Figure::from_memory(0.3);

/// Number of doubts in the grid.
pub const DOUBTS: usize = 9;

/// The doubts: three values each of exchange and demand, with their weights, which sum to one.
///
/// Three-point Gauss–Hermite rule (nodes 0, ±√3 σ, weights 2/3, 1/6, 1/6): exact for moments up to
/// the fifth.
pub fn doubts() -> [(Doubt, f64); DOUBTS] {
    let nodes = [
        (-3f64.sqrt(), 1.0 / 6.0),
        (0.0, 2.0 / 3.0),
        (3f64.sqrt(), 1.0 / 6.0),
    ];
    std::array::from_fn(|index| {
        let ((exchange, one), (demand, other)) = (nodes[index / 3], nodes[index % 3]);
        let doubt = Doubt {
            exchange: (exchange * EXCHANGE_SPREAD.value).exp(),
            demand: (demand * DEMAND_SPREAD.value).exp(),
        };
        (doubt, one * other)
    })
}

/// A tank as it may be, with the doubt about its figures and how likely that is.
#[derive(Clone, Debug)]
pub struct Member {
    /// The tank, with the faults it is thought to have; shared by the members that differ in their
    /// doubt alone.
    pub tank: Arc<Tank>,
    /// How far its figures may be off.
    pub doubt: Doubt,
    /// Probability, up to a common factor.
    pub weight: f64,
}

/// Several possible tanks: what is believed about the real one.
#[derive(Clone, Debug)]
pub struct Ensemble {
    members: Vec<Member>,
    stirring: Stirring,
}

/// Hours of the points of a [`Forecast`]: every half hour from 0 to 24.
pub const POINTS: u32 = 49;

/// A settled day as it is expected, with its uncertainty. Serialisable, so that what was promised
/// can be kept.
#[derive(Clone, Debug, PartialEq, serde::Serialize, serde::Deserialize)]
pub struct Forecast {
    /// Expected oxygen at each half hour from midnight to midnight, mg/L.
    pub mean: Vec<f64>,
    /// One standard deviation at each, mg/L.
    pub spread: Vec<f64>,
    /// Expected lowest point of the day, mg/L.
    pub lowest: f64,
    /// Its standard deviation, mg/L.
    pub lowest_spread: f64,
    /// Hour of the day of the lowest point, of the likeliest member.
    pub lowest_hour: f64,
    /// Expected saturation, mg/L.
    pub saturation: f64,
    /// Hours until the day has settled after a change, of the likeliest member.
    pub hours_to_settle: f64,
    /// Lowest points with their weights, for chances.
    lows: Vec<(f64, f64)>,
    /// Share of saturation below which to act in a tank of this purpose.
    #[serde(default = "display_share")]
    pub act_share: f64,
}

/// Forecasts that were kept before tanks had a purpose were of displays.
fn display_share() -> f64 {
    Purpose::Display.limits().oxygen_act.value
}

impl Ensemble {
    /// An ensemble of these members; the unlikely ones are left out, 97 % of the weight stays at
    /// least.
    ///
    /// # Panics
    /// When there is no member of positive weight.
    pub fn new(mut members: Vec<Member>) -> Self {
        members.sort_by(|a, b| b.weight.total_cmp(&a.weight));
        let total: f64 = members.iter().map(|member| member.weight).sum();
        assert!(total > 0.0, "an ensemble needs a possible member");
        let mut kept = 0.0;
        let enough = members.iter().position(|member| {
            kept += member.weight;
            kept >= 0.97 * total
        });
        members.truncate(enough.map_or(members.len(), |index| index + 1));
        Self {
            members,
            stirring: Stirring::AS_IT_LOOKS,
        }
    }

    /// A tank taken at its word, with only the general doubt about the figures.
    pub fn of_tank(tank: &Tank) -> Self {
        let tank = Arc::new(tank.clone());
        Self::new(
            doubts()
                .map(|(doubt, weight)| Member {
                    tank: Arc::clone(&tank),
                    doubt,
                    weight,
                })
                .to_vec(),
        )
    }

    /// The same, its surfaces stirred so.
    #[must_use]
    pub fn stirred(self, stirring: Stirring) -> Self {
        Self { stirring, ..self }
    }

    /// The likeliest tank.
    pub fn likeliest(&self) -> &Tank {
        &self.members[0].tank
    }

    /// The settled day to expect, after `change` was made to each possible tank.
    pub fn forecast(&self, change: impl Fn(&Tank) -> Tank) -> Forecast {
        // Members are sorted by weight, not by tank; the same tank under another doubt is not built
        // again.
        let mut courses: Vec<(&Arc<Tank>, crate::water::oxygen::Course)> = Vec::new();
        let days: Vec<(Settled, f64)> = self
            .members
            .iter()
            .map(|member| {
                let known = courses
                    .iter()
                    .find(|(tank, _)| Arc::ptr_eq(tank, &member.tank))
                    .map(|(_, course)| *course);
                let course = known.unwrap_or_else(|| {
                    let course = Twin::course_of(&change(&member.tank), self.stirring);
                    courses.push((&member.tank, course));
                    course
                });
                (
                    course
                        .scaled(member.doubt.exchange, member.doubt.demand)
                        .settled(),
                    member.weight,
                )
            })
            .collect();
        Forecast::of(&days, self.likeliest().purpose.limits().oxygen_act.value)
    }
}

impl Forecast {
    fn of(days: &[(Settled, f64)], act_share: f64) -> Self {
        let total: f64 = days.iter().map(|(_, weight)| weight).sum();
        let moments = |value: &dyn Fn(&Settled) -> f64| {
            let mean = days
                .iter()
                .map(|(day, weight)| value(day) * weight)
                .sum::<f64>()
                / total;
            let variance = days
                .iter()
                .map(|(day, weight)| (value(day) - mean).powi(2) * weight)
                .sum::<f64>()
                / total;
            (mean, (variance + MODEL_RESIDUAL_MG_L.value.powi(2)).sqrt())
        };
        let (mean, spread) = (0..POINTS)
            .map(|half_hour| moments(&|day| day.at(f64::from(half_hour) / 2.0)))
            .unzip();
        let lows: Vec<_> = days
            .iter()
            .map(|(day, weight)| (day.lowest().1, weight / total))
            .collect();
        let lowest = lows.iter().map(|(low, weight)| low * weight).sum::<f64>();
        let variance = lows
            .iter()
            .map(|(low, weight)| (low - lowest).powi(2) * weight)
            .sum::<f64>();
        Self {
            mean,
            spread,
            lowest,
            lowest_spread: (variance + MODEL_RESIDUAL_MG_L.value.powi(2)).sqrt(),
            lowest_hour: days[0].0.lowest().0,
            saturation: days
                .iter()
                .map(|(day, weight)| day.course.saturation_mg_l * weight)
                .sum::<f64>()
                / total,
            hours_to_settle: days[0].0.hours_to_settle(),
            lows,
            act_share,
        }
    }

    /// Expected oxygen and its standard deviation at this hour, mg/L, by interpolation.
    pub fn at(&self, hour: f64) -> (f64, f64) {
        let place = (hour.rem_euclid(24.0) * 2.0).min(47.999_999);
        #[expect(
            clippy::cast_possible_truncation,
            clippy::cast_sign_loss,
            reason = "0 to 47 by the line above"
        )]
        let index = place as usize;
        let part = place.fract();
        let between = |values: &[f64]| values[index] * (1.0 - part) + values[index + 1] * part;
        (between(&self.mean), between(&self.spread))
    }

    /// Level below which to act, mg/L.
    pub fn act_below(&self) -> f64 {
        act_below(self.saturation, self.act_share)
    }

    /// How good this level is here.
    pub fn grade_of(&self, mg_l: f64) -> Grade {
        Grade::of(mg_l, self.saturation, self.act_share)
    }

    /// How good the lowest point of the day is.
    pub fn grade(&self) -> Grade {
        self.grade_of(self.lowest)
    }

    /// Chance that the lowest point of the day is at least this high.
    pub fn chance_lowest_above(&self, mg_l: f64) -> f64 {
        let sd = MODEL_RESIDUAL_MG_L.value;
        self.lows
            .iter()
            .map(|(low, weight)| weight * normal_below((low - mg_l) / sd))
            .sum()
    }
}

/// Level below which to act, mg/L: the purpose's share of saturation, and never less than what
/// distresses fish.
pub const fn act_below(saturation_mg_l: f64, act_share: f64) -> f64 {
    (act_share * saturation_mg_l).max(DISTRESS_MG_L.value)
}

/// How good an oxygen level is. Percent of saturation and mg/L are judged together; limits from
/// memory.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Grade {
    /// Below 4 mg/L: most fish are in distress.
    Distress,
    /// Below the share of saturation at which tanks of this purpose need help, 70 % for a display:
    /// act.
    Act,
    /// From there to 90 %: watch.
    Watch,
    /// 90 % and more: good.
    Good,
}

/// Below this, in mg/L, most fish are in distress.
pub const DISTRESS_MG_L: Figure = Figure::from_memory(4.0);
/// From this share of saturation on: good.
pub const GOOD_SHARE: Figure = Figure::from_memory(0.90);

impl Grade {
    /// Grades a level against the saturation of the place.
    pub fn of(mg_l: f64, saturation_mg_l: f64, act_share: f64) -> Self {
        let share = mg_l / saturation_mg_l;
        if mg_l < DISTRESS_MG_L.value {
            Self::Distress
        } else if share < act_share {
            Self::Act
        } else if share < GOOD_SHARE.value {
            Self::Watch
        } else {
            Self::Good
        }
    }

    /// In one word.
    pub const fn words(self) -> &'static str {
        match self {
            Self::Distress => "dangerous",
            Self::Act => "too low",
            Self::Watch => "fair",
            Self::Good => "good",
        }
    }
}

#[cfg(test)]
mod tests {
    use super::{Ensemble, Grade, doubts};
    use crate::tank::{Activity, StockGroup, Surface, Tank};
    use crate::units::{Length, Mass};

    fn tank() -> Tank {
        let mut tank = Tank::plain("Test", Length::cm(80.0), Length::cm(35.0), Length::cm(40.0));
        tank.stock.push(StockGroup::weighing(
            "fish",
            12,
            Mass::grams(3.0),
            Activity::Usual,
        ));
        tank
    }

    #[test]
    fn the_grid_of_doubts_is_a_distribution_with_the_stated_spread() {
        let grid = doubts();
        let total: f64 = grid.iter().map(|(_, weight)| weight).sum();
        let variance: f64 = grid
            .iter()
            .map(|(doubt, weight)| weight * doubt.exchange.ln().powi(2))
            .sum();
        assert!((total - 1.0).abs() < 1e-12 && (variance.sqrt() - 0.35).abs() < 1e-12);
    }

    #[test]
    fn a_broken_surface_raises_the_lowest_point_and_its_chance_to_be_safe() {
        let ensemble = Ensemble::of_tank(&Tank {
            surface: Surface::Still,
            ..tank()
        });
        let (now, after) = (
            ensemble.forecast(Tank::clone),
            ensemble.forecast(|tank| Tank {
                surface: Surface::Broken,
                ..tank.clone()
            }),
        );
        assert!(
            after.lowest > now.lowest + 1.0,
            "{} {}",
            now.lowest,
            after.lowest
        );
        assert!(after.chance_lowest_above(5.0) > now.chance_lowest_above(5.0));
        assert!(
            after.lowest_spread < now.lowest_spread,
            "near saturation the doubts matter less"
        );
    }

    #[test]
    fn interpolation_meets_the_points() {
        let forecast = Ensemble::of_tank(&tank()).forecast(Tank::clone);
        assert!((forecast.at(6.0).0 - forecast.mean[12]).abs() < 1e-12);
        assert!(
            (forecast.at(24.0).0 - forecast.mean[0]).abs() < 1e-12,
            "24 h is midnight again"
        );
    }

    #[test]
    fn grades_judge_share_and_mg_together() {
        assert_eq!(Grade::of(7.6, 8.26, 0.7), Grade::Good);
        assert_eq!(Grade::of(6.6, 8.26, 0.7), Grade::Watch);
        assert_eq!(Grade::of(5.0, 8.26, 0.7), Grade::Act);
        assert_eq!(
            Grade::of(3.9, 4.2, 0.7),
            Grade::Distress,
            "93 % of very little is still too little"
        );
    }
}
