//! The form of a tank: text as typed, to and from a tank.

use reed_core::tank::{Activity, AirSource, Bubbles, FallingWater, Planting, Plants, Running, StockGroup, Surface, Tank, spans};
use reed_core::units::{Length, Refusal};
use serde::Deserialize;

use crate::forms::Refusals;

/// A tank as typed. Rows (animals, air) come as parallel lists; a row without any text is no row.
#[derive(Clone, Debug, Default, Deserialize)]
#[serde(default)]
pub(super) struct TankForm {
    pub(super) name: String,
    pub(super) length: String,
    pub(super) width: String,
    pub(super) water_depth: String,
    pub(super) net_volume: String,
    pub(super) temperature: String,
    pub(super) altitude: String,
    pub(super) salinity: String,
    pub(super) surface: String,
    pub(super) wave_maker: String,
    pub(super) fall_flow: String,
    pub(super) fall_height: String,
    pub(super) co2: String,
    pub(super) planting: String,
    pub(super) lights_on: String,
    pub(super) light_hours: String,
    pub(super) feed: String,
    pub(super) protein: String,
    pub(super) catalysts: String,
    pub(super) stock_name: Vec<String>,
    pub(super) stock_count: Vec<String>,
    pub(super) stock_mass: Vec<String>,
    pub(super) stock_activity: Vec<String>,
    pub(super) stock_air: Vec<String>,
    pub(super) air_kind: Vec<String>,
    pub(super) air_flow: Vec<String>,
    pub(super) air_depth: Vec<String>,
    pub(super) air_bubbles: Vec<String>,
    pub(super) air_running: Vec<String>,
}

/// A row of animals, for printing.
pub(super) struct StockRow<'a> {
    pub(super) name: &'a str,
    pub(super) count: &'a str,
    pub(super) mass: &'a str,
    pub(super) activity: &'a str,
    pub(super) breathes_air: bool,
}

/// A row of air, for printing.
pub(super) struct AirRow<'a> {
    pub(super) kind: &'a str,
    pub(super) flow: &'a str,
    pub(super) depth: &'a str,
    pub(super) bubbles: &'a str,
    pub(super) running: &'a str,
}

const YES: &str = "yes";

/// What was chosen from a list, or the refusal of what is not on it.
fn chosen<T>(choice: Option<T>, given: &str, field: &'static str, label: &'static str) -> Result<T, Refusal> {
    choice.ok_or_else(|| Refusal {
        field,
        label,
        given: if given.is_empty() { "nothing" } else { given }.to_owned(),
        accepted: "Choose one from the list.".to_owned(),
    })
}

fn text(list: &[String], index: usize) -> &str {
    list.get(index).map_or("", |text| text.trim())
}

/// A number as a keeper writes it.
fn plain(value: f64) -> String {
    let rounded = (value * 1000.0).round() / 1000.0;
    rounded.to_string()
}

impl TankForm {
    /// A plausible small tank to start from.
    pub(super) fn starting_point() -> Self {
        let mut tank = Tank::plain("", Length::cm(80.0), Length::cm(35.0), Length::cm(38.0));
        tank.plants.planting = Planting::Sparse;
        Self { net_volume: String::new(), feed: String::new(), ..Self::of(&tank) }
    }

    /// A stored tank as text.
    pub(super) fn of(tank: &Tank) -> Self {
        let yes = |is: bool| if is { YES.to_owned() } else { String::new() };
        let on = tank.plants.lights_on_hour;
        Self {
            name: tank.name.clone(),
            length: plain(tank.length.as_cm()),
            width: plain(tank.width.as_cm()),
            water_depth: plain(tank.water_depth.as_cm()),
            net_volume: plain(tank.net_volume.as_litres()),
            temperature: plain(tank.temperature.as_celsius()),
            altitude: plain(tank.altitude.as_metres()),
            salinity: plain(tank.salinity.as_g_per_kg()),
            surface: tank.surface.id().to_owned(),
            wave_maker: yes(tank.has_wave_maker),
            fall_flow: tank.falling_water.map_or_else(String::new, |fall| plain(fall.flow.as_litres_per_hour())),
            fall_height: tank.falling_water.map_or_else(String::new, |fall| plain(fall.height.as_cm())),
            co2: yes(tank.co2_dosed),
            planting: tank.plants.planting.id().to_owned(),
            lights_on: format!("{:02.0}:{:02.0}", on.floor(), (on.fract() * 60.0).floor()),
            light_hours: plain(tank.plants.light_hours),
            feed: plain(tank.feed.as_grams()),
            protein: plain(tank.feed_protein_percent),
            catalysts: tank.peroxide_catalysts.to_string(),
            stock_name: tank.stock.iter().map(|group| group.name.clone()).collect(),
            stock_count: tank.stock.iter().map(|group| group.count.to_string()).collect(),
            stock_mass: tank.stock.iter().map(|group| plain(group.mass_each.as_grams())).collect(),
            stock_activity: tank.stock.iter().map(|group| group.activity.id().to_owned()).collect(),
            stock_air: tank.stock.iter().map(|group| yes(group.breathes_air)).collect(),
            air_kind: tank.air.iter().map(|air| air.kind.clone()).collect(),
            air_flow: tank.air.iter().map(|air| plain(air.flow.as_litres_per_hour())).collect(),
            air_depth: tank.air.iter().map(|air| plain(air.depth.as_cm())).collect(),
            air_bubbles: tank.air.iter().map(|air| air.bubbles.id().to_owned()).collect(),
            air_running: tank.air.iter().map(|air| air.running.id().to_owned()).collect(),
        }
        .with_blank_rows()
    }

    /// One empty row at the end of each list, to add to it.
    pub(super) fn with_blank_rows(mut self) -> Self {
        if self.stock_rows().last().is_none_or(|row| !row.name.is_empty() || !row.count.is_empty() || !row.mass.is_empty()) {
            self.stock_name.push(String::new());
        }
        if self.air_rows().last().is_none_or(|row| !row.kind.is_empty() || !row.flow.is_empty() || !row.depth.is_empty()) {
            self.air_kind.push(String::new());
        }
        self
    }

    /// The rows of animals.
    pub(super) fn stock_rows(&self) -> Vec<StockRow<'_>> {
        (0..self.stock_name.len())
            .map(|i| StockRow {
                name: text(&self.stock_name, i),
                count: text(&self.stock_count, i),
                mass: text(&self.stock_mass, i),
                activity: text(&self.stock_activity, i),
                breathes_air: text(&self.stock_air, i) == YES,
            })
            .collect()
    }

    /// The rows of air.
    pub(super) fn air_rows(&self) -> Vec<AirRow<'_>> {
        (0..self.air_kind.len())
            .map(|i| AirRow {
                kind: text(&self.air_kind, i),
                flow: text(&self.air_flow, i),
                depth: text(&self.air_depth, i),
                bubbles: text(&self.air_bubbles, i),
                running: text(&self.air_running, i),
            })
            .collect()
    }

    /// Makes sense of what was typed; every field that makes none is named.
    pub(super) fn parse(&self) -> Result<Tank, Refusals> {
        let mut refusals = Vec::new();
        let tank = self.read(&mut refusals);
        if refusals.is_empty() {
            refusals = tank.refusals();
        }
        if refusals.is_empty() { Ok(tank) } else { Err(Refusals::of(refusals)) }
    }

    fn read(&self, refusals: &mut Vec<Refusal>) -> Tank {
        fn take<T>(refusals: &mut Vec<Refusal>, result: Result<T, Refusal>) -> Option<T> {
            result.map_err(|refusal| refusals.push(refusal)).ok()
        }
        let mut tank = Tank::plain(self.name.trim(), Length::default(), Length::default(), Length::default());
        let mut keep = |result: Result<(), Refusal>| {
            take(refusals, result);
        };
        keep(spans::LENGTH.read(&self.length).map(|length| tank.length = length));
        keep(spans::WIDTH.read(&self.width).map(|width| tank.width = width));
        keep(spans::WATER_DEPTH.read(&self.water_depth).map(|depth| tank.water_depth = depth));
        keep(spans::TEMPERATURE.read(&self.temperature).map(|temperature| tank.temperature = temperature));
        keep(spans::ALTITUDE.read(or_zero(&self.altitude)).map(|altitude| tank.altitude = altitude));
        keep(spans::SALINITY.read(or_zero(&self.salinity)).map(|salinity| tank.salinity = salinity));
        keep(spans::FEED.read(&self.feed).map(|feed| tank.feed = feed));
        keep(chosen(Surface::by_id(&self.surface), &self.surface, "surface", "Surface").map(|surface| tank.surface = surface));
        keep(number(&self.protein, "feed_protein_percent", "Protein in the feed").map(|protein| tank.feed_protein_percent = protein));
        keep(
            whole(or_zero(&self.catalysts), "peroxide_catalysts", "Peroxide catalysts")
                .map(|catalysts| tank.peroxide_catalysts = catalysts),
        );
        if self.net_volume.trim().is_empty() {
            tank.net_volume = Tank::net_from_size(tank.length, tank.width, tank.water_depth);
        } else {
            keep(spans::NET_VOLUME.read(&self.net_volume).map(|volume| tank.net_volume = volume));
        }
        tank.has_wave_maker = self.wave_maker == YES;
        tank.co2_dosed = self.co2 == YES;
        if let Some(plants) = take(refusals, self.read_plants()) {
            tank.plants = plants;
        }
        if let Some(fall) = take(refusals, self.read_fall()) {
            tank.falling_water = fall;
        }
        for row in self.stock_rows().iter().filter(|row| !(row.name.is_empty() && row.count.is_empty() && row.mass.is_empty())) {
            tank.stock.extend(take(refusals, read_stock(row)));
        }
        for row in self.air_rows().iter().filter(|row| !(row.kind.is_empty() && row.flow.is_empty() && row.depth.is_empty())) {
            tank.air.extend(take(refusals, read_air(row)));
        }
        tank
    }

    fn read_plants(&self) -> Result<Plants, Refusal> {
        let refuse = || Refusal {
            field: "lights_on_hour",
            label: "Lights go on at",
            given: if self.lights_on.trim().is_empty() { "nothing".to_owned() } else { self.lights_on.clone() },
            accepted: "Give a time of day, such as 09:00.".to_owned(),
        };
        let at: jiff::civil::Time = self.lights_on.trim().parse().map_err(|_| refuse())?;
        Ok(Plants {
            planting: chosen(Planting::by_id(&self.planting), &self.planting, "planting", "Plants")?,
            lights_on_hour: f64::from(at.hour()) + f64::from(at.minute()) / 60.0,
            light_hours: number(&self.light_hours, "light_hours", "Hours of light")?,
        })
    }

    fn read_fall(&self) -> Result<Option<FallingWater>, Refusal> {
        if self.fall_flow.trim().is_empty() && self.fall_height.trim().is_empty() {
            return Ok(None);
        }
        let (flow, height) = (spans::FALL_FLOW.read(&self.fall_flow)?, spans::FALL_HEIGHT.read(&self.fall_height)?);
        Ok(Some(FallingWater { flow, height, stopped: false }))
    }
}

fn or_zero(text: &str) -> &str {
    if text.trim().is_empty() { "0" } else { text }
}

fn number(text: &str, field: &'static str, label: &'static str) -> Result<f64, Refusal> {
    let refuse = |_| Refusal {
        field,
        label,
        given: if text.trim().is_empty() { "nothing".to_owned() } else { text.trim().to_owned() },
        accepted: "Give a number.".to_owned(),
    };
    text.trim().replace(',', ".").parse().map_err(refuse)
}

fn whole(text: &str, field: &'static str, label: &'static str) -> Result<u32, Refusal> {
    let refuse = |_| Refusal {
        field,
        label,
        given: if text.trim().is_empty() { "nothing".to_owned() } else { text.trim().to_owned() },
        accepted: "Give a whole number.".to_owned(),
    };
    text.trim().parse().map_err(refuse)
}

fn read_stock(row: &StockRow<'_>) -> Result<StockGroup, Refusal> {
    // Refusals of rows stand under their list.
    let here = |refusal: Refusal| Refusal { field: "stock", ..refusal };
    Ok(StockGroup {
        name: if row.name.is_empty() { "animals".to_owned() } else { row.name.to_owned() },
        count: whole(row.count, "stock", "Number of animals")?,
        mass_each: spans::MASS_EACH.read(row.mass).map_err(here)?,
        activity: chosen(Activity::by_id(row.activity), row.activity, "stock", "Activity")?,
        breathes_air: row.breathes_air,
    })
}

fn read_air(row: &AirRow<'_>) -> Result<AirSource, Refusal> {
    let here = |refusal: Refusal| Refusal { field: "air", ..refusal };
    Ok(AirSource {
        kind: if row.kind.is_empty() { "Air stone".to_owned() } else { row.kind.to_owned() },
        flow: spans::AIR_FLOW.read(row.flow).map_err(here)?,
        depth: spans::AIR_DEPTH.read(row.depth).map_err(here)?,
        bubbles: chosen(Bubbles::by_id(row.bubbles), row.bubbles, "air", "Bubbles")?,
        running: chosen(Running::by_id(row.running), row.running, "air", "Running")?,
    })
}

#[cfg(test)]
mod tests {
    use super::TankForm;
    use reed_core::document::Document;
    use reed_fixtures::examples;

    #[test]
    fn every_example_tank_survives_the_form() {
        for (file, text) in examples() {
            let tank = Document::read(&text).expect("an example").tank;
            assert_eq!(TankForm::of(&tank).parse().unwrap_or_else(|refusals| panic!("{file}: {refusals:?}")), tank, "{file}");
        }
    }

    #[test]
    fn an_empty_volume_is_worked_out_and_a_new_tank_wants_only_a_name_and_feed() {
        let form = TankForm { name: "Hall".to_owned(), feed: "0,5".to_owned(), ..TankForm::starting_point() };
        assert!((form.parse().expect("sound").net_volume.as_litres() - 93.6).abs() < 1e-9);
    }

    #[test]
    fn nonsense_is_named_by_field_and_rows_under_their_list() {
        let mut form =
            TankForm { temperature: "900".to_owned(), feed: String::new(), lights_on: "soon".to_owned(), ..TankForm::starting_point() };
        form.stock_count = vec!["some".to_owned()];
        form.air_kind = vec!["stone".to_owned()];
        let refusals = form.parse().expect_err("nonsense");
        for (field, says) in [
            ("temperature_c", "“900” is not accepted"),
            ("feed_g_per_day", "“nothing” is not accepted"),
            ("lights_on_hour", "“soon” is not accepted"),
            ("stock", "“some” is not accepted"),
            ("air", "Air flow: “nothing”"),
        ] {
            assert!(refusals.at(field).contains(says), "{field}: {}", refusals.at(field));
        }
    }
}
