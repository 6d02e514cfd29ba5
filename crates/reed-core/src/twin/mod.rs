//! The twin: everything that can be computed about a tank as it stands.
//!
//! A pure function of the tank. A fault or a change is tried by altering the tank and asking again,
//! never by writing an effect down.

pub mod numbers;

use crate::figure::Figure;
use crate::flow::Facts;
use crate::tank::{Surface, Tank};
use crate::units::{Concentration, Pressure, Temperature};
use crate::water::carbon;
use crate::water::oxygen::{
    Course, Outage, Settled, atmosphere, demand, exchange, formulas, saturation,
};

/// How far the figures behind exchange and demand may be off, as factors. `Doubt::NONE` takes them
/// at their word.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Doubt {
    /// On everything that brings oxygen in.
    pub exchange: f64,
    /// On everything that uses it up.
    pub demand: f64,
}

impl Doubt {
    /// The figures as they stand.
    pub const NONE: Self = Self {
        exchange: 1.0,
        demand: 1.0,
    };
}

/// How much faster or slower the surface exchanges than surfaces that look like it do, by its speed
/// in the flow model.
///
/// Eye and model estimate one quantity, each in its own way: the eye sees the class of the surface,
/// within which exchange differs by a factor of 1.3 either way, as one standard deviation; the
/// model knows a mean speed, which leaves it open by two, since it resolves neither ripples nor
/// splashes. So each counts by its precision, and a drawing cannot outweigh a look at the tank.
/// Where the surface lies still or filmed, whether as the keeper says or by a fault that is tried,
/// its looks alone count.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Stirring(f64);

impl Stirring {
    /// Nothing is known but its looks.
    pub const AS_IT_LOOKS: Self = Self(1.0);
    /// Factor within a class of looks: from ripples to a broken surface it is 2.5, spread evenly
    /// over its logarithm.
    const EYE: Figure = Figure::from_memory(1.3);
    /// Factor at a mean speed: formulas of reaeration by speed are off by about two among rivers
    /// alone.
    const MODEL: Figure = Figure::from_memory(2.0);
    /// Moving things may make the surface so many times as brisk or as slow, no more. A judgement.
    const AT_MOST: f64 = 2.0;

    /// Of a tank whose flow was computed, or not; as far as its drift tests trust it.
    pub fn of(tank: &Tank, flow: Option<&Facts>) -> Self {
        let Some(facts) = flow.filter(|_| tank.surface >= Surface::Rippled) else {
            return Self::AS_IT_LOOKS;
        };
        let by_speed = exchange::velocity_by_speed_m_h(facts.surface_cm_s.likely);
        let by_looks = exchange::transfer_velocity_m_h(tank.surface).value;
        let [of_eye, of_model] = [Self::EYE, Self::MODEL].map(|factor| factor.value.ln().powi(-2));
        Self((by_speed / by_looks).powf(facts.trust.share() * of_model / (of_eye + of_model)))
    }

    /// The same when things are moved: nobody has seen that surface, but both are of one model,
    /// whose error is in both.
    #[must_use]
    pub fn moved(self, before: &Facts, after: &Facts) -> Self {
        let [before_m_h, after_m_h] =
            [before, after].map(|facts| exchange::velocity_by_speed_m_h(facts.surface_cm_s.likely));
        Self(
            self.0
                * (after_m_h / before_m_h)
                    .clamp(1.0 / Self::AT_MOST, Self::AT_MOST)
                    .powf(after.trust.share()),
        )
    }

    /// Tells it from others, for keys.
    pub const fn bits(self) -> u64 {
        self.0.to_bits()
    }

    fn factor(self, surface: Surface) -> f64 {
        if surface >= Surface::Rippled {
            self.0
        } else {
            1.0
        }
    }
}

/// One line of the oxygen budget, by night.
#[derive(Clone, Copy, Debug)]
pub struct Term {
    /// What it is.
    pub name: &'static str,
    /// Milligrams of oxygen per hour at the settled night level; negative for what uses it up.
    pub mg_per_h: f64,
    /// The formula behind it, in words.
    pub formula: fn() -> String,
    /// Where formula and coefficients come from.
    pub source: &'static str,
}

/// What the tank does.
#[derive(Clone, Debug, PartialEq)]
pub struct Twin {
    /// Air pressure at the place.
    pub pressure: Pressure,
    /// Oxygen the water holds in balance with that air.
    pub saturation: Concentration,
    /// The oxygen of a settled day.
    pub day: Settled,
    /// A power cut at the lowest point of the day.
    pub outage: Outage,
    stirring: Stirring,
}

impl Twin {
    /// The twin of a tank that has passed [`Tank::refusals`], its surface as brisk as it looks.
    pub fn of(tank: &Tank) -> Self {
        Self::stirred(tank, Stirring::AS_IT_LOOKS)
    }

    /// The twin of a tank whose flow was computed.
    pub fn stirred(tank: &Tank, stirring: Stirring) -> Self {
        let pressure = atmosphere::pressure_at(tank.altitude);
        let held = held_oxygen(tank, pressure);
        let day = course(tank, stirring, held).settled();
        let outage = Outage {
            start_mg_l: day.lowest().1,
            saturation_mg_l: held,
            exchange_per_h: still_exchange_per_h(tank),
            demand_mg_l_h: day.course.demand_mg_l_h,
        };
        Self {
            pressure,
            saturation: Concentration::mg_l(held),
            day,
            outage,
            stirring,
        }
    }

    /// Only the oxygen of a settled day: what the diagnosis asks for thousands of times.
    pub fn course_of(tank: &Tank, stirring: Stirring) -> Course {
        course(tank, stirring, oxygen_held_mg_l(tank))
    }

    /// The carbon dioxide of a settled day: what breathes oxygen in breathes it out, what brings
    /// oxygen in lets it off.
    pub fn carbon_dioxide(&self, tank: &Tank) -> carbon::Day {
        carbon_course(tank, self.stirring, &self.day.course).settled()
    }

    /// Where oxygen comes from and goes to by night, at the lowest point of the day, largest first.
    pub fn budget(&self, tank: &Tank) -> Vec<Term> {
        let deficit_mg_l = self.saturation.as_mg_l() - self.day.lowest().1;
        let mut terms: Vec<Term> = ways_in(tank, self.stirring, false)
            .into_iter()
            .map(|way| way.term(deficit_mg_l))
            .chain(uses(tank))
            .filter(|term| term.mg_per_h.abs() > 0.05)
            .collect();
        terms.sort_by(|a, b| b.mg_per_h.abs().total_cmp(&a.mg_per_h.abs()));
        terms
    }
}

/// Oxygen that the water of a tank holds in balance with the air, mg/L.
pub fn oxygen_held_mg_l(tank: &Tank) -> f64 {
    held_oxygen(tank, atmosphere::pressure_at(tank.altitude))
}

/// A tank that passed its checks lies inside the fit. With a fault in it, or by a reading, it may
/// be warmer than the fit goes; the warmest fitted value stands in there.
fn held_oxygen(tank: &Tank, pressure: Pressure) -> f64 {
    let temperature = Temperature::celsius(tank.water_temperature().as_celsius().clamp(0.0, 40.0));
    saturation(temperature, tank.salinity, pressure)
        .expect("a checked tank, and its temperature clamped to the fit")
        .as_mg_l()
}

fn still_exchange_per_h(tank: &Tank) -> f64 {
    let surface = tank.surface.min(Surface::Still);
    exchange::surface_m3_h(
        surface,
        1.0,
        tank.surface_area_m2(),
        0.0,
        tank.water_temperature(),
    ) * 1000.0
        / tank.net_volume().as_litres()
}

fn course(tank: &Tank, stirring: Stirring, saturation_mg_l: f64) -> Course {
    let litres = tank.net_volume().as_litres();
    let exchange_per_h = |lit| {
        ways_in(tank, stirring, lit)
            .iter()
            .map(|way| way.exchange_m3_h)
            .sum::<f64>()
            * 1000.0
            / litres
    };
    let use_mg_h = -uses(tank).iter().map(|term| term.mg_per_h).sum::<f64>();
    Course::new(
        saturation_mg_l,
        use_mg_h / litres,
        demand::production_peak_mg_l_h(tank.plants.planting, tank.plants.light.as_hours()),
        (
            tank.plants.lights_on.as_hours(),
            tank.plants.light.as_hours(),
        ),
        (exchange_per_h(true), exchange_per_h(false)),
    )
}

/// Dosed carbon dioxide is taken to bring the water to this in the light, mg/L, before plants take
/// theirs.
pub const DOSED_TO_MG_L: Figure = Figure::from_memory(20.0);

/// What acts on the carbon dioxide of a tank whose oxygen has this course.
fn carbon_course(tank: &Tank, stirring: Stirring, oxygen: &Course) -> carbon::CarbonCourse {
    let litres = tank.net_volume().as_litres();
    let exchange_per_h = [true, false].map(|lit| {
        ways_in(tank, stirring, lit)
            .iter()
            .map(|way| way.exchange_m3_h)
            .sum::<f64>()
            * 1000.0
            / litres
            * carbon::SLOWER_THAN_OXYGEN.value
    });
    // Bacteria that make nitrate breathe none out, they drive it out of carbonates; a peroxide
    // catalyst does neither.
    let nitrification = demand::nitrification_mg_h(tank.mean_feed(), tank.feed_protein);
    let breathed_mg_h = oxygen.demand_mg_l_h * litres - nitrification
        + demand::catalyst_mg_h(tank.peroxide_catalysts);
    let nitrogen_mg_h = demand::nitrogen_mg_day(tank.mean_feed(), tank.feed_protein) / 24.0;
    let given_mg_h = breathed_mg_h * carbon::PER_OXYGEN_BREATHED.value
        + nitrogen_mg_h * carbon::PER_NITROGEN.value;
    carbon::CarbonCourse {
        exchange_per_h,
        given_mg_l_h: given_mg_h / litres,
        taken_peak_mg_l_h: oxygen.production_peak_mg_l_h * carbon::PER_OXYGEN_MADE.value,
        dosed_mg_l_h: if tank.co2_dosed {
            exchange_per_h[0] * DOSED_TO_MG_L.value
        } else {
            0.0
        },
        lights: (oxygen.lights_on_hour, oxygen.light_hours),
    }
}

/// A way by which oxygen comes in.
struct Way {
    name: &'static str,
    /// Water brought to saturation per hour.
    exchange_m3_h: f64,
    formula: fn() -> String,
    source: &'static str,
}

impl Way {
    /// What it brings at this deficit: m³/h times mg/L is g/h.
    fn term(self, deficit_mg_l: f64) -> Term {
        Term {
            name: self.name,
            mg_per_h: self.exchange_m3_h * deficit_mg_l * 1000.0,
            formula: self.formula,
            source: self.source,
        }
    }
}

/// What exchanges oxygen with the air, with the lights on or off.
fn ways_in(tank: &Tank, stirring: Stirring, lit: bool) -> [Way; 3] {
    let temperature = tank.water_temperature();
    let (mut bubbles, mut plume) = (0.0, 0.0);
    for air in tank.air_sources().filter(|air| air.running.now(lit)) {
        bubbles += exchange::bubbles_m3_h(&air, temperature);
        plume += exchange::plume_area_m2(&air);
    }
    let fall = tank
        .falls()
        .filter(|fall| fall.running.now(lit))
        .map(|fall| exchange::fall_m3_h(&fall, temperature))
        .sum();
    [
        Way {
            name: "Through the surface",
            exchange_m3_h: exchange::surface_m3_h(
                tank.surface,
                stirring.factor(tank.surface),
                tank.surface_area_m2(),
                plume,
                temperature,
            ),
            formula: formulas::surface,
            source: "transfer velocities kL by looks and, where the flow was computed, by the speed of the surface, from memory; temperature factor ASCE 2-06",
        },
        Way {
            name: "Out of air bubbles",
            exchange_m3_h: bubbles,
            formula: formulas::bubbles,
            source: "uptake from memory; temperature factor ASCE 2-06",
        },
        Way {
            name: "With falling water",
            exchange_m3_h: fall,
            formula: formulas::fall,
            source: "from memory",
        },
    ]
}

/// What uses oxygen day and night, in mg/h, negative; peroxide catalysts give.
fn uses(tank: &Tank) -> [Term; 7] {
    let animals: f64 = tank
        .stock
        .iter()
        .map(|group| demand::respiration_mg_h(group, tank.water_temperature()))
        .sum();
    let plants =
        demand::plant_respiration_mg_l_h(tank.plants.planting) * tank.net_volume().as_litres();
    let term = |name, mg_per_h, formula: fn() -> String, source| Term {
        name,
        mg_per_h,
        formula,
        source,
    };
    [
        term(
            "Animals breathe",
            -animals,
            formulas::respiration,
            "Winberg's routine relation, from memory",
        ),
        term(
            "Bacteria turn ammonia into nitrate",
            -demand::nitrification_mg_h(tank.mean_feed(), tank.feed_protein),
            formulas::nitrification,
            "Timmons & Ebeling; stoichiometry of nitrification",
        ),
        term(
            "Droppings and leftovers rot",
            -demand::waste_mg_h(tank.mean_feed(), tank.feed_protein),
            formulas::waste,
            "from memory",
        ),
        term(
            "Something else rots",
            -demand::rotting_mg_h(tank.rotting),
            formulas::rotting,
            "from memory",
        ),
        term("Plants breathe", -plants, formulas::plants, "from memory"),
        term(
            "The bed breathes",
            -demand::bed_mg_h(tank.surface_area_m2(), tank.practice.bed),
            formulas::bed,
            "from memory",
        ),
        term(
            "From peroxide catalysts",
            demand::catalyst_mg_h(tank.peroxide_catalysts),
            formulas::catalysts,
            "dose from memory",
        ),
    ]
}
