//! Nitrogen ahead: the part of the page that takes a moment to compute.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::{Query, State};
use reed_core::log::{Entry, When};
use reed_core::outlook::ahead::cycling::{SOON_DAYS, STARTS, Source};
use reed_core::outlook::ahead::{Bands, Event, Learned, NitrogenOutlook, is_masked};
use reed_core::tank::{Analyte, Reading, Species, UNIONISED, kit};
use reed_core::units::{Unit, Units};
use reed_core::water::chemistry::{EIFAC_NH3_N_MG_L, NITRITE_LIMIT_MG_L, eifac_words};
use reed_store::{EntryId, TankId};

use super::ahead_chart::{Figure, figures, marks};
use super::cycle::CycleView;
use super::inputs::WaterInputs;
use crate::clock::Moment;
use crate::error::PageError;
use crate::forms::Carried;
use crate::pages::ids::Id;
use crate::pages::tank::log::kind_and_amount;
use crate::state::App;
use crate::view::when_of;

/// Days shown.
pub(super) const DAYS: usize = 60;

/// A day ahead, each with its band.
struct DayRow {
    day: String,
    ammonia: String,
    nitrite: String,
    nitrate: String,
    hardness: String,
    ph: String,
}

#[derive(Template, WebTemplate)]
#[template(path = "parts/ahead.html")]
pub(super) struct AheadPart {
    id: TankId,
    /// Of a new tank.
    cycle: Option<CycleView>,
    /// Ways to start and to feed a cycle: ids and words.
    choices: [Vec<(&'static str, &'static str)>; 2],
    /// What is only supposed.
    supposed: Option<String>,
    sentences: Vec<String>,
    /// Latest readings that this outlook does not explain.
    misfits: Vec<Misfit>,
    /// By the clock at the tank.
    now: String,
    /// Events ahead, as JSON.
    marks: String,
    figures: Vec<Figure>,
    /// Every tenth day in numbers.
    table: Vec<DayRow>,
    units: [&'static str; 4],
    learned: Vec<Learned>,
    readings: usize,
    masked: Vec<&'static str>,
    events: Vec<EventLine>,
    /// Something is planned that can be withdrawn.
    is_planned: bool,
}

/// A reading to be repeated, with its kit.
struct Misfit {
    kit: &'static str,
    words: String,
}

/// An event that was entered.
struct EventLine {
    id: EntryId,
    at: String,
    words: String,
    is_struck: bool,
    planned: bool,
}

/// What if this happened now; nothing, where nothing is asked.
#[derive(serde::Deserialize)]
#[serde(default)]
#[derive(Default)]
pub(super) struct WhatIf {
    what: String,
    amount: String,
    #[serde(flatten)]
    carried: Carried,
}

pub(super) async fn show(
    State(app): State<App>,
    Id(id): Id<TankId>,
    Query(asked): Query<WhatIf>,
) -> Result<AheadPart, PageError> {
    let clock = app.clock.clone();
    let now = clock.now();
    let supposed = asked.parse(&now, &asked.carried.units(app.units().await?))?;
    app.read(move |db| {
        let loaded = WaterInputs::read(db, id, now.wall)?;
        let idle = supposed
            .as_ref()
            .and_then(|entry| entry.idle_in(&loaded.tank));
        Ok(match idle {
            Some(why) => Err(PageError::Refused(why.to_owned())),
            None => Ok(part(&loaded, id, supposed.as_ref())),
        })
    })
    .await?
}

impl WhatIf {
    fn parse(&self, now: &Moment, units: &Units) -> Result<Option<Entry>, PageError> {
        if self.what.is_empty() {
            return Ok(None);
        }
        let (kind, amount) = kind_and_amount(&self.what, &self.amount, units)
            .map_err(|refusal| PageError::Refused(refusal.to_string()))?;
        Ok(Some(Entry {
            amount,
            ..Entry::of(kind, When::minute(now.wall))
        }))
    }
}

fn part(loaded: &WaterInputs, id: TankId, supposed: Option<&Entry>) -> AheadPart {
    let entered = loaded.known();
    let belief = loaded.belief(&entered);
    let suppose = supposed.map_or_else(Vec::new, |entry| entry.effects(&loaded.tank));
    let known: Vec<Event> = entered
        .iter()
        .copied()
        .chain(suppose.into_iter().map(|effect| Event {
            day: SOON_DAYS,
            effect,
        }))
        .collect();
    let outlook = loaded.outlook(&belief, &known, DAYS);
    let unit = |analyte: &'static Analyte| loaded.units.of(analyte.units);
    let units = [
        unit(Analyte::AMMONIA),
        unit(Analyte::NITRITE),
        unit(Analyte::NITRATE),
        unit(Analyte::KH),
    ];
    let masked = |species| is_masked(&loaded.setting, &entered, species, 0.0);
    AheadPart {
        id,
        cycle: CycleView::of(loaded, &belief, &known, &outlook),
        choices: [
            STARTS.map(|start| (start.id, start.words)).to_vec(),
            Source::ALL
                .iter()
                .map(|source| (source.id(), source.words()))
                .collect(),
        ],
        supposed: supposed.map(|entry| entry.words(&loaded.units)),
        misfits: loaded.misfits(&outlook),
        sentences: loaded.sentences(&outlook, units),
        now: loaded.now.to_string(),
        marks: marks(loaded, &outlook),
        figures: figures(loaded, &outlook),
        table: (0..=DAYS)
            .step_by(10)
            .map(|at| loaded.row(&outlook, units, at))
            .collect(),
        units: units.map(|unit| unit.symbol),
        learned: belief.learned_of(&loaded.setting),
        readings: belief.readings,
        masked: [(Species::Ammonia, "ammonia"), (Species::Nitrate, "nitrate")]
            .into_iter()
            .filter_map(|(species, what)| masked(species).then_some(what))
            .collect(),
        is_planned: loaded
            .kept
            .iter()
            .any(|kept| kept.entry.when.from > loaded.now && !kept.is_struck()),
        events: loaded
            .kept
            .iter()
            .filter(|kept| !kept.entry.effects(&loaded.tank).is_empty())
            .map(|kept| EventLine {
                id: kept.id,
                at: when_of(&kept.entry.when, loaded.now),
                words: kept.entry.words(&loaded.units),
                is_struck: kept.is_struck(),
                planned: kept.entry.when.from > loaded.now,
            })
            .collect(),
    }
}

impl WaterInputs {
    fn sentences(
        &self,
        outlook: &NitrogenOutlook,
        [ammonia, nitrite, nitrate, hardness]: [&Unit; 4],
    ) -> Vec<String> {
        let mut sentences = Vec::new();
        let peak = |bands: &Bands| bands.high.iter().copied().fold(0.0, f64::max);
        let worst = peak(&outlook.nh3);
        if worst > EIFAC_NH3_N_MG_L {
            let first = outlook
                .nh3
                .high
                .iter()
                .position(|value| *value > EIFAC_NH3_N_MG_L)
                .unwrap_or(0);
            let whom = if self.setting.young_days.is_some() {
                "For animals that are in, poisonous"
            } else {
                "Poisonous"
            };
            sentences.push(format!(
                "{whom} ammonia may pass its limit from {} on: up to {}, limit {} (EIFAC). Read ammonia, and size a change.",
                self.date(outlook.days[first]),
                self.units.print(worst, UNIONISED, 3),
                eifac_words(self.units.nitrogen)
            ));
        } else {
            sentences.push(format!(
                "Ammonia stays harmless: at most {:.2} {}.",
                ammonia.from_base(peak(&outlook.tan)),
                ammonia.symbol
            ));
        }
        let most = format!(
            "{:.2} {}",
            nitrite.from_base(peak(&outlook.nitrite)),
            nitrite.symbol
        );
        sentences.push(match outlook.nitrite.high.iter().position(|value| *value > NITRITE_LIMIT_MG_L) {
            None => format!("Nitrite stays harmless: at most {most}."),
            Some(first) => format!(
                "Nitrite may pass the level to act on, {:.2} {}, from {} on: up to {most}. Read it, and size a change.",
                nitrite.from_base(NITRITE_LIMIT_MG_L),
                nitrite.symbol,
                self.date(outlook.days[first])
            ),
        });
        let last = outlook.days.len() - 1;
        let say = |bands: &Bands, unit: &Unit, decimals: usize| {
            let [low, likely, high] =
                [&bands.low, &bands.likely, &bands.high].map(|side| unit.from_base(side[last]));
            format!(
                "{likely:.decimals$} ({low:.decimals$}–{high:.decimals$}) {}",
                unit.symbol
            )
        };
        sentences.push(format!(
            "In {DAYS} days nitrate stands at {}, carbonate hardness at {}.",
            say(&outlook.nitrate, nitrate, 0),
            say(&outlook.kh, hardness, 1)
        ));
        sentences.extend(self.general_hardness(outlook));
        sentences
    }

    /// Where general hardness goes, as far as it and the tap's were read.
    fn general_hardness(&self, outlook: &NitrogenOutlook) -> Option<String> {
        let read = self.latest(Analyte::GH)?;
        let print = |value: f64| Analyte::GH.print(value, &self.units);
        Some(match self.tap_dgh {
            None => format!(
                "General hardness was read at {}; read the tap’s too, and it is told where it goes.",
                print(read.value)
            ),
            Some(tap) => {
                let then = outlook
                    .general_hardness(read.value, tap)
                    .last()
                    .copied()
                    .unwrap_or(tap);
                format!(
                    "General hardness was read at {}; with the tap’s {} it comes to {} in {DAYS} days. Only changes move it here; move it by no more than 1 to 2 degrees a day.",
                    print(read.value),
                    print(tap),
                    print(then)
                )
            }
        })
    }

    /// A fresh reading far outside of where the outlook begins is to be repeated; if it stands, it
    /// is worth more than the outlook.
    fn misfits(&self, outlook: &NitrogenOutlook) -> Vec<Misfit> {
        let told = |reading: &Reading| Misfit {
            kit: reading
                .kit
                .unwrap_or_else(|| kit::first_for(reading.analyte))
                .id,
            words: format!(
                "{} was read at {}, which nothing assumed here explains. Test again now, and the tap water too. If it stands, trust it, \
                 act on it, and enter what happened.",
                reading.analyte.label,
                reading.print(&self.units)
            ),
        };
        outlook
            .unexplained(&self.readings, self.now)
            .into_iter()
            .map(told)
            .collect()
    }

    fn row(
        &self,
        outlook: &NitrogenOutlook,
        [ammonia, nitrite, nitrate, hardness]: [&Unit; 4],
        at: usize,
    ) -> DayRow {
        let say = |bands: &Bands, unit: &Unit, decimals: usize| {
            let [low, likely, high] =
                [&bands.low, &bands.likely, &bands.high].map(|side| unit.from_base(side[at]));
            format!("{likely:.decimals$} ({low:.decimals$}–{high:.decimals$})")
        };
        let plain = Unit {
            symbol: "",
            also: &[],
            factor: 1.0,
            offset: 0.0,
        };
        DayRow {
            day: self.date(outlook.days[at]),
            ammonia: say(&outlook.tan, ammonia, 2),
            nitrite: say(&outlook.nitrite, nitrite, 2),
            nitrate: say(&outlook.nitrate, nitrate, 0),
            hardness: say(&outlook.kh, hardness, 1),
            ph: say(&outlook.ph, &plain, 1),
        }
    }
}
