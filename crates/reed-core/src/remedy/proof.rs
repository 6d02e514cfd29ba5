//! Did it work? A later reading against what would have been without the change, and against what was forecast.

use super::change::{Change, Wanted};
use crate::diagnosis::Answer;
use crate::diagnosis::finding::Finding;
use crate::forecast::{Forecast, Grade};
use crate::tank::{Reading, Tank};
use crate::units::Units;

/// What the proof reading says.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Verdict {
    /// It worked: risen beyond the uncertainty, and good enough.
    Proved,
    /// It helped, but not enough, or less than the uncertainty can tell.
    Partly,
    /// No effect to be seen.
    NotProved,
}

impl Verdict {
    /// All of them.
    pub const ALL: [Self; 3] = [Self::Proved, Self::Partly, Self::NotProved];

    /// Id as stored.
    pub const fn id(self) -> &'static str {
        match self {
            Self::Proved => "proved",
            Self::Partly => "partly",
            Self::NotProved => "not-proved",
        }
    }

    /// The verdict with this id.
    pub fn by_id(id: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|verdict| verdict.id() == id)
    }
}

/// A verdict with its reasons.
#[derive(Clone, Debug, PartialEq)]
pub struct Judgement {
    /// The verdict.
    pub verdict: Verdict,
    /// Change against what would have been expected at this hour without it, in the analyte's unit, where computed.
    pub rise: Option<(f64, f64)>,
    /// What was forecast for this hour, with its standard deviation.
    pub forecast: Option<(f64, f64)>,
    /// In words.
    pub words: String,
}

/// Standard deviations beyond which a rise is taken as real: one in twenty such rises would be chance.
const REAL: f64 = 1.64;

/// Judges a proof reading.
///
/// `now` and `after` are the days that were forecast without and with the change when it was chosen, so that a reading
/// at noon is compared with noon and not with the dawn reading that opened the case.
/// `before` is the last reading of the same thing before the change, if there is one.
pub fn judge(
    change: &Change,
    tank: &Tank,
    reading: &Reading,
    before: Option<&Reading>,
    now: &Forecast,
    after: Option<&Forecast>,
    units: &Units,
) -> Judgement {
    match change.proof.wanted {
        Wanted::OxygenAsForecast => judge_oxygen(reading, now, after, units),
        Wanted::OxygenStaysGood => {
            let grade = now.grade_of(reading.value);
            plain(grade >= Grade::Watch, format!("{} is {}, with nothing changed.", reading.print(units), grade.words()))
        }
        Wanted::AtMost(_, limit) => {
            let met = |reading: &Reading| reading.value <= limit + reading.spread;
            let words = format!("{} where at most {} was wanted.", reading.print(units), reading.analyte.print(limit, units));
            against_before(met(reading), before.is_some_and(met), words)
        }
        Wanted::RisenBy(_, least) => judge_rise(reading, before, least, units),
        Wanted::IntendedTemperature => {
            let intended = tank.temperature.as_celsius();
            let met = |reading: &Reading| (reading.value - intended).abs() <= 1.5;
            let words = format!("{} where {} was intended.", reading.print(units), reading.analyte.print(intended, units));
            against_before(met(reading), before.is_some_and(met), words)
        }
        Wanted::Gone(finding) => {
            plain(false, format!("{} tells nothing here: look whether this is gone: {}.", reading.print(units), finding.says))
        }
    }
}

/// Judges a second look for a sign that a change was meant to end.
pub fn judge_look(finding: &Finding, answer: Answer) -> Judgement {
    match answer {
        Answer::No => plain(true, format!("{}.", finding.says_not)),
        Answer::Yes => plain(false, format!("{}, as before.", finding.says)),
    }
}

fn plain(met: bool, words: String) -> Judgement {
    Judgement { verdict: if met { Verdict::Proved } else { Verdict::NotProved }, rise: None, forecast: None, words }
}

/// What was met before the change already proves nothing of it.
fn against_before(met: bool, met_before: bool, words: String) -> Judgement {
    if met && met_before {
        let words = format!("{words} It was so before the change: that proves nothing of it.");
        return Judgement { verdict: Verdict::Partly, rise: None, forecast: None, words };
    }
    plain(met, words)
}

fn judge_rise(reading: &Reading, before: Option<&Reading>, least: f64, units: &Units) -> Judgement {
    let Some(before) = before else {
        let words = format!("{}, but nothing was read before the change to compare it with.", reading.print(units));
        return Judgement { verdict: Verdict::Partly, rise: None, forecast: None, words };
    };
    let rise = (reading.value - before.value, reading.spread.hypot(before.spread));
    let verdict = if rise.0 < least {
        Verdict::NotProved
    } else if rise.0 > REAL * rise.1 {
        Verdict::Proved
    } else {
        Verdict::Partly
    };
    let words = format!(
        "{} after {}: {:+.1} ± {:.1}, where at least {least:+.1} was wanted.",
        reading.print(units),
        before.print(units),
        rise.0,
        rise.1
    );
    Judgement { verdict, rise: Some(rise), forecast: None, words }
}

fn judge_oxygen(reading: &Reading, now: &Forecast, after: Option<&Forecast>, units: &Units) -> Judgement {
    let hour = reading.hour_of_day();
    let (without, without_spread) = now.at(hour);
    let rise = (reading.value - without, reading.spread.hypot(without_spread));
    let risen = rise.0 > REAL * rise.1;
    let grade = after.unwrap_or(now).grade_of(reading.value);
    let good_enough = grade >= Grade::Watch;
    // A difference that may be chance proves nothing, however good the oxygen is.
    let verdict = match (risen, good_enough) {
        (true, true) => Verdict::Proved,
        (true, false) => Verdict::Partly,
        (false, true) if rise.0 > 0.0 => Verdict::Partly,
        (false, _) => Verdict::NotProved,
    };
    let forecast = after.map(|after| after.at(hour));
    let expected = forecast.map_or_else(String::new, |(mean, spread)| {
        let off = (reading.value - mean) / reading.spread.hypot(spread);
        let fit = if off.abs() <= 2.0 {
            "which the reading bears out"
        } else if off < 0.0 {
            "so less came of it"
        } else {
            "so more came of it"
        };
        format!(" Forecast for this hour was {mean:.1} ± {spread:.1} mg/L, {fit}.")
    });
    let words = format!(
        "{} is {} ({:.0} % of saturation), {:+.1} ± {:.1} mg/L against what this hour would have been without the change.{expected}",
        reading.print(units),
        grade.words(),
        100.0 * reading.value / after.unwrap_or(now).saturation,
        rise.0,
        rise.1,
    );
    Judgement { verdict, rise: Some(rise), forecast, words }
}
