//! Laws of evidence, each tried over the whole catalogue: what no card may break, whoever writes
//! it.
//!
//! A law is tried from outside, on whole differentials of the set-ups, by what a keeper would see.

use jiff::civil::{DateTime, date};

use crate::diagnosis::fault::{self, Fault, Strength};
use crate::diagnosis::finding::limits::Limit;
use crate::diagnosis::finding::{self, Finding, Kind, computed};
use crate::diagnosis::{Answer, Answered, Case, Differential, Origin};
use crate::document::start;
use crate::remedy::offers;
use crate::tank::{Analyte, Reading, Tank};
use crate::twin::Twin;
use crate::units::span_of_days;

/// A law with what it was tried on.
#[derive(Clone, Debug)]
pub struct Law {
    /// What must hold, as a sentence.
    pub says: &'static str,
    /// On what, as a plural.
    pub tried_on: &'static str,
    /// How many times.
    pub tried: usize,
    /// Where it does not hold.
    pub broken: Vec<String>,
}

impl Law {
    const fn new(says: &'static str, tried_on: &'static str) -> Self {
        Self {
            says,
            tried_on,
            tried: 0,
            broken: Vec::new(),
        }
    }

    fn hold(&mut self, holds: bool, where_not: impl FnOnce() -> String) {
        self.tried += 1;
        if !holds {
            self.broken.push(where_not());
        }
    }
}

const MORNING: DateTime = date(2026, 3, 10).at(8, 30, 0, 0);

/// Every law, tried.
pub fn laws() -> Vec<Law> {
    vec![
        yes_never_speaks_against(),
        time_has_no_cliffs(),
        worse_never_looks_better(),
        deeper_never_looks_better(),
        seen_is_seen(),
        suspects_explain_the_case(),
        nothing_wrong_never_leads_an_alarm(),
        first_things_first(),
    ]
}

/// A case of which only this is known.
fn told(tank: &Tank, answers: Vec<Answered>, readings: Vec<Reading>) -> Case {
    let mut case = Case::new(tank.clone(), MORNING);
    // Dates of the tank file speak for themselves; here only what is tried may.
    case.observed.recorded.clear();
    case.observed.answers = answers;
    case.observed.readings = readings;
    case
}

fn answered(tank: &Tank, answers: &[(&'static Finding, Answer, f64)]) -> Differential {
    let at = |days: f64| MORNING - span_of_days(days).unwrap_or_default();
    let answers = answers
        .iter()
        .map(|(finding, answer, days)| Answered::new(finding, *answer, at(*days)))
        .collect();
    Differential::of(&told(tank, answers, Vec::new()))
}

fn read(tank: &Tank, analyte: &'static Analyte, value: f64) -> Differential {
    let readings = vec![Reading::usual(
        analyte,
        value.clamp(analyte.low, analyte.high),
        MORNING,
    )];
    Differential::of(&told(tank, Vec::new(), readings))
}

fn odds(chance: f64) -> f64 {
    chance / (1.0 - chance)
}

/// The first set-up that can have a fault.
fn set_up_for(fault: &Fault) -> Option<Tank> {
    start::ALL
        .iter()
        .map(start::Start::tank)
        .find(|tank| fault.needs.as_ref().is_none_or(|need| (need.met)(tank)))
}

/// Every event that precedes a fault, in a tank that can have it, with days since that matter to
/// it.
fn links() -> impl Iterator<Item = (&'static Fault, &'static Finding, Tank, f64)> {
    fault::all().flat_map(|fault| {
        fault
            .events
            .iter()
            .filter_map(move |link| Some((fault, link.event, set_up_for(fault)?, link.window_days)))
    })
}

/// Ages tried, as multiples of a fault's own time. A judgement.
const AGES: [f64; 5] = [0.1, 0.5, 1.0, 3.0, 20.0];

fn yes_never_speaks_against() -> Law {
    let mut law = Law::new(
        "A yes never weighs less than a no, whatever its age; a no never raises the odds",
        "events of faults, at five ages",
    );
    for (fault, event, tank, window) in links() {
        let unasked = answered(&tank, &[]).probability(fault);
        let no = answered(&tank, &[(event, Answer::No, 0.0)]).probability(fault);
        for age in AGES {
            let yes = answered(&tank, &[(event, Answer::Yes, age * window)]).probability(fault);
            // What such an age makes of other faults may take a little of it away.
            let holds = yes >= 0.97 * no && no <= unasked + 1e-9;
            law.hold(holds, || {
                format!(
                    "{} by {} after {age} of its time: yes {yes}, no {no}, unasked {unasked}",
                    fault.id, event.id
                )
            });
        }
    }
    law
}

fn time_has_no_cliffs() -> Law {
    let mut law = Law::new(
        "A date moved by a twentieth moves no odds by more than a quarter",
        "events of faults, at five ages",
    );
    for (fault, event, tank, window) in links() {
        let at =
            |days: f64| odds(answered(&tank, &[(event, Answer::Yes, days)]).probability(fault));
        for age in AGES {
            let (one, other) = (at(age * window), at(1.05 * age * window));
            law.hold((one / other).ln().abs() <= 1.25_f64.ln(), || {
                format!("{} by {} after {age}: {one} {other}", fault.id, event.id)
            });
        }
    }
    law
}

/// Beside a reading that is off there is room for one fault fewer: a sound tank may gain so much by
/// that. A judgement.
const ROOM: f64 = 1e-3;
/// That any of several faults is there is put together as if they did not know of each other, and
/// the twin knows each in a few sizes only: true to about so much.
const PUT_TOGETHER: f64 = 0.03;
const FEW_SIZES: f64 = 0.01;

/// Chance that any of these is there, and that nothing is wrong.
fn any_and_none(differential: &Differential, faults: &[&'static Fault]) -> [f64; 2] {
    [
        1.0 - faults
            .iter()
            .map(|fault| 1.0 - differential.probability(fault))
            .product::<f64>(),
        differential.healthy,
    ]
}

fn showing(findings: &[&Finding]) -> Vec<&'static Fault> {
    fault::all()
        .filter(|fault| fault.signs.iter().any(|(sign, _)| findings.contains(sign)))
        .collect()
}

fn worse_never_looks_better() -> Law {
    let says = "A reading further beyond its limit never helps a sound tank, nor hurts the faults it speaks for";
    let mut law = Law::new(says, "steps beyond a limit, in every set-up");
    let limited = |finding: &'static Finding| match finding.kind {
        Kind::Read(limit @ Limit { less: None, .. }) => Some((finding, limit)),
        _ => None,
    };
    for (finding, limit) in finding::all().filter_map(limited) {
        let faults = showing(&[finding]);
        for start in start::ALL.iter().filter(|_| !faults.is_empty()) {
            let tank = start.tank();
            let value = |step: f64| {
                limit.value
                    * if limit.above {
                        1.0 + 0.5 * step
                    } else {
                        1.0 - step / 12.0
                    }
            };
            let steps: Vec<_> = (0..12)
                .map(|step| {
                    any_and_none(&read(&tank, limit.analyte, value(f64::from(step))), &faults)
                })
                .collect();
            for pair in steps.windows(2) {
                let holds = pair[1][0] >= pair[0][0] - 1e-6 && pair[1][1] <= pair[0][1] + ROOM;
                law.hold(holds, || {
                    format!("{} in {}: {pair:?}", finding.id, start.id)
                });
            }
        }
    }
    law
}

fn deeper_never_looks_better() -> Law {
    let says = "Warmer water, less oxygen, more ammonia or nitrite never look better, and at their worst leave a sound tank next to nothing";
    let mut law = Law::new(says, "steps, in every set-up");
    let poisoned = showing(&[&computed::NITROGEN_MEASURABLE, &computed::TOXIC_NITROGEN]);
    for start in start::ALL {
        let tank = start.tank();
        let expected = Twin::of(&tank).day.at(MORNING.hour().into());
        let warmer = (2..12)
            .map(|over| tank.temperature.as_celsius() + f64::from(over))
            .collect();
        let less = (1..=7)
            .map(|step| (expected - 1.0) * (1.0 - f64::from(step) / 7.0))
            .collect();
        let doubled = |from: f64| (0..7).map(|step| from * f64::from(step).exp2()).collect();
        let mut ways: Vec<(&'static Analyte, Vec<f64>, Vec<&'static Fault>, f64)> = vec![
            (
                Analyte::TEMPERATURE,
                warmer,
                vec![&fault::oxygen::TOO_WARM],
                0.05,
            ),
            (Analyte::OXYGEN, less, fault::oxygen::ALL.to_vec(), 0.1),
            (Analyte::NITRITE, doubled(0.15), poisoned.clone(), 0.05),
        ];
        if !tank.binds_ammonia() {
            ways.push((Analyte::AMMONIA, doubled(0.25), poisoned.clone(), 0.05));
        }
        for (analyte, values, faults, left) in ways {
            let steps: Vec<_> = values
                .iter()
                .map(|value| any_and_none(&read(&tank, analyte, *value), &faults))
                .collect();
            for pair in steps.windows(2) {
                let holds =
                    pair[1][0] >= pair[0][0] - PUT_TOGETHER && pair[1][1] <= pair[0][1] + FEW_SIZES;
                law.hold(holds, || {
                    format!("{} in {}: {pair:?}", analyte.label, start.id)
                });
            }
            let last = steps[steps.len() - 1];
            law.hold(last[0] > 0.6 && last[1] < left, || {
                format!("{} at its worst in {}: {last:?}", analyte.label, start.id)
            });
        }
    }
    law
}

fn seen_is_seen() -> Law {
    let says = "A fault that is seen itself is as sure as an eye: seen, its odds rise five-hundredfold; looked for and not seen, it is all but out";
    let mut law = Law::new(
        says,
        "faults that are their own sign, in every set-up that can have them",
    );
    for fault in fault::all() {
        for (sign, _) in fault
            .signs
            .iter()
            .filter(|(_, strength)| *strength == Strength::Itself)
        {
            for start in start::ALL {
                let tank = start.tank();
                let quiet = answered(&tank, &[]).probability(fault);
                if quiet <= 0.0 {
                    continue;
                }
                let [seen, not] = [Answer::Yes, Answer::No]
                    .map(|answer| answered(&tank, &[(sign, answer, 0.0)]).probability(fault));
                // What the file speaks against stays rare; of all else an eye is believed.
                let sure = quiet <= 0.004 || seen > 0.9;
                let holds = sure && odds(seen) > 500.0 * odds(quiet) && not < 0.06 * quiet;
                law.hold(holds, || {
                    format!("{} in {}: {not} {quiet} {seen}", fault.id, start.id)
                });
            }
        }
    }
    law
}

fn suspects_explain_the_case() -> Law {
    let mut law = Law::new(
        "For each suspect of a case something speaks that was seen or read",
        "suspects of four cases in every set-up",
    );
    let finding = |id: &str| finding::by_id(id).expect("it is listed");
    for start in start::ALL {
        let tank = start.tank();
        let bubbles = [
            (finding("outlet-bubbles-constant"), Answer::Yes, 0.0),
            (finding("flow-weak"), Answer::No, 0.0),
        ];
        for differential in [
            answered(&tank, &[(finding("gasping"), Answer::Yes, 0.0)]),
            answered(&tank, &bubbles),
            read(&tank, Analyte::NITRITE, 0.6),
            read(&tank, Analyte::OXYGEN, 3.5),
        ] {
            let named: Vec<_> = differential
                .of_this_case()
                .filter(|suspect| suspect.probability > 0.03)
                .collect();
            let account = differential.account(&named);
            for suspect in &named {
                let reasons = account.why(suspect).map_or(&[][..], |why| &why.reasons);
                let speaks = reasons.iter().any(|reason| {
                    matches!(
                        reason.origin,
                        Origin::Seen | Origin::Read | Origin::Computed
                    ) && reason.weight > 0.0
                });
                law.hold(speaks, || format!("{} in {}", suspect.fault.id, start.id));
            }
        }
    }
    law
}

/// Signs and readings that a sound tank does not explain.
const ALARMS: [&str; 7] = [
    "pumping-gills",
    "keeps-to-top",
    "gasping",
    "deaths-overnight-largest-first",
    "deaths-steady",
    "deaths-invertebrates-only",
    "newcomers-die",
];

fn nothing_wrong_never_leads_an_alarm() -> Law {
    let says = "Neither “nothing is wrong” nor leaving things as they are leads while animals are in distress or have died, or a reading is beyond its limit";
    let mut law = Law::new(says, "alarms in every set-up");
    let limits = finding::all().filter_map(|finding| match finding.kind {
        Kind::Read(limit @ Limit { less: None, .. }) => Some((
            limit.analyte,
            limit.value * if limit.above { 4.0 } else { 0.25 },
        )),
        _ => None,
    });
    let readings: Vec<_> = limits
        .chain([
            (Analyte::OXYGEN, 3.0),
            (Analyte::TEMPERATURE, 40.0),
            (Analyte::NITRITE, 0.6),
        ])
        .collect();
    for start in start::ALL {
        let tank = start.tank();
        let seen = ALARMS.map(|id| {
            (
                id,
                vec![(finding::by_id(id).expect("it is listed"), Answer::Yes, 0.0)],
                None,
            )
        });
        let of_readings = readings
            .iter()
            .map(|(analyte, value)| (analyte.id, Vec::new(), Some((*analyte, *value))));
        for (what, answers, reading) in seen.into_iter().chain(of_readings) {
            let readings = reading
                .map(|(analyte, value)| Reading::usual(analyte, value, MORNING))
                .into_iter()
                .collect();
            let answers = answers
                .into_iter()
                .map(|(finding, answer, _)| Answered::new(finding, answer, MORNING))
                .collect();
            let case = told(&tank, answers, readings);
            let differential = Differential::of(&case);
            let (_, offers) = offers(&differential, &case.observed);
            let idle = offers.first().is_some_and(|offer| {
                offer.change.when_healthy
                    && !offer.change.cures.contains(&differential.first().fault)
            });
            law.hold(!differential.is_sound() && !idle, || {
                format!("{what} in {}", start.id)
            });
        }
    }
    law
}

fn first_things_first() -> Law {
    let mut law = Law::new(
        "A change for the first suspect stands among the first two",
        "faults, each shown by its own signs",
    );
    for fault in fault::all().filter(|fault| !fault.is_misread()) {
        let Some(tank) = set_up_for(fault) else {
            continue;
        };
        let shown = fault
            .signs
            .iter()
            .filter(|(sign, strength)| strength.chance() > 0.6 && !sign.asks.is_empty())
            .map(|(sign, _)| *sign);
        let preceded = fault
            .events
            .iter()
            .filter(|link| link.strength.chance() > 0.6)
            .map(|link| link.event);
        let answers = shown
            .chain(preceded)
            .map(|finding| Answered::new(finding, Answer::Yes, MORNING))
            .collect();
        let case = told(&tank, answers, Vec::new());
        let differential = Differential::of(&case);
        let first = differential.first().fault;
        let (_, offers) = offers(&differential, &case.observed);
        let is_for = |faults: &[&Fault]| faults.contains(&first);
        let due = offers
            .iter()
            .any(|offer| offer.not_now.is_none() && is_for(offer.change.cures));
        let stands = offers
            .iter()
            .take(2)
            .any(|offer| is_for(offer.change.cures) || is_for(offer.change.eases));
        law.hold(stands || !due, || {
            format!("{} while {} comes first", fault.id, first.id)
        });
    }
    law
}
