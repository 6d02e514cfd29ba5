//! The form in which a reading is entered, the same wherever one is asked for.

use reed_core::tank::kit;
use reed_core::units::{NitrogenForm, Units, plain};
use reed_store::{Connection, StoreError, settings};

use crate::forms::{ReadingInput, Refusals};

/// What the form has to know of the keeper.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Keeper {
    /// The units that were chosen.
    pub(crate) units: Units,
    /// Whether the keeper ever said what kits report; else the first reading of nitrogen asks.
    pub(crate) has_said: bool,
}

impl Keeper {
    /// As stored.
    pub(crate) fn load(db: &Connection) -> Result<Self, StoreError> {
        Ok(Self {
            units: settings::units(db)?,
            has_said: settings::are_chosen(db)?,
        })
    }
}

/// A choice in the list of kits.
pub(crate) struct KitOption {
    pub(crate) id: &'static str,
    pub(crate) title: &'static str,
    pub(crate) unit: &'static str,
    pub(crate) spread: String,
    pub(crate) chosen: bool,
    /// It reports the ion or the nitrogen, by its card.
    pub(crate) is_nitrogen: bool,
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
    /// [`Units::code`] of the units it is shown in.
    pub(crate) units: String,
    /// The forms of nitrogen to choose from, where nobody has said yet what the card of the kit
    /// reports.
    pub(crate) cards: &'static [NitrogenForm],
    /// What a proof can be compared with: value and name.
    pub(crate) controls: Vec<(String, String)>,
}

impl ReadingForm {
    /// An empty form that starts with this kit.
    pub(crate) fn blank(id: impl Into<String>, action: String, kit: &str, keeper: &Keeper) -> Self {
        Self::typed(
            id,
            action,
            ReadingInput::blank(kit),
            Refusals::default(),
            keeper,
        )
    }

    /// A form with what was typed.
    pub(crate) fn typed(
        id: impl Into<String>,
        action: String,
        input: ReadingInput,
        refusals: Refusals,
        keeper: &Keeper,
    ) -> Self {
        // What was typed stays in the units it was typed in.
        let units = &input.carried.units(keeper.units);
        let kits = kit::ALL.iter().map(|kit| KitOption {
            id: kit.id,
            title: kit.title,
            unit: units.of(kit.analyte.units).symbol,
            spread: plain(
                (kit.spread / units.of(kit.analyte.units).factor * 1000.0).round() / 1000.0,
            ),
            chosen: kit.id == input.kit,
            is_nitrogen: kit.analyte.is_nitrogen(),
        });
        Self {
            id: id.into(),
            action,
            button: "Save the reading",
            is_next: false,
            kits: kits.collect(),
            input,
            refusals,
            units: units.code(),
            cards: if keeper.has_said {
                &[]
            } else {
                NitrogenForm::ALL
            },
            controls: Vec::new(),
        }
    }

    /// The same, to be compared with one of these.
    pub(crate) fn beside(mut self, controls: &[(String, String)]) -> Self {
        self.controls = controls.to_vec();
        self
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
