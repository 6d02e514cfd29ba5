//! The application over its router: what is refused and how, and what a case does off the straight path.

mod cases;
mod client;
mod refusals;
