//! The program as its users meet it: in a browser, at two sizes, and on the command line.

mod app;
mod boxes;
mod browser;
mod command_line;
mod devices;
mod doors;
mod drift;
mod filter;
mod first_use;
mod journeys;
mod keepers;
mod log;
mod plans;
mod records;
mod scripts;
mod studio;
mod trusted;
mod visits;
mod watch;
mod water;
