//! On which days of a week the animals are fed.

use jiff::civil::{Date, Weekday};

use super::Tank;
use crate::units::Mass;

choice_set! {
    /// On which days they are fed.
    FeedingSchool:
    #[default]
    Unsaid = "unsaid", "not said, reckoned as every day";
    Daily = "daily", "every day";
    SixDays = "six-days", "six days, nothing on Sunday";
    FiveDays = "five-days", "five days, nothing on Wednesday and Sunday";
    EveryOther = "every-other", "Monday, Wednesday and Friday";
    TwiceAWeek = "twice-a-week", "Tuesday and Friday";
}

impl FeedingSchool {
    /// The days on which they are fed.
    pub const fn fed(self) -> Week {
        Week(match self {
            Self::Unsaid | Self::Daily => [true; 7],
            Self::SixDays => [true, true, true, true, true, true, false],
            Self::FiveDays => [true, true, false, true, true, true, false],
            Self::EveryOther => [true, false, true, false, true, false, false],
            Self::TwiceAWeek => [false, true, false, false, true, false, false],
        })
    }

    /// The one that feeds on so many days of seven, where one does.
    pub fn of_days(days: f64) -> Option<Self> {
        let said = [
            Self::Daily,
            Self::SixDays,
            Self::FiveDays,
            Self::EveryOther,
            Self::TwiceAWeek,
        ];
        said.into_iter()
            .find(|school| (f64::from(school.fed().count()) - days).abs() < 0.5)
    }
}

/// Some of the days of a week, Monday first.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Week(pub [bool; 7]);

impl Week {
    const ALL: [Weekday; 7] = [
        Weekday::Monday,
        Weekday::Tuesday,
        Weekday::Wednesday,
        Weekday::Thursday,
        Weekday::Friday,
        Weekday::Saturday,
        Weekday::Sunday,
    ];

    /// This day is one of them.
    pub fn holds(self, day: Weekday) -> bool {
        self.days().any(|own| own == day)
    }

    /// They, Monday first.
    pub fn days(self) -> impl Iterator<Item = Weekday> {
        let all = Self::ALL.into_iter().zip(self.0);
        all.filter_map(|(day, is_one)| is_one.then_some(day))
    }

    /// How many.
    pub fn count(self) -> u32 {
        self.0.into_iter().map(u32::from).sum()
    }

    /// All the others.
    pub fn others(self) -> Self {
        Self(self.0.map(|is_one| !is_one))
    }

    /// The first of them from a day on, that day too; `None` where there is none.
    pub fn first_from(self, day: Date) -> Option<Date> {
        let week = day.series(jiff::Span::new().days(1)).take(Self::ALL.len());
        week.into_iter().find(|day| self.holds(day.weekday()))
    }

    /// In words: “Wednesday and Sunday”.
    pub fn words(self) -> String {
        // A weekday has no other name than that of its variant.
        let named: Vec<String> = self.days().map(|day| format!("{day:?}")).collect();
        match named.split_last() {
            Some((last, before)) if !before.is_empty() => {
                format!("{} and {last}", before.join(", "))
            }
            Some((only, _)) => only.clone(),
            None => "no day".to_owned(),
        }
    }
}

impl Tank {
    /// What is fed a day in the mean of a week: with fasting days less than on a day of feed.
    pub fn mean_feed(&self) -> Mass {
        let share = f64::from(self.practice.feeding.fed().count()) / 7.0;
        Mass::grams(self.feed.as_grams() * share)
    }
}
