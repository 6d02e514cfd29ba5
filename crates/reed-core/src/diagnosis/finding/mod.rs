//! What can be seen or asked. One card each, in the file of the place where it is seen.

pub mod computed;
pub mod events;
pub mod fish;
pub mod places;

use crate::tank::Tank;

/// Where a finding is seen: groups the questions and the drawing.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Place {
    /// The animals.
    Fish,
    /// The surface.
    Surface,
    /// The outlet.
    Outlet,
    /// The water itself.
    Water,
    /// The bed and what lies on it.
    Bed,
    /// Something that happened.
    Event,
    /// Known from the tank file or computed by the twin; never asked.
    Known,
}

impl Place {
    /// The places that questions are asked about, in their order.
    pub const ASKED: [Self; 6] = [Self::Fish, Self::Surface, Self::Outlet, Self::Water, Self::Bed, Self::Event];

    /// In the keeper's words.
    pub const fn words(self) -> &'static str {
        match self {
            Self::Fish => "Fish",
            Self::Surface => "Surface",
            Self::Outlet => "Outlet",
            Self::Water => "Water",
            Self::Bed => "Bed",
            Self::Event => "What happened",
            Self::Known => "Known",
        }
    }
}

/// How a finding is weighed.
#[derive(Clone, Copy, Debug)]
pub enum Kind {
    /// Seen or not; faults bring it about.
    Sign,
    /// A rung of the ladder of distress, 0 the lowest.
    Rung(usize),
    /// It happened at some time; usual days between two such events.
    Event {
        /// Days between two of them in an ordinary tank.
        usual_days: f64,
    },
    /// Read off the tank file.
    Fact(fn(&Tank) -> bool),
    /// Computed from readings or the twin.
    Computed,
}

/// Something that can be seen, asked or computed.
#[derive(Debug)]
pub struct Finding {
    /// Stable id.
    pub id: &'static str,
    /// Where it is seen.
    pub place: Place,
    /// As evidence, when it is so.
    pub says: &'static str,
    /// As evidence, when it is not so.
    pub says_not: &'static str,
    /// As a question, to be answered with yes or no.
    pub asks: &'static str,
    /// Chance that it is so with no listed fault. Common practice.
    pub leak: f64,
    /// How it is weighed.
    pub kind: Kind,
}

impl PartialEq for Finding {
    fn eq(&self, other: &Self) -> bool {
        self.id == other.id
    }
}

/// Every finding, in the order in which they are asked.
pub fn all() -> impl Iterator<Item = &'static Finding> {
    [fish::ALL, places::ALL, events::ALL, computed::ALL].into_iter().flatten().copied()
}

/// The finding with this id.
pub fn by_id(id: &str) -> Option<&'static Finding> {
    all().find(|finding| finding.id == id)
}
