//! The core checked against the outside: reference tables, published points, whole cases.

mod ahead;
mod cases;
mod colony;
mod conduct;
mod currents;
mod documents;
mod effects;
mod filtering;
mod filters;
mod floors;
mod flow;
mod hydraulics;
mod kinds;
mod log;
mod plans;
mod posterior;
mod quick;
mod rehearsal;
mod remedies;
mod said_once;
mod sheets;
mod sources;
mod tanks;
mod trade;
mod turning;
mod water;
