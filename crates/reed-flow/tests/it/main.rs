//! The solver against closed forms, published values, and what keepers know.

mod boxes;
#[path = "../cases/mod.rs"]
mod cases;
mod cavity;
mod jet;
mod laws;
mod slot;
mod tanks;
