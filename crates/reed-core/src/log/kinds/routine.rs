//! What is done by routine and changes nothing else, and what the keeper says of tasks.

use crate::log::happening::{Family, Happening, Measure, OnWhat};

const BLANK: Happening = Happening::blank(Family::Routine);

pub(super) static ALL: &[Happening] = &[
    Happening {
        id: "surface-looked-at",
        label: "Looked at the surface",
        words: &["looked at surface", "surface moves", "surface fine"],
        completes: &["look-at-surface"],
        ..BLANK
    },
    Happening {
        id: "animals-counted",
        label: "Animals counted",
        words: &["counted animals", "counted fish", "counted"],
        amount: Some(Measure::fixed("of them", 0.0, 100_000.0)),
        completes: &["count-animals"],
        ..BLANK
    },
    Happening {
        id: "bellies-looked-at",
        label: "Bellies looked at",
        words: &["looked at bellies", "bellies fine", "bellies"],
        completes: &["look-at-bellies"],
        ..BLANK
    },
    Happening {
        id: "bed-siphoned",
        label: "Bed siphoned",
        words: &[
            "siphoned bed",
            "siphoned",
            "vacuumed gravel",
            "gravel cleaned",
        ],
        completes: &["siphon-bed"],
        ..BLANK
    },
    Happening {
        id: "sponge-half-new",
        label: "Half of a sponge replaced",
        words: &[
            "sponge part replaced",
            "replaced part of sponge",
            "new sponge part",
        ],
        on: OnWhat::Filter,
        completes: &["replace-sponge-half"],
        ..BLANK
    },
    Happening {
        id: "biological-rinsed",
        label: "Some media for bacteria swirled in tank water",
        words: &[
            "swirled media",
            "rinsed bio media",
            "rinsed biological media",
        ],
        on: OnWhat::Filter,
        completes: &["rinse-biological"],
        ..BLANK
    },
    Happening {
        id: "heaters-looked-at",
        label: "Heaters, leads and lids looked at",
        words: &["looked at heaters", "heaters fine", "checked heater"],
        completes: &["look-at-heaters"],
        ..BLANK
    },
    Happening {
        id: "air-stone-new",
        label: "Air stone renewed",
        words: &["new air stone", "boiled air stone", "changed air stone"],
        completes: &["renew-air-stone"],
        ..BLANK
    },
    Happening {
        id: "spares-looked-at",
        label: "Spares looked through",
        words: &["looked at spares", "checked spares"],
        completes: &["look-at-spares"],
        ..BLANK
    },
    Happening {
        id: "task-skipped",
        label: "Task skipped this time",
        words: &["skipped task"],
        never_planned: true,
        ..BLANK
    },
    Happening {
        id: "task-put-off",
        label: "Task put off",
        words: &["put off task"],
        never_planned: true,
        ..BLANK
    },
    Happening {
        id: "task-every",
        label: "Interval of a task set",
        words: &["interval of task"],
        never_planned: true,
        amount: Some(Measure::fixed("days", 1.0, 730.0)),
        ..BLANK
    },
];
