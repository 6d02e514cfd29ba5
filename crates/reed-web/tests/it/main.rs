//! The application over its router: what is refused and how, and what cases and tanks do off the
//! straight path.

mod anything;
mod assets;
mod cases;
mod charts;
mod client;
mod data;
mod devices;
mod drift;
mod failures;
mod filter;
mod first_use;
mod form;
mod gate;
mod log;
mod photos;
mod plans;
mod refusals;
mod rounds_of_looks;
mod routine;
mod screens;
mod styles;
mod tanks;
mod water;
