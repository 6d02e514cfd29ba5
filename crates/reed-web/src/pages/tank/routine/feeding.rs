//! The feeding plan on the page: which days, how much, and what stands against it.

use jiff::civil::Date;
use reed_core::routine::feeding::{Plan, Stands, carried_g, grams};
use reed_core::tank::{FeedingSchool, Tank};

/// A feeding plan as it is shown.
pub(super) struct FeedingSheet {
    /// Monday first.
    pub(super) days: Vec<Day>,
    /// They travel: there is nothing to plan.
    pub(super) travels: bool,
    /// “2 portions of 0.40 g a day”.
    pub(super) portions: String,
    pub(super) advice: &'static str,
    /// What is fed is out of what it should be.
    pub(super) is_off: bool,
    /// Nobody said yet on which days they are fed.
    pub(super) is_unsaid: bool,
    /// What the animals usually take, as a line.
    pub(super) usual: String,
    /// What the bacteria carry, as a line.
    pub(super) carried: String,
    pub(super) scale: Option<Scale>,
    pub(super) schools: Vec<School>,
}

/// A day of the week.
pub(super) struct Day {
    pub(super) name: &'static str,
    pub(super) is_fed: bool,
    pub(super) is_today: bool,
}

/// Days on which they can be fed.
pub(super) struct School {
    /// How many of seven.
    pub(super) days: u32,
    pub(super) words: &'static str,
    pub(super) is_chosen: bool,
}

/// What is fed, on one scale with what is usual and what is carried: shares of the width, percent.
pub(super) struct Scale {
    pub(super) from: f64,
    pub(super) to: f64,
    pub(super) fed: f64,
    /// None where it lies beyond the scale.
    pub(super) carried: Option<f64>,
}

const NAMES: [&str; 7] = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];

impl FeedingSheet {
    /// Of a tank; none where nothing lives in it.
    pub(super) fn of(tank: &Tank, today: Date) -> Option<Self> {
        let plan = Plan::of(tank);
        let (low, high) = plan.usual_g?;
        let carried = carried_g(tank);
        let stands = plan.stands(carried);
        let weekday = usize::try_from(today.weekday().to_monday_zero_offset()).unwrap_or_default();
        let day = |(place, name): (usize, &'static str)| Day {
            name,
            is_fed: plan.fed.0[place],
            is_today: place == weekday,
        };
        let school = tank.practice.feeding;
        let schools = FeedingSchool::CHOICES.iter().filter_map(|choice| {
            let own = FeedingSchool::by_id(choice.id)?;
            (own != FeedingSchool::Unsaid).then(|| School {
                days: own.fed().count(),
                words: choice.words,
                is_chosen: own == school,
            })
        });
        Some(Self {
            days: NAMES.into_iter().enumerate().map(day).collect(),
            travels: plan.travels,
            portions: plan.portions_words(),
            advice: stands.advice(),
            is_off: stands != Stands::Usual,
            is_unsaid: school == FeedingSchool::Unsaid,
            usual: format!("{} to {} on such a day", grams(low), grams(high)),
            carried: carried.map_or_else(
                || "not known while nothing is fed".to_owned(),
                |carried| format!("up to {} on such a day", grams(carried)),
            ),
            scale: (stands != Stands::Unfed).then(|| Scale::of(&plan, (low, high), carried)),
            schools: schools.collect(),
        })
    }
}

impl FeedingSheet {
    /// What the bacteria carry lies on the scale.
    pub(super) fn shows_carried(&self) -> bool {
        self.scale
            .as_ref()
            .is_some_and(|scale| scale.carried.is_some())
    }
}

impl Scale {
    fn of(plan: &Plan, (low, high): (f64, f64), carried: Option<f64>) -> Self {
        /// Room beyond the largest mark.
        const ROOM: f64 = 1.15;
        let most = ROOM * high.max(plan.on_a_day_g);
        let at = |grams: f64| 100.0 * grams / most;
        Self {
            from: at(low),
            to: at(high) - at(low),
            fed: at(plan.on_a_day_g),
            carried: carried.filter(|carried| *carried <= most).map(at),
        }
    }
}
