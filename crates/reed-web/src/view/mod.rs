//! Numbers as words and drawings: what pages have in common when they print.

mod chart;
mod drawing;
mod effects;
mod frame;
mod number;
mod opened;
mod reading_form;
mod sketch;
mod tank_numbers;

pub(crate) use chart::{
    Chart, Course, Dot, HALF, HourRow, Lane, Lanes, Layer, Level, Mark, Of, Span, WIDE, ph_chart,
    stacked, table as chart_table,
};
pub(crate) use drawing::{
    Mood, Use, comparing_sheet, cutaway, draw, drift_sheet, sheet, silhouette, sump_drawing,
};
pub(crate) use effects::{EffectLine, effect_lines};
pub(crate) use frame::{Frame, Tab};
pub(crate) use number::{bytes, hours, percent, since, when, when_of};
pub(crate) use opened::Opened;
pub(crate) use reading_form::{Keeper, ReadingForm};
pub(crate) use sketch::{sketch, sketch_symbols};
pub(crate) use tank_numbers::{NumberLine, number_lines};
