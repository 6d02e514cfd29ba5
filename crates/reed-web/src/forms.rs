//! What keepers type, kept as typed until it makes sense.

use std::collections::HashMap;

use jiff::SignedDuration;
use jiff::Timestamp;
use jiff::civil::DateTime;
use jiff::tz::TimeZone;
use reed_core::log::When;
use reed_core::tank::{Reading, kit};
use reed_core::units::{Lies, NitrogenForm, Refusal, Units, plain, read_moment};
use reed_store::{ReadingId, StoreError, TankId, Transaction, readings, settings};
use serde::Deserialize;

use crate::clock::Moment;

/// Refusals by field, for printing beside each.
#[derive(Clone, Debug, Default)]
pub(crate) struct Refusals(HashMap<String, String>);

impl Refusals {
    /// Collects refusals; the first of each field is shown.
    pub(crate) fn of(refusals: Vec<Refusal>) -> Self {
        let mut by_field = HashMap::new();
        for refusal in refusals {
            by_field
                .entry(refusal.field.clone())
                .or_insert_with(|| refusal.to_string());
        }
        Self(by_field)
    }

    /// One sentence for one field.
    pub(crate) fn single(field: &'static str, words: String) -> Self {
        Self(HashMap::from([(field.to_owned(), words)]))
    }

    /// The sentence for a field; empty when it is fine.
    pub(crate) fn at(&self, field: &str) -> &str {
        self.0.get(field).map_or("", String::as_str)
    }

    /// Every sentence, one after another.
    pub(crate) fn all(&self) -> String {
        let mut sentences: Vec<&str> = self.0.values().map(String::as_str).collect();
        sentences.sort_unstable();
        sentences.join(" ")
    }

    /// Something was refused.
    pub(crate) fn any(&self) -> bool {
        !self.0.is_empty()
    }
}

/// What every form with amounts or times carries unseen: the units it was shown in, and the clock
/// of whoever typed. Units may be chosen anew while it is open, and the browser may stand in
/// another zone than the tank.
#[derive(Clone, Debug, Default, Deserialize)]
#[serde(default)]
pub(crate) struct Carried {
    /// [`Units::code`].
    pub(crate) units: String,
    /// Minutes that the browser's clock is ahead of UTC; set by a script.
    pub(crate) zone: String,
}

/// Clocks are ahead of UTC by no more than this, minutes.
const FURTHEST_ZONE: i64 = 14 * 60;

impl Carried {
    /// The units that the form was shown in; those chosen now where it does not say.
    pub(crate) fn units(&self, chosen: Units) -> Units {
        Units::from_code(&self.units).unwrap_or(chosen)
    }

    /// By how much the clock beside the tank is ahead of the browser's.
    pub(crate) fn shift(&self, now: &Moment) -> SignedDuration {
        let zone = self
            .zone
            .parse::<i64>()
            .ok()
            .filter(|minutes| minutes.abs() <= FURTHEST_ZONE);
        zone.map_or(SignedDuration::ZERO, |minutes| {
            now.wall
                .duration_since(now.utc.to_zoned(TimeZone::UTC).datetime())
                - SignedDuration::from_mins(minutes)
        })
    }

    /// The same of a span: a day, or roughly when.
    pub(crate) fn when(&self, text: &str, now: &Moment, lies: Lies) -> Option<When> {
        let shift = self.shift(now);
        let there = now.wall.checked_sub(shift).ok()?;
        let said = When::read(text, there, lies)?;
        // A day is that of whoever says it.
        Some(if said.is_a_day() {
            said
        } else {
            said.moved(shift)
        })
    }

    /// Reads a moment as typed by the browser's clock; the clock beside the tank shows what comes
    /// back.
    pub(crate) fn moment(&self, text: &str, now: &Moment, lies: Lies) -> Option<DateTime> {
        let shift = self.shift(now);
        let there = now.wall.checked_sub(shift).ok()?;
        read_moment(text, there, lies)?.checked_add(shift).ok()
    }
}

/// A reading as typed.
#[derive(Clone, Debug, Default, Deserialize)]
pub(crate) struct ReadingInput {
    /// Id of the kit, which says what is measured.
    #[serde(default)]
    pub(crate) kit: String,
    /// The value.
    #[serde(default)]
    pub(crate) value: String,
    /// Its spread; empty for the kit's.
    #[serde(default)]
    pub(crate) spread: String,
    /// When, in words or as a date; nothing is now.
    #[serde(default)]
    pub(crate) taken_at: String,
    /// What the card of the kit says, where that was asked: the id of a form of nitrogen.
    #[serde(default)]
    pub(crate) card: String,
    /// What it is compared with, of a proof: `tap`, or the number of another tank; empty without.
    #[serde(default)]
    pub(crate) control: String,
    #[serde(flatten)]
    pub(crate) carried: Carried,
}

/// A moment as the browser's date field writes it.
pub(crate) fn for_date_field(at: DateTime) -> String {
    at.strftime("%Y-%m-%dT%H:%M").to_string()
}

/// Stores a reading, and what its form said about the card of the kit.
pub(crate) fn store(
    db: &Transaction<'_>,
    tank: TankId,
    input: &ReadingInput,
    reading: &Reading,
    now: Timestamp,
) -> Result<ReadingId, StoreError> {
    if let Some(nitrogen) = input.card() {
        settings::choose_units(
            db,
            Units {
                nitrogen,
                ..settings::units(db)?
            },
        )?;
    }
    readings::add(db, tank, reading, now)
}

/// What is understood as a moment.
pub(crate) const WHEN_ACCEPTED: &str =
    "Say it as “now”, “8 pm”, “yesterday 19:30”, “3 hours ago” or “10 Mar 8:30”.";

impl ReadingInput {
    /// An empty form for this kit.
    pub(crate) fn blank(kit: &str) -> Self {
        Self {
            kit: kit.to_owned(),
            ..Self::default()
        }
    }

    /// What the card of the kit was said to report, if that was asked and is of use here.
    pub(crate) fn card(&self) -> Option<NitrogenForm> {
        NitrogenForm::by_id(&self.card)
            .filter(|_| kit::by_id(&self.kit).is_some_and(|kit| kit.analyte.is_nitrogen()))
    }

    /// The units that its numbers are in: those it was shown in, and what the card says.
    pub(crate) fn units(&self, chosen: Units) -> Units {
        let carried = self.carried.units(chosen);
        self.card().map_or(carried, |nitrogen| Units {
            nitrogen,
            ..carried
        })
    }

    /// Makes sense of what was typed; without units of its own it is in those.
    pub(crate) fn parse(&self, now: &Moment, chosen: &Units) -> Result<Reading, Refusals> {
        let units = &self.units(*chosen);
        let Some(kit) = kit::by_id(&self.kit) else {
            let accepted = "Choose one of the kits in the list.".to_owned();
            return Err(Refusals::of(vec![Refusal::new(
                "kit", "Kit", &self.kit, accepted,
            )]));
        };
        let value = kit.analyte.read(&self.value, units);
        let spread = self.parse_spread(kit, units);
        let taken_at = self.parse_moment(now);
        match (value, spread, taken_at) {
            (Ok(value), Ok(spread), Ok(taken_at)) => Ok(Reading {
                analyte: kit.analyte,
                value,
                spread,
                taken_at,
                kit: Some(kit),
            }),
            (value, spread, taken_at) => Err(Refusals::of(
                [value.err(), spread.err(), taken_at.err()]
                    .into_iter()
                    .flatten()
                    .collect(),
            )),
        }
    }

    fn parse_spread(&self, kit: &kit::Kit, units: &Units) -> Result<f64, Refusal> {
        let text = self.spread.trim();
        if text.is_empty() {
            return Ok(kit.spread);
        }
        let unit = units.of(kit.analyte.units);
        let most = kit.analyte.high / 4.0;
        let typed = text
            .replace(',', ".")
            .parse::<f64>()
            .ok()
            .map(|spread| spread * unit.factor);
        typed.filter(|spread| *spread > 0.0 && *spread <= most).ok_or_else(|| {
            let (most, usual) = (plain(most / unit.factor), plain(kit.spread / unit.factor));
            let accepted = format!("Give a number above 0, at most {most} {}; leave it empty for the kit's own ± {usual}.", unit.symbol);
            Refusal::new("spread", "Uncertainty", text, accepted)
        })
    }

    fn parse_moment(&self, now: &Moment) -> Result<DateTime, Refusal> {
        let refuse = |accepted: &str| {
            Refusal::new(
                "taken_at",
                "When",
                &self.taken_at.replace('T', " "),
                accepted,
            )
        };
        let at = self
            .carried
            .moment(&self.taken_at, now, Lies::Before)
            .ok_or_else(|| refuse(WHEN_ACCEPTED))?;
        // Clocks differ by seconds.
        if at > now.wall + SignedDuration::from_mins(2) {
            return Err(refuse(
                "That is in the future: give the moment at which it was read, up to now.",
            ));
        }
        Ok(at)
    }
}

#[cfg(test)]
mod tests {
    use super::{Carried, Moment, ReadingInput, TimeZone, Units};
    use jiff::civil::date;

    fn now() -> Moment {
        let wall = date(2026, 3, 10).at(8, 30, 0, 0);
        Moment {
            wall,
            utc: wall.to_zoned(TimeZone::UTC).expect("a moment").timestamp(),
        }
    }

    fn typed(value: &str, spread: &str, taken_at: &str) -> ReadingInput {
        let [kit, value, spread, taken_at] =
            ["oxygen-drops", value, spread, taken_at].map(str::to_owned);
        ReadingInput {
            kit,
            value,
            spread,
            taken_at,
            ..ReadingInput::default()
        }
    }

    #[test]
    fn an_empty_uncertainty_is_that_of_the_kit() {
        let reading = typed("5,5", "", "2026-03-10T08:20")
            .parse(&now(), &Units::BASE)
            .expect("sound");
        assert!((reading.value - 5.5).abs() < 1e-12 && (reading.spread - 0.5).abs() < 1e-12);
    }

    #[test]
    fn every_field_that_makes_no_sense_is_named_at_once() {
        let refusals = typed("-3", "0", "2026-03-11T08:20")
            .parse(&now(), &Units::BASE)
            .expect_err("nonsense");
        assert!(
            refusals
                .at("value")
                .contains("“-3” is not accepted. Give a number from 0 to 20 mg/L.")
        );
        assert!(refusals.at("spread").starts_with("Uncertainty: “0”"));
        assert!(refusals.at("taken_at").contains("in the future"));
        assert!(
            typed("5", "", "soon")
                .parse(&now(), &Units::BASE)
                .expect_err("no moment")
                .at("taken_at")
                .contains("“8 pm”")
        );
        assert!(
            ReadingInput::default()
                .parse(&now(), &Units::BASE)
                .expect_err("no kit")
                .any()
        );
    }

    /// It is half past eight beside the tank, in a zone of UTC; whoever types sits nine hours east,
    /// where it is half past five.
    #[test]
    fn a_moment_is_that_of_whoever_types_and_is_kept_by_the_clock_beside_the_tank() {
        let east = Carried {
            zone: "540".to_owned(),
            ..Carried::default()
        };
        let at = |said: &str, carried: &Carried| {
            let input = ReadingInput {
                carried: carried.clone(),
                ..typed("5", "", said)
            };
            input
                .parse(&now(), &Units::BASE)
                .map(|reading| reading.taken_at.to_string())
        };
        assert_eq!(at("", &east).expect("now"), "2026-03-10T08:30:00");
        assert_eq!(
            at("5 pm", &east).expect("half an hour ago there"),
            "2026-03-10T08:00:00"
        );
        assert_eq!(
            at("2026-03-10 17:00", &east).expect("the same"),
            "2026-03-10T08:00:00"
        );
        assert!(
            at("2026-03-10 17:00", &Carried::default()).is_err(),
            "by the clock here that is to come"
        );
        for zone in ["", "soon", "100000", "-100000"] {
            assert_eq!(
                at(
                    "7:00",
                    &Carried {
                        zone: zone.to_owned(),
                        ..Carried::default()
                    }
                )
                .expect("here"),
                "2026-03-10T07:00:00"
            );
        }
    }

    /// A hardness of 6 dKH typed into a form that was open when the keeper went over to meq/L must
    /// not become 6 of those.
    #[test]
    fn a_number_is_in_the_units_that_its_form_was_shown_in() {
        let shown = Units::BASE;
        let chosen = Units {
            hardness: reed_core::units::HardnessUnit::Milliequivalents,
            ..shown
        };
        let input = ReadingInput {
            kit: "kh-drops".to_owned(),
            ..typed("6", "", "")
        };
        let carried = ReadingInput {
            carried: Carried {
                units: shown.code(),
                ..Carried::default()
            },
            ..input.clone()
        };
        assert!((carried.parse(&now(), &chosen).expect("sound").value - 6.0).abs() < 1e-9);
        assert!(
            (input.parse(&now(), &chosen).expect("sound").value - 6.0 * 50.04 / 17.848).abs()
                < 1e-9
        );
    }
}
