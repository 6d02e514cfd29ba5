//! The solver against closed forms and published values.

mod cavity;
mod laws;
