//! From what was seen and read to which faults, how sure, and why.
//!
//! [`finding`], [`fault`] and [`check`] are catalogues of cards: to add one, write the card in its
//! family's file and its line in that file's list. [`belief`] is the exact arithmetic over sets of
//! faults and knows no card; [`Differential`] joins cards, twin and observations; [`CheckOutlook`] says
//! what to look at next and whether to act instead; [`Account`] asks `explain`, `fit` and `turning`
//! what the result rests on.

mod account;
pub mod belief;
mod case;
pub mod check;
mod decision;
mod declined;
mod differential;
mod distress;
mod evidence;
mod explain;
pub mod fault;
mod file;
pub mod finding;
mod fit;
mod focus;
mod hypothesis_space;
mod located;
pub mod lookahead;
mod losses;
mod next_check;
mod observed;
mod origin;
mod prospect;
pub mod record;
pub mod round;
mod turning;
pub(crate) mod world;

pub use crate::document::{Answer, Hindrance};
pub use account::{Account, Grasp, Why};
pub use case::Case;
pub use declined::Declined;
pub use differential::{ALSO_TRUE, CLEAR, Differential, RuledOut, Suspect};
pub use explain::Reason;
pub use fit::{Contradiction, Unexplained};
pub use lookahead::Advice;
pub use next_check::{CheckOutlook, Proposal};
pub use observed::{Answered, Distress, Observed, opening_sign};
pub use origin::Origin;
pub use turning::{Hinge, MOST_WEAKENED};
