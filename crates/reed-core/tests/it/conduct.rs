//! How a case is conducted: what is looked at together, what is not asked, when acting is due, and
//! what may be called proved.

use jiff::SignedDuration;
use jiff::civil::{DateTime, date};
use reed_core::diagnosis::check::{self, Check, Gives};
use reed_core::diagnosis::fault::{self, Fault};
use reed_core::diagnosis::finding::{self, Finding, Kind};
use reed_core::diagnosis::{
    Advice, Answer, Answered, Case, Declined, Differential, Hindrance, Observed, opening_sign,
    round,
};
use reed_core::document::start;
use reed_core::filter::Plumbing;
use reed_core::outlook::forecast::Ensemble;
use reed_core::remedy::change::{self, Wanted};
use reed_core::remedy::proof::{self, Compared, Control, Judged, Part, Verdict, overall};
use reed_core::remedy::{Change, advice, first_aid, offers};
use reed_core::tank::{Analyte, Reading, Tank};
use reed_core::units::Units;
use reed_fixtures::keepers::{self, Keeper};

const MORNING: DateTime = date(2026, 3, 10).at(8, 30, 0, 0);

fn tank(id: &str) -> Tank {
    start::by_id(id).expect("listed").tank()
}

fn finding(id: &str) -> &'static Finding {
    finding::by_id(id).expect("listed")
}

fn seen(tank: &Tank, yes: &[&'static Finding]) -> Case {
    let mut case = Case::new(tank.clone(), MORNING);
    case.observed.answers = yes
        .iter()
        .map(|finding| Answered::new(finding, Answer::Yes, MORNING))
        .collect();
    case
}

/// The change that is due, and the first aid before it.
type Due = (&'static str, Vec<&'static str>);

/// What is asked next, or what is due.
fn next_step(case: &Case) -> Result<Vec<&'static Check>, Due> {
    let differential = Differential::of(case);
    let (_, offers) = offers(&differential, &case.observed);
    let outlook = differential.outlook(case);
    match advice(&differential, &outlook, &offers) {
        Advice::Look { looks } => Ok(looks
            .into_iter()
            .map(|place| outlook.proposals[place].check)
            .collect()),
        // First aid stands before any change: where it differs, what is done differs.
        Advice::Act => Err((
            offers[0].change.id,
            first_aid::due(case)
                .into_iter()
                .map(|aid| aid.title)
                .collect(),
        )),
    }
}

/// Signs that people see, of a fault that can be in this tank.
fn signs_of(fault: &'static Fault) -> Vec<&'static Finding> {
    fault
        .signs
        .iter()
        .map(|(finding, _)| *finding)
        .filter(|finding| matches!(finding.kind, Kind::Sign) && !finding.asks.is_empty())
        .collect()
}

fn can_be_in(fault: &Fault, tank: &Tank) -> bool {
    fault.needs.as_ref().is_none_or(|need| (need.met)(tank))
}

#[test]
fn a_round_is_of_glances_at_one_station_in_walking_order_and_costs_less_than_its_looks_alone() {
    let mut rounds = 0;
    for start in start::ALL {
        let tank = start.tank();
        for sign in ["keeps-to-top", "flow-weak", "cloudy-white"] {
            let Ok(looks) = next_step(&seen(&tank, &[finding(sign)])) else {
                continue;
            };
            if looks.len() < 2 {
                continue;
            }
            rounds += 1;
            assert!(
                looks.len() <= 6
                    && looks
                        .iter()
                        .all(|look| look.minutes <= 1.0 && look.station() == looks[0].station())
            );
            let places = looks.iter().map(|look| {
                if let Gives::Answer(finding) = look.gives {
                    finding.place
                } else {
                    unreachable!("a glance")
                }
            });
            assert!(places.is_sorted(), "{}: in walking order", start.id);
            let alone: f64 = looks.iter().map(|look| look.effort_minutes()).sum();
            assert!(round::minutes_of(&looks) < alone);
        }
    }
    assert!(rounds > 15, "{rounds}");
}

/// The law of stopping: some answer to what is asked leads elsewhere than the others.
#[test]
fn what_is_asked_can_change_what_is_done() {
    let tank = tank("community-internal");
    let mut asked = 0;
    for fault in fault::all()
        .filter(|fault| can_be_in(fault, &tank))
        .step_by(4)
    {
        let mut case = seen(
            &tank,
            &signs_of(fault).into_iter().take(1).collect::<Vec<_>>(),
        );
        for _ in 0..3 {
            let Ok(looks) = next_step(&case) else {
                break;
            };
            if looks[0].reads() == Some(Analyte::AMMONIA) {
                // It makes acting safe, whatever it leads to.
                case.observed.declined.push(Declined {
                    check: looks[0],
                    why: Hindrance::NoKit,
                    at: MORNING,
                });
                continue;
            }
            let with = |answer: &dyn Fn(usize) -> Option<Answer>| {
                let mut then = case.clone();
                for (index, look) in looks.iter().enumerate() {
                    match (&look.gives, answer(index)) {
                        (Gives::Answer(finding), Some(answer)) => {
                            then.observed
                                .answers
                                .push(Answered::new(finding, answer, MORNING));
                        }
                        (Gives::Reading(analyte), answer) => {
                            let value = if answer == Some(Answer::Yes) {
                                analyte.high * 0.3
                            } else {
                                analyte.low
                            };
                            then.observed
                                .readings
                                .push(Reading::usual(analyte, value, MORNING));
                        }
                        _ => {}
                    }
                }
                then
            };
            let none = with(&|_| Some(Answer::No));
            let acts_alike = |then: &Case| match (next_step(then), next_step(&none)) {
                (Err(one), Err(other)) => one == other,
                _ => false,
            };
            let leads_elsewhere = (0..looks.len()).any(|yes| {
                let one_yes = with(&|index| {
                    Some(if index == yes {
                        Answer::Yes
                    } else {
                        Answer::No
                    })
                });
                !acts_alike(&one_yes)
            });
            assert!(
                leads_elsewhere,
                "{}: {:?} changes nothing",
                fault.id,
                looks.iter().map(|look| look.id).collect::<Vec<_>>()
            );
            asked += 1;
            case = none;
        }
    }
    assert!(asked > 15, "{asked}");
}

#[test]
fn what_cannot_be_done_is_not_asked_again_and_a_missing_kit_hides_all_that_needs_it() {
    let tank = tank("community-internal");
    let mut case = seen(&tank, &[finding("keeps-to-top")]);
    let mut declined: Vec<&Check> = Vec::new();
    for _ in 0..6 {
        let Ok(looks) = next_step(&case) else {
            break;
        };
        for look in looks {
            assert!(!declined.contains(&look), "{} is asked again", look.id);
            case.observed.declined.push(Declined {
                check: look,
                why: Hindrance::of(look)[0],
                at: MORNING,
            });
            declined.push(look);
        }
    }
    assert!(declined.len() > 6);
    let ammonia = check::by_id("read-ammonia").expect("listed");
    let oxygen = check::by_id("read-oxygen-dusk-dawn").expect("listed");
    case.observed.declined = vec![
        Declined {
            check: ammonia,
            why: Hindrance::NoKit,
            at: MORNING,
        },
        Declined {
            check: oxygen,
            why: Hindrance::CannotLook,
            at: MORNING,
        },
    ];
    let later = |hours| Observed {
        now: MORNING + SignedDuration::from_hours(hours),
        ..case.observed.clone()
    };
    assert!(
        later(1).is_declined(oxygen) && !later(13).is_declined(oxygen),
        "who cannot look now may look tonight"
    );
    assert!(later(1).is_declined(ammonia) && later(400).is_declined(ammonia));
}

#[test]
fn no_act_is_due_in_a_cloudy_new_tank_before_its_ammonia_is_read() {
    let mut tank = tank("community-internal");
    tank.set_up = Some(date(2026, 3, 1));
    let mut case = seen(&tank, &[finding("cloudy-white")]);
    let ammonia = check::by_id("read-ammonia").expect("listed");
    for _ in 0..40 {
        let looks = next_step(&case).expect("ammonia is not read yet");
        if looks.contains(&ammonia) {
            return;
        }
        for look in looks {
            match (&look.gives, look.id) {
                (Gives::Answer(finding), _) => {
                    case.observed
                        .answers
                        .push(Answered::new(finding, Answer::No, MORNING));
                }
                (Gives::Reading(analyte), _) => {
                    let value = if *analyte == Analyte::TEMPERATURE {
                        tank.temperature.as_celsius()
                    } else {
                        analyte.low
                    };
                    case.observed
                        .readings
                        .push(Reading::usual(analyte, value, MORNING));
                }
                _ => case.observed.declined.push(Declined {
                    check: look,
                    why: Hindrance::CannotLook,
                    at: MORNING,
                }),
            }
        }
    }
    panic!("ammonia was never asked for");
}

/// Everywhere, not only where somebody noticed: a sock is changed in a sump, a cartridge in what
/// takes one, and so on.
#[test]
fn a_change_is_offered_only_where_what_it_is_for_can_be() {
    for start in start::ALL {
        let tank = start.tank();
        for change in change::all().filter(|change| change.suits(&tank).is_ok()) {
            let mut faults = change.cures.iter().chain(change.eases).peekable();
            assert!(
                faults.peek().is_none() || faults.any(|fault| can_be_in(fault, &tank)),
                "{} in {}",
                change.id,
                start.id
            );
        }
    }
}

/// Of every change and every fault that it is for, shown by its own signs: there is something to
/// show, there is an outcome that proves all of it, everything standing as before proves nothing,
/// and one thing shown beside another that stands is not a success.
#[test]
fn every_change_can_be_proved_for_every_fault_and_no_difference_proves_it() {
    let (mut tried, mut several) = (0, 0);
    for start in start::ALL {
        let tank = start.tank();
        for fault in fault::all().filter(|fault| can_be_in(fault, &tank)) {
            let believed = Ensemble::of_tank(&fault.put_into(&tank));
            let now = believed.forecast(Tank::clone);
            for change in change::all().filter(|change| {
                change
                    .cures
                    .iter()
                    .chain(change.eases)
                    .any(|one| *one == fault)
                    && change.suits(&tank).is_ok()
            }) {
                let what = || format!("{} for {} in {}", change.id, fault.id, start.id);
                let after = change.in_the_model.map(|alter| believed.forecast(alter));
                let mut before = seen(&tank, &signs_of(fault));
                let read = |analyte, value| Reading::usual(analyte, value, MORNING);
                for part in proof::parts(&[change], &[fault], &before) {
                    if let Some(analyte) = part.wanted.analyte() {
                        let (bad, _) = bad_and_good(part.wanted, &tank, &now);
                        before.observed.readings.push(read(analyte, bad));
                    }
                }
                let parts = proof::parts(&[change], &[fault], &before);
                assert!(!parts.is_empty() && parts.len() <= 4, "{}", what());
                let judge = |part: &Part, is_gone: bool| match part.wanted {
                    Wanted::Gone(sign) => {
                        let answer = if is_gone { Answer::No } else { Answer::Yes };
                        proof::judge_look(sign, answer, &before.observed).verdict
                    }
                    wanted => {
                        let analyte = wanted.analyte().expect("it is read");
                        let (bad, good) = bad_and_good(wanted, &tank, &now);
                        let compared = Compared {
                            before: Some(&read(analyte, bad)),
                            control: None,
                            now: &now,
                            after: after.as_ref(),
                        };
                        let value = if is_gone { good } else { bad };
                        proof::judge(
                            wanted,
                            &tank,
                            &read(analyte, value),
                            &compared,
                            &Units::BASE,
                        )
                        .verdict
                    }
                };
                let all = |gone: &dyn Fn(usize) -> bool| {
                    let judged: Vec<_> = parts
                        .iter()
                        .enumerate()
                        .map(|(place, part)| {
                            Some(Judged {
                                verdict: judge(part, gone(place)),
                                is_final: true,
                            })
                        })
                        .collect();
                    overall(&judged).verdict
                };
                // To watch is proved by things staying good.
                let watches = parts
                    .iter()
                    .any(|part| part.wanted == Wanted::OxygenStaysGood);
                assert!(
                    all(&|_| false) != Verdict::Proved || watches,
                    "{}: no difference, {parts:?}",
                    what()
                );
                let has_a_sign = parts
                    .iter()
                    .all(|part| !matches!(part.wanted, Wanted::Gone(_)))
                    || !signs_of(fault).is_empty();
                assert!(
                    all(&|_| true) == Verdict::Proved || !has_a_sign,
                    "{}: never proved, {parts:?}",
                    what()
                );
                if parts.len() > 1 && !watches {
                    several += 1;
                    for (stands, part) in parts.iter().enumerate() {
                        assert_ne!(
                            all(&|place| place != stands),
                            Verdict::Proved,
                            "{}: {part:?} stands",
                            what()
                        );
                    }
                }
                tried += 1;
            }
        }
    }
    assert!(tried > 600 && several > 200, "{tried} {several}");
}

/// A hang-on filter whose flow is weak and whose lid lies lifted: quiet bubbles prove nothing.
#[test]
fn weak_flow_is_proved_by_flow_and_a_flat_lid_and_not_by_bubbles_nobody_saw() {
    let tank = tank("planted-hang-on");
    let clean = change::by_id("clean-mechanical").expect("listed");
    let fault = fault::all()
        .find(|fault| fault.id == "exposed-hob-media")
        .expect("listed");
    let mut before = seen(
        &tank,
        &[finding("flow-weak"), finding("lid-lifted-media-exposed")],
    );
    let wanted = |before: &Case| -> Vec<Wanted> {
        let parts = proof::parts(&[clean], &[fault], before);
        parts.into_iter().map(|part| part.wanted).collect()
    };
    let lid = Wanted::Gone(finding("lid-lifted-media-exposed"));
    let by_eye = wanted(&before);
    assert!(
        by_eye.contains(&lid) && by_eye.contains(&Wanted::Gone(finding("flow-weak"))),
        "{by_eye:?}"
    );
    // Who has measured measures again: by eye a quarter goes unnoticed.
    before
        .observed
        .readings
        .push(Reading::usual(Analyte::FLOW, 120.0, MORNING));
    let by_bucket = wanted(&before);
    assert!(
        by_bucket.contains(&lid)
            && by_bucket.contains(&Wanted::FlowBack)
            && !by_bucket.contains(&Wanted::Gone(finding("flow-weak"))),
        "{by_bucket:?}"
    );
}

/// A bucket test of the only filter is a reading before the change: what is asked for can be proved.
#[test]
fn a_bucket_test_before_the_change_is_what_the_flow_is_compared_with() {
    let mut before = seen(&tank("planted-hang-on"), &[finding("flow-weak")]);
    assert_eq!(proof::read_before(&before, Analyte::FLOW), None);
    // Nobody has measured it clean: what it should move then follows from its pump and media.
    let clean = {
        let filter = &before.tank.filters[0];
        Plumbing::of(&before.tank, filter).clean_l_per_h(filter)
    };
    let filter = &mut before.tank.filters[0];
    filter.measured = Some(reed_core::units::FlowRate::litres_per_hour(0.5 * clean));
    filter.measured_on = Some(date(2026, 3, 9));
    let change = change::by_id("clean-mechanical").expect("listed");
    let wanted = proof::parts(&[change], &[], &before)[0].wanted;
    assert_eq!(wanted, Wanted::FlowBack);
    let now = Ensemble::of_tank(&before.tank).forecast(Tank::clone);
    let read = proof::read_before(&before, Analyte::FLOW).expect("measured");
    let compared = Compared {
        before: Some(&read),
        control: None,
        now: &now,
        after: None,
    };
    let verdict = |share: f64| {
        let reading = Reading::usual(Analyte::FLOW, share * clean, MORNING);
        proof::judge(wanted, &before.tank, &reading, &compared, &Units::BASE).verdict
    };
    assert_eq!(
        [verdict(1.0), verdict(0.5)],
        [Verdict::Proved, Verdict::NotProved]
    );
}

/// Oxygen falls by night in every tank: a control that was read at dusk and at dawn would give the
/// change what the night took. What has no hour is compared at any.
#[test]
fn a_control_is_read_at_the_same_hour_where_the_light_moves_it() {
    let at = |analyte, hours: i64| Reading {
        taken_at: MORNING + SignedDuration::from_hours(hours),
        ..Reading::usual(analyte, 7.0, MORNING)
    };
    let control = |analyte, before: i64, after: i64| {
        let [before, after] = [before, after].map(|hours| at(analyte, hours));
        Control::of(
            "Sister".to_owned(),
            &[before],
            Some(after),
            &at(analyte, 24),
        )
    };
    for (analyte, daily) in [
        (Analyte::OXYGEN, true),
        (Analyte::PH, true),
        (Analyte::TEMPERATURE, true),
        (Analyte::NITRATE, false),
        (Analyte::KH, false),
    ] {
        assert!(control(analyte, -1, 25).is_ok(), "{}", analyte.id);
        assert_eq!(control(analyte, -12, 24).is_err(), daily, "{}", analyte.id);
        // Across midnight it is the same hour too.
        assert!(control(analyte, -23, 24).is_ok(), "{}", analyte.id);
        assert!(control(analyte, -1, 31).is_err(), "not about then");
        // One that was read since at another hour does not take its place.
        let before = [-24, -12].map(|hours| at(analyte, hours));
        let of_both = Control::of(
            "Sister".to_owned(),
            &before,
            Some(at(analyte, 24)),
            &at(analyte, 24),
        );
        assert!(of_both.is_ok(), "{}", analyte.id);
    }
}

/// A sister tank that went the same way takes the credit from the change; one that did not leaves
/// it.
#[test]
fn what_a_control_did_by_itself_was_not_the_change() {
    let tank = tank("community-internal");
    let now = Ensemble::of_tank(&tank).forecast(Tank::clone);
    let change = change::by_id("bigger-changes").expect("listed");
    let nitrate = |value| Reading {
        spread: 0.5,
        ..Reading::usual(Analyte::NITRATE, value, MORNING)
    };
    let wanted = change.proof.wanted;
    let Wanted::AtMost(_, limit) = wanted else {
        panic!("nitrate is read")
    };
    let verdict = |control: Option<(f64, f64)>| {
        let control = control.map(|(before, after)| {
            let (before, after) = (nitrate(before), nitrate(after));
            Control::of("Sister".to_owned(), &[before], Some(after), &nitrate(limit))
                .expect("a pair")
        });
        let before = nitrate(1.6 * limit);
        let compared = Compared {
            before: Some(&before),
            control: control.as_ref(),
            now: &now,
            after: None,
        };
        proof::judge(
            wanted,
            &tank,
            &nitrate(0.9 * limit),
            &compared,
            &Units::BASE,
        )
        .verdict
    };
    assert_eq!(verdict(None), Verdict::Proved);
    assert_eq!(verdict(Some((1.5 * limit, 1.5 * limit))), Verdict::Proved);
    assert_eq!(
        verdict(Some((1.6 * limit, 0.9 * limit))),
        Verdict::CannotTell,
        "it fell there too"
    );
}

/// A value that asks for the change, and one after which it has worked.
fn bad_and_good(
    wanted: Wanted,
    tank: &Tank,
    now: &reed_core::outlook::forecast::Forecast,
) -> (f64, f64) {
    match wanted {
        // Plants can bring it above saturation.
        Wanted::OxygenAsForecast => (now.at(8.5).0, 1.3 * now.saturation),
        Wanted::OxygenStaysGood => (now.saturation, now.saturation),
        Wanted::AtMost(_, limit) => (20.0 * limit, 0.0),
        Wanted::RisenBy(_, least) => (4.0, 4.0 + 8.0 * least),
        Wanted::IntendedTemperature => (
            tank.temperature.as_celsius() + 6.0,
            tank.temperature.as_celsius(),
        ),
        Wanted::FlowBack => {
            let clean: f64 = tank
                .filters
                .iter()
                .map(|filter| Plumbing::of(tank, filter).clean_l_per_h(filter))
                .sum();
            (0.4 * clean, clean)
        }
        Wanted::Gone(_) => unreachable!("it is looked at"),
    }
}

/// Ammonia at 1.2 convicted; nitrite was good all along.
#[test]
fn the_proof_reads_what_convicted_the_fault() {
    let tank = tank("community-internal");
    let cycle: &Change = change::by_id("run-cycle").expect("listed");
    let read = |analyte, value| Reading::usual(analyte, value, MORNING);
    let mut before = seen(&tank, &[finding("cloudy-white")]);
    before.observed.readings = vec![read(Analyte::AMMONIA, 1.2), read(Analyte::NITRITE, 0.02)];
    let wanted = |change, before: &Case| proof::parts(&[change], &[], before)[0].wanted;
    assert_eq!(wanted(cycle, &before).analyte(), Some(Analyte::AMMONIA));
    let weak = seen(&tank, &[finding("flow-weak")]);
    let pad = change::by_id("replace-floss").expect("listed");
    assert_eq!(
        wanted(pad, &weak),
        Wanted::Gone(finding("flow-weak")),
        "not bubbles that nobody saw"
    );
}

/// More oxygen is no cure for an intake in the wrong place.
#[test]
fn the_surface_is_raised_only_where_oxygen_is_at_stake() {
    let tank = tank("community-internal");
    let is_compared = |yes: &[&str]| {
        let case = seen(&tank, &yes.iter().map(|id| finding(id)).collect::<Vec<_>>());
        let (_, offers) = offers(&Differential::of(&case), &case.observed);
        offers
            .iter()
            .find(|offer| offer.change.id == "raise-or-aim-outlet")
            .expect("it fits")
            .is_worth_comparing_with(&offers[0])
    };
    assert!(is_compared(&["keeps-to-top"]));
    assert!(!is_compared(&["muck-everywhere", "food-passes-intake"]));
}

/// Breath before everything; of the rest what was seen first; never what is only recalled, not so,
/// or an event.
#[test]
fn a_case_is_open_for_the_worst_or_the_first_sign() {
    let said = |ids: &[(&str, Answer)]| -> Vec<Answered> {
        ids.iter()
            .map(|(id, answer)| Answered::new(finding(id), *answer, MORNING))
            .collect()
    };
    let opened = |ids: &[(&str, Answer)]| opening_sign(&said(ids)).map(|finding| finding.id);
    let (yes, no) = (Answer::Yes, Answer::No);
    assert_eq!(
        opened(&[
            ("cloudy-white", yes),
            ("pumping-gills", yes),
            ("gasping", yes)
        ]),
        Some("gasping")
    );
    assert_eq!(
        opened(&[("gasping", no), ("flow-weak", yes), ("cloudy-white", yes)]),
        Some("flow-weak")
    );
    assert_eq!(
        opened(&[
            ("stock-added", yes),
            ("sudden-onset", yes),
            ("deaths-steady", yes)
        ]),
        None
    );
}

#[test]
fn thin_fish_are_not_put_on_half_of_their_feed() {
    let tank = tank("community-internal");
    let case = seen(&tank, &[finding("thin-fish"), finding("cloudy-white")]);
    let (_, offers) = offers(&Differential::of(&case), &case.observed);
    let less = offers
        .iter()
        .position(|offer| offer.change.id == "feed-less")
        .expect("listed");
    assert!(offers[less].not_now.is_some() && less > 10, "{less}");
}

/// What a keeper does with what is asked: answers with the taps it takes.
fn answered(keeper: &Keeper, looks: &[&'static Check], observed: &mut Observed) -> usize {
    let mut taps = usize::from(looks.len() > 1);
    for look in looks {
        match &look.gives {
            Gives::Answer(finding) => {
                let is_so = keeper.so.contains(&finding.id)
                    || keeper.happened.iter().any(|(id, _)| *id == finding.id);
                taps += usize::from(is_so || looks.len() == 1);
                let days = keeper
                    .happened
                    .iter()
                    .find(|(id, _)| *id == finding.id)
                    .map_or(0, |(_, when)| {
                        DAYS_AGO.iter().find(|(id, _)| id == when).expect("known").1
                    });
                let answer = if is_so { Answer::Yes } else { Answer::No };
                observed.answers.push(Answered::new(
                    finding,
                    answer,
                    observed.now - SignedDuration::from_hours(24 * days),
                ));
            }
            Gives::Reading(analyte) => {
                match keeper.reads.iter().find(|(id, _)| *id == analyte.id) {
                    Some((_, value)) => {
                        taps += 2;
                        let value = value.parse().expect("a number");
                        observed
                            .readings
                            .push(Reading::usual(analyte, value, observed.now));
                    }
                    None => {
                        taps += 1;
                        observed.declined.push(Declined {
                            check: look,
                            why: Hindrance::NoKit,
                            at: observed.now,
                        });
                    }
                }
            }
            Gives::Repeat => {
                taps += 1;
                observed.declined.push(Declined {
                    check: look,
                    why: Hindrance::CannotLook,
                    at: observed.now,
                });
            }
        }
        observed.now += SignedDuration::from_mins(1);
    }
    taps
}

/// Roughly how long ago is what the words of a keeper mean, days.
const DAYS_AGO: &[(&str, i64)] = &[("today", 0), ("week", 4), ("month", 18), ("half-year", 180)];

#[test]
fn simulated_keepers_come_to_the_right_cause_and_change_in_a_dozen_taps() {
    let mut wrong = Vec::new();
    for keeper in keepers::ALL {
        let tank = keeper.tank(MORNING.date());
        let mut case = seen(&tank, &[finding(keeper.noticed)]);
        let (mut taps, mut path) = (1, Vec::new());
        let change = loop {
            match next_step(&case) {
                Ok(looks) => {
                    path.push(looks.iter().map(|look| look.id).collect::<Vec<_>>());
                    taps += answered(keeper, &looks, &mut case.observed);
                }
                Err((change, _)) => break change,
            }
        };
        let differential = Differential::of(&case);
        let first = differential.first();
        if first.fault.id != keeper.fault || !keeper.right.contains(&change) || taps > 12 {
            wrong.push(format!(
                "{}: {} {:.2}, {change} after {taps} taps by {path:?}",
                keeper.name, first.fault.id, first.probability
            ));
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

/// What no common need of a fault says: a cartridge only in what takes one, no plants in the sea,
/// no more feed than can be burnt.
#[test]
fn changes_fit_filter_water_and_capacity() {
    let fits = |tank: &Tank, id: &str| change::by_id(id).expect("listed").suits(tank).is_ok();
    for (set_up, change, expected) in [
        ("planted-hang-on", "cartridge-to-sponge", true),
        ("large-sump", "cartridge-to-sponge", false),
        ("sponge-cube", "cartridge-to-sponge", false),
        ("reef-sump", "add-plants", false),
        ("reef-sump", "plants-or-denitrify", false),
        ("community-internal", "plants-or-denitrify", true),
        ("community-internal", "change-sock", false),
        ("large-sump", "change-sock", true),
    ] {
        assert_eq!(
            fits(&tank(set_up), change),
            expected,
            "{change} in {set_up}"
        );
    }
    let mut fed = tank("community-internal");
    assert!(fits(&fed, "feed-up"));
    fed.feed = reed_core::units::Mass::grams(fed.feed.as_grams() * 50.0);
    assert!(
        !fits(&fed, "feed-up"),
        "fifty times the feed is more than its bacteria carry"
    );
    // In salt water half as much nitrate is wanted.
    let wanted = |set_up: &str| {
        let tank = tank(set_up);
        let change = change::by_id("bigger-changes").expect("listed");
        proof::parts(&[change], &[], &Case::new(tank, MORNING))[0].wanted
    };
    let (Wanted::AtMost(_, sea), Wanted::AtMost(_, fresh)) =
        (wanted("reef-sump"), wanted("community-internal"))
    else {
        panic!("nitrate is read")
    };
    assert!(sea < 0.6 * fresh);
}

/// Every fault in every set-up, with ammonia and a medicine in the water, so that much must not be
/// done now.
#[test]
fn the_foremost_change_is_always_shown() {
    for start in start::ALL {
        let tank = start.tank();
        for fault in fault::all()
            .filter(|fault| can_be_in(fault, &tank))
            .step_by(6)
        {
            let mut case = seen(&tank, &signs_of(fault));
            case.observed
                .answers
                .push(Answered::new(finding("medicated"), Answer::Yes, MORNING));
            case.observed
                .readings
                .push(Reading::usual(Analyte::AMMONIA, 2.0, MORNING));
            let (_, offers) = offers(&Differential::of(&case), &case.observed);
            assert!(
                offers[0].is_worth_comparing_with(&offers[0]),
                "{} in {}",
                fault.id,
                start.id
            );
        }
    }
    let tank = tank("community-internal");
    let case = seen(&tank, &[]);
    let (_, offers) = offers(&Differential::of(&case), &case.observed);
    // Laid beside the worst, which is below zero, every one is worth it, the worst itself too.
    let worst = offers.last().expect("some change fits");
    assert!(
        offers
            .iter()
            .all(|offer| offer.is_worth_comparing_with(worst))
    );
}

/// Beside every step that hangs a device into the water stands what to unplug, beside gas and moved
/// animals what to mind.
#[test]
fn cautions_stand_beside_the_steps_that_need_them() {
    let cautions = |id: &str| -> String {
        change::by_id(id)
            .expect("listed")
            .steps
            .iter()
            .map(|step| step.caution)
            .collect()
    };
    for change in [
        "add-surface-powerhead",
        "add-wave-maker",
        "add-circulation",
        "add-air-stone",
        "add-sponge-filter",
        "rinse-prefilter",
    ] {
        assert!(cautions(change).contains("Unplug every pump"), "{change}");
    }
    assert!(
        cautions("reduce-co2").contains("high pressure")
            && cautions("move-animals").contains("Sick animals never go to healthy ones")
    );
    for change in change::all().filter(|change| !change.by_moving.is_empty()) {
        assert!(
            cautions(change.id).to_lowercase().contains("unplug"),
            "{}",
            change.id
        );
    }
}
