//! Where the water goes in a box: time-averaged flow from nozzles, around solid bodies, under a
//! free surface.
//!
//! Units are SI throughout. Read in this order: [`Grid`] (where numbers stand) → [`Walls`] (what
//! happens at the edge of the box) → `advect` (how water carries its own speed) → `pressure` (how
//! it stays incompressible, with `multigrid`) → [`Movers`] (what moves it) → `turbulence` (what the
//! jets stir up) → [`Flow`] (one step of time) → [`Scene`] (what stands in the box, whatever the
//! grid) → [`Settled`] (its mean flow) → [`Field`] (what it is at any place) → [`measure`] (what it
//! means) → [`Survey`] (how far that can be trusted). [`Live`] is a scene that is changed while its
//! water moves. `docs/flow-verification.md` says how all of it was checked.
//!
//! The method is a projection on a staggered grid after Harlow & Welch 1965 and Chorin 1968, in
//! single precision: speeds on the faces of cubic cells, pressure in their middles. Water carries
//! its speed by fluxes limited after Koren 1993, which keep the thrust of a jet and never
//! overshoot.

mod advect;
mod export;
mod field;
mod flow;
mod grid;
mod lanes;
mod live;
pub mod measure;
mod multigrid;
mod openings;
mod pressure;
mod scene;
mod settle;
mod survey;
mod turbulence;
mod walls;

pub use field::{Field, Sample};
pub use flow::Flow;
pub use grid::{Axis, Grid};
pub use live::Live;
pub use openings::{Drain, Movers, Nozzle, Plume, Push};
pub use scene::{Outline, Scene, Solid};
pub use settle::{STEADY, Settings, Settled};
pub use survey::{Band, Survey};
pub use walls::{Wall, Walls};
