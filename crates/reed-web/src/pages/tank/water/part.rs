//! The parts of Water: each a page of its own under one short bar.

use reed_store::{Connection, StoreError, TankId};

use crate::pages::now::Watching;
use crate::view::{Frame, Tab};

/// A part of Water.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Part {
    Ahead,
    Changes,
    Bacteria,
    Oxygen,
    Acidity,
    Media,
    Tests,
}

impl Part {
    /// All of them, in the order of the bar.
    pub(super) const ALL: [Self; 7] = [
        Self::Ahead,
        Self::Changes,
        Self::Bacteria,
        Self::Oxygen,
        Self::Acidity,
        Self::Media,
        Self::Tests,
    ];

    pub(super) const fn words(self) -> &'static str {
        match self {
            Self::Ahead => "Days ahead",
            Self::Changes => "Changes",
            Self::Bacteria => "Bacteria",
            Self::Oxygen => "Oxygen",
            Self::Acidity => "pH",
            Self::Media => "Media",
            Self::Tests => "Tests",
        }
    }

    /// Its address below that of the tank's water.
    pub(super) const fn path(self) -> &'static str {
        match self {
            Self::Ahead => "",
            Self::Changes => "/changes",
            Self::Bacteria => "/bacteria",
            Self::Oxygen => "/oxygen",
            Self::Acidity => "/ph",
            Self::Media => "/media",
            Self::Tests => "/tests",
        }
    }
}

/// The frame of a part, with its bar.
pub(super) struct PartFrame {
    pub(super) id: TankId,
    pub(super) here: Part,
    /// What stands now in the tank.
    pub(super) now: String,
}

impl PartFrame {
    /// What the bar leads to.
    pub(super) const fn all(&self) -> &'static [Part] {
        &Part::ALL
    }

    /// The frame of this part of a tank's water, and what its bar and what stands below it need.
    pub(super) fn read(
        db: &Connection,
        watching: &Watching,
        here: Part,
        (id, tank): (TankId, &str),
    ) -> Result<(Frame, Self), StoreError> {
        let now = watching.part(db, Some(id))?;
        let title = match here {
            Part::Ahead => format!("Water of {tank}"),
            _ => format!("{}, water of {tank}", here.words()),
        };
        let frame = Frame::new("water", title)
            .with_part("alarms")
            .of_tank(id, tank, Tab::Water);
        Ok((frame, Self { id, here, now }))
    }
}
