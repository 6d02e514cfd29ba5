//! What the losses in a log say: who died, when and how many tells more than that some did.

use jiff::civil::DateTime;

use super::finding::{Finding, biology, fish};
use crate::log::{Entry, On};
use crate::tank::{StockGroup, Tank};
use crate::units::days_of;

/// Losses so long ago still belong together, days. A judgement.
const TOGETHER_DAYS: f64 = 30.0;
/// On so many days they are steady. A judgement.
const STEADY_ON_DAYS: usize = 3;
/// Where the last was no longer ago than this, days. A judgement.
const LATELY_DAYS: f64 = 10.0;
/// What came in so many days before is a newcomer. A judgement.
const NEW_DAYS: f64 = 60.0;
/// Losses by morning are those of the last so many days. A judgement.
const NIGHTS_DAYS: f64 = 3.0;
/// Found between these hours. A judgement.
const MORNING_HOURS: std::ops::Range<i8> = 4..11;

/// Animals of one group that were lost.
struct Loss<'a> {
    at: DateTime,
    days_ago: f64,
    /// Where it was said which, and it is still described.
    group: Option<&'a StockGroup>,
    exact: bool,
}

/// The findings that losses answer with yes, each with the last loss that tells it.
pub(super) fn told(tank: &Tank, log: &[Entry], now: DateTime) -> Vec<(&'static Finding, DateTime)> {
    let losses = losses(tank, log, now);
    let Some(last) = losses.iter().map(|loss| loss.at).max() else {
        return Vec::new();
    };
    let mut told: Vec<&'static Finding> = Vec::new();
    told.extend(are_steady(&losses).then_some(&fish::DEATHS_STEADY));
    told.extend(
        only(&losses, &|group| group.build.is_invertebrate(), tank)
            .then_some(&biology::DEATHS_INVERTEBRATES),
    );
    let newcomers = newcomers(log, now);
    let is_new = |group: &StockGroup| newcomers.contains(&group.name.as_str());
    told.extend(only(&losses, &is_new, tank).then_some(&biology::NEWCOMERS_DIE));
    told.extend(by_morning_the_largest(&losses, tank).then_some(&fish::DEATHS_OVERNIGHT));
    told.into_iter().map(|finding| (finding, last)).collect()
}

fn losses<'a>(tank: &'a Tank, log: &[Entry], now: DateTime) -> Vec<Loss<'a>> {
    let loss = |entry: &Entry| {
        let at = entry.when.likely();
        let days_ago = days_of(now.duration_since(at));
        let lately = (0.0..TOGETHER_DAYS).contains(&days_ago);
        (entry.happening == "lost" && lately).then(|| Loss {
            at,
            days_ago,
            group: match &entry.on {
                On::Group(name) => tank.stock.iter().find(|group| group.name == *name),
                // Of one group alone it goes without saying.
                On::Tank => tank.stock.first().filter(|_| tank.stock.len() == 1),
                On::Filter(_) => None,
            },
            exact: entry.when.is_exact(),
        })
    };
    log.iter().filter_map(loss).collect()
}

fn are_steady(losses: &[Loss<'_>]) -> bool {
    let mut days: Vec<_> = losses.iter().map(|loss| loss.at.date()).collect();
    days.sort_unstable();
    days.dedup();
    days.len() >= STEADY_ON_DAYS && losses.iter().any(|loss| loss.days_ago <= LATELY_DAYS)
}

/// All that died are of such a kind, while others of another live here.
fn only(losses: &[Loss<'_>], is_such: &dyn Fn(&StockGroup) -> bool, tank: &Tank) -> bool {
    losses.iter().all(|loss| loss.group.is_some_and(is_such))
        && tank.stock.iter().any(|group| !is_such(group))
}

/// Names of the groups to which animals came lately.
fn newcomers(log: &[Entry], now: DateTime) -> Vec<&str> {
    let came = |entry: &&Entry| {
        let days_ago = days_of(now.duration_since(entry.when.likely()));
        entry.happening == "animals" && (0.0..NEW_DAYS).contains(&days_ago)
    };
    log.iter()
        .filter(came)
        .filter_map(|entry| match &entry.on {
            On::Group(name) => Some(name.as_str()),
            On::Tank | On::Filter(_) => None,
        })
        .collect()
}

/// Found in the morning, and of the largest that live here, while smaller ones do too.
fn by_morning_the_largest(losses: &[Loss<'_>], tank: &Tank) -> bool {
    let fish = || {
        tank.stock
            .iter()
            .filter(|group| !group.build.is_invertebrate())
    };
    let mass = |group: &StockGroup| group.mass_each().as_grams();
    let largest = fish().map(mass).fold(0.0, f64::max);
    let are_mixed = fish().any(|group| mass(group) < largest);
    let is_of_the_largest =
        |loss: &Loss<'_>| loss.group.is_some_and(|group| mass(group) >= largest);
    let lately = || losses.iter().filter(|loss| loss.days_ago <= NIGHTS_DAYS);
    let in_the_morning = |loss: &Loss<'_>| loss.exact && MORNING_HOURS.contains(&loss.at.hour());
    are_mixed && lately().any(in_the_morning) && lately().all(is_of_the_largest)
}

#[cfg(test)]
mod tests {
    use super::told;
    use crate::document::start;
    use crate::log::{Entry, Happening, On, When};
    use crate::tank::{Build, Tank};
    use jiff::civil::{DateTime, date};

    const NOW: DateTime = date(2026, 3, 10).at(12, 0, 0, 0);

    /// Large and small fish, and shrimps.
    fn tank() -> Tank {
        let mut tank = start::by_id("planted-canister").expect("listed").tank();
        let group = |name: &str, grams: f64, build| crate::tank::StockGroup {
            build,
            ..crate::tank::StockGroup::weighing(
                name,
                6,
                crate::units::Mass::grams(grams),
                crate::tank::Activity::Usual,
            )
        };
        tank.stock = vec![
            group("large", 20.0, Build::Deep),
            group("small", 0.5, Build::Fusiform),
            group("shrimps", 0.2, Build::Shrimp),
        ];
        tank
    }

    fn entry(kind: &str, group: &str, at: DateTime) -> Entry {
        Entry {
            on: On::Group(group.to_owned()),
            ..Entry::of(Happening::by_id(kind).expect("listed"), When::minute(at))
        }
    }

    #[test]
    fn who_died_and_when_tells_which_signs_are_there() {
        let at = |days: i8, hour: i8| date(2026, 3, 10 - days).at(hour, 0, 0, 0);
        for (log, expected) in [
            (vec![], vec![]),
            (vec![entry("lost", "small", at(1, 15))], vec![]),
            (
                vec![entry("lost", "large", at(0, 7))],
                vec!["deaths-overnight-largest-first"],
            ),
            // The small ones too, or at noon: that is another matter.
            (
                vec![
                    entry("lost", "large", at(0, 7)),
                    entry("lost", "small", at(0, 7)),
                ],
                vec![],
            ),
            (vec![entry("lost", "large", at(1, 13))], vec![]),
            (
                vec![
                    entry("lost", "shrimps", at(2, 9)),
                    entry("lost", "shrimps", at(1, 9)),
                ],
                vec!["deaths-invertebrates-only"],
            ),
            (
                vec![
                    entry("animals", "small", at(9, 9)),
                    entry("lost", "small", at(3, 15)),
                ],
                vec!["newcomers-die"],
            ),
            (
                [1, 4, 7]
                    .map(|days| entry("lost", "small", at(days, 15)))
                    .to_vec(),
                vec!["deaths-steady"],
            ),
            // What is yet to come, or long ago, tells nothing.
            (
                vec![entry("lost", "large", date(2026, 3, 11).at(7, 0, 0, 0))],
                vec![],
            ),
            (
                vec![entry("lost", "shrimps", date(2026, 1, 1).at(9, 0, 0, 0))],
                vec![],
            ),
        ] {
            let found: Vec<_> = told(&tank(), &log, NOW)
                .into_iter()
                .map(|(finding, _)| finding.id)
                .collect();
            assert_eq!(found, expected, "{log:?}");
        }
    }
}
