//! What every page needs around it: its styles, its scripts, and where in a tank it is.

use reed_store::TankId;

use crate::assets;
use crate::visit;

/// Styles that pages share, in their order; each page adds its own, in `css/pages/`, which holds
/// for that page alone.
const PARTS: &[&str] = &[
    "drawing", "frame", "controls", "lists", "reading", "entry", "plans", "chart", "course", "flow",
];

/// What every page needs around it.
pub(crate) struct Frame {
    pub(crate) title: String,
    /// Names the page's own style, and the class of its content that this style holds for.
    pub(crate) room: &'static str,
    pub(crate) styles: Vec<String>,
    /// The tank that the page is about.
    pub(crate) bar: Option<TankBar>,
    pub(crate) tank: String,
    /// The script of Drift, in its parts; the last one puts them together.
    pub(crate) drift: String,
    pub(crate) compare: String,
    pub(crate) ahead: String,
    pub(crate) handbook: String,
    pub(crate) charts: String,
    pub(crate) filter: String,
    pub(crate) early: String,
    pub(crate) app: String,
    pub(crate) alpine: String,
    pub(crate) icon: String,
    pub(crate) manifest: String,
    /// The records are damaged: nothing is stored.
    pub(crate) is_damaged: bool,
}

impl Frame {
    /// The frame of a page with this title, in the room of this name.
    pub(crate) fn new(room: &'static str, title: impl Into<String>) -> Self {
        let shared = ["vendor/bulma-1.0.4-no-helpers.min.css", "css/base.css"].map(assets::url);
        let parts = PARTS
            .iter()
            .map(|part| assets::url(&format!("css/parts/{part}.css")));
        Self {
            title: title.into(),
            room,
            styles: shared
                .into_iter()
                .chain(parts)
                .chain([assets::url(&format!("css/pages/{room}.css"))])
                .collect(),
            bar: None,
            tank: assets::url("js/tank/main.js"),
            drift: assets::url("js/drift/main.js"),
            compare: assets::url("js/drift/compare.js"),
            ahead: assets::url("js/ahead.js"),
            handbook: assets::url("js/handbook.js"),
            charts: assets::url("js/charts.js"),
            filter: assets::url("js/filter.js"),
            early: assets::url("js/theme.js"),
            app: assets::url("js/app.js"),
            alpine: assets::url("vendor/alpine-csp-3.17.4.min.js"),
            icon: assets::url("img/icon.svg"),
            manifest: assets::url("manifest.webmanifest"),
            is_damaged: visit::current(|visit| visit.is_damaged).unwrap_or_default(),
        }
    }

    /// The same with a part that few pages share.
    #[must_use]
    pub(crate) fn with_part(mut self, part: &str) -> Self {
        self.styles
            .push(assets::url(&format!("css/parts/{part}.css")));
        self
    }

    /// The same for a page of a tank, which has the bar of that tank with this tab open.
    #[must_use]
    pub(crate) fn of_tank(self, id: TankId, name: &str, here: Tab) -> Self {
        Self {
            bar: Some(TankBar {
                id,
                name: name.to_owned(),
                here,
            }),
            ..self
        }
    }
}

/// The bar that every page of a tank has.
pub(crate) struct TankBar {
    pub(crate) id: TankId,
    pub(crate) name: String,
    pub(crate) here: Tab,
}

impl TankBar {
    /// The page is the tank's own, which has its name as its heading.
    pub(crate) fn is_overview(&self) -> bool {
        self.here == Tab::Tank
    }

    /// The page is of the log, which has the quick line in its midst.
    pub(crate) fn is_log(&self) -> bool {
        self.here == Tab::Log
    }

    /// What it leads to.
    pub(crate) const fn tabs(&self) -> &'static [Tab] {
        &Tab::ALL
    }
}

/// A part of a tank with pages of its own.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Tab {
    Tank,
    Case,
    Log,
    Water,
    Drift,
    Filter,
    Routine,
}

impl Tab {
    /// All of them, in the order of the bar.
    pub(crate) const ALL: [Self; 7] = [
        Self::Tank,
        Self::Case,
        Self::Log,
        Self::Water,
        Self::Filter,
        Self::Drift,
        Self::Routine,
    ];

    /// What it is called.
    pub(crate) const fn words(self) -> &'static str {
        match self {
            Self::Tank => "Tank",
            Self::Case => "Case",
            Self::Log => "Log",
            Self::Water => "Water",
            Self::Drift => "Drift",
            Self::Filter => "Filter",
            Self::Routine => "Routine",
        }
    }

    /// Where it begins, below the tank's address.
    pub(crate) const fn path(self) -> &'static str {
        match self {
            Self::Tank => "",
            Self::Case => "/case",
            Self::Log => "/log",
            Self::Water => "/water",
            Self::Drift => "/drift",
            Self::Filter => "/filter",
            Self::Routine => "/routine",
        }
    }

    /// Its sign: a path in a box of 24 by 24. A box with water, an eye, days on a line, a drop with
    /// its level, water round a stone, a vessel with layers, a round with its
    /// next day.
    pub(crate) const fn sign(self) -> &'static str {
        match self {
            Self::Tank => "M3 5v14h18V5M3 9c2-1.6 4-1.6 6 0s4 1.6 6 0 4-1.6 6 0",
            Self::Case => {
                "M2 12c3-5 6.5-7 10-7s7 2 10 7c-3 5-6.5 7-10 7s-7-2-10-7M12 9a3 3 0 1 0 0 6 3 3 0 1 0 0-6"
            }
            Self::Log => "M5 3v18M5 7h4m2 0h8M5 13h4m2 0h6M5 19h4m2 0h8",
            Self::Water => "M12 3c4 5 6.5 8 6.5 11.5a6.5 6.5 0 0 1-13 0C5.5 11 8 8 12 3M6 14h12",
            Self::Filter => {
                "M8 2v4M16 2v4M6 6h12v15H6zM6 11h12M6 15.5h12M9.5 18.2h.01M14.5 18.2h.01"
            }
            Self::Routine => "M20 12a8 8 0 1 1-3-6.2M20 3v4h-4M12 8v4l3 2",
            Self::Drift => {
                "M2 7c4-3 7-3 10 0s6 3 10 0M2 12h5m10 0h5M2 17c4 3 7 3 10 0s6-3 10 0M12 10a2 2 0 1 0 0 4 2 2 0 1 0 0-4"
            }
        }
    }
}
