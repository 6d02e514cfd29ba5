//! Things in the water: what they are, where they are, how large, which way they point.
//!
//! A kind is a file with a described type and its [`Form`], which has no defaults; to add one,
//! write the file and its lines here, what it does to the flow in [`crate::flow`], and its picture.
//!
//! Places count from the front left corner of the floor inside: x to the right, y to the back, z
//! up. A place is the middle of the footprint, and the height of the underside; of mouths (outlets,
//! intakes, powerheads) it is the middle of the mouth, of an overflow the sill, of a hang-on filter
//! the lip.

mod air_stone;
mod background;
mod body;
mod form;
mod hang_on_back;
mod heater;
mod intake;
mod internal_filter;
mod outlet;
mod overflow;
mod powerhead;
mod rock;
mod sponge_filter;
mod uv;

pub use air_stone::AirStone;
pub use background::{Background, BackgroundStyle, Opening};
pub use body::{Body, Footprint};
pub use form::{Air, Drive, Fall, Form, Inlet, Pipe, Rest, Room, Search, Stance, Stands};
pub(in crate::tank) use form::{ROUNDING, tenths};
pub use hang_on_back::HangOnBack;
pub use heater::{Heater, Posture};
pub use intake::{Cover, Intake};
pub use internal_filter::InternalFilter;
pub use outlet::{Outlet, OutletStyle};
pub use overflow::Overflow;
pub use powerhead::{Powerhead, PowerheadRole};
pub use rock::{Rock, RockMaterial, RockShape};
pub use sponge_filter::{SpongeDrive, SpongeFilter};
pub use uv::Uv;

use super::Tank;
use crate::field::{FieldValue, What};
use crate::units::{Angle, Length};

/// The number by which other parts know a thing or a filter; unique among its like in a tank.
#[derive(
    Clone,
    Copy,
    Debug,
    Default,
    PartialEq,
    Eq,
    PartialOrd,
    Ord,
    Hash,
    serde::Serialize,
    serde::Deserialize,
)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(transparent)]
pub struct Serial(pub u32);

impl FieldValue for Serial {
    const WHAT: What = What::Serial;
}

impl std::fmt::Display for Serial {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        self.0.fmt(f)
    }
}

/// The filter that a part belongs to.
#[derive(Clone, Copy, Debug, PartialEq, Eq, serde::Serialize, serde::Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(transparent)]
pub struct FilterRef(pub u32);

impl FieldValue for FilterRef {
    const WHAT: What = What::FilterRef;
}

/// Which wall something hangs on.
#[derive(
    Clone,
    Copy,
    Debug,
    Default,
    PartialEq,
    Eq,
    PartialOrd,
    Ord,
    serde::Serialize,
    serde::Deserialize,
)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Wall {
    /// Far from the keeper.
    #[default]
    Back,
    /// At the left end.
    Left,
    /// At the right end.
    Right,
    /// At the keeper's side.
    Front,
}

choices! { Wall:
    Back = "back", "back wall";
    Left = "left", "left end";
    Right = "right", "right end";
    Front = "front", "front pane";
}

/// Where something points.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Heading {
    /// From the right (0°) over the back (90°).
    pub around: Angle,
    /// Above the horizontal.
    pub up: Angle,
}

kinds! {
    /// What a thing is.
    ThingKind, Kind: Form {
        Outlet = "outlet", "outlet";
        Intake = "intake", "intake";
        Rock = "rock", "rock or root";
        AirStone = "air-stone", "air stone";
        SpongeFilter = "sponge-filter", "sponge filter";
        HangOnBack = "hang-on-back", "hang-on-back filter";
        InternalFilter = "internal-filter", "internal filter";
        Powerhead = "powerhead", "powerhead or wave maker";
        Overflow = "overflow", "overflow";
        Background = "background", "moulded background";
        Heater = "heater", "heater";
        Uv = "uv", "UV lamp";
    }
}

described! {
    /// A thing in the water.
    Thing {
        /// Given by the program.
        number: Serial = "number", "Number";
        /// What you call it.
        name: String = "name", "Name", 1..=40;
        /// To its middle.
        x: Length = "x_cm", "From the left", -100.0..=1100.0;
        /// To its middle.
        y: Length = "y_cm", "From the front", -100.0..=600.0;
        /// Of its underside; of a mouth, sill or lip itself.
        z: Length = "z_cm", "Above the floor", -100.0..=400.0;
        /// It cannot be dragged by accident.
        #[serde(default)]
        locked: bool = "locked", "Locked in place";
        /// Its kind and what belongs to it.
        what: ThingKind = "is", "Kind";
    }
}

impl Default for Thing {
    fn default() -> Self {
        Self::new(0, "", (0.0, 0.0, 0.0), ThingKind::Rock(Rock::default()))
    }
}

impl ThingKind {
    /// Points its stream elsewhere; `false` for what has none that could be turned.
    pub fn turn(&mut self, to: Heading) -> bool {
        let angles = self.form_mut().angles_mut();
        let can = angles.is_some();
        if let Some((around, up)) = angles {
            (*around, *up) = (to.around, to.up);
        }
        can
    }

    /// Belongs to the same filter as the other.
    pub(super) fn keep_filter_of(&mut self, other: &Self) {
        let theirs = other.form().filter();
        if let Some(own) = self.form_mut().filter_mut() {
            *own = theirs;
        }
    }

    /// Its stream can be turned.
    pub fn can_be_turned(&self) -> bool {
        self.clone().form_mut().angles_mut().is_some()
    }

    /// The same, no larger than this tank, and belonging to its first filter if it has to belong to
    /// one.
    #[must_use]
    pub fn fitted(&self, tank: &Tank) -> Self {
        let mut fitted = self.clone();
        fitted.form_mut().fit(&Room::of(tank));
        fitted
    }
}

impl Thing {
    /// A thing at a place in centimetres.
    pub fn new(number: u32, name: &str, (x, y, z): (f64, f64, f64), what: ThingKind) -> Self {
        Self {
            number: Serial(number),
            name: name.to_owned(),
            x: Length::cm(x),
            y: Length::cm(y),
            z: Length::cm(z),
            locked: false,
            what,
        }
    }

    /// It belongs to the filter of this number.
    pub fn is_of(&self, filter: Serial) -> bool {
        let owner = self.what.form().filter();
        owner.is_some_and(|owner| owner.0 == filter.0)
    }

    /// What it takes up.
    pub fn body(&self, tank: &Tank) -> Body {
        self.what
            .form()
            .body((self.x.as_cm(), self.y.as_cm(), self.z.as_cm()), tank)
    }
}
