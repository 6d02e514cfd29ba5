//! The kinds of things that happen, family by family.
//!
//! What a thing tells the diagnosis is common practice, no source. A kind that several could be
//! taken for stands before the others: as it a finding is logged that was answered with yes.

mod added;
mod animals;
mod around;
mod filter;
mod food;
mod routine;
mod water;

use super::happening::Happening;

/// All of them.
pub(super) static ALL: [&[Happening]; 7] = [
    water::ALL,
    filter::ALL,
    animals::ALL,
    food::ALL,
    added::ALL,
    around::ALL,
    routine::ALL,
];
