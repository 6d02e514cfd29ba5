//! What can be seen or asked. One card each, in the file of the place where it is seen.

/// Declares findings that have a look of their own: place, id and leak; what they say; the
/// question; how to look, minutes what to mind, whether it takes the filter apart, and how long to
/// watch.
macro_rules! looked_for {
    ($($(#[$doc:meta])* $name:ident @ $place:ident = $id:literal, $leak:literal;
        $says:literal, not $not:literal,
        asks $asks:literal;
        look $title:literal, $how:literal, $minutes:literal $(, mind $caution:literal)? $(, opens filter $opens:literal)?
        $(, watch $seconds:literal s)? $(, recalled $recalled:literal)?;)+) => {
        /// Every finding of this file, in the order in which they are asked.
        pub const ALL: &[&Finding] = &[$(&$name),+];

        $($(#[$doc])*
        pub static $name: Finding = Finding {
            id: $id,
            place: Place::$place,
            says: $says,
            says_not: $not,
            asks: $asks,
            leak: $leak,
            kind: Kind::Sign,
            look: Some(&Check {
                id: concat!("look-", $id),
                title: $title,
                how: $how,
                caution: concat!("" $(, $caution)?),
                minutes: $minutes,
                $(opens_filter: $opens,)?
                $(watch_seconds: Some($seconds),)?
                $(recalled: $recalled,)?
                gives: Gives::Answer(&$name),
                ..Check::BLANK
            }),
        };)+
    };
}

pub mod biology;
pub mod computed;
pub mod current;
pub mod events;
pub mod filter;
pub mod fish;
pub mod flow;
pub mod limits;
pub mod places;
mod search;
pub mod upkeep;

pub use search::search;

use super::case::Case;
use super::check::Check;
use crate::flow::Facts;
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
    /// The filter, its hoses and seals.
    Filter,
    /// Something that happened.
    Event,
    /// Known from the tank file or computed by the twin; never asked.
    Known,
}

impl Place {
    /// The places that questions are asked about, in their order.
    pub const ASKED: [Self; 7] = [
        Self::Fish,
        Self::Surface,
        Self::Outlet,
        Self::Water,
        Self::Bed,
        Self::Filter,
        Self::Event,
    ];

    /// In the keeper's words.
    pub const fn words(self) -> &'static str {
        match self {
            Self::Fish => "Fish",
            Self::Surface => "Surface",
            Self::Outlet => "Outlet",
            Self::Water => "Water",
            Self::Bed => "Bed",
            Self::Filter => "Filter",
            Self::Event => "What happened",
            Self::Known => "Known",
        }
    }

    /// Id in addresses.
    pub const fn id(self) -> &'static str {
        match self {
            Self::Fish => "fish",
            Self::Surface => "surface",
            Self::Outlet => "outlet",
            Self::Water => "water",
            Self::Bed => "bed",
            Self::Filter => "filter",
            Self::Event => "event",
            Self::Known => "known",
        }
    }

    /// The place that is asked about with this id.
    pub fn asked(id: &str) -> Option<Self> {
        Self::ASKED.into_iter().find(|place| place.id() == id)
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
    /// Read off the tank file; `None` where the file does not say: an empty field is no answer.
    Fact(fn(&Tank) -> Option<bool>),
    /// Read against a limit.
    Read(&'static limits::Limit),
    /// Reckoned from the tank and its readings: how sure it is that it is so, 0 to 1; `None` where
    /// it cannot be said.
    Estimated(fn(&Case) -> Option<f64>),
    /// Computed by the flow model from the drawing; `None` where it cannot be said.
    Modelled(fn(&Facts) -> Option<Told>),
    /// Computed from several readings at once, each in its own way.
    Computed,
}

/// What the flow model says of a finding.
#[derive(Clone, Debug, PartialEq)]
pub struct Told {
    /// How sure it is that it is so, 0 to 1.
    pub sureness: f64,
    /// The number with its band, as evidence.
    pub says: String,
}

/// Something that can be seen, asked or computed.
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
    /// The check that answers it, if it is its own; others are answered by checks of the catalogue
    /// of checks.
    pub look: Option<&'static Check>,
}

/// By its id: a finding and its check name each other, and would be printed without end.
impl std::fmt::Debug for Finding {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(f, "Finding({})", self.id)
    }
}

impl PartialEq for Finding {
    fn eq(&self, other: &Self) -> bool {
        self.id == other.id
    }
}

impl Finding {
    /// Whether it is seen at a filter, so that it belongs to one where there are several.
    pub fn is_of_a_filter(&self) -> bool {
        matches!(self.kind, Kind::Sign) && matches!(self.place, Place::Filter | Place::Outlet)
    }
}

/// Every finding, in the order in which they are asked.
pub fn all() -> impl Iterator<Item = &'static Finding> {
    [
        fish::ALL,
        places::ALL,
        current::ALL,
        biology::ALL,
        filter::ALL,
        events::ALL,
        upkeep::ALL,
        computed::ALL,
        flow::ALL,
        limits::ALL,
    ]
    .into_iter()
    .flatten()
    .copied()
}

/// The finding with this id.
pub fn by_id(id: &str) -> Option<&'static Finding> {
    all().find(|finding| finding.id == id)
}
