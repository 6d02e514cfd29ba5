//! Checks that the keeper cannot do: a question may be unanswerable, a place out of reach, a kit
//! not in the house.

use jiff::civil::DateTime;

use super::check::{Check, Gives};
use super::observed::Observed;

/// Why a check is not done.
#[derive(
    Clone, Copy, Debug, PartialEq, Eq, serde::Serialize, serde::Deserialize, schemars::JsonSchema,
)]
#[serde(rename_all = "kebab-case")]
pub enum Hindrance {
    /// Not at the tank, too dark, out of reach: it may do later.
    CannotLook,
    /// Nobody knows: it is not asked again in this case.
    DoNotKnow,
    /// No kit for it in the house: nothing that needs the kit is asked again in this case.
    NoKit,
}

impl Hindrance {
    /// All of them.
    pub const ALL: [Self; 3] = [Self::CannotLook, Self::DoNotKnow, Self::NoKit];

    /// Id as in documents and forms.
    pub const fn id(self) -> &'static str {
        match self {
            Self::CannotLook => "cannot-look",
            Self::DoNotKnow => "do-not-know",
            Self::NoKit => "no-kit",
        }
    }

    /// The hindrance with this id.
    pub fn by_id(id: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|hindrance| hindrance.id() == id)
    }

    /// In the keeper's words.
    pub const fn words(self) -> &'static str {
        match self {
            Self::CannotLook => "Can't look now",
            Self::DoNotKnow => "Don't know",
            Self::NoKit => "Have no kit",
        }
    }

    /// What may stand in the way of this check, the likeliest first.
    pub fn of(check: &Check) -> [Self; 2] {
        match check.gives {
            Gives::Answer(_) if check.recalled => [Self::DoNotKnow, Self::CannotLook],
            Gives::Answer(_) => [Self::CannotLook, Self::DoNotKnow],
            Gives::Reading(_) | Gives::Repeat => [Self::NoKit, Self::CannotLook],
        }
    }
}

/// A check that was not done when it was asked for.
#[derive(Clone, Debug, PartialEq)]
pub struct Declined {
    /// Which.
    pub check: &'static Check,
    /// Why.
    pub why: Hindrance,
    /// When, by the clock on the wall.
    pub at: DateTime,
}

/// Whoever cannot look now is asked again after so many hours.
const ASKED_AGAIN_HOURS: f64 = 12.0;

impl Observed {
    /// Whether this check is not to be asked for now.
    pub fn is_declined(&self, check: &Check) -> bool {
        self.declined.iter().any(|declined| match declined.why {
            Hindrance::CannotLook => {
                declined.check == check
                    && self.now.duration_since(declined.at).as_secs_f64()
                        < ASKED_AGAIN_HOURS * 3600.0
            }
            Hindrance::DoNotKnow => declined.check == check,
            Hindrance::NoKit => {
                declined.check == check
                    || declined
                        .check
                        .reads()
                        .is_some_and(|analyte| check.reads() == Some(analyte))
            }
        })
    }
}
