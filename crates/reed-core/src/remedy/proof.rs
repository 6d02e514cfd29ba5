//! Did it work? A later reading against what would have been without the change, and against what
//! was forecast.

use super::change::{Change, Wanted};
use crate::diagnosis::fault::Fault;
use crate::diagnosis::finding::{Finding, Kind};
use crate::diagnosis::{Answer, Case, Distress, Observed};
use crate::outlook::forecast::{Forecast, Grade};
use crate::tank::{Analyte, Reading, Tank};
use crate::units::Units;
use crate::units::masses::NITRATE_PER_NITROGEN;
use crate::water::nitrogen::KIT_ZERO_MG_L;

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
    /// Change against what would have been expected at this hour without it, in the analyte's unit,
    /// where computed.
    pub rise: Option<(f64, f64)>,
    /// What was forecast for this hour, with its standard deviation.
    pub forecast: Option<(f64, f64)>,
    /// In words.
    pub words: String,
}

/// Standard deviations beyond which a rise is taken as real: one in twenty such rises would be
/// chance. By definition.
const REAL: f64 = 1.64;

/// What the proof of a change has to show in this case.
///
/// As a rule what its card says. Of ammonia and nitrite it is the one that was read further beyond
/// its limit before, since that convicted the fault and the other may have been good all along. A
/// change whose card speaks of oxygen, chosen where neither a reading of oxygen nor short breath
/// pointed to it, is proved by the sign of the fault that was seen, if there is one; so is one
/// whose card names a sign that was not seen.
pub fn wanted(change: &Change, case: &Case) -> Wanted {
    let before = &case.observed;
    let nitrogen = [Analyte::AMMONIA, Analyte::NITRITE];
    let beyond = |analyte: &'static Analyte, limit: f64| {
        before
            .latest(analyte)
            .map_or(f64::MIN, |reading| reading.value - limit - reading.spread)
    };
    match change.proof.wanted {
        Wanted::AtMost(analyte, limit) if nitrogen.contains(&analyte) => {
            let worst = nitrogen
                .into_iter()
                .max_by(|a, b| beyond(a, limit).total_cmp(&beyond(b, limit)));
            Wanted::AtMost(
                worst
                    .filter(|worst| beyond(worst, limit) > 0.0)
                    .unwrap_or(analyte),
                limit,
            )
        }
        Wanted::AtMost(analyte, limit)
            if analyte == Analyte::NITRATE && case.tank.salinity.is_salt_water() =>
        {
            Wanted::AtMost(analyte, limit.min(NITRATE_IN_SALT_WATER_MG_L))
        }
        Wanted::OxygenAsForecast => {
            let about_oxygen = before.latest(Analyte::OXYGEN).is_some()
                || Distress::worst_of(&before.answers).is_some();
            let poison = nitrogen
                .into_iter()
                .find(|analyte| beyond(analyte, KIT_ZERO_MG_L) > 0.0);
            match (about_oxygen, poison, sign_of(change, before)) {
                (true, ..) | (false, None, None) => Wanted::OxygenAsForecast,
                (false, Some(analyte), _) => Wanted::AtMost(analyte, KIT_ZERO_MG_L),
                (false, None, Some(sign)) => Wanted::Gone(sign),
            }
        }
        Wanted::Gone(sign) if !seen(before, sign) => {
            sign_of(change, before).map_or(Wanted::Gone(sign), Wanted::Gone)
        }
        wanted => wanted,
    }
}

fn seen(before: &Observed, finding: &Finding) -> bool {
    before
        .answer(finding)
        .is_some_and(|answered| answered.answer == Answer::Yes)
}

/// 20 mg/L of the ion, half of what is usual in fresh water: common practice, no source.
const NITRATE_IN_SALT_WATER_MG_L: f64 = 20.0 / NITRATE_PER_NITROGEN;

/// The first sign that was seen of what this change cures, or else eases.
fn sign_of(change: &Change, before: &Observed) -> Option<&'static Finding> {
    let of_faults = |faults: &'static [&'static Fault]| {
        let signs = faults
            .iter()
            .flat_map(|fault| fault.signs)
            .map(|(finding, _)| *finding);
        signs.into_iter().find(|finding| {
            matches!(finding.kind, Kind::Sign) && !finding.asks.is_empty() && seen(before, finding)
        })
    };
    of_faults(change.cures).or_else(|| of_faults(change.eases))
}

/// Judges a proof reading by what it has to show.
///
/// `now` and `after` are the days that were forecast without and with the change when it was
/// chosen, so that a reading at noon is compared with noon and not with the dawn reading that
/// opened the case. `before` is the last reading of the same thing before the change, if there is
/// one.
pub fn judge(
    wanted: Wanted,
    tank: &Tank,
    reading: &Reading,
    before: Option<&Reading>,
    now: &Forecast,
    after: Option<&Forecast>,
    units: &Units,
) -> Judgement {
    match wanted {
        Wanted::OxygenAsForecast => judge_oxygen(reading, now, after, units),
        Wanted::OxygenStaysGood => {
            let grade = now.grade_of(reading.value);
            plain(
                grade >= Grade::Watch,
                format!(
                    "{} is {}, with nothing changed.",
                    reading.print(units),
                    grade.words()
                ),
            )
        }
        Wanted::AtMost(_, limit) => {
            let met = |reading: &Reading| reading.value <= limit + reading.spread;
            let words = format!(
                "{} where at most {} was wanted.",
                reading.print(units),
                reading.analyte.print(limit, units)
            );
            against_before(met, reading, before, words)
        }
        Wanted::RisenBy(_, least) => judge_rise(reading, before, least, units),
        Wanted::IntendedTemperature => {
            let intended = tank.temperature.as_celsius();
            let met = |reading: &Reading| (reading.value - intended).abs() <= 1.5;
            let words = format!(
                "{} where {} was intended.",
                reading.print(units),
                reading.analyte.print(intended, units)
            );
            against_before(met, reading, before, words)
        }
        Wanted::Gone(finding) => plain(
            false,
            format!(
                "{} tells nothing here: look whether this is gone: {}.",
                reading.print(units),
                finding.says
            ),
        ),
    }
}

/// Judges a second look for a sign that a change was meant to end. One that was not seen before
/// proves nothing by its absence.
pub fn judge_look(finding: &Finding, answer: Answer, before: &Observed) -> Judgement {
    match answer {
        Answer::No if !seen(before, finding) => {
            let words = format!(
                "{}. But nobody saw it before the change either: that proves nothing of it.",
                finding.says_not
            );
            Judgement {
                verdict: Verdict::Partly,
                rise: None,
                forecast: None,
                words,
            }
        }
        Answer::No => plain(true, format!("{}.", finding.says_not)),
        Answer::Yes => plain(false, format!("{}, as before.", finding.says)),
    }
}

fn plain(met: bool, words: String) -> Judgement {
    Judgement {
        verdict: if met {
            Verdict::Proved
        } else {
            Verdict::NotProved
        },
        rise: None,
        forecast: None,
        words,
    }
}

/// Where a value has to be met, it proves the change only if it was not met before, and by more
/// than both readings may be off.
fn against_before(
    met: impl Fn(&Reading) -> bool,
    reading: &Reading,
    before: Option<&Reading>,
    words: String,
) -> Judgement {
    let partly = |why: &str| Judgement {
        verdict: Verdict::Partly,
        rise: None,
        forecast: None,
        words: format!("{words} {why}"),
    };
    match before {
        _ if !met(reading) => plain(false, words),
        None => partly("But nothing was read before the change to compare it with."),
        Some(before) if met(before) => {
            partly("It was so before the change: that proves nothing of it.")
        }
        Some(before)
            if (reading.value - before.value).abs()
                <= REAL * reading.spread.hypot(before.spread) =>
        {
            partly("But it differs from the reading before by no more than both may be off.")
        }
        Some(_) => plain(true, words),
    }
}

fn judge_rise(reading: &Reading, before: Option<&Reading>, least: f64, units: &Units) -> Judgement {
    let Some(before) = before else {
        let words = format!(
            "{}, but nothing was read before the change to compare it with.",
            reading.print(units)
        );
        return Judgement {
            verdict: Verdict::Partly,
            rise: None,
            forecast: None,
            words,
        };
    };
    let rise = (
        reading.value - before.value,
        reading.spread.hypot(before.spread),
    );
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
    Judgement {
        verdict,
        rise: Some(rise),
        forecast: None,
        words,
    }
}

fn judge_oxygen(
    reading: &Reading,
    now: &Forecast,
    after: Option<&Forecast>,
    units: &Units,
) -> Judgement {
    let hour = reading.hour_of_day();
    let (without, without_spread) = now.at(hour);
    let rise = (
        reading.value - without,
        reading.spread.hypot(without_spread),
    );
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
    Judgement {
        verdict,
        rise: Some(rise),
        forecast,
        words,
    }
}
