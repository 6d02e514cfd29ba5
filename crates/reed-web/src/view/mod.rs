//! Numbers as words and drawings: what pages have in common when they print.

mod chart;
mod drawing;
mod number;
mod opened;
mod ph_chart;
mod reading_form;
mod tank_numbers;

pub(crate) use chart::{Chart, ChartSize, Dot, table as chart_table};
pub(crate) use drawing::{Mood, Use, comparing_sheet, draw, drift_sheet, sheet};
pub(crate) use number::{hours, percent, since, when};
pub(crate) use opened::Opened;
pub(crate) use ph_chart::ph_chart;
pub(crate) use reading_form::ReadingForm;
pub(crate) use tank_numbers::{NumberLine, number_lines};

use crate::assets;

/// What every page needs around it.
pub(crate) struct Frame {
    pub(crate) title: String,
    pub(crate) bulma: String,
    pub(crate) style: String,
    pub(crate) drawing: String,
    pub(crate) tank: String,
    pub(crate) water: String,
    /// The script of Drift, in its parts; the last one puts them together.
    pub(crate) drift: [String; 3],
    pub(crate) compare: String,
    pub(crate) ahead: String,
    pub(crate) uplot: String,
    pub(crate) uplot_style: String,
    pub(crate) early: String,
    pub(crate) app: String,
    pub(crate) alpine: String,
    pub(crate) icon: String,
}

impl Frame {
    /// The frame of a page with this title.
    pub(crate) fn new(title: impl Into<String>) -> Self {
        Self {
            title: title.into(),
            bulma: assets::url("vendor/bulma-1.0.4-no-helpers.min.css"),
            style: assets::url("css/reed.css"),
            drawing: assets::url("css/drawing.css"),
            tank: assets::url("js/tank.js"),
            water: assets::url("js/water.js"),
            drift: ["js/drift-tries.js", "js/drift-search.js", "js/drift.js"].map(assets::url),
            compare: assets::url("js/compare.js"),
            ahead: assets::url("js/ahead.js"),
            uplot: assets::url("vendor/uplot-1.6.32.min.js"),
            uplot_style: assets::url("vendor/uplot-1.6.32.min.css"),
            early: assets::url("js/theme.js"),
            app: assets::url("js/app.js"),
            alpine: assets::url("vendor/alpine-csp-3.17.4.min.js"),
            icon: assets::url("img/icon.svg"),
        }
    }
}
