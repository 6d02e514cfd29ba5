//! What happens to animals and plants.

use crate::log::effect::Effect;
use crate::log::entry::{Entry, On};
use crate::log::happening::{Family, Happening, Measure, OnWhat, tells};
use crate::tank::Tank;

/// Animals that come or go at once, at most. A judgement.
const MOST: f64 = 10_000.0;

const BLANK: Happening = Happening {
    on: OnWhat::Group,
    amount: Some(Measure {
        usual: Some(1.0),
        ..Measure::fixed("of them", 1.0, MOST)
    }),
    ..Happening::blank(Family::Animals)
};

/// Whether animals come or go.
#[derive(Clone, Copy, PartialEq, Eq)]
enum They {
    Come,
    Go,
}

/// The group it happened to counts so many more, or less; one of which none is left is gone.
fn counted(tank: &Tank, entry: &Entry, they: They) -> Option<Tank> {
    let mut after = tank.clone();
    let only = tank.stock.len() == 1;
    let place = tank.stock.iter().position(|group| match &entry.on {
        On::Group(name) => group.name == *name,
        On::Tank => only,
        On::Filter(_) => false,
    })?;
    #[expect(
        clippy::cast_possible_truncation,
        clippy::cast_sign_loss,
        reason = "within what the amount accepts"
    )]
    let many = entry.amount.unwrap_or(1.0).clamp(1.0, MOST) as u32;
    let group = &mut after.stock[place];
    group.count = match they {
        They::Come => group.count.saturating_add(many),
        They::Go => group.count.saturating_sub(many),
    };
    if group.count == 0 {
        after.stock.remove(place);
    }
    Some(after)
}

pub(super) static ALL: &[Happening] = &[
    Happening {
        id: "animals",
        label: "Animals added",
        words: &["added", "new fish", "bought", "got"],
        tells: &[tells("stock-added")],
        does: Some(Effect::Animals),
        makes: Some(|tank, entry| counted(tank, entry, They::Come)),
        ..BLANK
    },
    Happening {
        id: "lost",
        never_planned: true,
        label: "Animals lost",
        words: &["lost", "died", "dead", "death"],
        makes: Some(|tank, entry| counted(tank, entry, They::Go)),
        ..BLANK
    },
    Happening {
        id: "missing",
        never_planned: true,
        label: "Animal missing",
        words: &["missing", "disappeared", "cannot find"],
        tells: &[tells("animal-missing")],
        ..BLANK
    },
    Happening {
        id: "born",
        never_planned: true,
        label: "Young ones",
        words: &["born", "fry", "babies", "hatched"],
        makes: Some(|tank, entry| counted(tank, entry, They::Come)),
        ..BLANK
    },
    Happening {
        id: "moved",
        label: "Animals moved out",
        words: &["moved out", "rehomed", "gave away", "sold"],
        makes: Some(|tank, entry| counted(tank, entry, They::Go)),
        ..BLANK
    },
    Happening {
        id: "plants-cut",
        label: "Plants cut",
        words: &["cut plants", "trimmed plants", "trimmed", "pruned"],
        on: OnWhat::Tank,
        amount: None,
        completes: &["cut-plants"],
        ..BLANK
    },
];
