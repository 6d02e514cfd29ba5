//! The form in which a reading is entered, the same wherever one is asked for.

use jiff::civil::DateTime;
use reed_core::tank::kit;
use reed_core::units::{Units, plain};

use crate::forms::{ReadingInput, Refusals};

/// A choice in the list of kits.
pub(crate) struct KitOption {
    pub(crate) id: &'static str,
    pub(crate) title: &'static str,
    pub(crate) unit: &'static str,
    pub(crate) spread: String,
    pub(crate) chosen: bool,
}

/// The form with what was typed and what was refused.
pub(crate) struct ReadingForm {
    /// Unique on the page.
    pub(crate) id: String,
    /// Where it is sent.
    pub(crate) action: String,
    /// What its button says.
    pub(crate) button: &'static str,
    /// It is the next thing to do, and looks like it.
    pub(crate) is_next: bool,
    pub(crate) input: ReadingInput,
    pub(crate) refusals: Refusals,
    pub(crate) kits: Vec<KitOption>,
    pub(crate) latest: String,
}

impl ReadingForm {
    /// An empty form that starts with this kit.
    pub(crate) fn blank(id: impl Into<String>, action: String, kit: &str, now: DateTime, units: &Units) -> Self {
        Self::typed(id, action, ReadingInput::blank(kit, now), Refusals::default(), now, units)
    }

    /// A form with what was typed.
    pub(crate) fn typed(
        id: impl Into<String>,
        action: String,
        input: ReadingInput,
        refusals: Refusals,
        now: DateTime,
        units: &Units,
    ) -> Self {
        let kits = kit::ALL.iter().map(|kit| KitOption {
            id: kit.id,
            title: kit.title,
            unit: units.of(kit.analyte.units).symbol,
            spread: plain(kit.spread / units.of(kit.analyte.units).factor),
            chosen: kit.id == input.kit,
        });
        Self {
            id: id.into(),
            action,
            button: "Save the reading",
            is_next: false,
            kits: kits.collect(),
            input,
            refusals,
            latest: crate::forms::for_date_field(now),
        }
    }

    /// The same as the next thing to do, with another word on its button.
    pub(crate) fn due_next(mut self, button: &'static str) -> Self {
        self.button = button;
        self.is_next = true;
        self
    }

    /// The chosen kit's unit.
    pub(crate) fn unit(&self) -> &'static str {
        self.chosen().map_or("", |kit| kit.unit)
    }

    /// The chosen kit's usual spread.
    pub(crate) fn spread(&self) -> &str {
        self.chosen().map_or("", |kit| &kit.spread)
    }

    fn chosen(&self) -> Option<&KitOption> {
        self.kits.iter().find(|kit| kit.chosen)
    }
}
