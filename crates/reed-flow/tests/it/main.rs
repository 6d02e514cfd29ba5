//! The solver against closed forms, published values, and what keepers know.

#[path = "../cases/mod.rs"]
mod cases;
mod cavity;
mod jet;
mod laws;
mod tanks;
