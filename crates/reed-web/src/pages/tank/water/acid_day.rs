//! Carbon dioxide and pH through a day.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::State;
use reed_core::outlook::acidity::{Acidity, BAND};
use reed_core::outlook::forecast::Ensemble;
use reed_core::tank::{Analyte, Reading, Tank};
use reed_core::twin::Stirring;
use reed_core::units::Units;
use reed_core::water::carbon::{self, CEILING_MG_L, DISTRESS_MG_L};
use reed_core::water::chemistry::PK1_25_C;

use reed_store::TankId;

use super::Recent;
use super::part::{Part, PartFrame};
use crate::error::PageError;
use crate::pages::ids::Id;
use crate::pages::now::Watching;
use crate::state::App;
use crate::view::{Frame, HourRow, Opened, chart_table, ph_chart};

#[derive(Template, WebTemplate)]
#[template(path = "pages/water/ph.html")]
pub(super) struct AcidityPage {
    frame: Frame,
    part: PartFrame,
    acid: AcidDay,
    /// The curves of the day in numbers: hour, oxygen, carbon dioxide, pH.
    hours: Vec<HourLine>,
}

pub(super) async fn show(
    State(app): State<App>,
    Id(id): Id<TankId>,
) -> Result<AcidityPage, PageError> {
    let (id, now) = (id, app.clock.now().wall);
    let watching = Watching::of(&app);
    app.read(move |db| {
        let recent = Recent::read(db, id, now)?;
        let acidity = Acidity::of(&recent.tank, recent.stirring, &recent.readings, now);
        let readings: Vec<&Reading> = recent.dots(Analyte::PH);
        let (frame, part) = PartFrame::read(db, &watching, Part::Acidity, (id, &recent.tank.name))?;
        Ok(AcidityPage {
            frame,
            part,
            acid: AcidDay::of(&recent.tank, &acidity, &readings, &recent.units),
            hours: hours(&recent.tank, recent.stirring, &acidity),
        })
    })
    .await
}

/// What is said of it.
struct AcidDay {
    chart: String,
    numbers: Vec<Opened>,
    caution: Option<String>,
    readings: String,
}

impl AcidDay {
    fn of(tank: &Tank, acidity: &Acidity, readings: &[&Reading], units: &Units) -> Self {
        let [acid, alkaline] = acidity.turns();
        let co2 =
            |hour: f64, deviations: f64| acidity.carbon_dioxide_at(hour, deviations).as_mg_l();
        let hour = |hour: f64| format!("{:02.0}:00", hour.round().rem_euclid(24.0));
        let level = |at: f64| {
            format!(
                "{:.1} ({:.1}–{:.1}) mg/L about {}",
                co2(at, 0.0),
                co2(at, -BAND),
                co2(at, BAND),
                hour(at)
            )
        };
        let ph = |at: f64| {
            format!(
                "{:.1} ({:.1}–{:.1}) about {}",
                acidity.ph_at(at, 0.0),
                acidity.ph_at(at, -BAND),
                acidity.ph_at(at, BAND),
                hour(at)
            )
        };
        let hardness = Analyte::KH.print(acidity.dkh, units);
        let hardness = if acidity.dkh_is_read {
            format!("{hardness}, read")
        } else {
            format!("{hardness}, assumed: read it")
        };
        let caution = caution(co2(acid, 0.0));
        let numbers = numbers(
            acidity,
            [level(acid), level(alkaline)],
            [ph(acid), ph(alkaline)],
            &hardness,
        );
        let count = match acidity.readings {
            0 => "No reading of pH with one of hardness yet: all of it is assumed.".to_owned(),
            1 => "One reading of pH counts.".to_owned(),
            count => format!("{count} readings of pH count."),
        };
        let title = format!(
            "pH through a day, between {:.1} and {:.1}.",
            acidity.ph_at(acid, 0.0),
            acidity.ph_at(alkaline, 0.0)
        );
        Self {
            chart: ph_chart(acidity, &tank.plants, readings, &title),
            numbers,
            caution,
            readings: count,
        }
    }
}

/// Carbon dioxide that stands too high by night, in words.
fn caution(likely: f64) -> Option<String> {
    if likely > DISTRESS_MG_L {
        return Some(format!(
            "At its height carbon dioxide stands at {likely:.0} mg/L: above {DISTRESS_MG_L:.0} fish gasp whatever the oxygen. Break the surface, and turn any dosing down."
        ));
    }
    (likely > CEILING_MG_L).then(|| {
        format!("At its height carbon dioxide stands at {likely:.0} mg/L, above {CEILING_MG_L:.0}, the usual ceiling of planted tanks that dose it.")
    })
}

/// The turning points of the day with what they are made of.
fn numbers(
    acidity: &Acidity,
    levels: [String; 2],
    phs: [String; 2],
    hardness: &str,
) -> Vec<Opened> {
    let balance = "dC/dt = k · (room − C) + q · oxygen breathed + a · nitrogen − plants";
    let [most, least] = levels;
    let [lowest, highest] = phs;
    vec![
        Opened::new(
            "Most carbon dioxide",
            most,
            balance,
            format!(
                "k is {} of that of oxygen; room air leaves {} mg/L; q {}, a {:.2}; times {:.1} by your readings.",
                carbon::SLOWER_THAN_OXYGEN.value,
                carbon::ROOM_MG_L.value,
                carbon::PER_OXYGEN_BREATHED.value,
                carbon::PER_NITROGEN.value,
                acidity.factor
            ),
            "quotients by stoichiometry and from memory",
        ),
        Opened::new(
            "Least",
            least,
            balance,
            "Plants take what is there, by the light.".to_owned(),
            "from memory",
        ),
        Opened::new(
            "Lowest pH",
            lowest,
            "pK1 + log₁₀(44 · alkalinity / CO₂)",
            format!("pK1 {PK1_25_C}; hardness {hardness}."),
            "Plummer & Busenberg 1982; reads too high where humic acids or phosphate buffers set the pH",
        ),
        Opened::new(
            "Highest pH",
            highest,
            "pK1 + log₁₀(44 · alkalinity / CO₂)",
            format!("pK1 {PK1_25_C}; hardness {hardness}."),
            "Plummer & Busenberg 1982",
        ),
    ]
}

/// An hour of the day, oxygen and carbon dioxide in mg/L.
struct HourLine {
    hour: String,
    oxygen: String,
    carbon_dioxide: String,
    ph: String,
}

/// The day in numbers, every three hours.
fn hours(tank: &Tank, stirring: Stirring, acidity: &Acidity) -> Vec<HourLine> {
    let forecast = Ensemble::of_tank(tank)
        .stirred(stirring)
        .forecast(Tank::clone);
    let oxygen = chart_table(&forecast, None);
    let line = |row: HourRow, at: f64| {
        let band = |value: &dyn Fn(f64) -> f64| {
            format!("{:.1} ({:.1}–{:.1})", value(0.0), value(-BAND), value(BAND))
        };
        HourLine {
            hour: row.hour,
            oxygen: row.now,
            carbon_dioxide: band(&|off| acidity.carbon_dioxide_at(at, off).as_mg_l()),
            ph: band(&|off| acidity.ph_at(at, off)),
        }
    };
    oxygen
        .into_iter()
        .zip((0..8).map(|index| 3.0 * f64::from(index)))
        .map(|(row, at)| line(row, at))
        .collect()
}
