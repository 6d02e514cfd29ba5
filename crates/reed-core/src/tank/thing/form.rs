//! What a kind of thing answers for itself.

use super::{Background, Body, Cover, FilterRef, Heading, Wall};
use crate::tank::{Bubbles, Running, Tank, Weight};
use crate::units::{Angle, FlowRate, Length, Power, Quantity as _, Units};

/// Everything that a kind can do. No method has a default: whoever adds a kind says yes or no to
/// each, or it does not compile. What it does to the flow and how it is drawn are matches over all
/// kinds beside the flow's scene and beside the drawing.
pub trait Form {
    /// What it takes up when it stands at this place of the tank, cm.
    fn body(&self, at: (f64, f64, f64), tank: &Tank) -> Body;

    /// Share of its body that keeps water out, 0 to 1: housings are full of water, sponges nearly
    /// so, and pipes and stones are a few millilitres.
    fn solid_share(&self) -> f64;

    /// How it stands among other things.
    fn stance(&self) -> Stance;

    /// The wall outside which its box hangs.
    fn hangs_outside(&self) -> Option<Wall>;

    /// What is wrong with how it stands to the water and the bed, in words.
    fn amiss(&self, stands: &Stands<'_>) -> Vec<(Weight, String)>;

    /// Where its stream points, if it has one.
    fn heading(&self) -> Option<Heading>;

    /// The angles of its stream, around and up, where that can be turned.
    fn angles_mut(&mut self) -> Option<(&mut Angle, &mut Angle)>;

    /// How far above its place its stream leaves, if it has one.
    fn stream_above(&self) -> Option<Length>;

    /// The filter it belongs to.
    fn filter(&self) -> Option<FilterRef>;

    /// The same, where it can belong to one.
    fn filter_mut(&mut self) -> Option<&mut Option<FilterRef>>;

    /// Which end of a filter's plumbing it is.
    fn pipe(&self) -> Pipe;

    /// How it takes water in.
    fn inlet(&self) -> Inlet;

    /// What is over its inlet, where that can be changed.
    fn cover_mut(&mut self) -> Option<&mut Cover>;

    /// The air it gives to the water, whether it runs or not.
    fn air(&self) -> Option<Air>;

    /// The size of its bubbles, where a new stone makes them finer.
    fn bubbles_mut(&mut self) -> Option<&mut Bubbles>;

    /// Its water that falls through air, when its place is so far above the water, cm.
    fn fall(&self, above_cm: f64) -> Option<Fall>;

    /// What keeps it going.
    fn drive(&self) -> Drive;

    /// When it runs, where that can be set.
    fn running_mut(&mut self) -> Option<&mut Running>;

    /// It moves water by itself, without a filter.
    fn stirs_alone(&self) -> bool;

    /// What it heats with.
    fn heating(&self) -> Option<Power>;

    /// Itself, where it parts water from the rest of the tank.
    fn background(&self) -> Option<&Background>;

    /// Its three sides, where it is a loose piece that may be smaller in a smaller tank.
    fn sides_mut(&mut self) -> Option<[&mut Length; 3]>;

    /// Openings and sides follow when the tank is made so many times as long, wide and high.
    fn rescale(&mut self, along: f64, across: f64, up: f64);

    /// Makes it no larger than there is room, and lets it belong to the first filter if it has to
    /// belong to one.
    fn fit(&mut self, room: &Room);

    /// Where such a thing usually goes: to the right, to the back, up, cm.
    fn usual_place(&self, tank: &Tank) -> (f64, f64, f64);

    /// Where better places for it are looked for.
    fn search(&self) -> Option<Search>;
}

/// How a thing stands among others.
#[derive(Clone, Copy, Debug, PartialEq)]
#[expect(
    clippy::struct_excessive_bools,
    reason = "each is a question of its own"
)]
pub struct Stance {
    /// What it stands on.
    pub rest: Rest,
    /// Nothing else may stand where it is.
    pub takes_room: bool,
    /// It may reach over the rim.
    pub hangs_over: bool,
    /// Water has to come by it: behind a background without an opening it is useless.
    pub needs_passing_water: bool,
    /// Pipes and heaters may stand inside it.
    pub houses: bool,
    /// It may stand inside what houses others.
    pub is_housed: bool,
    /// It is no even plane: others may lean into it.
    pub is_leant_on: bool,
    /// It may lean into such a thing.
    pub leans: bool,
}

/// What a thing stands on.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Rest {
    /// A wall, a pipe, a hose or the bed hold it where it is put.
    Held,
    /// The bed, or others of its sort.
    OnTheGround {
        /// Until it is soaked it may float.
        floats: bool,
    },
}

/// Which end of a filter's plumbing a thing is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Pipe {
    /// None.
    None,
    /// Water comes back by it.
    Outlet,
    /// Water is drawn in by it.
    Intake,
    /// Water runs down by it.
    Overflow,
}

/// How a thing takes water in.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Inlet {
    /// Not at all.
    None,
    /// By a tube with a strainer, or with a sponge over it.
    Tube {
        /// A sponge is over it.
        has_sponge: bool,
    },
    /// Over a weir.
    Weir,
    /// Through the slits of its housing.
    Slits,
    /// Through its own sponge.
    Sponge,
}

/// Air that a thing gives to the water.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Air {
    /// How much.
    pub flow: FlowRate,
    /// How far above its place.
    pub above: Length,
    /// Size of its bubbles.
    pub bubbles: Bubbles,
    /// When it runs.
    pub running: Running,
}

/// Water of a filter that falls through air.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Fall {
    /// How far.
    pub height: Length,
    /// When it falls.
    pub running: Running,
}

/// What keeps a thing going; in a power cut both stop.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Drive {
    /// Nothing.
    None,
    /// Its own pump or that of its filter.
    Pump,
    /// An air pump.
    AirPump,
}

/// Where better places for a thing are looked for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Search {
    /// Low along the walls, and where the most muck comes by.
    WhereMuckComes,
    /// Spread over the bed.
    OnTheBed,
    /// Along the walls just below the surface, its stream turned about.
    AtTheSurface,
    /// The same, and a third down.
    HighAndLower,
    /// Along the walls at the height at which it hangs, its stream turned about.
    AtItsHeight,
}

/// Room that a new thing has in a tank, cm.
#[derive(Clone, Copy, Debug)]
pub struct Room {
    /// Left to right.
    pub length: f64,
    /// Front to back.
    pub width: f64,
    /// Of the water above the floor.
    pub level: f64,
    /// Of the bed's surface above the floor.
    pub bed: f64,
    /// The first filter.
    pub filter: Option<FilterRef>,
}

impl Room {
    /// Of a tank.
    pub fn of(tank: &Tank) -> Self {
        Self {
            length: tank.glass.length.as_cm(),
            width: tank.glass.width.as_cm(),
            level: tank.water_depth.as_cm(),
            bed: tank.bed.depth.as_cm(),
            filter: tank
                .filters
                .first()
                .map(|filter| FilterRef(filter.number.0)),
        }
    }

    /// Water above the bed.
    pub fn deep(&self) -> f64 {
        self.level - self.bed
    }
}

/// At most so long, never below what the field takes.
pub(super) fn at_most(length: &mut Length, most: f64, least: f64) {
    *length = Length::cm(length.as_cm().min(most).max(least));
}

/// How a thing stands to the water and the bed, cm above the floor.
#[derive(Clone, Copy, Debug)]
pub struct Stands<'a> {
    /// Its name.
    pub name: &'a str,
    /// Its place.
    pub z: f64,
    /// Its top.
    pub top: f64,
    /// The water.
    pub level: f64,
    /// The bed's surface.
    pub bed: f64,
    /// In which lengths are said.
    pub units: &'a Units,
}

/// Beyond a wall or the surface by less than this, in cm, is a keeper's rounding. A judgement.
pub(in crate::tank) const ROUNDING: f64 = 0.3;

impl Stands<'_> {
    /// It reaches out of the water.
    pub(super) fn is_out(&self) -> bool {
        self.top > self.level + ROUNDING
    }

    /// Its place is above the water.
    pub(super) fn is_above(&self) -> bool {
        self.z > self.level + ROUNDING
    }

    /// A length as the keeper reads it.
    pub(super) fn print(&self, cm: f64) -> String {
        self.units.print(cm, Length::UNITS, 1)
    }
}

/// Nothing is wrong, or this is.
pub(super) fn amiss_if(
    is: bool,
    weight: Weight,
    words: impl FnOnce() -> String,
) -> Vec<(Weight, String)> {
    if is {
        vec![(weight, words())]
    } else {
        Vec::new()
    }
}

/// A thing that a hand puts somewhere and that keeps others out: what most are.
pub(super) const DEVICE: Stance = Stance {
    rest: Rest::Held,
    takes_room: true,
    hangs_over: false,
    needs_passing_water: false,
    houses: false,
    is_housed: false,
    is_leant_on: false,
    leans: false,
};

/// A length in centimetres, to its tenth.
pub(in crate::tank) fn tenths(cm: f64) -> Length {
    Length::cm((cm * 10.0).round() / 10.0)
}
