//! How well the days ahead hold what they say, on simulated tanks that share neither code nor prior
//! with the forecast.
//!
//! The simulator is the published two-step model in its plain form (activated-sludge models, Henze
//! et al. 1987 and after): Monod in nitrogen, oxygen and alkalinity, growth and decay, one mixed
//! box, no limit of surface, no hidden loss, no plants. Every kinetic parameter and the load are
//! drawn from ± 30 % around the middle of the ranges usually quoted (from memory), the water is
//! within 1 °C and 0.5 mg/L of what the keeper believes, kits scatter, and one reading in fourteen
//! is mistaken. It is stepped by Runge–Kutta in small even steps.

use fastrand::Rng;
use jiff::civil::{DateTime, date};

use crate::document::start;
use crate::log::Effect;
use crate::outlook::acidity::Acidity;
use crate::outlook::ahead::{Bands, Event, NitrogenBelief, NitrogenOutlook, Setting, Tap};
use crate::tank::{Analyte, Reading};
use crate::twin::Stirring;
use crate::units::masses::DEGREES_PER_MEQ;
use crate::units::{Salinity, span_of_days};

const NOW: DateTime = date(2026, 3, 10).at(9, 0, 0, 0);

/// Everything that is drawn is within this share of its middle. A judgement.
const WITHIN: f64 = 0.3;
/// The water is as warm as believed within so many degrees, and holds oxygen within so many mg/L.
/// Judgements.
const WARMER: f64 = 1.0;
const OXYGEN: f64 = 0.5;
/// So many readings are mistaken. A judgement.
const MISTAKEN: f64 = 1.0 / 14.0;

/// A simulated tank: at 25 °C, per day, mg N/L, mg O₂/L, meq/L, mg COD/L.
#[derive(Clone, Debug)]
struct Tank {
    growth: [f64; 2],
    half: [f64; 2],
    half_oxygen: [f64; 2],
    half_alkalinity: f64,
    yields: [f64; 2],
    decay: [f64; 2],
    /// Of growth of the first and the second colony and of decay: factor per degree.
    per_degree: [f64; 3],
    celsius: f64,
    oxygen: f64,
    /// mg N/L and day.
    load: f64,
}

/// Ammonia, nitrite, nitrate, the two colonies, alkalinity.
type Water = [f64; 6];

impl Tank {
    /// One like those that the keeper's description could be of.
    fn drawn(setting: &Setting, rng: &mut Rng) -> Self {
        let mut about = |middle: f64| middle * (1.0 + WITHIN * (2.0 * rng.f64() - 1.0));
        let mut factor = |middle: f64| 1.0 + about(middle - 1.0);
        let per_degree = [factor(1.08), factor(1.07), factor(1.08)];
        Self {
            growth: [about(0.9), about(0.75)],
            half: [about(0.5), about(0.5)],
            half_oxygen: [about(0.5), about(1.0)],
            half_alkalinity: about(0.5),
            yields: [about(0.2), about(0.06)],
            decay: [about(0.05), about(0.05)],
            load: about(setting.load),
            per_degree,
            celsius: setting.temperature.as_celsius() + WARMER * (2.0 * rng.f64() - 1.0),
            oxygen: setting.oxygen + OXYGEN * (2.0 * rng.f64() - 1.0),
        }
    }

    /// What a load feeds once it has settled.
    fn settled(&self, load: f64) -> [f64; 2] {
        let decay = self.per_degree[2].powf(self.celsius - 25.0);
        [0, 1].map(|step| load * self.yields[step] / (self.decay[step] * decay))
    }

    fn slope(&self, water: &Water, load: f64) -> Water {
        let [tan, nitrite, _, first, second, alkalinity] = water.map(|part| part.max(0.0));
        let warmer = self.celsius - 25.0;
        let monod = |value: f64, half: f64| value / (half + value);
        let decay = self.per_degree[2].powf(warmer);
        let grown_first = self.growth[0]
            * self.per_degree[0].powf(warmer)
            * monod(tan, self.half[0])
            * monod(self.oxygen, self.half_oxygen[0])
            * monod(alkalinity, self.half_alkalinity)
            * first;
        let grown_second = self.growth[1]
            * self.per_degree[1].powf(warmer)
            * monod(nitrite, self.half[1])
            * monod(self.oxygen, self.half_oxygen[1])
            * second;
        let (turned, turned_second) = (grown_first / self.yields[0], grown_second / self.yields[1]);
        [
            load - turned,
            turned - turned_second,
            turned_second,
            grown_first - self.decay[0] * decay * first,
            grown_second - self.decay[1] * decay * second,
            load / 14.0 - turned / 7.0,
        ]
    }

    /// One step of so many days, classical Runge–Kutta of the fourth order.
    fn step(&self, water: &mut Water, load: f64, days: f64) {
        let moved = |by: &Water, share: f64| -> Water {
            std::array::from_fn(|part| water[part] + share * days * by[part])
        };
        let first = self.slope(water, load);
        let second = self.slope(&moved(&first, 0.5), load);
        let third = self.slope(&moved(&second, 0.5), load);
        let fourth = self.slope(&moved(&third, 1.0), load);
        *water = std::array::from_fn(|part| {
            let mean = first[part] + 2.0 * second[part] + 2.0 * third[part] + fourth[part];
            (water[part] + days * mean / 6.0).max(0.0)
        });
    }
}

/// Steps in a day.
const STEPS: i32 = 100;

/// What happens in a simulated tank on a day, and what the keeper enters of it.
#[derive(Clone, Copy)]
enum Happens {
    /// This share of the water is changed; entered.
    Change(f64),
    /// So many mg N/L are dosed; entered.
    Dose(f64),
    /// So many times as much is fed from then on; entered.
    Feed(f64),
    /// A piece of mature media with this share of a settled colony; entered.
    Seed(f64),
    /// Both colonies lose this share in a rinse under the tap; entered.
    Rinse(f64),
    /// The same in silence.
    Loss(f64),
}

impl Happens {
    fn entered(self) -> Option<Effect> {
        match self {
            Self::Change(share) => Some(Effect::Change(share)),
            Self::Dose(mg_l) => Some(Effect::Dose(mg_l)),
            Self::Feed(factor) => Some(Effect::Feed(factor)),
            Self::Seed(share) => Some(Effect::Seed(share)),
            Self::Rinse(_) => Some(Effect::TapRinse(1.0)),
            Self::Loss(_) => None,
        }
    }
}

/// A kind of story.
struct Story {
    /// What it is called.
    name: &'static str,
    /// Days since it was set up, of a new tank.
    young_days: Option<f64>,
    /// Days of readings, whole ones, before now.
    read_on: &'static [i32],
    /// What happens on which day, beside a change of 30 % each week.
    happens: fn(&mut Rng) -> Vec<(i32, Happens)>,
}

/// Changes of 30 % on these days.
const CHANGES: [i32; 8] = [-24, -17, -10, -3, 4, 11, 18, 25];
/// The share of each. A judgement.
const CHANGED: f64 = 0.3;
/// Days that are asked for.
const ASKED: [i32; 3] = [3, 7, 14];
/// A settled tank is run so many days before the first thing known of it.
const BEFORE: i32 = 30;

/// Stories that keepers meet, shares of harm and seed drawn for each tank.
const STORIES: [Story; 7] = [
    Story {
        name: "settled",
        young_days: None,
        read_on: &[-21, -14, -7, -3, 0],
        happens: |_| Vec::new(),
    },
    Story {
        name: "fed twice as much for four days",
        young_days: None,
        read_on: &[-10, -3, -2, -1, 0],
        happens: |_| vec![(-4, Happens::Feed(2.0))],
    },
    Story {
        name: "media rinsed under the tap",
        young_days: None,
        read_on: &[-10, -3, -2, -1, 0],
        happens: |rng| vec![(-4, Happens::Rinse(0.4 + 0.5 * rng.f64()))],
    },
    Story {
        name: "bacteria lost, and nobody knows",
        young_days: None,
        read_on: &[-10, -4, -2, -1, 0],
        happens: |rng| vec![(-5, Happens::Loss(0.5 + 0.45 * rng.f64()))],
    },
    Story {
        name: "new, dosed",
        young_days: Some(21.0),
        read_on: &[-18, -14, -10, -7, -5, -3, -1],
        happens: |_| {
            vec![
                (-21, Happens::Feed(0.0)),
                (-21, Happens::Dose(2.0)),
                (-7, Happens::Dose(1.0)),
                (1, Happens::Dose(1.0)),
                (8, Happens::Dose(1.0)),
            ]
        },
    },
    Story {
        name: "new, a pinch of mature media",
        young_days: Some(10.0),
        read_on: &[-8, -6, -4, -2, 0],
        happens: |_| vec![(-10, Happens::Seed(0.006))],
    },
    Story {
        name: "new, a piece of a mature filter",
        young_days: Some(5.0),
        read_on: &[-4, -3, -2, -1, 0],
        happens: |_| vec![(-5, Happens::Seed(0.28))],
    },
];

/// What is brought in is a share of what this load feeds, mg N/L and day. A judgement.
const SEED_LOAD: f64 = 0.25;
/// An unseeded tank begins with this share of it, within a factor of three. From memory.
const UNSEEDED: f64 = 1e-5;

/// How the values of one analyte lay to their bands.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Held {
    /// All values, and those within.
    pub all: usize,
    /// Within the band.
    pub within: usize,
    /// Above it.
    pub above: usize,
    /// Values truly above the limit, and those of them within.
    pub over: usize,
    /// Of these within the band.
    pub over_within: usize,
}

impl Held {
    /// Share of all values that their bands held.
    pub fn share(&self) -> f64 {
        self.within as f64 / self.all.max(1) as f64
    }

    /// The same of those truly above the limit.
    pub fn share_over(&self) -> f64 {
        self.over_within as f64 / self.over.max(1) as f64
    }
}

/// Analytes that are held against the simulator, each with the limit above which it is dangerous,
/// mg N/L; hardness has none.
pub const ANALYTES: [(&Analyte, f64); 4] = [
    (Analyte::AMMONIA, 0.1),
    (Analyte::NITRITE, 0.1),
    (Analyte::NITRATE, 10.0),
    (Analyte::KH, f64::INFINITY),
];

/// How the truth lay to the bands, by analyte in the order of [`ANALYTES`].
pub type HeldByAnalyte = [Held; 4];

/// Of two plays together.
fn and(one: &HeldByAnalyte, other: &HeldByAnalyte) -> HeldByAnalyte {
    std::array::from_fn(|analyte| Held {
        all: one[analyte].all + other[analyte].all,
        within: one[analyte].within + other[analyte].within,
        above: one[analyte].above + other[analyte].above,
        over: one[analyte].over + other[analyte].over,
        over_within: one[analyte].over_within + other[analyte].over_within,
    })
}

/// Of all stories together.
pub fn of_all(stories: &[(&str, HeldByAnalyte)]) -> HeldByAnalyte {
    stories
        .iter()
        .fold(HeldByAnalyte::default(), |sum, (_, held)| and(&sum, held))
}

/// Plays so many tanks of each story, and says by story how the truth lay to the bands.
pub fn water_ahead(tanks: usize, seed: u64) -> Vec<(&'static str, HeldByAnalyte)> {
    STORIES
        .iter()
        .enumerate()
        .map(|(place, story)| (story.name, of_story(story, tanks, seed + place as u64)))
        .collect()
}

fn of_story(story: &Story, tanks: usize, seed: u64) -> HeldByAnalyte {
    let play = |tank: usize, held: &mut HeldByAnalyte| {
        let mut rng = Rng::with_seed(seed.wrapping_mul(1_000_003).wrapping_add(tank as u64));
        play(story, &mut rng, held);
    };
    let all: Vec<HeldByAnalyte> = super::on_every_processor(tanks, play);
    all.iter()
        .fold(HeldByAnalyte::default(), |sum, held| and(&sum, held))
}

/// What the keeper believes of every tank.
fn setting(story: &Story) -> (Setting, Acidity) {
    let tank = start::by_id("planted-canister").expect("listed").tank();
    let tap = Tap {
        ammonia: None,
        nitrate: Some(2.0),
        dkh: Some(7.0),
    };
    let setting = Setting {
        load: 0.25,
        uptake: 0.0,
        young_days: story.young_days,
        habit: (CHANGED, 7.0),
        ..Setting::of(&tank, Stirring::AS_IT_LOOKS, NOW, &tap)
    };
    let acidity = Acidity::of(&tank, Stirring::AS_IT_LOOKS, &[], NOW);
    (setting, acidity)
}

fn play(story: &Story, rng: &mut Rng, held: &mut HeldByAnalyte) {
    let (setting, acidity) = setting(story);
    let tank = Tank::drawn(&setting, rng);
    let mut happens = (story.happens)(rng);
    let first = story.young_days.map_or(story.read_on[0] - BEFORE, |days| {
        #[expect(clippy::cast_possible_truncation, reason = "whole days")]
        let days = days as i32;
        -days
    });
    let changes = CHANGES.iter().filter(|day| **day > first);
    happens.extend(changes.map(|day| (*day, Happens::Change(CHANGED))));
    happens.sort_by_key(|(day, _)| *day);
    let known: Vec<Event> = happens
        .iter()
        .filter_map(|(day, what)| {
            Some(Event {
                day: f64::from(*day),
                effect: what.entered()?,
            })
        })
        .collect();
    let days = lived(&tank, &setting, story, (first, &happens), rng);
    let at = |day: i32| -> &Water { &days[usize::try_from(day - first).unwrap_or(0)] };
    let readings: Vec<Reading> = story
        .read_on
        .iter()
        .flat_map(|day| read(at(*day), *day, rng))
        .collect();
    let belief = NitrogenBelief::learned(&setting, &known, &readings, NOW);
    let outlook = NitrogenOutlook::of(&setting, &belief, &known, 15, &acidity, Salinity::default());
    for day in ASKED {
        let truth = values(at(day));
        let bands = [
            &outlook.tan,
            &outlook.nitrite,
            &outlook.nitrate,
            &outlook.kh,
        ];
        for (analyte, bands) in bands.into_iter().enumerate() {
            count(
                &mut held[analyte],
                bands,
                day,
                (truth[analyte], ANALYTES[analyte].1),
            );
        }
    }
}

fn count(held: &mut Held, bands: &Bands, day: i32, (truth, limit): (f64, f64)) {
    let at = usize::try_from(day).unwrap_or(0);
    let within = (bands.low[at]..=bands.high[at]).contains(&truth);
    held.all += 1;
    held.within += usize::from(within);
    held.above += usize::from(truth > bands.high[at]);
    held.over += usize::from(truth > limit);
    held.over_within += usize::from(truth > limit && within);
}

/// The water at the beginning of each day, before what happens on it.
fn lived(
    tank: &Tank,
    setting: &Setting,
    story: &Story,
    (first, happens): (i32, &[(i32, Happens)]),
    rng: &mut Rng,
) -> Vec<Water> {
    let tap: Water = [
        0.0,
        0.0,
        setting.tap.nitrate,
        0.0,
        0.0,
        setting.tap.alkalinity,
    ];
    let seed = tank.settled(SEED_LOAD);
    let mut water = tap;
    let colonies = if story.young_days.is_some() {
        let share = UNSEEDED * 3.0_f64.powf(2.0 * rng.f64() - 1.0);
        seed.map(|colony| colony * share)
    } else {
        tank.settled(tank.load)
    };
    [water[3], water[4]] = colonies;
    let mut load = tank.load;
    let mut days = Vec::new();
    for day in first..=*ASKED.last().expect("some day is asked for") {
        days.push(water);
        for (_, what) in happens.iter().filter(|(on, _)| *on == day) {
            match what {
                Happens::Change(share) => {
                    for part in [0, 1, 2, 5] {
                        water[part] += share * (tap[part] - water[part]);
                    }
                }
                Happens::Dose(mg_l) => water[0] += mg_l,
                Happens::Feed(factor) => load = factor * tank.load,
                Happens::Seed(share) => {
                    water[3] += share * seed[0];
                    water[4] += share * seed[1];
                }
                Happens::Rinse(lost) | Happens::Loss(lost) => {
                    water[3] *= 1.0 - lost;
                    water[4] *= 1.0 - lost;
                }
            }
        }
        for _ in 0..STEPS {
            tank.step(&mut water, load, 1.0 / f64::from(STEPS));
        }
    }
    days
}

/// Ammonia, nitrite, nitrate in mg N/L, hardness in dKH.
fn values(water: &Water) -> [f64; 4] {
    [water[0], water[1], water[2], water[5] * DEGREES_PER_MEQ]
}

/// What kits read of it; each may be mistaken.
fn read(water: &Water, day: i32, rng: &mut Rng) -> Vec<Reading> {
    let at = NOW + span_of_days(f64::from(day)).expect("some days");
    let truths = values(water).into_iter().zip(ANALYTES);
    truths
        .map(|(truth, (analyte, _))| {
            let usual = Reading::usual(analyte, truth, at);
            let mistaken = if rng.f64() < MISTAKEN {
                [0.3, 3.0][usize::from(rng.bool())]
            } else {
                1.0
            };
            let scatter = usual.spread * normal(rng);
            Reading {
                value: (mistaken * truth + scatter).max(0.0),
                ..usual
            }
        })
        .collect()
}

/// A number from the normal distribution, by Box and Muller 1958.
fn normal(rng: &mut Rng) -> f64 {
    let far = (-2.0 * (1.0 - rng.f64()).ln()).sqrt();
    far * (std::f64::consts::TAU * rng.f64()).cos()
}
