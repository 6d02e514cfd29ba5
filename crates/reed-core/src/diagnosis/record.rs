//! What is on record of a tank besides the answers of a case: dates in its file, and what was
//! entered with its water. One list, so that nobody is asked again what is written down.
//!
//! A record says what happened; that something is not on it says nothing.

use jiff::civil::DateTime;

use super::finding::{Finding, biology, events, upkeep};
use super::observed::Answered;
use super::origin::Origin;
use crate::document::Answer;
use crate::outlook::ahead::What;
use crate::tank::{Filter, Portion, Stage, Tank};
use crate::units::days_of;

/// An answer that is on record, and where.
#[derive(Clone, Debug, PartialEq)]
pub struct Recorded {
    /// What is known.
    pub known: Answered,
    /// The tank file, or the events of its water.
    pub(super) origin: Origin,
}

/// After so many days a chemical medium is old. A judgement.
const OLD_DAYS: f64 = 60.0;

/// What the tank file dates, as of this moment.
pub fn of_tank(tank: &Tank, now: DateTime) -> Vec<Recorded> {
    let on_file = |finding, answer, at| Recorded {
        known: Answered::new(finding, answer, at),
        origin: Origin::File,
    };
    let portions: Vec<&Portion> = tank.filters.iter().flat_map(Filter::media).collect();
    let put_in = |portion: &Portion| portion.put_in.map(|day| day.at(0, 0, 0, 0));
    let is_chemical = |portion: &&&Portion| portion.medium.stage() == Stage::Chemical;
    let mut record = Vec::new();
    record.extend(
        tank.set_up
            .map(|day| on_file(&upkeep::TANK_SET_UP, Answer::Yes, day.at(0, 0, 0, 0))),
    );
    let opened = tank.filters.iter().filter_map(|filter| filter.opened);
    record.extend(
        opened.map(|day| on_file(&upkeep::FILTER_CLEANED, Answer::Yes, day.at(0, 0, 0, 0))),
    );
    for (portion, at) in portions
        .iter()
        .filter_map(|portion| Some((portion, put_in(portion)?)))
    {
        let events: &[&Finding] = if is_chemical(&portion) {
            &[&upkeep::CHEMICAL_MEDIA_ADDED]
        } else {
            &[&upkeep::FILTER_OR_MEDIA_NEW, &upkeep::MEDIA_REPLACED]
        };
        record.extend(events.iter().map(|event| on_file(event, Answer::Yes, at)));
    }
    // One old medium is enough; that none is old takes the date of each.
    let is_old = |at: DateTime| days_of(now.duration_since(at)) > OLD_DAYS;
    let chemical: Vec<Option<bool>> = portions
        .iter()
        .filter(is_chemical)
        .map(|portion| put_in(portion).map(is_old))
        .collect();
    if chemical.contains(&Some(true)) {
        record.push(on_file(&biology::CHEMICAL_MEDIA_OLD, Answer::Yes, now));
    } else if !chemical.is_empty() && !chemical.contains(&None) {
        record.push(on_file(&biology::CHEMICAL_MEDIA_OLD, Answer::No, now));
    }
    record.retain(|recorded| recorded.known.at <= now);
    record
}

/// What an event of the water means to a case; nothing for what speaks about no fault.
pub fn of_water(what: What, at: DateTime) -> Vec<Recorded> {
    findings_of(what)
        .iter()
        .map(|finding| Recorded {
            known: Answered::new(finding, Answer::Yes, at),
            origin: Origin::Record,
        })
        .collect()
}

/// A filter that stood still for so many hours has starved its colony of oxygen. A judgement.
const STOOD_STILL_H: f64 = 1.5;
/// So many times as much feed is more.
const FED_MORE: f64 = 1.15;

fn findings_of(what: What) -> Vec<&'static Finding> {
    match what {
        What::Change(_) => vec![&events::WATER_CHANGED],
        What::TapRinse(_) => vec![&upkeep::MEDIA_RINSED_UNDER_TAP, &upkeep::FILTER_CLEANED],
        What::NewMedia(_) => vec![&upkeep::MEDIA_REPLACED, &upkeep::FILTER_OR_MEDIA_NEW],
        What::Medicine => vec![&upkeep::MEDICATED],
        What::Stop(hours) if hours >= STOOD_STILL_H => vec![&upkeep::PUMP_STOPPED],
        What::Chlorine => vec![&events::CONDITIONER_FORGOTTEN],
        What::Feed(times) if times >= FED_MORE => vec![&events::FEEDING_RAISED],
        What::Animals(_) => vec![&events::STOCK_ADDED],
        What::AmmoniaMedium(_) | What::NitrateMedium(_) => vec![&upkeep::CHEMICAL_MEDIA_ADDED],
        What::Binder => vec![&upkeep::BINDING_CONDITIONER_USED],
        What::Bottle => vec![&upkeep::BACTERIA_DOSED],
        What::Skip
        | What::Stop(_)
        | What::Feed(_)
        | What::Seed(_)
        | What::Dose(_)
        | What::MediaOut => Vec::new(),
    }
}

#[cfg(test)]
mod tests {
    use super::{of_tank, of_water};
    use crate::diagnosis::finding::Kind;
    use crate::diagnosis::{Case, Differential, Observed, finding};
    use crate::document::start;
    use crate::outlook::ahead::What;
    use jiff::civil::date;

    /// Every kind of event on record speaks as it would as an answer, is not asked about again, and
    /// what is asked of no fault stands in words: nothing is dropped silently.
    #[test]
    fn what_is_on_record_is_weighed_and_not_asked_again() {
        let now = date(2026, 3, 10).at(8, 30, 0, 0);
        let tank = start::by_id("planted-canister").expect("a set-up").tank();
        let mut silent = Vec::new();
        for (id, ..) in What::KINDS {
            let (low, high) = What::accepts(id).unwrap_or((0.0, 0.0));
            let what = What::by_id(
                id,
                if id == "feed" {
                    2.0
                } else {
                    low.midpoint(high)
                },
            )
            .expect("a kind");
            let entered = of_water(what, now - jiff::SignedDuration::from_hours(30));
            if entered.is_empty() {
                silent.push(id);
            }
            for recorded in entered {
                let finding = recorded.known.finding;
                assert!(matches!(finding.kind, Kind::Event { .. }), "{id}");
                let mut case = Case::new(tank.clone(), now);
                let mut answered = case.clone();
                answered.observed.answers = vec![recorded.known.clone()];
                case.observed.recorded.push(recorded);
                let [by_record, by_answer] = [&case, &answered].map(Differential::of);
                assert!(
                    (by_record.healthy - by_answer.healthy).abs() < 1e-12,
                    "{id}"
                );
                let asked = by_record.outlook(&case).proposals;
                assert!(
                    asked
                        .iter()
                        .all(|proposal| finding.look != Some(proposal.check)),
                    "{id} is asked again"
                );
            }
        }
        assert_eq!(
            silent,
            ["skip", "seed", "dose", "media-out"],
            "these bring no fault"
        );
    }

    #[test]
    fn the_latest_on_record_counts_an_answer_before_it_and_the_future_not_yet() {
        let now = date(2026, 3, 10).at(8, 30, 0, 0);
        let mut tank = start::by_id("planted-canister").expect("a set-up").tank();
        tank.filters[0].opened = Some(date(2026, 1, 10));
        let mut observed = Observed::nothing(&tank, now);
        let cleaned = finding::by_id("filter-cleaned").expect("listed");
        let when = |observed: &Observed| observed.known(cleaned).expect("on record").at.date();
        assert_eq!(when(&observed), date(2026, 1, 10));
        observed.recorded.extend(of_water(
            What::TapRinse(0.5),
            date(2026, 2, 1).at(9, 0, 0, 0),
        ));
        observed.recorded.extend(of_water(
            What::TapRinse(0.5),
            date(2026, 4, 1).at(9, 0, 0, 0),
        ));
        assert_eq!(when(&observed), date(2026, 2, 1));
        assert_eq!(
            observed
                .known_from_record()
                .filter(|recorded| recorded.known.finding == cleaned)
                .count(),
            1
        );
        observed.answers.push(crate::diagnosis::Answered::new(
            cleaned,
            crate::diagnosis::Answer::Yes,
            now,
        ));
        assert_eq!(when(&observed), now.date());
        assert!(
            observed
                .known_from_record()
                .all(|recorded| recorded.known.finding != cleaned)
        );
    }

    /// Carbon that went in nine months ago is old, without anyone asking; a medium without a date
    /// is not known to be young.
    #[test]
    fn the_age_of_a_medium_answers_for_itself() {
        let now = date(2026, 3, 10).at(8, 30, 0, 0);
        let mut tank = start::by_id("planted-canister").expect("a set-up").tank();
        let old = |tank: &crate::tank::Tank| {
            let of_it = |recorded: super::Recorded| {
                (recorded.known.finding.id == "chemical-media-old")
                    .then_some(recorded.known.answer.id())
            };
            of_tank(tank, now).into_iter().find_map(of_it)
        };
        let carbon = |put_in| crate::tank::Portion {
            medium: crate::tank::Medium::Carbon,
            put_in,
            ..Default::default()
        };
        for (media, wanted) in [
            (vec![carbon(Some(date(2025, 6, 10)))], Some("yes")),
            (vec![carbon(Some(date(2026, 3, 1)))], Some("no")),
            (vec![carbon(Some(date(2026, 3, 1))), carbon(None)], None),
            (
                vec![carbon(None), carbon(Some(date(2025, 6, 10)))],
                Some("yes"),
            ),
            (vec![], None),
        ] {
            tank.filters
                .iter_mut()
                .for_each(|filter| filter.trays.iter_mut().for_each(|tray| tray.media.clear()));
            tank.filters[0].trays[0].media = media;
            assert_eq!(old(&tank), wanted);
        }
    }
}
