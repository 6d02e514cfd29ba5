//! A sump when its pump stops: what runs down and whether it finds room; how long it lasts between
//! top-ups.

use super::air::evaporates_mm_day;
use crate::tank::thing::Pipe;
use crate::tank::{Filter, Sump, Tank};

/// What a sump does when its pump stops.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct SumpLevels {
    /// The tank's level sinks so far, cm: to the lower of the sill of the weir and where the siphon
    /// of the return breaks.
    pub sinks_cm: f64,
    /// What runs down, L, with what is in box and pipes.
    pub drains_l: f64,
    /// Room in the sump above its running levels, L.
    pub free_l: f64,
    /// Highest running level of the return chamber at which all of it still fits, cm above the
    /// floor of the sump; none where not even an empty one would do.
    pub highest_cm: Option<f64>,
    /// Running level of the return chamber, cm.
    pub runs_at_cm: f64,
    /// Days until evaporation lets its pump draw air.
    pub lasts_days: f64,
    /// Where the siphon breaks was told, not taken from the outlet as drawn or as usual.
    pub break_is_told: bool,
}

impl SumpLevels {
    /// What is left of the room, L; below nothing it runs over.
    pub fn headroom_l(&self) -> f64 {
        self.free_l - self.drains_l
    }
}

/// Depth of water over a weir of this length, cm, at a flow in L/h: Francis 1855.
pub fn over_the_weir_cm(l_per_h: f64, weir_cm: f64) -> f64 {
    /// m^½/s, published: Francis 1855.
    const FRANCIS: f64 = 1.84;
    let per_metre = super::m3_per_s(l_per_h) / (weir_cm / 100.0);
    100.0 * (per_metre / FRANCIS).powf(2.0 / 3.0)
}

/// Of a filter with a sump; none of others.
pub fn sump_levels(tank: &Tank, filter: &Filter) -> Option<SumpLevels> {
    /// Below the surface, cm, where no outlet is drawn. A judgement.
    const USUAL_BREAK_CM: f64 = 3.0;
    /// Of a weir that is not drawn, cm. A judgement.
    const USUAL_WEIR_CM: f64 = 20.0;
    let sump = filter.sump.as_ref()?;
    let level = tank.water_depth.as_cm();
    let own = |pipe: Pipe| {
        tank.things.iter().filter(move |thing| {
            let form = thing.what.form();
            form.pipe() == pipe && thing.is_of(filter.number)
        })
    };
    let outlet_depth = own(Pipe::Outlet)
        .map(|outlet| (level - outlet.z.as_cm()).max(0.0))
        .max_by(f64::total_cmp);
    // A box is as long as its weir, or nearly.
    let weir = own(Pipe::Overflow).next().map(|thing| {
        let (left, right, ..) = thing.body(tank).footprint.bounds();
        right - left
    });
    let breaks = sump
        .siphon_break
        .map(|depth| depth.as_cm())
        .or(outlet_depth)
        .unwrap_or(USUAL_BREAK_CM);
    let over = over_the_weir_cm(
        filter.flow().as_litres_per_hour(),
        weir.unwrap_or(USUAL_WEIR_CM),
    );
    let sinks_cm = breaks.max(over).min(level);
    let area = tank.glass.length.as_cm() * tank.glass.width.as_cm();
    let drains_l = area * sinks_cm / 1000.0 + sump.pipes.map_or(0.0, |pipes| pipes.as_litres());
    let (free_l, return_area) = (free_l(sump), return_area_cm2(sump));
    let runs_at_cm = return_level(sump);
    let highest = runs_at_cm + (free_l - drains_l) * 1000.0 / return_area;
    Some(SumpLevels {
        sinks_cm,
        drains_l,
        free_l,
        highest_cm: (highest > 0.0).then(|| highest.min(sump.height.as_cm())),
        runs_at_cm,
        lasts_days: lasts_days(tank, runs_at_cm, return_area, area),
        break_is_told: sump.siphon_break.is_some(),
    })
}

/// The pump draws air when the water over the floor is no deeper than this, cm. A judgement.
const PUMP_NEEDS_CM: f64 = 8.0;

/// All that evaporates is missing in the return chamber: everything before it stands at its weirs.
fn lasts_days(tank: &Tank, level_cm: f64, return_area: f64, tank_area: f64) -> f64 {
    let litres = (level_cm - PUMP_NEEDS_CM).max(0.0) * return_area / 1000.0;
    let a_day = evaporates_mm_day(tank) / 10.0 * tank_area / 1000.0;
    litres / a_day.max(1e-6)
}

fn free_l(sump: &Sump) -> f64 {
    let of_chambers = sump.chambers.iter().map(|chamber| {
        let above = (sump.height.as_cm() - chamber.level.as_cm()).max(0.0);
        above * chamber.length.as_cm() * sump.width.as_cm() / 1000.0
    });
    of_chambers.sum()
}

fn return_area_cm2(sump: &Sump) -> f64 {
    sump.return_chamber()
        .map_or(1.0, |chamber| chamber.length.as_cm() * sump.width.as_cm())
}

fn return_level(sump: &Sump) -> f64 {
    sump.return_chamber()
        .map_or(0.0, |chamber| chamber.level.as_cm())
}

/// Days after which a sock is changed, common practice, no source: three or four.
pub const SOCK_DAYS: (f64, f64) = (3.0, 4.0);
