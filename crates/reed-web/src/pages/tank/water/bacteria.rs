//! Surface for bacteria: what is there, and what the load needs.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::State;
use reed_core::tank::{Analyte, Medium, Tank};
use reed_core::twin::numbers::{Capacity, SINTERED_KG_PER_L, medium_to_add};
use reed_core::units::Units;
use reed_core::water::nitrogen::{
    HALF_AT_OXYGEN_MG_L, HALF_AT_TAN_MG_L, KIT_ZERO_MG_L, MOST_G_M2_DAY, areal_rate_formula,
};
use reed_core::water::oxygen::formulas;
use reed_store::{TankId, settings, tanks};

use super::part::{Part, PartFrame};
use crate::error::PageError;
use crate::pages::ids::Id;
use crate::pages::now::Watching;
use crate::state::App;
use crate::view::{Frame, Opened};

#[derive(Template, WebTemplate)]
#[template(path = "pages/water/bacteria.html")]
pub(super) struct BacteriaPage {
    frame: Frame,
    part: PartFrame,
    capacity: CapacityView,
}

pub(super) async fn show(
    State(app): State<App>,
    Id(id): Id<TankId>,
) -> Result<BacteriaPage, PageError> {
    let watching = Watching::of(&app);
    app.read(move |db| {
        let (tank, units) = (tanks::latest(db, id)?.tank, settings::units(db)?);
        let (frame, part) = PartFrame::read(db, &watching, Part::Bacteria, (id, &tank.name))?;
        Ok(BacteriaPage {
            frame,
            part,
            capacity: CapacityView::of(&tank, &units),
        })
    })
    .await
}

/// Surface there and surface needed.
struct CapacityView {
    /// Name, what it has, and its width as a percentage of the largest.
    areas: Vec<(String, String, f64)>,
    numbers: Vec<Opened>,
    words: String,
    short: bool,
}

impl CapacityView {
    fn of(tank: &Tank, units: &Units) -> Self {
        let capacity = Capacity::of(tank);
        let (have, need) = (capacity.have_m2(), capacity.need_m2());
        let largest = capacity
            .areas
            .iter()
            .map(|area| area.m2)
            .fold(1e-9, f64::max);
        let words = match capacity.ratio() {
            None => "Nothing is fed: bacteria need nothing.".to_owned(),
            Some(ratio) if ratio < 1.0 => format!(
                "{:.1} m² are missing: add {}, or feed less. Ammonia then shows again and again.",
                need - have,
                as_medium(need - have, medium_to_add(tank))
            ),
            Some(ratio) => format!(
                "The surfaces carry {ratio:.1} times what is fed now. That is no leave to stock: oxygen, nitrate and room have limits of their own."
            ),
        };
        let line = |area: &reed_core::tank::Area| {
            (
                area.name.clone(),
                format!("{:.2} m²", area.m2),
                (100.0 * area.m2 / largest).round(),
            )
        };
        Self {
            areas: capacity.areas.iter().map(line).collect(),
            numbers: surfaces(&capacity, tank, units),
            words,
            short: capacity.ratio().is_some_and(|ratio| ratio < 1.0),
        }
    }
}

/// Surface missing or to spare, there, and needed.
fn surfaces(capacity: &Capacity, tank: &Tank, units: &Units) -> Vec<Opened> {
    let (have, need) = (capacity.have_m2(), capacity.need_m2());
    let ammonia = |nitrogen: f64| Analyte::AMMONIA.print(nitrogen, units);
    let difference = (have - need).abs();
    let media = [
        Medium::Sintered,
        Medium::CeramicRings,
        Medium::FoamMedium,
        Medium::Carrier,
        Medium::Lava,
    ];
    vec![
            Opened {
                label: if have < need { "Missing".to_owned() } else { "To spare".to_owned() },
                value: format!("{difference:.1} m², {}", as_medium(difference, medium_to_add(tank))),
                formula: "(there − needed) / effective m² per litre".into(),
                inputs: format!(
                    "The same is {}. A litre of sintered media weighs {} kg.",
                    media.map(|medium| as_medium(difference, medium)).join("; "),
                    SINTERED_KG_PER_L.value
                ),
                source: "from memory, not checked against a copy",
            },
            Opened {
                label: "There".to_owned(),
                value: format!("{have:.1} m²"),
                formula: "Σ litres of medium · effective m² per litre + panes + rocks + upper bed".into(),
                inputs: "Each is listed below. Effective surface, not the inner one of advertisements; rocks as cubes of their volume."
                    .to_owned(),
                source: "from memory, not checked against a copy",
            },
            Opened {
                label: "Needed".to_owned(),
                value: format!("{need:.1} m²"),
                formula: format!(
                    "{} / ({})",
                    formulas::nitrogen_from_feed(),
                    areal_rate_formula()
                )
                .into(),
                inputs: format!(
                    "{} a day over {} per m² and day: rmax {}, K {}, Ko {} mg/L, TAN at a kit’s zero, {}, the lowest oxygen of the day, {:.0} °C.",
                    units.nitrogen_grams(capacity.load_g_day, 2),
                    units.nitrogen_grams(capacity.rate_g_m2_day, 3),
                    units.nitrogen_grams(MOST_G_M2_DAY.value, 2),
                    ammonia(HALF_AT_TAN_MG_L.value),
                    HALF_AT_OXYGEN_MG_L.value,
                    ammonia(KIT_ZERO_MG_L),
                    tank.water_temperature().as_celsius()
                ),
                source: "Timmons & Ebeling for the load; the rate from memory",
            },
        ]
}

/// Surface as litres of a medium and, where its density is known, by weight.
fn as_medium(m2: f64, medium: Medium) -> String {
    let litres = m2 / medium.surface_m2_per_l().value;
    let mass = if medium == Medium::Sintered {
        format!(" ({:.1} kg)", litres * SINTERED_KG_PER_L.value)
    } else {
        String::new()
    };
    format!("{litres:.1} L of {}{mass}", medium.words())
}
