//! What happens to the water.

use crate::log::effect::Effect;
use crate::log::happening::{Family, Happening, Measure, tells};

const BLANK: Happening = Happening::blank(Family::Water);

pub(super) static ALL: &[Happening] = &[
    Happening {
        id: "change",
        label: "Water change",
        words: &["water change", "changed water", "wc", "change", "changed"],
        amount: Some(Measure {
            usual: Some(20.0),
            ..Measure::percent("%")
        }),
        tells: &[tells("water-changed")],
        does: Some(|percent| Effect::Change(percent / 100.0)),
        completes: &["water-change"],
        ..BLANK
    },
    Happening {
        id: "skip",
        label: "No change after all",
        words: &["no change", "skipped change"],
        does: Some(|_| Effect::Skip),
        ..BLANK
    },
    Happening {
        id: "chlorine",
        never_planned: true,
        label: "Unconditioned tap water",
        words: &[
            "unconditioned",
            "no conditioner",
            "forgot conditioner",
            "chlorine",
        ],
        tells: &[tells("conditioner-forgotten")],
        does: Some(|_| Effect::Chlorine),
        ..BLANK
    },
    Happening {
        id: "refill-colder",
        never_planned: true,
        label: "Refill colder than the tank",
        words: &["cold refill", "colder refill", "cold water"],
        tells: &[tells("refill-colder")],
        ..BLANK
    },
    Happening {
        id: "temperature-step",
        never_planned: true,
        label: "Temperature jumped by 3 °C or more",
        words: &[
            "temperature jumped",
            "temperature jump",
            "temperature shock",
        ],
        tells: &[tells("temperature-step")],
        ..BLANK
    },
    Happening {
        id: "top-up",
        label: "Topped up",
        words: &["topped up", "top up", "top-up"],
        amount: Some(Measure::fixed("L", 0.01, 10_000.0)),
        completes: &["top-up"],
        ..BLANK
    },
    Happening {
        id: "oxygen-low",
        never_planned: true,
        label: "Oxygen was low",
        words: &["oxygen was low", "low oxygen"],
        tells: &[tells("low-oxygen-episode")],
        ..BLANK
    },
];
