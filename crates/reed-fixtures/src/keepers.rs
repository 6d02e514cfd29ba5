//! Simulated keepers: each has a tank in which something is wrong, and answers what is asked by
//! what is so there. Made up; what is so follows the trade's description of the fault, not the
//! program's own figures.

use jiff::civil::Date;
use reed_core::document::start;
use reed_core::tank::Tank;

/// Somebody with a sick tank.
pub struct Keeper {
    /// Of what the case is.
    pub name: &'static str,
    /// Id of the set-up that the tank is like.
    pub tank: &'static str,
    /// Days since it was set up, where the keeper knows.
    pub set_up_days: Option<i32>,
    /// What was noticed first.
    pub noticed: &'static str,
    /// Ids of what is so; everything else is not.
    pub so: &'static [&'static str],
    /// Ids of what happened, each with roughly when.
    pub happened: &'static [(&'static str, &'static str)],
    /// By analyte what the kit of it shows; of everything else there is no kit.
    pub reads: &'static [(&'static str, &'static str)],
    /// Id of what is wrong.
    pub fault: &'static str,
    /// Ids of the changes that are right.
    pub right: &'static [&'static str],
}

impl Keeper {
    /// The tank as it is entered.
    ///
    /// # Panics
    /// When the set-up is not listed.
    pub fn tank(&self, today: Date) -> Tank {
        let mut tank = start::by_id(self.tank).expect("a set-up").tank();
        tank.set_up = self
            .set_up_days
            .map(|days| today - jiff::Span::new().days(days));
        tank
    }
}

/// One of each kind of case.
pub const ALL: &[Keeper] = &[
    Keeper {
        name: "an outlet that slipped",
        tank: "planted-canister",
        set_up_days: Some(700),
        noticed: "keeps-to-top",
        so: &[
            "pumping-gills",
            "keeps-to-top",
            "surface-flat",
            "outlet-under-surface",
            "outlet-off-its-mark",
            "sudden-onset",
            "equipment-moved",
        ],
        happened: &[("equipment-moved", "today"), ("water-changed", "week")],
        reads: &[("temperature", "25"), ("do", "4.6")],
        fault: "outlet-slipped",
        right: &["raise-or-aim-outlet"],
    },
    Keeper {
        name: "an intake where no dirt comes by",
        tank: "planted-canister",
        set_up_days: Some(400),
        noticed: "muck-everywhere",
        so: &[
            "muck-everywhere",
            "food-passes-intake",
            "fast-far-end-slow-outlet-end",
        ],
        happened: &[("water-changed", "week")],
        reads: &[("temperature", "25")],
        fault: "intake-misplaced",
        right: &["intake-low-at-outlets-end"],
    },
    Keeper {
        name: "a choked pad",
        tank: "planted-canister",
        set_up_days: Some(900),
        noticed: "outlet-bubbles-constant",
        so: &[
            "outlet-bubbles-constant",
            "bubbles-in-water",
            "flow-weak",
            "fine-media-clogged",
        ],
        happened: &[("filter-cleaned", "half-year"), ("water-changed", "week")],
        reads: &[("temperature", "25")],
        fault: "clogged-fine-media",
        right: &["replace-floss", "clean-mechanical"],
    },
    Keeper {
        name: "fish that were startled",
        tank: "community-internal",
        set_up_days: Some(500),
        noticed: "pumping-gills",
        so: &[
            "pumping-gills",
            "startled-lights-just-on",
            "signs-gone-when-watched",
        ],
        happened: &[("water-changed", "week")],
        reads: &[
            ("temperature", "25"),
            ("do", "7.6"),
            ("tan", "0"),
            ("nitrite", "0"),
            ("ph", "7.2"),
        ],
        fault: "not-the-water",
        right: &["observe", "none-needed"],
    },
    Keeper {
        name: "too little room for bacteria",
        tank: "planted-hang-on",
        set_up_days: Some(600),
        noticed: "irritated",
        so: &[
            "irritated",
            "recurring",
            "bio-media-absent",
            "cartridge-only",
            "thin-fish",
        ],
        happened: &[("stock-added", "month"), ("water-changed", "week")],
        reads: &[
            ("temperature", "25"),
            ("tan", "0.6"),
            ("nitrite", "0.4"),
            ("ph", "7.4"),
            ("nitrate", "20"),
        ],
        fault: "too-little-biology",
        right: &["add-bio-media", "cartridge-to-sponge"],
    },
    Keeper {
        name: "a tank of nine days",
        tank: "community-internal",
        set_up_days: Some(9),
        noticed: "cloudy-white",
        so: &["cloudy-white", "jar-stays-cloudy", "irritated"],
        happened: &[],
        reads: &[
            ("temperature", "25"),
            ("tan", "1.2"),
            ("nitrite", "0.02"),
            ("ph", "7.6"),
        ],
        fault: "not-cycled",
        right: &["run-cycle", "seed-mature-media"],
    },
];
