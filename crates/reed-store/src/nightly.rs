//! A copy of every day, kept for a while: seven days, four weeks, twelve months.

use std::collections::BTreeSet;
use std::fs;
use std::path::{Path, PathBuf};

use jiff::Span;
use jiff::civil::Date;

use crate::{StoreError, backup};

const DAYS: usize = 7;
const WEEKS: usize = 4;
const MONTHS: usize = 12;

/// Copies of days begin so; others in the folder are left alone.
const NAME: &str = "day-";

/// A copy that is kept.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct DayCopy {
    /// Of which day.
    pub day: Date,
    /// Where.
    pub file: PathBuf,
}

/// The folder of copies beside a database.
fn folder(database: &Path) -> PathBuf {
    database.with_file_name("backups")
}

/// The copies of days beside a database, the latest first.
pub fn all(database: &Path) -> Vec<DayCopy> {
    let day_of = |file: PathBuf| {
        let name = file.file_name()?.to_str()?;
        let day = name.strip_prefix(NAME)?.strip_suffix(".db")?.parse().ok()?;
        Some(DayCopy { day, file })
    };
    let files = fs::read_dir(folder(database))
        .into_iter()
        .flatten()
        .flatten();
    let mut copies: Vec<DayCopy> = files.filter_map(|file| day_of(file.path())).collect();
    copies.sort_by_key(|copy| std::cmp::Reverse(copy.day));
    copies
}

/// Makes the copy of a day, unless there is one, and throws away what is not to be kept any longer;
/// whether one was made. Photos are not copied: they never change and lie in the same folder.
///
/// # Errors
/// When the copy cannot be made; then nothing was thrown away.
pub fn keep(database: &Path, today: Date) -> Result<bool, StoreError> {
    let before = all(database);
    if before.iter().any(|copy| copy.day == today) {
        return Ok(false);
    }
    let folder = folder(database);
    fs::create_dir_all(&folder).map_err(|source| StoreError::file(&folder, source))?;
    backup::copy(database, &folder.join(format!("{NAME}{today}.db")))?;
    let copies = all(database);
    let days: BTreeSet<Date> = copies.iter().map(|copy| copy.day).collect();
    let kept = to_keep(&days);
    for copy in copies.iter().filter(|copy| !kept.contains(&copy.day)) {
        fs::remove_file(&copy.file).map_err(|source| StoreError::file(&copy.file, source))?;
    }
    Ok(true)
}

/// Which of some days are kept: the latest seven; of each of the latest four weeks, and of each of
/// the latest twelve months that have any, the first. The first of a week or a month stays the
/// first, so that what is kept once is kept as long as its turn lasts.
fn to_keep(days: &BTreeSet<Date>) -> BTreeSet<Date> {
    let week = |day: Date| {
        let since_monday = i64::from(day.weekday().to_monday_zero_offset());
        day.checked_sub(Span::new().days(since_monday))
            .unwrap_or(day)
    };
    let firsts = |of: &dyn Fn(Date) -> Date, most: usize| {
        let mut firsts: Vec<Date> = Vec::new();
        for day in days {
            if firsts.last().is_none_or(|last| of(*last) != of(*day)) {
                firsts.push(*day);
            }
        }
        firsts.into_iter().rev().take(most).collect::<Vec<_>>()
    };
    let latest = days.iter().rev().take(DAYS).copied();
    latest
        .chain(firsts(&week, WEEKS))
        .chain(firsts(&|day: Date| day.first_of_month(), MONTHS))
        .collect()
}

#[cfg(test)]
mod tests {
    use super::{BTreeSet, all, keep, to_keep};
    use crate::Store;
    use jiff::Span;
    use jiff::civil::{Date, date};

    /// Day by day for two years, also with gaps: never more than twenty-three, always the last week
    /// whole, and something of every month of the last year that had a day.
    #[test]
    fn what_is_kept_is_little_and_reaches_back_a_year() {
        for every in [1, 3, 10, 45] {
            let mut days: BTreeSet<Date> = BTreeSet::new();
            let start = date(2024, 2, 20);
            for step in (0..730).step_by(every) {
                let today = start + Span::new().days(i64::from(step));
                days.insert(today);
                days = to_keep(&days);
                assert!(days.contains(&today) && days.len() <= 23, "{days:?}");
            }
            let last = *days.last().expect("some");
            for back in 1..11 {
                let month = (last - Span::new().months(back)).first_of_month();
                let next = month + Span::new().months(1);
                let has = days.range(month..next).next().is_some();
                assert!(
                    has || every > 30,
                    "every {every} days: nothing of {month}: {days:?}"
                );
            }
            if every == 1 {
                let week: Vec<Date> = days.iter().rev().take(7).copied().collect();
                assert_eq!(week[6], last - Span::new().days(6));
            }
        }
    }

    #[test]
    fn a_day_has_one_copy_that_can_be_opened_and_other_files_are_left_alone() {
        let folder = tempfile::TempDir::new().expect("a folder");
        let file = folder.path().join("reed.db");
        let _store = Store::open(&file).expect("a new file");
        let today = date(2026, 3, 10);
        assert!(keep(&file, today).expect("made"));
        assert!(!keep(&file, today).expect("there"), "one a day");
        let other = folder.path().join("backups/reed-version-8.db");
        std::fs::write(&other, "kept for another reason").expect("written");
        for day in 1..40 {
            assert!(keep(&file, today + Span::new().days(day)).expect("made"));
        }
        let copies = all(&file);
        assert!(copies.len() < 16 && other.exists(), "{copies:?}");
        for copy in copies {
            assert!(
                crate::backup::problems(&copy.file)
                    .expect("readable")
                    .is_empty()
            );
        }
    }
}
