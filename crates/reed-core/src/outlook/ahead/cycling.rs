//! Cycling a new tank: ways to start it, the stage it is in, what to test when, what proves that it
//! is through, and a plan.

use jiff::civil::DateTime;

use super::belief::NitrogenBelief;
use super::event::{Event, is_masked, with_habit};
use super::outlook::NitrogenOutlook;
use super::setting::Setting;
use crate::figure::Figure;
use crate::log::Effect;
use crate::outlook::acidity::Acidity;
use crate::tank::{Analyte, Conditioner, Reading, Species, Tank};
use crate::units::days_of;
use crate::units::{Salinity, Units};
use crate::water::nitrogen::KIT_ZERO_MG_L;

/// What is supposed to happen now happens so soon, days. A judgement.
pub const SOON_DAYS: f64 = 0.02;

/// A way to start, with the share of a settled colony that comes with it.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Start {
    /// Id in forms.
    pub id: &'static str,
    /// As a keeper would say it.
    pub words: &'static str,
    /// Brought in now.
    pub seed: Option<f64>,
}

/// Ways to start. Common practice has four to six weeks for the first, two to three for the second
/// and about one for the third; the shares are chosen to give that.
pub const STARTS: [Start; 3] = [
    Start {
        id: "as-it-is",
        words: "As it is",
        seed: None,
    },
    Start {
        id: "pinch",
        words: "With good media and a pinch from a mature tank now",
        seed: Some(0.01),
    },
    Start {
        id: "piece",
        words: "With a piece of mature media now",
        seed: Some(0.3),
    },
];

impl Start {
    /// What is brought in now, if anything.
    pub fn event(self) -> Option<Event> {
        self.seed.map(|share| Event {
            day: SOON_DAYS,
            effect: Effect::Seed(share),
        })
    }
}

choice_set! {
    /// What feeds the bacteria while no animal is in.
    Source:
    #[default]
    Doses = "doses", "ammonia, dosed";
    Feed = "feed", "food, as if the animals were in";
}

/// Where a new tank stands.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum CycleStage {
    /// Ammonia stands, nothing takes it yet.
    Ammonia,
    /// Ammonia is being taken, nitrite climbs.
    Both,
    /// Ammonia goes, nitrite stands.
    Nitrite,
    /// Hardly anything stands.
    Quiet,
    /// Hardly anything stands, and nothing feeds the bacteria.
    Unfed,
}

/// From so much on it stands, mg N/L. A judgement.
const STANDS_MG_L: f64 = 0.1;

impl CycleStage {
    /// By where an outlook begins.
    pub fn of(outlook: &NitrogenOutlook) -> Self {
        let stands = |side: &[f64]| side.first().is_some_and(|value| *value > STANDS_MG_L);
        match (stands(&outlook.tan.likely), stands(&outlook.nitrite.likely)) {
            (true, false) => Self::Ammonia,
            (true, true) => Self::Both,
            (false, true) => Self::Nitrite,
            (false, false) if outlook.is_fed => Self::Quiet,
            (false, false) => Self::Unfed,
        }
    }

    /// What it means.
    pub const fn words(self) -> &'static str {
        match self {
            Self::Ammonia => "the first bacteria are growing, ammonia stands. No animals in",
            Self::Both => "ammonia is being taken, nitrite climbs. No animals in",
            Self::Nitrite => "ammonia goes, nitrite still stands. No animals in",
            Self::Quiet => "hardly anything stands; if a dose is gone within a day, it is through",
            Self::Unfed => {
                "nothing feeds the bacteria, so there is no cycle to end: plan it below, and enter each dose or the food"
            }
        }
    }

    /// What to test, every how many days.
    pub const fn tests(self) -> &'static [(&'static Analyte, f64)] {
        match self {
            Self::Ammonia => &[
                (Analyte::AMMONIA, 2.0),
                (Analyte::NITRITE, 4.0),
                (Analyte::KH, 7.0),
            ],
            Self::Both => &[
                (Analyte::AMMONIA, 2.0),
                (Analyte::NITRITE, 2.0),
                (Analyte::KH, 7.0),
            ],
            Self::Nitrite => &[
                (Analyte::NITRITE, 2.0),
                (Analyte::NITRATE, 7.0),
                (Analyte::KH, 7.0),
            ],
            Self::Quiet | Self::Unfed => &[
                (Analyte::AMMONIA, 3.0),
                (Analyte::NITRITE, 3.0),
                (Analyte::NITRATE, 7.0),
            ],
        }
    }
}

/// Tests of a stage with the days until each is due; negative when it is overdue, zero when it was
/// never made.
pub fn due(stage: CycleStage, readings: &[Reading], now: DateTime) -> Vec<(&'static Analyte, f64)> {
    let since = |analyte: &Analyte| {
        let made = readings
            .iter()
            .filter(|reading| reading.analyte == analyte)
            .map(|reading| reading.taken_at)
            .max()?;
        Some(days_of(now.duration_since(made)))
    };
    let mut due: Vec<_> = stage
        .tests()
        .iter()
        .map(|(analyte, every)| (*analyte, since(analyte).map_or(0.0, |days| every - days)))
        .collect();
    due.sort_by(|one, other| one.1.total_cmp(&other.1));
    due
}

/// The dose that proves it, mg N/L.
pub const PROOF_DOSE_MG_L: Figure = Figure::from_memory(2.0);
/// A dose counts as that from so much of it on. A judgement.
const NEARLY: f64 = 0.75;
/// It is to be gone within a day: readings so many days after the dose tell.
const GONE_WITHIN: [f64; 2] = [0.7, 1.4];
/// Nitrate has risen when it stands this much above the tap's, mg N/L.
const RISEN_MG_L: f64 = 1.0;

/// A condition of being through, and whether readings and events show that it is met.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Condition {
    /// What must be.
    pub words: String,
    /// It is shown.
    pub met: bool,
}

/// What proves that a cycle is through, as far as it is shown.
pub fn proof(
    setting: &Setting,
    known: &[Event],
    readings: &[Reading],
    now: DateTime,
    units: &Units,
) -> [Condition; 4] {
    let day = |reading: &Reading| -days_of(now.duration_since(reading.taken_at));
    let doses = || {
        let is_proof = |what: Effect| matches!(what, Effect::Dose(mg_l) if mg_l >= NEARLY * PROOF_DOSE_MG_L.value);
        known
            .iter()
            .filter(move |event| event.day <= 0.0 && is_proof(event.effect))
            .map(|event| event.day)
    };
    let gone_after = |dose: f64, analyte: &Analyte| {
        let [early, late] = GONE_WITHIN;
        let in_time = |reading: &&Reading| {
            reading.analyte == analyte && (early..=late).contains(&(day(reading) - dose))
        };
        readings
            .iter()
            .filter(in_time)
            .any(|reading| reading.value <= KIT_ZERO_MG_L.max(reading.spread))
    };
    let last_nitrate = readings
        .iter()
        .rev()
        .find(|reading| reading.analyte == Analyte::NITRATE);
    [
        Condition {
            words: format!(
                "{} of ammonia gone within a day",
                units.print(PROOF_DOSE_MG_L.value, Analyte::AMMONIA.units, 1)
            ),
            met: doses().any(|dose| gone_after(dose, Analyte::AMMONIA)),
        },
        Condition {
            words: "its nitrite gone with it".to_owned(),
            met: doses().any(|dose| {
                gone_after(dose, Analyte::AMMONIA) && gone_after(dose, Analyte::NITRITE)
            }),
        },
        Condition {
            words: "nitrate has risen".to_owned(),
            met: last_nitrate.is_some_and(|reading| {
                reading.value > setting.tap.nitrate + RISEN_MG_L.max(reading.spread)
            }),
        },
        Condition {
            words: "no medium or binder that hides it".to_owned(),
            met: !is_masked(setting, known, Species::Ammonia, 0.0),
        },
    ]
}

/// A cycle that takes longer than this is stalled, days. Common practice: five weeks.
pub const STALLED_DAYS: f64 = 35.0;
/// Carbonate hardness below which bacteria falter, dKH. From memory.
pub const LEAST_DKH: f64 = 3.0;
/// Colder water makes it slow, °C. From memory.
const COLD_CELSIUS: f64 = 20.0;

/// Why a cycle may have stalled, by what is known of the tank; `None` while it is not stalled. Look
/// for these before adding bacteria.
pub fn stalled(
    tank: &Tank,
    setting: &Setting,
    known: &[Event],
    outlook: &NitrogenOutlook,
    readings: &[Reading],
) -> Option<Vec<&'static str>> {
    let slow = setting.young_days.is_some_and(|days| days > STALLED_DAYS)
        && !matches!(
            CycleStage::of(outlook),
            CycleStage::Quiet | CycleStage::Unfed
        );
    let dkh = readings
        .iter()
        .rev()
        .find(|reading| reading.analyte == Analyte::KH)
        .map(|reading| reading.value);
    slow.then(|| {
        [
            (
                is_masked(setting, known, Species::Ammonia, 0.0),
                "a medium or a binder takes the ammonia: take it out",
            ),
            (
                dkh.is_some_and(|dkh| dkh < LEAST_DKH),
                "carbonate hardness is low: raise it",
            ),
            (dkh.is_none(), "carbonate hardness was not read: test it"),
            (
                tank.practice.conditioner == Conditioner::None,
                "nothing is done about chlorine: make sure that the tap has none",
            ),
            (
                setting.temperature.as_celsius() < COLD_CELSIUS,
                "the water is cold",
            ),
        ]
        .into_iter()
        .filter_map(|(is, words)| is.then_some(words))
        .collect()
    })
}

/// A dose is due when ammonia has fallen to this, mg N/L, and is this large while nitrite stands. A
/// judgement.
pub const DOSE_AT_MG_L: f64 = 0.5;
const DOSE_MG_L: f64 = 1.0;
/// Days to the next dose while nitrite stands. A judgement: each uses up hardness, and the second
/// colony is the slower one.
pub const WAIT_DAYS: usize = 3;
/// No more doses are planned than this, and none later, days.
const MOST_DOSES: usize = 40;
const PLANNED_DAYS: usize = 90;
/// Once through, a change of this share.
const LAST_CHANGE: f64 = 0.5;
/// Then animals in steps of a third, so many days apart.
pub const STEP_DAYS: f64 = 7.0;

/// What to do and when to cycle a tank, by its own outlook: no changes by habit, bacteria brought
/// in, doses or food, and, once it is through, a change of water and animals in thirds. Only what
/// is to be added to `known`.
pub fn plan(
    setting: &Setting,
    belief: &NitrogenBelief,
    known: &[Event],
    (start, source): (Start, Source),
    (acidity, salinity): (&Acidity, Salinity),
) -> Vec<Event> {
    // No animal needs the changes of the habit yet, and they carry the bacteria's food away.
    let by_habit = with_habit(known, setting, 0.0, PLANNED_DAYS as f64);
    let left_out = by_habit.iter().filter(|event| {
        event.day > 0.0 && matches!(event.effect, Effect::Change(_)) && !known.contains(event)
    });
    let mut planned: Vec<Event> = left_out
        .map(|event| Event {
            day: event.day,
            effect: Effect::Skip,
        })
        .collect();
    planned.extend(start.event());
    let outlook = |planned: &[Event]| {
        let all: Vec<Event> = known.iter().chain(planned).copied().collect();
        NitrogenOutlook::of(setting, belief, &all, PLANNED_DAYS, acidity, salinity)
    };
    let through = match source {
        Source::Feed => outlook(&planned).cycled[1],
        Source::Doses => dosed(&mut planned, outlook),
    };
    if let Some(day) = through {
        planned.retain(|event| event.effect != Effect::Skip || event.day < day);
        planned.push(Event {
            day: day + 0.1,
            effect: Effect::Change(LAST_CHANGE),
        });
        if source == Source::Doses {
            let step = |third: f64| Event {
                day: day + 1.0 + (third - 1.0) * STEP_DAYS,
                effect: Effect::Feed(third / 3.0),
            };
            planned.extend([1.0, 2.0, 3.0].map(step));
        }
    }
    planned
}

/// Plans a dose whenever the last is gone, and water changed where doses have used up its hardness,
/// until one that proves the cycle is gone within a day; says on which day, unless it takes too
/// long. Each dose is set by where those before it lead.
fn dosed(planned: &mut Vec<Event>, outlook: impl Fn(&[Event]) -> NitrogenOutlook) -> Option<f64> {
    const PROOF: Effect = Effect::Dose(PROOF_DOSE_MG_L.value);
    planned.push(Event {
        day: SOON_DAYS,
        effect: Effect::Feed(0.0),
    });
    planned.push(Event {
        day: SOON_DAYS,
        effect: PROOF,
    });
    let mut last = 0;
    for _ in 0..MOST_DOSES {
        let ahead = outlook(planned);
        let (tan, nitrite) = (&ahead.tan.likely, &ahead.nitrite.likely);
        // While nitrite stands there are bacteria to wait for.
        let is_due = |day: &usize| {
            tan[*day] < DOSE_AT_MG_L && (*day >= last + WAIT_DAYS || nitrite[*day] < DOSE_AT_MG_L)
        };
        let day = (last + 1..PLANNED_DAYS).find(is_due)?;
        let is_clear = tan[day] < KIT_ZERO_MG_L && nitrite[day] < KIT_ZERO_MG_L;
        if is_clear && day == last + 1 && planned.last().is_some_and(|event| event.effect == PROOF)
        {
            return Some(day as f64);
        }
        if ahead.kh.likely[day] < LEAST_DKH {
            planned.push(Event {
                day: day as f64 - 0.1,
                effect: Effect::Change(LAST_CHANGE),
            });
        }
        let dose = if nitrite[day] < DOSE_AT_MG_L {
            PROOF
        } else {
            Effect::Dose(DOSE_MG_L)
        };
        planned.push(Event {
            day: day as f64,
            effect: dose,
        });
        last = day;
    }
    None
}
