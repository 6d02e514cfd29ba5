//! What one reading or look makes of one part of a proof.

use super::shows::seen;
use super::{Control, Judgement, REAL, Verdict};
use crate::diagnosis::finding::Finding;
use crate::diagnosis::{Answer, Observed};
use crate::filter::Plumbing;
use crate::outlook::forecast::{Forecast, Grade};
use crate::remedy::change::Wanted;
use crate::tank::{Reading, Tank};
use crate::units::Units;

/// What a proof reading is compared with.
#[derive(Clone, Copy, Debug)]
pub struct Compared<'a> {
    /// The last reading of the same thing before the change.
    pub before: Option<&'a Reading>,
    /// The same thing in water that was left alone.
    pub control: Option<&'a Control>,
    /// The day that was forecast without the change when it was chosen, so that a reading at noon
    /// is compared with noon and not with the dawn reading that opened the case.
    pub now: &'a Forecast,
    /// The day that was forecast with it, where it could be computed.
    pub after: Option<&'a Forecast>,
}

/// Within so many degrees the intended temperature is met, °C. A judgement.
const TEMPERATURE_MET_C: f64 = 1.5;

/// A flow within this share of the clean one is back. A judgement: by eye a quarter less goes
/// unnoticed.
const FLOW_BACK_SHARE: f64 = 0.85;

/// Judges a proof reading by what it has to show.
pub fn judge(
    wanted: Wanted,
    tank: &Tank,
    reading: &Reading,
    compared: &Compared<'_>,
    units: &Units,
) -> Judgement {
    let mut judgement = match wanted {
        Wanted::OxygenAsForecast => judge_oxygen(reading, compared, units),
        Wanted::OxygenStaysGood => {
            let grade = compared.now.grade_of(reading.value);
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
            against_before(met, reading, compared, -1.0, words)
        }
        Wanted::RisenBy(_, least) => judge_rise(reading, compared, least, units),
        Wanted::FlowBack => {
            let clean: f64 = tank
                .filters
                .iter()
                .map(|filter| Plumbing::of(tank, filter).clean_l_per_h(filter))
                .sum();
            let met = |reading: &Reading| reading.value + reading.spread >= FLOW_BACK_SHARE * clean;
            let words = format!(
                "{} where {} is what it moves clean.",
                reading.print(units),
                reading.analyte.print(clean, units)
            );
            against_before(met, reading, compared, 1.0, words)
        }
        Wanted::IntendedTemperature => {
            let intended = tank.temperature.as_celsius();
            let met = |reading: &Reading| (reading.value - intended).abs() <= TEMPERATURE_MET_C;
            let towards = compared
                .before
                .map_or(1.0, |before| (intended - before.value).signum());
            let words = format!(
                "{} where {} was intended.",
                reading.print(units),
                reading.analyte.print(intended, units)
            );
            against_before(met, reading, compared, towards, words)
        }
        Wanted::Gone(finding) => told(
            Verdict::CannotTell,
            format!(
                "{} tells nothing here: look whether this is gone: {}.",
                reading.print(units),
                finding.says
            ),
        ),
    };
    if let Some(control) = compared.control {
        judgement.words = format!("{} {}", judgement.words, control.words(units));
    }
    judgement
}

/// Judges a second look for a sign that a change was meant to end. One that was not seen before
/// proves nothing by its absence.
pub fn judge_look(finding: &Finding, answer: Answer, before: &Observed) -> Judgement {
    match answer {
        Answer::No if !seen(before, finding) => told(
            Verdict::CannotTell,
            format!(
                "{}. But nobody saw it before the change either: that proves nothing of it.",
                finding.says_not
            ),
        ),
        Answer::No => plain(true, format!("{}.", finding.says_not)),
        Answer::Yes => plain(false, format!("{}, as before.", finding.says)),
    }
}

fn told(verdict: Verdict, words: String) -> Judgement {
    Judgement {
        verdict,
        rise: None,
        forecast: None,
        words,
    }
}

fn plain(met: bool, words: String) -> Judgement {
    let verdict = if met {
        Verdict::Proved
    } else {
        Verdict::NotProved
    };
    told(verdict, words)
}

/// By how much a reading differs from the one before the change, the control's own difference taken
/// off, with the standard deviation.
fn difference(reading: &Reading, before: &Reading, control: Option<&Control>) -> (f64, f64) {
    let difference = (
        reading.value - before.value,
        reading.spread.hypot(before.spread),
    );
    control.map_or(difference, |control| control.taken_off(difference))
}

/// Where a value has to be met, it proves the change only if it was not met before, and if it moved
/// the right way (`towards`: 1 up, −1 down) by more than the readings may be off.
fn against_before(
    met: impl Fn(&Reading) -> bool,
    reading: &Reading,
    compared: &Compared<'_>,
    towards: f64,
    words: String,
) -> Judgement {
    let unclear = |why: &str| told(Verdict::CannotTell, format!("{words} {why}"));
    let Some(before) = compared.before else {
        return if met(reading) {
            unclear("But nothing was read before the change to compare it with.")
        } else {
            plain(false, words)
        };
    };
    let rise = difference(reading, before, compared.control);
    let is_real = towards * rise.0 > REAL * rise.1;
    let mut judgement = match (met(reading), is_real) {
        (true, _) if met(before) => {
            unclear("It was so before the change: that proves nothing of it.")
        }
        (true, true) => plain(true, words),
        (true, false) if compared.control.is_some() => {
            unclear("But beyond what the control did by itself it differs by no more than chance.")
        }
        (true, false) => {
            unclear("But it differs from the reading before by no more than both may be off.")
        }
        (false, true) => told(
            Verdict::Partly,
            format!("{words} It moved the right way, but not far enough."),
        ),
        (false, false) => plain(false, words),
    };
    judgement.rise = Some(rise);
    judgement
}

fn judge_rise(reading: &Reading, compared: &Compared<'_>, least: f64, units: &Units) -> Judgement {
    let Some(before) = compared.before else {
        return told(
            Verdict::CannotTell,
            format!(
                "{}, but nothing was read before the change to compare it with.",
                reading.print(units)
            ),
        );
    };
    let rise = difference(reading, before, compared.control);
    let is_real = rise.0 > REAL * rise.1;
    let verdict = match (rise.0 >= least, is_real) {
        (true, true) => Verdict::Proved,
        (true, false) => Verdict::CannotTell,
        (false, true) => Verdict::Partly,
        (false, false) => Verdict::NotProved,
    };
    let words = format!(
        "{} after {}: {:+.1} ± {:.1}, where at least {least:+.1} was wanted.",
        reading.print(units),
        before.print(units),
        rise.0,
        rise.1
    );
    Judgement {
        rise: Some(rise),
        ..told(verdict, words)
    }
}

fn judge_oxygen(reading: &Reading, compared: &Compared<'_>, units: &Units) -> Judgement {
    let (now, after) = (compared.now, compared.after);
    let hour = reading.hour_of_day();
    let (without, without_spread) = now.at(hour);
    let expected = (
        reading.value - without,
        reading.spread.hypot(without_spread),
    );
    // What a sister tank did by itself, the day did here too.
    let rise = compared
        .control
        .map_or(expected, |control| control.taken_off(expected));
    let risen = rise.0 > REAL * rise.1;
    let grade = after.unwrap_or(now).grade_of(reading.value);
    let good_enough = grade >= Grade::Watch;
    // A difference that may be chance proves nothing, however good the oxygen is.
    let verdict = match (risen, good_enough) {
        (true, true) => Verdict::Proved,
        (true, false) => Verdict::Partly,
        (false, true) if rise.0 > 0.0 => Verdict::CannotTell,
        (false, _) => Verdict::NotProved,
    };
    let forecast = after.map(|after| after.at(hour));
    let fits = forecast.map_or_else(String::new, |(mean, spread)| {
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
        "{} is {} ({:.0} % of saturation), {:+.1} ± {:.1} mg/L against what this hour would have been without the change.{fits}",
        reading.print(units),
        grade.words(),
        100.0 * reading.value / after.unwrap_or(now).saturation,
        rise.0,
        rise.1,
    );
    Judgement {
        rise: Some(rise),
        forecast,
        ..told(verdict, words)
    }
}
