//! The copies of a database: one of each day, kept for a while (seven days, four weeks, twelve months),
//! those that were asked for, and those made before something was changed.

use std::collections::BTreeSet;
use std::fs;
use std::path::{Path, PathBuf};

use jiff::civil::{Date, DateTime};
use jiff::{Span, Timestamp};

use crate::{StoreError, backup};

const DAYS: usize = 7;
const WEEKS: usize = 4;
const MONTHS: usize = 12;

/// How the names of copies begin, by where they come from.
const OF_DAY: &str = "day-";
const BY_HAND: &str = "by-hand-";

/// A copy that is kept.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct KeptCopy {
    /// Where.
    pub file: PathBuf,
    /// Where it comes from.
    pub origin: Origin,
    /// When it was made.
    pub made_at: Timestamp,
    /// How large it is.
    pub bytes: u64,
}

/// Where a copy comes from.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Origin {
    /// Made of this day, by itself.
    Day(Date),
    /// Asked for.
    ByHand,
    /// Made before the program brought the database up to date.
    BeforeUpdate,
    /// What stood there before another copy was put back.
    BeforeRestore,
}

impl KeptCopy {
    /// Its name, by which it can be asked for.
    pub fn name(&self) -> String {
        let name = self.file.file_name().unwrap_or_default();
        name.to_string_lossy().into_owned()
    }

    fn of(file: PathBuf, database: &Path) -> Option<Self> {
        let name = file.file_name()?.to_str()?.strip_suffix(".db")?;
        let own = database.file_stem()?.to_str()?;
        let origin = if let Some(day) = name.strip_prefix(OF_DAY) {
            Origin::Day(day.parse().ok()?)
        } else if name.starts_with(BY_HAND) {
            Origin::ByHand
        } else if name.strip_prefix(own)?.starts_with("-version-") {
            Origin::BeforeUpdate
        } else if name.strip_prefix(own)?.starts_with(".before-restore-") {
            Origin::BeforeRestore
        } else {
            return None;
        };
        let found = fs::metadata(&file).ok()?;
        Some(Self {
            origin,
            made_at: found.modified().ok()?.try_into().ok()?,
            bytes: found.len(),
            file,
        })
    }
}

/// The folder of copies beside a database.
fn folder(database: &Path) -> PathBuf {
    database.with_file_name("backups")
}

/// All copies of a database, the latest first.
pub fn all(database: &Path) -> Vec<KeptCopy> {
    let beside = database.parent().unwrap_or(Path::new("."));
    let files = [folder(database), beside.to_owned()];
    let files = files.iter().flat_map(fs::read_dir).flatten().flatten();
    let mut copies: Vec<KeptCopy> = files
        .filter_map(|file| KeptCopy::of(file.path(), database))
        .collect();
    copies.sort_by_key(|copy| std::cmp::Reverse(copy.made_at));
    copies
}

/// The copies of days, with their day.
fn of_days(database: &Path) -> Vec<(Date, KeptCopy)> {
    let of_day = |copy: KeptCopy| match copy.origin {
        Origin::Day(day) => Some((day, copy)),
        _ => None,
    };
    all(database).into_iter().filter_map(of_day).collect()
}

/// Makes a copy because somebody asks for one; where it lies.
///
/// # Errors
/// When it cannot be made.
pub fn by_hand(database: &Path, now: DateTime) -> Result<PathBuf, StoreError> {
    let folder = folder(database);
    fs::create_dir_all(&folder).map_err(|source| StoreError::file(&folder, source))?;
    let file = folder.join(format!("{BY_HAND}{}.db", now.strftime("%Y-%m-%d-%H%M%S")));
    backup::copy(database, &file)?;
    Ok(file)
}

/// Makes the copy of a day, unless there is one, and throws away what is not to be kept any longer;
/// whether one was made. Photos are not copied: they never change and lie in the same folder.
///
/// # Errors
/// When the copy cannot be made; then nothing was thrown away.
pub fn keep(database: &Path, today: Date) -> Result<bool, StoreError> {
    if of_days(database).iter().any(|(day, _)| *day == today) {
        return Ok(false);
    }
    let folder = folder(database);
    fs::create_dir_all(&folder).map_err(|source| StoreError::file(&folder, source))?;
    backup::copy(database, &folder.join(format!("{OF_DAY}{today}.db")))?;
    let copies = of_days(database);
    let days: BTreeSet<Date> = copies.iter().map(|(day, _)| *day).collect();
    let kept = to_keep(&days);
    for (_, copy) in copies.iter().filter(|(day, _)| !kept.contains(day)) {
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
    use super::{BTreeSet, Origin, all, by_hand, keep, of_days, to_keep};
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
        let made = by_hand(&file, today.at(8, 30, 0, 0)).expect("made");
        let all = all(&file);
        assert_eq!(all[0].file, made, "the latest");
        let origins: Vec<Origin> = all.iter().map(|copy| copy.origin).collect();
        assert!(origins.contains(&Origin::ByHand) && origins.contains(&Origin::BeforeUpdate));
        let copies = of_days(&file);
        assert!(copies.len() < 16 && other.exists(), "{copies:?}");
        for (_, copy) in copies {
            assert!(
                crate::backup::problems(&copy.file)
                    .expect("readable")
                    .is_empty()
            );
        }
    }
}
