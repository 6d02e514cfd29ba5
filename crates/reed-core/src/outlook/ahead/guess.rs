//! A guess of what is not known of a tank's nitrogen.

use super::setting::Setting;
use crate::statistics::normal_below;
use crate::tank::PerSpecies;
use crate::water::nitrogen::capture::Grains;
use crate::water::nitrogen::cycle::{ALKALINITY_OF_WASTE, Conditions, Kinetics};

/// How many things are not known.
pub(super) const UNKNOWN: usize = 15;

/// A guess of what is not known, each in standard deviations from what is thought likeliest.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Guess {
    /// Nitrogen that the feed sets free.
    pub(super) load: f64,
    /// How fast bacteria grow, both kinds.
    pub(super) growth: f64,
    /// How much faster those that take nitrite grow than the others, against what is usual.
    pub(super) apart: f64,
    /// Nitrogen at which those that take ammonia grow half as fast.
    pub(super) half_ammonia: f64,
    /// The same of those that take nitrite.
    pub(super) half_nitrite: f64,
    /// How fast colonies die back.
    pub(super) decay: f64,
    /// Surface on which they live.
    pub(super) surface: f64,
    /// Colony at the beginning.
    pub(super) colony: f64,
    /// Nitrate at the beginning.
    pub(super) nitrate: f64,
    /// Carbonate hardness at the beginning.
    pub(super) hardness: f64,
    /// What plants take.
    pub(super) uptake: f64,
    /// How hard harm hits a colony.
    pub(super) harm: f64,
    /// A loss that nobody knows of, see [`Guess::hidden_loss`].
    pub(super) loss: f64,
    /// The day of that loss.
    pub(super) loss_day: f64,
    /// Ammonia that somebody put into a new tank and nobody entered, see [`Guess::hidden_dose`].
    pub(super) dose: f64,
}

/// Standard deviations: of the logarithms of all but the last three, which have no logarithm.
/// Judgements; those of growth, halves and decay cover the ranges usually quoted, and with growth
/// water that is a degree or half a mg/L of oxygen off.
const SPREAD: Guess = Guess {
    load: 0.35,
    growth: 0.18,
    apart: 0.2,
    half_ammonia: 0.2,
    half_nitrite: 0.2,
    decay: 0.2,
    surface: 0.5,
    colony: 0.4,
    nitrate: 0.5,
    hardness: 0.35,
    uptake: 0.5,
    harm: 0.6,
    loss: 1.0,
    loss_day: 1.0,
    dose: 1.0,
};
/// One tank in so many lost bacteria lately that nobody knows of: beyond this many standard
/// deviations. A judgement: one in ten.
const LOSSES_BEYOND: f64 = 1.28;
/// One new tank in so many was dosed in silence, and with how much for each standard deviation more,
/// mg N/L. Judgements.
const DOSES_BEYOND: f64 = 1.28;
const DOSE_PER_DEVIATION_MG_L: f64 = 3.0;
/// How much is lost for each standard deviation more, as a logarithm, and how long ago it was at
/// most, days. Judgements.
const LOSS_PER_DEVIATION: f64 = 3.0;
const LOST_WITHIN_DAYS: f64 = 20.0;

impl Guess {
    /// What is thought likeliest.
    pub const LIKELIEST: Self = Self::from_array([0.0; UNKNOWN]);

    /// From one number for each, in the order of the fields.
    pub(super) const fn from_array(of: [f64; UNKNOWN]) -> Self {
        let [
            load,
            growth,
            apart,
            half_ammonia,
            half_nitrite,
            decay,
            surface,
            colony,
            nitrate,
            hardness,
            uptake,
            harm,
            loss,
            loss_day,
            dose,
        ] = of;
        Self {
            load,
            growth,
            apart,
            half_ammonia,
            half_nitrite,
            decay,
            surface,
            colony,
            nitrate,
            hardness,
            uptake,
            harm,
            loss,
            loss_day,
            dose,
        }
    }

    /// One number for each, in the order of the fields.
    pub(super) const fn to_array(self) -> [f64; UNKNOWN] {
        let Self {
            load,
            growth,
            apart,
            half_ammonia,
            half_nitrite,
            decay,
            surface,
            colony,
            nitrate,
            hardness,
            uptake,
            harm,
            loss,
            loss_day,
            dose,
        } = self;
        [
            load,
            growth,
            apart,
            half_ammonia,
            half_nitrite,
            decay,
            surface,
            colony,
            nitrate,
            hardness,
            uptake,
            harm,
            loss,
            loss_day,
            dose,
        ]
    }

    /// Factor on what was assumed, of one of the things that are not known.
    pub(super) fn factor(&self, of: fn(&Self) -> f64) -> f64 {
        (of(&SPREAD) * of(self)).exp()
    }

    /// Logarithm of how likely it was thought before any reading, but for a constant.
    pub(super) fn log_prior(&self) -> f64 {
        self.to_array().iter().map(|off| -off * off / 2.0).sum()
    }

    /// What left of the colonies something nobody knows of, and on which day: bad readings out of
    /// the blue have a cause.
    pub(super) fn hidden_loss(&self) -> Option<(f64, f64)> {
        let beyond = self.loss - LOSSES_BEYOND;
        (beyond > 0.0).then(|| {
            (
                -LOST_WITHIN_DAYS * normal_below(self.loss_day),
                (-LOSS_PER_DEVIATION * beyond).exp(),
            )
        })
    }

    /// What somebody dosed on the day a tank was set up that nothing is known to feed, mg N/L:
    /// ammonia that was read there came from somewhere.
    pub(super) fn hidden_dose(&self) -> f64 {
        DOSE_PER_DEVIATION_MG_L * (self.dose - DOSES_BEYOND).max(0.0)
    }

    pub(super) fn kinetics(&self) -> Kinetics {
        let usual = Kinetics::default();
        let growth = self.factor(|guess| guess.growth);
        let apart = self.factor(|guess| guess.apart).sqrt();
        let halves = [
            self.factor(|guess| guess.half_ammonia),
            self.factor(|guess| guess.half_nitrite),
        ];
        let decay = self.factor(|guess| guess.decay);
        Kinetics {
            growth: [
                usual.growth[0] * growth / apart,
                usual.growth[1] * growth * apart,
            ],
            half_nitrogen: [0, 1].map(|step| usual.half_nitrogen[step] * halves[step]),
            decay: usual.decay.map(|usual| usual * decay),
            ..usual
        }
    }

    pub(super) fn conditions(
        &self,
        setting: &Setting,
        kinetics: &Kinetics,
        feed: f64,
        media: PerSpecies<Option<Grains>>,
    ) -> Conditions {
        let uptake = (setting.uptake * self.factor(|guess| guess.uptake)).min(0.9);
        Conditions {
            temperature: setting.temperature,
            oxygen: setting.oxygen,
            load: setting.load * self.factor(|guess| guess.load) * feed * (1.0 - uptake),
            alkalinity_of_load: ALKALINITY_OF_WASTE,
            // A film turns over what it does however fast its cells grow.
            most: kinetics.most_on(
                setting.surface_m2 * self.factor(|guess| guess.surface),
                setting.litres,
            ),
            media,
            in_filters: setting.in_filters,
        }
    }
}
