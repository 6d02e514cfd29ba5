//! What comes: oxygen through a day with its uncertainty ([`forecast`]), what would happen to it if
//! something failed ([`failures`]), the nitrogen of the days [`ahead`], how pH stands ([`acidity`]),
//! what a chemical medium would take out ([`chemical`]), and the levels that none of it should pass ([`limits`]).

pub mod acidity;
pub mod ahead;
pub mod chemical;
pub mod failures;
pub mod forecast;
pub mod limits;
