//! Where a tank's nitrogen goes from here, as bands.

use super::belief::{MODEL_SPREAD, NitrogenBelief, normal};
use super::course::{dkh, run};
use super::event::{Event, with_habit};
use super::setting::Setting;
use crate::log::Effect;
use crate::outlook::acidity::Acidity;
use crate::tank::{Analyte, Reading, kit};
use crate::units::Salinity;
use crate::water::chemistry::{ph_from, un_ionised_share_in};
use crate::water::nitrogen::KIT_ZERO_MG_L;
use crate::water::nitrogen::changes::after_change;
use jiff::civil::DateTime;

/// Of the crowd one in so many is followed ahead.
const EVERY: usize = 2;
/// The middle nine tenths of them make a band. By definition.
const TAILS: f64 = 0.05;
/// Of ammonia and nitrite less is left above the band: a danger that is not told costs more than
/// one that does not come. A judgement.
const DANGEROUS_TAIL: f64 = 0.04;

/// What stays so for so many days has settled. A judgement.
const STAYS_DAYS: f64 = 14.0;

/// One quantity day by day.
#[derive(Clone, Debug, PartialEq)]
pub struct Bands {
    /// Nineteen in twenty are above.
    pub low: Vec<f64>,
    /// Half are above.
    pub likely: Vec<f64>,
    /// One in twenty is above.
    pub high: Vec<f64>,
}

/// Days ahead.
#[derive(Clone, Debug, PartialEq)]
pub struct NitrogenOutlook {
    /// Days from now, of each entry.
    pub days: Vec<f64>,
    /// Total ammonia, mg N/L.
    pub tan: Bands,
    /// Un-ionised ammonia, mg N/L, with pH as carbonate hardness leaves it.
    pub nh3: Bands,
    /// Nitrite, mg N/L.
    pub nitrite: Bands,
    /// Nitrate, mg N/L.
    pub nitrate: Bands,
    /// Carbonate hardness, dKH.
    pub kh: Bands,
    /// pH, the mean of a day, while carbon dioxide stays as it is.
    pub ph: Bands,
    /// What happens, by plan and by habit.
    pub events: Vec<Event>,
    /// Something feeds the bacteria: animals, a dose that is entered, or ammonia or nitrite that
    /// stand by what was read.
    pub is_fed: bool,
    /// The day from which on ammonia and nitrite both stay below a kit's zero: at the earliest,
    /// likely, and at the latest. `None` where they do not within the days looked at, and where
    /// nothing feeds the bacteria: then there is no cycle to end.
    pub cycled: [Option<f64>; 3],
}

impl Bands {
    /// From every guess's value on every day: `values[guess][day]`. This share is left above.
    fn of(values: &[Vec<f64>], above: f64) -> Self {
        let days = values.first().map_or(0, Vec::len);
        let (mut low, mut likely, mut high) = (
            Vec::with_capacity(days),
            Vec::with_capacity(days),
            Vec::with_capacity(days),
        );
        let mut sorted = vec![0.0; values.len()];
        for day in 0..days {
            for (slot, guess) in sorted.iter_mut().zip(values) {
                *slot = guess[day];
            }
            sorted.sort_by(f64::total_cmp);
            let at = |share: f64| {
                let place = share * (sorted.len() - 1) as f64;
                #[expect(
                    clippy::cast_possible_truncation,
                    clippy::cast_sign_loss,
                    reason = "an index of a few dozen"
                )]
                let below = place as usize;
                let above = (below + 1).min(sorted.len() - 1);
                sorted[below] + (place - below as f64) * (sorted[above] - sorted[below])
            };
            low.push(at(TAILS));
            likely.push(at(0.5));
            high.push(at(1.0 - above));
        }
        Self { low, likely, high }
    }

    /// The same, no thinner to either side of its middle than what a kit reads: one standard
    /// deviation of its readings.
    fn widened_for(mut self, analyte: &Analyte) -> Self {
        let kit = kit::first_for(analyte).spread;
        let sides = self.low.iter_mut().zip(&mut self.high);
        for ((low, high), likely) in sides.zip(&self.likely) {
            *low = low.min(likely - kit).max(0.0);
            *high = high.max(likely + kit);
        }
        self
    }

    /// The highest likely value.
    pub fn peak(&self) -> f64 {
        self.likely.iter().copied().fold(0.0, f64::max)
    }

    /// The first of these days from which on the value stays below a limit for two weeks, or to the
    /// last of them; `None` if it does not. What comes later, as of hardness that is used up, is
    /// another matter. For the whole band, pass its high side.
    pub fn settles_below(days: &[f64], values: &[f64], limit: f64) -> Option<f64> {
        let stays = |from: &usize| {
            values[*from..]
                .iter()
                .zip(&days[*from..])
                .take_while(|(_, day)| **day <= days[*from] + STAYS_DAYS)
                .all(|(value, _)| *value < limit)
        };
        (0..days.len().min(values.len()))
            .find(stays)
            .map(|index| days[index])
    }
}

/// A reading is fresh for so many days.
const FRESH_DAYS: i64 = 3;

impl NitrogenOutlook {
    /// General hardness on each of the days, from what it is now and what the tap has: here nothing
    /// but changes of water moves it.
    pub fn general_hardness(&self, now: f64, tap: f64) -> Vec<f64> {
        let changes = || {
            self.events.iter().filter_map(|event| {
                if let Effect::Change(share) = event.effect {
                    Some((event.day, share))
                } else {
                    None
                }
            })
        };
        let on = |day: &f64| {
            changes()
                .filter(|(at, _)| at <= day)
                .fold(now, |level, (_, share)| after_change(level, tap, share))
        };
        self.days.iter().map(on).collect()
    }

    /// The latest readings, as far as they are fresh and lie outside of all that this outlook
    /// begins with: to be repeated, and then worth more than it. Ammonia and nitrite surprise from
    /// above alone.
    pub fn unexplained<'a>(&self, readings: &'a [Reading], now: DateTime) -> Vec<&'a Reading> {
        let latest = |analyte: &Analyte| {
            readings
                .iter()
                .rev()
                .find(|reading| reading.analyte == analyte)
        };
        let both = [(Analyte::NITRATE, &self.nitrate), (Analyte::KH, &self.kh)]
            .map(|(analyte, bands)| (analyte, bands, true));
        [
            (Analyte::AMMONIA, &self.tan, false),
            (Analyte::NITRITE, &self.nitrite, false),
        ]
        .into_iter()
        .chain(both)
        .filter_map(|(analyte, bands, from_below)| {
            let fresh = |reading: &&Reading| {
                now.duration_since(reading.taken_at).as_hours() < 24 * FRESH_DAYS
            };
            let surprises = |reading: &&Reading| {
                reading.value > bands.high[0] + 2.0 * reading.spread
                    || (from_below && reading.value < bands.low[0] - 2.0 * reading.spread)
            };
            latest(analyte).filter(fresh).filter(surprises)
        })
        .collect()
    }

    /// So many days ahead, a value to each, with what is planned. pH is the mean of a day,
    /// `acidity` as doubtful as it is.
    pub fn of(
        setting: &Setting,
        belief: &NitrogenBelief,
        known: &[Event],
        days: usize,
        acidity: &Acidity,
        salinity: Salinity,
    ) -> Self {
        let asked: Vec<f64> = (0..=days).map(|day| day as f64).collect();
        let to = days as f64;
        let events = with_habit(known, setting, 0.0, to);
        let ahead: Vec<Event> = events
            .iter()
            .copied()
            .filter(|event| event.day > 0.0 && event.day <= to)
            .collect();
        let mut rows: [Vec<Vec<f64>>; 6] = Default::default();
        // Each guess has a carbon dioxide of its own; the same ones whenever it is asked.
        let mut rng = fastrand::Rng::with_seed(0);
        for member in belief.members.iter().step_by(EVERY) {
            let co2 = acidity.mean(normal(&mut rng));
            // What a model this simple is off by beside what is guessed, the same way for weeks.
            let off: [f64; 4] = std::array::from_fn(|_| (MODEL_SPREAD * normal(&mut rng)).exp());
            let mut place = member.now;
            let mut seen: [Vec<f64>; 6] = std::array::from_fn(|_| Vec::with_capacity(days + 1));
            run(
                setting,
                &member.guess,
                &mut place,
                (0.0, to),
                &ahead,
                &asked,
                |_, state| {
                    let [tan, nitrite, nitrate, kh] = [
                        off[0] * state.tan,
                        off[1] * state.nitrite,
                        off[2] * state.nitrate,
                        off[3] * dkh(state),
                    ];
                    let ph = ph_from(co2, kh);
                    let nh3 = tan.max(0.0) * un_ionised_share_in(setting.temperature, ph, salinity);
                    let all = [tan, nh3, nitrite, nitrate, kh, ph];
                    for (list, value) in seen.iter_mut().zip(all) {
                        list.push(value.max(0.0));
                    }
                },
            );
            for (rows, seen) in rows.iter_mut().zip(seen) {
                rows.push(seen);
            }
        }
        let [tan, nh3, nitrite, nitrate, kh, ph] = rows;
        let [tan, nitrite] = [&tan, &nitrite].map(|rows| Bands::of(rows, DANGEROUS_TAIL));
        let of = |rows: &[Vec<f64>], analyte| Bands::of(rows, TAILS).widened_for(analyte);
        let is_dosed = known
            .iter()
            .any(|event| matches!(event.effect, Effect::Dose(_)));
        let stands = |bands: &Bands| {
            let now = bands.likely.first();
            now.is_some_and(|now| *now > KIT_ZERO_MG_L)
        };
        let is_fed = setting.load > 0.0 || is_dosed || stands(&tan) || stands(&nitrite);
        Self {
            is_fed,
            cycled: if is_fed {
                both_below_zero(&asked, &tan, &nitrite)
            } else {
                [None; 3]
            },
            days: asked,
            tan: tan.widened_for(Analyte::AMMONIA),
            // No kit reads it by itself.
            nh3: Bands::of(&nh3, DANGEROUS_TAIL),
            nitrite: nitrite.widened_for(Analyte::NITRITE),
            nitrate: of(&nitrate, Analyte::NITRATE),
            kh: of(&kh, Analyte::KH),
            ph: of(&ph, Analyte::PH),
            events: ahead,
        }
    }
}

/// The day from which on both stay below a kit's zero: at the earliest, likely, at the latest.
fn both_below_zero(days: &[f64], tan: &Bands, nitrite: &Bands) -> [Option<f64>; 3] {
    let sides: [fn(&Bands) -> &Vec<f64>; 3] = [
        |bands| &bands.low,
        |bands| &bands.likely,
        |bands| &bands.high,
    ];
    sides.map(|side| {
        let day = |bands: &Bands| Bands::settles_below(days, side(bands), KIT_ZERO_MG_L);
        day(tan)
            .zip(day(nitrite))
            .map(|(tan, nitrite)| tan.max(nitrite))
    })
}
