//! What is put into the water.

use crate::log::effect::Effect;
use crate::log::happening::{Family, Happening, Measure, Quantity, tells};

const BLANK: Happening = Happening::blank(Family::Added);

pub(super) static ALL: &[Happening] = &[
    Happening {
        id: "medicine",
        label: "Medicine against bacteria",
        words: &["medicine", "medicated", "treated"],
        tells: &[tells("medicated")],
        does: Some(|_| Effect::Medicine),
        ..BLANK
    },
    Happening {
        id: "antibiotic",
        label: "Antibiotic",
        words: &["antibiotic", "antibiotics"],
        tells: &[tells("antibiotic-used"), tells("medicated")],
        does: Some(|_| Effect::Medicine),
        ..BLANK
    },
    Happening {
        id: "copper",
        label: "Copper, as a medicine or otherwise",
        words: &["copper", "snail killer"],
        tells: &[tells("copper-used")],
        ..BLANK
    },
    Happening {
        id: "binder",
        label: "Conditioner that binds ammonia",
        words: &["ammonia binder", "binding conditioner", "binder"],
        tells: &[tells("binding-conditioner-used")],
        does: Some(|_| Effect::Binder),
        ..BLANK
    },
    Happening {
        id: "bottle",
        label: "Bacteria or sludge product: a claim, no effect here",
        words: &["bacteria", "bottled bacteria", "sludge product"],
        tells: &[tells("bacteria-dosed")],
        does: Some(|_| Effect::Bottle),
        completes: &["dose-additive"],
        ..BLANK
    },
    Happening {
        id: "dose",
        label: "Ammonia dosed",
        words: &["dosed ammonia", "ammonia dosed"],
        amount: Some(Measure {
            quantity: Quantity::Ammonia,
            ..Measure::fixed("mg/L N", 0.1, 10.0)
        }),
        does: Some(Effect::Dose),
        ..BLANK
    },
    Happening {
        id: "additive",
        label: "Something added",
        words: &["fertiliser", "fertilizer", "additive", "salt", "dosed"],
        ..BLANK
    },
];
