//! The solver against closed forms and published values.

mod cavity;
mod jet;
mod laws;
mod tanks;
