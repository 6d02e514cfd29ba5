//! What the water does: one relation per file, each with its source and a check value.
//!
//! Nothing here knows a tank or a fault. To add a relation, add a file to its topic and, where a
//! reference table exists, its check.

pub mod carbon;
pub mod chemistry;
pub mod mixing;
pub mod nitrogen;
pub mod oxygen;
