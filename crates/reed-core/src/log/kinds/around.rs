//! What happens around the tank.

use crate::log::happening::{Family, Happening, Measure, tells};

const BLANK: Happening = Happening::blank(Family::Around);

pub(super) static ALL: &[Happening] = &[
    Happening {
        id: "set-up",
        label: "Tank set up",
        words: &["set up", "restarted tank"],
        tells: &[tells("tank-set-up")],
        makes: Some(|tank, entry| {
            let day = entry.when.to.date();
            (tank.set_up != Some(day)).then(|| crate::tank::Tank {
                set_up: Some(day),
                ..tank.clone()
            })
        }),
        ..BLANK
    },
    Happening {
        id: "soap",
        never_planned: true,
        label: "Soap or detergent near the tank",
        words: &["soap", "detergent", "glass cleaner"],
        tells: &[tells("soap-near-tank")],
        ..BLANK
    },
    Happening {
        id: "room",
        never_planned: true,
        label: "Something new in the room",
        words: &["spray", "paint", "painted", "insect spray", "air freshener"],
        ..BLANK
    },
    Happening {
        id: "alarm",
        never_planned: true,
        label: "Alarm of a device",
        words: &["alarm"],
        ..BLANK
    },
    Happening {
        id: "alarm-over",
        never_planned: true,
        label: "Alarm of a device over",
        words: &["alarm over"],
        ..BLANK
    },
    Happening {
        id: "purchase",
        label: "Bought",
        words: &["paid", "purchase"],
        amount: Some(Measure::fixed("", 0.0, 1_000_000.0)),
        ..BLANK
    },
    Happening {
        id: "note",
        label: "Note",
        words: &["note"],
        ..BLANK
    },
];
