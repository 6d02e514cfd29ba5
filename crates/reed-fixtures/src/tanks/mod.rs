//! Tanks with what must come out of them.

mod crowded;
mod cubes;

pub use crowded::crowded;
pub use cubes::{crowded_hang_on_back, sponge_filtered, with_hang_on};
