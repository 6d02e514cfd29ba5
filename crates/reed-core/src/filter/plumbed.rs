//! A filter of a tank as its pump, its hoses and its beds: what flows through it, clean and clogged,
//! and the pressure on the way.

use super::dirt::fill;
use super::hose::fitting;
use super::{AirLift, Bed, GRAVITY, Hose, Operating, Pump, System, Water, operating_point};
use crate::tank::thing::Pipe;
use crate::tank::{At, Filter, FilterKind, Sump, Tank, Thing, TrayPlace};

/// Sharp bends of a usual run: at the rim, at the bottom of the cabinet and at the filter. A judgement.
const BENDS: f64 = 3.0;

/// What the program took where nothing was said.
#[derive(Clone, Debug, PartialEq)]
pub struct Taken {
    /// What it is of.
    pub what: &'static str,
    /// What was taken for it.
    pub value: String,
}

/// A bed on the way and whose it is.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Laid {
    /// The stop it lies in.
    pub at: At,
    /// Which portion of that stop.
    pub portion: usize,
    /// It lies before the pump, which draws the water through it.
    pub before_pump: bool,
    /// The bed, clean.
    pub bed: Bed,
}

/// A filter with its hoses in a tank.
#[derive(Clone, Debug, PartialEq)]
pub struct Plumbing {
    /// Its pump.
    pub pump: Pump,
    /// From the intake to the filter; none where it has none.
    pub suction: Option<Hose>,
    /// From the filter back to the tank.
    pub back: Option<Hose>,
    /// Its media along the way.
    pub beds: Vec<Laid>,
    /// Height to which the water is lifted, m.
    pub lift: f64,
    /// The pump below the water surface of the tank, m.
    pub pump_depth: f64,
    /// The intake below the water surface, m.
    pub intake_depth: f64,
    /// How far the hoses go above the water surface, over the rim, m.
    pub rim_height: f64,
    /// What moves through it.
    pub water: Water,
    /// What nobody said.
    pub taken: Vec<Taken>,
}

/// A place on the suction side.
#[derive(Clone, Debug, PartialEq)]
pub struct Pressed {
    /// What is there.
    pub place: &'static str,
    /// Above the water surface of the tank, m; below it is negative.
    pub height: f64,
    /// Against the air outside, kPa; below nothing, air is drawn in where it leaks.
    pub kpa: f64,
}

/// How a kind of filter is plumbed where nobody says.
struct Usual {
    /// Greatest head over the square root of the label's flow in L/h, m: larger pumps lift higher.
    head: f64,
    /// Of a pump with hoses, m each.
    hose: f64,
    /// The pump below the surface, m.
    pump_depth: f64,
    /// Of a tray along the stream, m.
    depth: f64,
    /// The pump draws the water through the media.
    pump_is_last: bool,
}

/// Usual figures of kinds of filters, from memory.
const fn usual(kind: FilterKind) -> Usual {
    let (head, hose, pump_depth, depth, pump_is_last) = match kind {
        FilterKind::RisingBasketCanister
        | FilterKind::FallingBasketCanister
        | FilterKind::RingAndCoreCanister
        | FilterKind::CartridgeSlotCanister => (0.05, 1.5, 0.9, 0.06, true),
        FilterKind::HangOnBack => (0.025, 0.0, 0.1, 0.03, false),
        FilterKind::InternalTopDown | FilterKind::InternalSideIn => (0.03, 0.0, 0.3, 0.08, true),
        FilterKind::SpongeWithPowerhead | FilterKind::Mat => (0.02, 0.0, 0.3, 0.04, true),
        FilterKind::SpongeOnAir | FilterKind::MovingBed => (0.01, 0.0, 0.0, 0.04, true),
        FilterKind::Sump | FilterKind::WetDryTower => (0.06, 1.2, 0.9, 0.2, false),
    };
    Usual {
        head,
        hose,
        pump_depth,
        depth,
        pump_is_last,
    }
}

/// Speed in a hose that is neither too narrow nor a waste, m/s. From memory.
const USUAL_SPEED: f64 = 1.0;

/// Bores that hoses are sold with, mm. Common practice, no source.
pub const BORES_MM: [f64; 6] = [9.0, 12.0, 16.0, 19.0, 25.0, 32.0];

/// How far a hose goes above the rim, m. A judgement.
const OVER_THE_RIM: f64 = 0.04;

impl Plumbing {
    /// Of a filter of a tank; what nobody said is taken as usual, and listed.
    pub fn of(tank: &Tank, filter: &Filter) -> Self {
        let usual = usual(filter.kind);
        let mut taken = Vec::new();
        let mut or_usual = |given: Option<f64>, what: &'static str, other: f64, value: String| {
            given.unwrap_or_else(|| {
                taken.push(Taken { what, value });
                other
            })
        };
        let label = filter.rated.as_litres_per_hour();
        let water = Water::of(tank.temperature.as_celsius(), tank.salinity.as_g_per_kg());
        let pump = if let Some(curve) = curve(filter) {
            curve
        } else if let Some(lift) = air_lift(tank, filter) {
            lift.as_pump(label, &water)
        } else {
            let most = usual.head * label.sqrt();
            let most_head = or_usual(
                filter.head.map(|head| head.as_cm() / 100.0),
                "greatest head",
                most,
                format!("{:.0} cm, usual of such a pump", 100.0 * most),
            );
            Pump::Label {
                most_head,
                most_flow: label,
            }
        };
        let has_hoses = usual.hose > 0.0;
        let bore = has_hoses.then(|| {
            let wanted = 1000.0
                * (super::m3_per_s(label) * 4.0 / (std::f64::consts::PI * USUAL_SPEED)).sqrt();
            let usual_bore = BORES_MM
                .into_iter()
                .find(|bore| *bore >= wanted)
                .unwrap_or(BORES_MM[5]);
            or_usual(
                filter.hose_bore.map(|bore| bore.as_mm()),
                "bore of the hoses",
                usual_bore,
                format!("{usual_bore:.0} mm, by its label"),
            ) / 1000.0
        });
        let is_sump = filter.sump.is_some() || filter.kind == FilterKind::Sump;
        let mut length = |given: Option<crate::units::Length>, what: &'static str| {
            or_usual(
                given.map(|length| length.as_cm() / 100.0),
                what,
                usual.hose,
                format!("{:.0} cm", 100.0 * usual.hose),
            )
        };
        // To a sump the water runs by itself: its pump draws from the sump.
        let suction = (has_hoses && !is_sump).then(|| length(filter.suction_hose, "suction hose"));
        let back = has_hoses.then(|| length(filter.return_hose, "return hose"));
        let pump_depth = or_usual(
            filter.pump_depth.map(|depth| depth.as_cm() / 100.0),
            "pump below the surface",
            usual.pump_depth,
            format!("{:.0} cm", 100.0 * usual.pump_depth),
        );
        let hose = |length: Option<f64>| {
            Some(Hose {
                bore: bore?,
                length: length?,
                // In by a sharp edge and out again at both ends of the run, with a tap in it.
                fittings: fitting::ENTRANCE
                    + fitting::EXIT
                    + BENDS / 2.0 * fitting::ELBOW
                    + fitting::VALVE,
                roughness: 0.0,
            })
        };
        let level = tank.water_depth.as_cm();
        let intake = tank.things.iter().find(|thing| {
            let form = thing.what.form();
            form.pipe() == Pipe::Intake && thing.is_of(filter.number)
        });
        Self {
            pump,
            suction: hose(suction),
            back: hose(back),
            beds: beds(filter, &usual),
            lift: if is_sump {
                (pump_depth - running_level_m(filter)).max(0.0)
            } else {
                0.0
            },
            pump_depth,
            intake_depth: intake
                .map_or(level * 0.6, |intake| level - intake.z.as_cm())
                .max(1.0)
                / 100.0,
            rim_height: (tank.glass.height.as_cm() - level).max(0.0) / 100.0 + OVER_THE_RIM,
            water,
            taken,
        }
    }

    /// Its way when the bed of this index is filled with dirt to this share of its ways.
    pub fn system(&self, choked: Option<usize>, share: f64) -> System {
        let laid = self.beds.iter().enumerate();
        System {
            hoses: self.suction.iter().chain(&self.back).copied().collect(),
            beds: laid
                .map(|(index, laid)| {
                    if Some(index) == choked {
                        laid.bed.filled(share)
                    } else {
                        laid.bed
                    }
                })
                .collect(),
            lift: self.lift,
        }
    }

    /// What flows through it, with that bed filled so far; none where the pump cannot lift so high.
    pub fn flow(&self, choked: Option<usize>, share: f64) -> Option<Operating> {
        operating_point(&self.pump, &self.system(choked, share), &self.water)
    }

    /// Flow through this filter clean, L/h: as measured, or else as computed; 0 where neither is
    /// known.
    pub fn clean_l_per_h(&self, filter: &Filter) -> f64 {
        let measured = filter.clean.map(|clean| clean.as_litres_per_hour());
        measured
            .or_else(|| self.clean().map(|clean| clean.flow))
            .unwrap_or_default()
    }

    /// What flows through it clean.
    pub fn clean(&self) -> Option<Operating> {
        self.flow(None, 0.0)
    }

    /// Head that each bed takes at a flow in L/h, in order, m, with that bed filled so far.
    pub fn losses(&self, l_per_h: f64, choked: Option<usize>, share: f64) -> Vec<f64> {
        let system = self.system(choked, share);
        system
            .beds
            .iter()
            .map(|bed| bed.loss(l_per_h, &self.water))
            .collect()
    }

    /// Pressure on the way from the intake to the pump at a flow in L/h, by hydrostatics less what
    /// was lost on the way; empty where no hose draws.
    pub fn suction_side(&self, l_per_h: f64, choked: Option<usize>, share: f64) -> Vec<Pressed> {
        let Some(hose) = self.suction else {
            return Vec::new();
        };
        let kpa = |head: f64| self.water.density * GRAVITY * head / 1000.0;
        let speed = hose.speed(l_per_h);
        let of_speed = speed * speed / (2.0 * GRAVITY);
        let lost = hose.loss(l_per_h, &self.water);
        // Up to the rim, over it, and down to the filter.
        let up = self.intake_depth + self.rim_height;
        let share_up = (up / hose.length).min(0.9);
        let rim = -self.rim_height - fitting::ENTRANCE * of_speed - share_up * lost - of_speed;
        let inlet = self.pump_depth - lost;
        let through: f64 = self
            .losses(l_per_h, choked, share)
            .into_iter()
            .zip(&self.beds)
            .filter_map(|(loss, laid)| laid.before_pump.then_some(loss))
            .sum();
        let place = |place, height: f64, head: f64| Pressed {
            place,
            height,
            kpa: kpa(head),
        };
        vec![
            place(
                "At the strainer",
                -self.intake_depth,
                self.intake_depth - of_speed,
            ),
            place("Where the hose goes over the rim", self.rim_height, rim),
            place("At the tap of the filter", -self.pump_depth, inlet),
            place(
                "At the pump, behind the media",
                -self.pump_depth,
                inlet - through - of_speed,
            ),
        ]
    }
}

/// The air lift that drives a filter, where one is drawn.
pub fn air_lift(tank: &Tank, filter: &Filter) -> Option<AirLift> {
    let own = tank
        .things
        .iter()
        .filter(|thing| thing.is_of(filter.number));
    let lift = |thing: &Thing| {
        let air = thing.what.form().air()?;
        let foot = (tank.water_depth.as_cm() - thing.z.as_cm()) / 100.0;
        Some(AirLift::of(&air, foot))
    };
    own.filter_map(lift).next()
}

/// Water stands so high over the pump of a sump, m.
fn running_level_m(filter: &Filter) -> f64 {
    /// Where no chamber is told, m. A judgement.
    const USUAL: f64 = 0.2;
    let sump = filter.sump.as_ref();
    let own = sump.and_then(Sump::return_chamber);
    own.map_or(USUAL, |chamber| chamber.level.as_cm() / 100.0)
}

/// The curve of its pump, where its points make one.
pub fn curve(filter: &Filter) -> Option<Pump> {
    let points = filter.curve.iter();
    let points = points.map(|point| (point.flow.as_litres_per_hour(), point.head.as_cm() / 100.0));
    Pump::through(points.collect()).ok()
}

/// The media of a filter as beds along the way.
fn beds(filter: &Filter, usual: &Usual) -> Vec<Laid> {
    let path = filter.path();
    let of_stop = path.iter().flat_map(|stop| {
        let depth = stop
            .depth
            .map_or(usual.depth, |depth| depth.as_cm() / 100.0);
        let litres = stop
            .holds
            .map_or_else(|| stop.litres(), |holds| holds.as_litres());
        let area = (litres / 1000.0 / depth).max(1e-4);
        stop.media
            .iter()
            .enumerate()
            .map(move |(portion, medium)| Laid {
                at: stop.at,
                portion,
                before_pump: usual.pump_is_last && stop.place != TrayPlace::After,
                bed: Bed {
                    area,
                    depth: medium.litres.as_litres() / 1000.0 / area,
                    fill: fill(medium),
                    clogging: 1.0,
                },
            })
    });
    of_stop.collect()
}
