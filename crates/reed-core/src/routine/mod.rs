//! The routine: what is due in a tank, why at that interval, and how it was learned.
//!
//! A [`Task`] is declared once, with all that it means. It reads what stands in the tank and what
//! is on record, and says whether it is a task of this tank, on what, and at what interval. Nothing
//! is remembered here: what was done, skipped, put off or set otherwise are entries of the log, so
//! that whoever wrote it, and from where, it counts.
//!
//! To add a task: its card in one of the files below, and, where no kind of entry or reading
//! completes it yet, a kind of entry that does. Minutes, and intervals that name nothing else, are
//! common practice without a source.

mod animals;
mod equipment;
pub mod feeding;
mod filters;
mod interval;
mod known;
mod standing;
mod task;
mod tests_due;
pub mod visits;
mod water;

pub use interval::{Because, Interval, Moved};
pub use known::{Known, Record, Watched, kinds};
pub use standing::{PutOff, Standing, State, standing};
pub use task::{DoneBy, Help, Raised, Stake, Task};

/// All tasks, in the order in which they are done on a visit.
pub fn all() -> impl Iterator<Item = &'static Task> {
    [
        animals::LOOKS,
        feeding::ALL,
        tests_due::ALL,
        water::BED,
        filters::ALL,
        water::ALL,
        equipment::ALL,
    ]
    .into_iter()
    .flatten()
    .copied()
}

/// The task with this id.
pub fn by_id(id: &str) -> Option<&'static Task> {
    all().find(|task| task.id == id)
}
