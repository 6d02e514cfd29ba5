//! Handbook: every kind of number the program prints, with its formula and source.

use askama::Template;
use askama_web::WebTemplate;
use axum::Router;
use axum::extract::State;
use axum::http::header;
use axum::response::IntoResponse;
use axum::routing::get;
use reed_core::diagnosis::fault::Strength;
use reed_core::diagnosis::finding::{Finding, Kind, fish};
use reed_core::diagnosis::{check, fault, lookahead};
use reed_core::document::SCHEMA;
use reed_core::field::{Described, Field};
use reed_core::figure::Figure;
use reed_core::outlook::acidity::BUDGET_LOG_SPREAD;
use reed_core::outlook::ahead::{cycling, event};
use reed_core::outlook::chemical::{MOST_AT_ONCE, PROBLEMS};
use reed_core::outlook::forecast;
use reed_core::remedy::change;
use reed_core::tank::{
    Analyte, Bubbles, Build, FilterKind, Medium, Practice, Purpose, REAL_SHARE_OF_RATED, Stage,
    Surface, kit,
};
use reed_core::twin::DOSED_TO_MG_L;
use reed_core::units::{Length, Units, plain};
use reed_core::water::carbon;
use reed_core::water::chemistry::{NITRITE_LIMIT_MG_L, eifac_words};
use reed_core::water::nitrogen::{
    HALF_AT_OXYGEN_MG_L, HALF_AT_TAN_MG_L, MOST_G_M2_DAY, PER_DEGREE,
};
use reed_core::water::oxygen::{CEILING, demand, exchange, formulas};
use reed_flow::measure::{Muck, Rise};

use crate::error::PageError;
use crate::state::App;
use crate::view::Frame;

pub(super) fn routes() -> Router<App> {
    Router::new()
        .route("/handbook", get(show))
        .route("/case-document.schema.json", get(schema))
}

/// Chapters in the order of the contents: what keepers look for first, then where the numbers come
/// from. Each has its text in `parts/handbook/<id>.html` and its line in `pages/handbook.html`.
const CHAPTERS: &[(&str, &str)] = &[
    ("filters", "Kinds of filter"),
    ("media", "Media and their order"),
    ("bacteria", "Bacteria"),
    ("feeding", "Feeding"),
    ("fish", "Fish and their signs"),
    ("cautions", "Cautions"),
    ("schools", "Schools, and where they differ"),
    ("kits", "Tests"),
    ("oxygen", "Oxygen"),
    ("differential", "Weighing the causes"),
    ("plans", "Plans, and what proves them"),
    ("routine", "Routine, visits, probes"),
    ("nitrogen", "Nitrogen"),
    ("flow", "Where the water goes"),
    ("tank", "The tank"),
    ("file", "The open file"),
];

#[derive(Template, WebTemplate)]
#[template(path = "pages/handbook.html")]
struct HandbookPage {
    frame: Frame,
    units: Units,
    /// Each with whether what to mind stands under it: kinds with the same share it, and the last
    /// has it.
    filter_kinds: Vec<(FilterKind, bool)>,
    /// Media by what they are for, in the order in which water should meet them.
    media_by_stage: Vec<(Stage, String)>,
    /// What costs bacteria.
    losses: Vec<FigureLine>,
    nitrogen_per_protein: f64,
    /// Signs of breathless fish, lowest rung first, and the other signs that are asked about.
    rungs: Vec<&'static Finding>,
    fish_signs: Vec<&'static Finding>,
    /// Every caution that stands beside a step, once.
    cautions: Vec<&'static str>,
    schools: Vec<School>,
    /// Doses of ammonia: what is left when the next is due, and what proves a cycle.
    doses: [String; 2],
    /// Limits of un-ionised ammonia and of nitrite.
    limits: [String; 2],
    velocities: Vec<(&'static str, f64, &'static str)>,
    /// Share of a bubble's oxygen taken up per metre, percent: coarse, fine.
    uptakes: (f64, f64),
    oxygen_per_nitrogen: f64,
    /// Factors by which exchange and use may be off.
    spreads: (String, String),
    residual: f64,
    ceiling: f64,
    chances: Vec<(&'static str, f64)>,
    chances_source: &'static str,
    good: f64,
    act: f64,
    act_young: f64,
    distress: f64,
    limits_source: &'static str,
    faults: Vec<&'static fault::Fault>,
    kits: &'static [&'static kit::Kit],
    checks: usize,
    changes: usize,
    /// What a change that misses is reckoned to cost, minutes.
    wrong_act: f64,
    /// Minutes or euros that weigh as much as all harm.
    effort: f64,
    builds: Vec<BuildLine>,
    real_share: f64,
    real_source: &'static str,
    media: Vec<(&'static str, &'static str, f64)>,
    /// Figures of nitrogen and carbon dioxide: what, value and unit, source.
    nitrogen: Vec<FigureLine>,
    carbon: Vec<FigureLine>,
    /// By how much the budget of carbon dioxide may be off.
    carbon_factor: String,
    /// What media take: which, what it holds, contact, days after which it comes out.
    takes: Vec<[String; 4]>,
    /// Speeds at which muck sinks, those that lift it, and that of small bubbles, cm/s.
    sinks: String,
    lifts: String,
    micro: f32,
}

/// A figure with its unit and source.
struct FigureLine {
    what: &'static str,
    value: String,
    source: &'static str,
}

impl FigureLine {
    fn of(what: &'static str, figure: Figure, unit: &str) -> Self {
        Self {
            what,
            value: format!("{} {unit}", plain((figure.value * 1000.0).round() / 1000.0)),
            source: figure.source.words(),
        }
    }

    fn percent(what: &'static str, figure: Figure) -> Self {
        Self::of(
            what,
            Figure {
                value: 100.0 * figure.value,
                ..figure
            },
            "%",
        )
    }
}

fn nitrogen(units: &Units) -> Vec<FigureLine> {
    let ammonia = |what, figure: Figure| FigureLine {
        what,
        value: Analyte::AMMONIA.print(figure.value, units),
        source: figure.source.words(),
    };
    let per_area = |what, figure: Figure| FigureLine {
        what,
        value: format!("{} per m² and day", units.nitrogen_grams(figure.value, 2)),
        source: figure.source.words(),
    };
    vec![
        FigureLine::of(
            "Nitrogen of ammonia from protein",
            demand::NITROGEN_PER_PROTEIN,
            "g/g",
        ),
        per_area(
            "A settled surface turns over at most, at 25 °C",
            MOST_G_M2_DAY,
        ),
        ammonia("half of it at ammonia of", HALF_AT_TAN_MG_L),
        FigureLine::of("half of it at oxygen of", HALF_AT_OXYGEN_MG_L, "mg/L"),
        FigureLine::of("times, for each degree", PER_DEGREE, ""),
        FigureLine::of(
            "A binder hides ammonia from a kit for",
            event::BOUND_DAYS,
            "days",
        ),
        ammonia(
            "A cycle is proved by a dose gone within a day, of",
            cycling::PROOF_DOSE_MG_L,
        ),
    ]
}

/// Kinds that share what to mind about them say it once.
fn filter_kinds() -> Vec<(FilterKind, bool)> {
    let next = |index: usize| FilterKind::ALL.get(index + 1).map(|kind| kind.mind());
    FilterKind::ALL
        .iter()
        .enumerate()
        .map(|(index, kind)| (*kind, next(index) != Some(kind.mind())))
        .collect()
}

/// What costs bacteria.
fn losses() -> Vec<FigureLine> {
    vec![
        FigureLine::percent("Media rinsed under the tap", event::LOST_UNDER_TAP),
        FigureLine::percent("A medicine against bacteria", event::LOST_TO_MEDICINE),
        FigureLine::percent("Tap water with chlorine", event::LOST_TO_CHLORINE),
        FigureLine::of(
            "A filter stands without harm for",
            event::STANDING_H[0],
            "h",
        ),
        FigureLine::of(
            "and after that all in it dies within",
            event::STANDING_H[1],
            "h",
        ),
    ]
}

/// A setting over which keepers differ.
struct School {
    key: &'static str,
    label: &'static str,
    choices: Vec<&'static str>,
    help: &'static str,
}

/// The schools that are settings of a tank.
fn schools() -> Vec<School> {
    let school = |field: &'static Field| match &field.what {
        reed_core::field::What::OneOf(choices) => Some(School {
            key: field.key,
            label: field.label,
            choices: choices.iter().map(|choice| choice.words).collect(),
            help: field.help.trim(),
        }),
        _ => None,
    };
    Practice::FIELDS.iter().filter_map(school).collect()
}

/// Cautions of every check, change and first aid, each once, in the order of the catalogue.
fn cautions() -> Vec<&'static str> {
    let checks = check::all().map(|check| check.caution);
    let steps = change::all()
        .flat_map(|change| change.steps)
        .map(|step| step.caution);
    let mut cautions: Vec<&'static str> = Vec::new();
    for caution in steps.chain(checks).filter(|caution| !caution.is_empty()) {
        if !cautions.contains(&caution) {
            cautions.push(caution);
        }
    }
    cautions
}

/// Media by what they are for, in the order in which water should meet them.
fn media_by_stage() -> Vec<(Stage, String)> {
    [
        Stage::Coarse,
        Stage::Medium,
        Stage::Fine,
        Stage::Biological,
        Stage::Chemical,
    ]
    .into_iter()
    .map(|stage| {
        let media: Vec<&str> = Medium::ALL
            .iter()
            .filter(|medium| medium.stage() == stage)
            .map(|medium| medium.words())
            .collect();
        (stage, media.join("; "))
    })
    .collect()
}

impl HandbookPage {
    /// The title of a chapter.
    fn title(&self, id: &str) -> &'static str {
        CHAPTERS
            .iter()
            .find(|(known, _)| *known == id)
            .map_or("", |(_, title)| title)
    }

    /// The usual uncertainty of a kit.
    fn spread(&self, kit: &kit::Kit) -> String {
        let unit = self.units.of(kit.analyte.units);
        format!(
            "{} {}",
            plain((kit.spread / unit.factor * 1000.0).round() / 1000.0),
            unit.symbol
        )
        .trim()
        .to_owned()
    }
}

fn carbon_figures() -> Vec<FigureLine> {
    vec![
        FigureLine::of("Room air leaves in water", carbon::ROOM_MG_L, "mg/L"),
        FigureLine::of(
            "Its exchange, times that of oxygen",
            carbon::SLOWER_THAN_OXYGEN,
            "",
        ),
        FigureLine::of(
            "Breathed out",
            carbon::PER_OXYGEN_BREATHED,
            "g per g of oxygen",
        ),
        FigureLine::of(
            "Taken by plants",
            carbon::PER_OXYGEN_MADE,
            "g per g of oxygen",
        ),
        FigureLine::of(
            "Driven out of hardness by nitrification",
            carbon::PER_NITROGEN,
            "g per g of nitrogen",
        ),
        FigureLine::of(
            "Plants take half as fast at",
            carbon::HALF_FOR_PLANTS_MG_L,
            "mg/L",
        ),
    ]
}

/// A length–mass relation.
struct BuildLine {
    words: &'static str,
    a: f64,
    b: f64,
    at_5_cm: String,
}

impl BuildLine {
    fn of(build: Build) -> Self {
        let relation = build.length_mass();
        let mass = relation.mass(Length::cm(5.0)).as_grams();
        Self {
            words: build.words(),
            a: relation.a.value,
            b: relation.b.value,
            at_5_cm: format!("{mass:.1} g"),
        }
    }
}

/// One standard deviation of a logarithm, as a factor.
fn factor(log_spread: f64) -> String {
    format!("{:.2}", log_spread.exp())
}

/// The JSON Schema of `.reed.json` files.
async fn schema() -> impl IntoResponse {
    ([(header::CONTENT_TYPE, "application/schema+json")], SCHEMA)
}

async fn show(State(app): State<App>) -> Result<HandbookPage, PageError> {
    let units = app.units().await?;
    let velocity = |surface: Surface| {
        let figure = exchange::transfer_velocity_m_h(surface);
        (surface.words(), figure.value, figure.source.words())
    };
    let (rungs, fish_signs) = fish::ALL
        .iter()
        .copied()
        .partition(|finding| matches!(finding.kind, Kind::Rung(_)));
    Ok(HandbookPage {
        frame: Frame::new("handbook", "Handbook"),
        filter_kinds: filter_kinds(),
        media_by_stage: media_by_stage(),
        losses: losses(),
        nitrogen_per_protein: demand::NITROGEN_PER_PROTEIN.value,
        rungs,
        fish_signs,
        cautions: cautions(),
        schools: schools(),
        doses: [cycling::DOSE_AT_MG_L, cycling::PROOF_DOSE_MG_L.value]
            .map(|dose| units.print(dose, Analyte::AMMONIA.units, 1)),
        limits: [
            eifac_words(units.nitrogen).to_owned(),
            units.print(NITRITE_LIMIT_MG_L, Analyte::NITRITE.units, 1),
        ],
        chances_source: Strength::Usually.figure().source.words(),
        velocities: Surface::ALL.iter().copied().map(velocity).collect(),
        oxygen_per_nitrogen: demand::OXYGEN_PER_NITROGEN.value,
        uptakes: (
            100.0 * exchange::uptake_per_metre(Bubbles::Coarse).value,
            100.0 * exchange::uptake_per_metre(Bubbles::Fine).value,
        ),
        spreads: (
            factor(forecast::EXCHANGE_SPREAD.value),
            factor(forecast::DEMAND_SPREAD.value),
        ),
        residual: forecast::MODEL_RESIDUAL_MG_L.value,
        ceiling: 100.0 * CEILING.value,
        chances: vec![
            ("what is itself the fault", Strength::Itself.chance()),
            ("nearly always", Strength::NearlyAlways.chance()),
            ("usually", Strength::Usually.chance()),
            ("often", Strength::Often.chance()),
        ],
        good: forecast::GOOD_SHARE.value * 100.0,
        act: Purpose::Display.limits().oxygen_act.value * 100.0,
        act_young: Purpose::Breeding.limits().oxygen_act.value * 100.0,
        distress: forecast::DISTRESS_MG_L.value,
        limits_source: forecast::GOOD_SHARE.source.words(),
        faults: fault::all().collect(),
        kits: kit::ALL,
        checks: check::all().count(),
        changes: change::all().count(),
        wrong_act: lookahead::WRONG_ACT_MINUTES.value,
        effort: reed_core::remedy::EFFORT_WORTH_EVERYTHING,
        builds: Build::ALL.iter().copied().map(BuildLine::of).collect(),
        real_share: 100.0 * REAL_SHARE_OF_RATED.value,
        real_source: REAL_SHARE_OF_RATED.source.words(),
        media: media(),
        nitrogen: nitrogen(&units),
        carbon: carbon_figures(),
        carbon_factor: factor(BUDGET_LOG_SPREAD),
        takes: Medium::ALL
            .iter()
            .copied()
            .filter_map(|medium| taken(medium, &units))
            .collect(),
        sinks: in_words(Muck::SINKS),
        lifts: in_words(Muck::LIFTED_AT),
        micro: 100.0 * Rise::Micro.speed(),
        units,
    })
}

/// Every medium: what it is called, what it is for, and its surface, m² per litre.
fn media() -> Vec<(&'static str, &'static str, f64)> {
    let line = |medium: &Medium| {
        (
            medium.words(),
            medium.stage().words(),
            medium.surface_m2_per_l().value,
        )
    };
    Medium::ALL.iter().map(line).collect()
}

/// What a chemical medium takes of nitrogen, and how long it stays in.
fn taken(medium: Medium, units: &Units) -> Option<[String; 4]> {
    let days = medium.comes_out_after_days()?;
    let (holds, contact) = medium
        .takes()
        .map_or(("–".to_owned(), "–".to_owned()), |takes| {
            (
                format!(
                    "{} per litre",
                    units.nitrogen_grams(takes.holds_g_per_l.value, 1)
                ),
                format!("{} s", plain(takes.contact_s.value)),
            )
        });
    Some([
        medium.words().to_owned(),
        holds,
        contact,
        format!("{} days ({})", plain(days.value), days.source.words()),
    ])
}

/// Speeds in cm/s.
fn in_words<const N: usize>(speeds: [f32; N]) -> String {
    speeds
        .map(|speed| format!("{:.1}", 100.0 * speed))
        .join(" or ")
}
