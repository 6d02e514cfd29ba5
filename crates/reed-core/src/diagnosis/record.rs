//! What is on record of a tank besides the answers of a case: dates in its file, and its log. One
//! list, so that nobody is asked again what is written down.
//!
//! A record says what happened; that something is not on it says nothing.

use jiff::civil::{Date, DateTime};

use super::finding::{self, Finding, biology, upkeep};
use super::losses;
use super::observed::Answered;
use super::origin::Origin;
use crate::document::Answer;
use crate::log::{Effect, Entry};
use crate::tank::{Filter, Portion, Stage, Tank};
use crate::units::days_of;

/// An answer that is on record, and where.
#[derive(Clone, Debug, PartialEq)]
pub struct Recorded {
    /// What is known.
    pub known: Answered,
    /// The tank file, or the log.
    pub(super) origin: Origin,
}

/// After so many days a chemical medium is old. A judgement.
const OLD_DAYS: f64 = 60.0;

/// What the tank file and the log date, as of this moment.
pub fn of(tank: &Tank, log: &[Entry], now: DateTime) -> Vec<Recorded> {
    let mut record = of_file(tank);
    record.extend(of_log(tank, log));
    record.extend(
        losses::told(tank, log, now)
            .into_iter()
            .map(|(finding, at)| Recorded {
                known: Answered::new(finding, Answer::Yes, at),
                origin: Origin::Record,
            }),
    );
    record.extend(old_media(tank, log, now));
    record.retain(|recorded| recorded.known.at <= now);
    record
}

fn of_file(tank: &Tank) -> Vec<Recorded> {
    let on_file = |finding, day: Date| Recorded {
        known: Answered::new(finding, Answer::Yes, day.at(0, 0, 0, 0)),
        origin: Origin::File,
    };
    let mut record = Vec::new();
    record.extend(tank.set_up.map(|day| on_file(&upkeep::TANK_SET_UP, day)));
    let opened = tank.filters.iter().filter_map(|filter| filter.opened);
    record.extend(opened.map(|day| on_file(&upkeep::FILTER_CLEANED, day)));
    for (portion, day) in portions(tank).filter_map(|portion| Some((portion, portion.put_in?))) {
        let events: &[&Finding] = if is_chemical(portion) {
            &[&upkeep::CHEMICAL_MEDIA_ADDED]
        } else {
            &[&upkeep::FILTER_OR_MEDIA_NEW, &upkeep::MEDIA_REPLACED]
        };
        record.extend(events.iter().map(|event| on_file(event, day)));
    }
    record
}

/// What the entries of the log tell of a tank, each finding as often as it is told.
fn of_log(tank: &Tank, log: &[Entry]) -> Vec<Recorded> {
    let of_entry = |entry: &Entry| {
        let at = entry.when.likely();
        let told = entry.tells(tank).into_iter().filter_map(finding::by_id);
        told.map(|finding| Recorded {
            known: Answered::new(finding, Answer::Yes, at),
            origin: Origin::Record,
        })
        .collect::<Vec<_>>()
    };
    log.iter().flat_map(of_entry).collect()
}

fn portions(tank: &Tank) -> impl Iterator<Item = &Portion> {
    tank.filters.iter().flat_map(Filter::media)
}

fn is_chemical(portion: &Portion) -> bool {
    portion.medium.stage() == Stage::Chemical
}

/// Whether a chemical medium is old: by the tank file, and by the log since the last were taken
/// out. One old medium is enough; that none is old takes the date of each.
fn old_media(tank: &Tank, log: &[Entry], now: DateTime) -> Option<Recorded> {
    let happened = |entry: &&Entry| entry.when.likely() <= now;
    let out = log
        .iter()
        .filter(happened)
        .filter(|entry| entry.effects(tank).contains(&Effect::MediaOut))
        .map(|entry| entry.when.likely())
        .max();
    let went_in: Vec<DateTime> = log
        .iter()
        .filter(happened)
        .filter(|entry| entry.tells(tank).contains(&upkeep::CHEMICAL_MEDIA_ADDED.id))
        .map(|entry| entry.when.likely())
        .filter(|at| out.is_none_or(|out| *at > out))
        .collect();
    // What lies in the filter without a date went in when the log last says so.
    let latest = went_in.iter().copied().max();
    let of_file = portions(tank)
        .filter(|portion| is_chemical(portion))
        .map(|portion| portion.put_in.map(|day| day.at(0, 0, 0, 0)).or(latest));
    let media: Vec<Option<DateTime>> = of_file.chain(went_in.iter().copied().map(Some)).collect();
    let is_old = |at: &DateTime| days_of(now.duration_since(*at)) > OLD_DAYS;
    let origin = if went_in.is_empty() {
        Origin::File
    } else {
        Origin::Record
    };
    let known = |answer| Recorded {
        known: Answered::new(&biology::CHEMICAL_MEDIA_OLD, answer, now),
        origin,
    };
    if media.iter().flatten().any(is_old) {
        Some(known(Answer::Yes))
    } else {
        (!media.is_empty() && !media.contains(&None)).then(|| known(Answer::No))
    }
}

#[cfg(test)]
mod tests {
    use super::of;
    use crate::diagnosis::finding::Kind;
    use crate::diagnosis::{Answer, Answered, Case, Differential, finding};
    use crate::document::start;
    use crate::log::{Entry, Happening, When};
    use jiff::civil::{DateTime, date};

    const NOW: DateTime = date(2026, 3, 10).at(8, 30, 0, 0);

    fn entry(id: &str, at: DateTime) -> Entry {
        let kind = Happening::by_id(id).unwrap_or_else(|| panic!("no kind {id}"));
        let entry = Entry::of(kind, When::minute(at));
        match kind.amount {
            Some(measure) => entry.with_amount(measure.high),
            None => entry,
        }
    }

    /// Every kind that tells the diagnosis something speaks as it would as an answer, and is not
    /// asked about again.
    #[test]
    fn what_is_on_record_is_weighed_and_not_asked_again() {
        let tank = start::by_id("planted-canister").expect("a set-up").tank();
        let at = NOW - jiff::SignedDuration::from_hours(30);
        let mut told = 0;
        for kind in Happening::all() {
            let log = [entry(kind.id, at)];
            let mut case = Case::new(tank.clone(), NOW);
            case.observed.recorded.clear();
            for id in log[0].tells(&tank) {
                let finding = finding::by_id(id).expect("a finding");
                assert!(matches!(finding.kind, Kind::Event { .. }), "{id}");
                let mut answered = case.clone();
                answered.observed.answers = vec![Answered::new(finding, Answer::Yes, at)];
                let mut by_record = case.clone();
                by_record.observed.recorded = of(&tank, &log, NOW);
                by_record
                    .observed
                    .recorded
                    .retain(|recorded| recorded.known.finding == finding);
                let of_record = Differential::of(&by_record);
                assert!(
                    (of_record.healthy - Differential::of(&answered).healthy).abs() < 1e-12,
                    "{id}"
                );
                let asked = of_record.outlook(&by_record).proposals;
                assert!(
                    asked
                        .iter()
                        .all(|proposal| finding.look != Some(proposal.check)),
                    "{id} is asked again"
                );
                told += 1;
            }
        }
        assert!(told > 25, "{told}");
    }

    #[test]
    fn the_latest_on_record_counts_an_answer_before_it_and_the_future_not_yet() {
        let mut tank = start::by_id("planted-canister").expect("a set-up").tank();
        tank.filters[0].opened = Some(date(2026, 1, 10));
        let cleaned = finding::by_id("filter-cleaned").expect("listed");
        let mut case = Case::new(tank.clone(), NOW);
        let when = |case: &Case| {
            let known = case.observed.known(cleaned);
            known.expect("on record").at.date()
        };
        assert_eq!(when(&case), date(2026, 1, 10));
        let log = [2, 4].map(|month| entry("tap-rinse", date(2026, month, 1).at(9, 0, 0, 0)));
        case.observed.recorded = of(&tank, &log, NOW);
        assert_eq!(when(&case), date(2026, 2, 1));
        let of_it = |case: &Case| {
            let known = case.observed.known_from_record();
            known
                .filter(|recorded| recorded.known.finding == cleaned)
                .count()
        };
        assert_eq!(of_it(&case), 1);
        case.observed
            .answers
            .push(Answered::new(cleaned, Answer::Yes, NOW));
        assert_eq!((when(&case), of_it(&case)), (NOW.date(), 0));
    }

    /// Carbon that went in nine months ago is old, without anyone asking; a medium without a date
    /// is not known to be young.
    #[test]
    fn the_age_of_a_medium_answers_for_itself() {
        let mut tank = start::by_id("planted-canister").expect("a set-up").tank();
        let old = |tank: &crate::tank::Tank, log: &[Entry]| {
            let of_it = |recorded: super::Recorded| {
                (recorded.known.finding.id == "chemical-media-old")
                    .then_some(recorded.known.answer.id())
            };
            of(tank, log, NOW).into_iter().find_map(of_it)
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
            assert_eq!(old(&tank, &[]), wanted);
        }
        // The log says the same, until what went in came out again; and dates what lies there.
        let [long_ago, lately] =
            [date(2025, 6, 10), date(2026, 3, 1)].map(|day| day.at(9, 0, 0, 0));
        for (media, log, wanted) in [
            (vec![], vec![entry("carbon", long_ago)], Some("yes")),
            (vec![], vec![entry("carbon", lately)], Some("no")),
            (
                vec![],
                vec![entry("carbon", long_ago), entry("media-out", lately)],
                None,
            ),
            (
                vec![carbon(None)],
                vec![entry("carbon", lately)],
                Some("no"),
            ),
            (
                vec![carbon(None)],
                vec![entry("carbon", long_ago)],
                Some("yes"),
            ),
        ] {
            tank.filters[0].trays[0].media = media;
            assert_eq!(old(&tank, &log), wanted, "{log:?}");
        }
    }
}
