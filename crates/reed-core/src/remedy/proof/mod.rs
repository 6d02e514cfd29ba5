//! Did it work? What has to be shown that a fault is gone, and whether a later reading or look
//! shows it.
//!
//! [`parts`] names what is wanted in a case: what the card of the change says, and the signs of the
//! fault that were seen. [`judge`] and [`judge_look`] say what one reading or look makes of one of
//! them, [`overall`] what all of them make together.

mod control;
mod judged;
mod overall;
mod shows;

pub use control::{Control, TOGETHER};
pub use judged::{Compared, judge, judge_look};
pub use overall::{Judged, Overall, overall};
pub use shows::{Part, against, parts, read_before};

/// What a proof says.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Verdict {
    /// It worked: changed beyond the uncertainty, and good enough.
    Proved,
    /// It helped, but not enough; or one sign is gone and another stands.
    Partly,
    /// No effect to be seen.
    NotProved,
    /// Nothing can be said yet: nothing to compare with, a difference that may be chance, or not
    /// all has been looked at.
    CannotTell,
}

impl Verdict {
    /// All of them.
    pub const ALL: [Self; 4] = [
        Self::Proved,
        Self::Partly,
        Self::NotProved,
        Self::CannotTell,
    ];

    /// Id as stored.
    pub const fn id(self) -> &'static str {
        match self {
            Self::Proved => "proved",
            Self::Partly => "partly",
            Self::NotProved => "not-proved",
            Self::CannotTell => "cannot-tell",
        }
    }

    /// The verdict with this id.
    pub fn by_id(id: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|verdict| verdict.id() == id)
    }

    /// What to do with it, as a sentence.
    pub const fn next(self) -> &'static str {
        match self {
            Self::Proved => "Close the case; what has to be watched now is written down with it.",
            Self::Partly => {
                "Keep the change. The case goes on from here: say again what you see, and take what is foremost then."
            }
            Self::NotProved => {
                "Something else is at work. The case goes on from here: say again what you see."
            }
            Self::CannotTell => {
                "Read or look again: later, with a finer kit, or beside a tank that was left alone."
            }
        }
    }
}

/// A verdict with its reasons.
#[derive(Clone, Debug, PartialEq)]
pub struct Judgement {
    /// The verdict.
    pub verdict: Verdict,
    /// Change against what would have been expected at this hour without it, in the analyte's unit,
    /// where computed.
    pub rise: Option<(f64, f64)>,
    /// What was forecast for this hour, with its standard deviation.
    pub forecast: Option<(f64, f64)>,
    /// In words.
    pub words: String,
}

/// Standard deviations beyond which a difference is taken as real: one in twenty such differences
/// would be chance. By definition.
const REAL: f64 = 1.64;
