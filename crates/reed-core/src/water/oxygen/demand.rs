//! What uses oxygen up, and what plants give. All terms in mg of oxygen per hour for the whole
//! tank.

use crate::figure::Figure;
use crate::tank::{Activity, BedSchool, Planting, StockGroup};
use crate::units::{Mass, Percent, Temperature};

/// Milligrams in a millilitre of oxygen at 0 °C and one atmosphere, in which Winberg wrote: 32 g in
/// 22.39 L, by definition of the mole.
const MG_PER_ML: f64 = 1.429;
/// Winberg's routine relation: oxygen that an animal of a gram breathes at 20 °C, mL/h.
pub(super) const RESPIRATION_ML_H: Figure = Figure::from_memory(0.3);
/// Power of its mass in grams.
pub(super) const RESPIRATION_POWER: Figure = Figure::from_memory(0.8);
/// Growth of respiration per 10 °C.
pub(super) const RESPIRATION_Q10: Figure = Figure::from_memory(2.3);
/// Nitrogen set free per gram of protein fed.
pub const NITROGEN_PER_PROTEIN: Figure =
    Figure::published(0.092, "Timmons & Ebeling, Recirculating Aquaculture");
/// Grams of oxygen per gram of ammonia nitrogen turned into nitrate (2 O₂ per NH₃, by
/// stoichiometry).
pub const OXYGEN_PER_NITROGEN: Figure = Figure::published(4.57, "stoichiometry of nitrification");
/// Protein of a usual dry feed, percent.
const DRY_FEED_PROTEIN_PERCENT: Figure = Figure::from_memory(40.0);
/// Grams of oxygen per gram of dry feed for what rots of droppings and leftovers.
pub(super) const OXYGEN_PER_FEED: Figure = Figure::from_memory(0.4);
/// Grams of oxygen per gram of dry matter that rots whole.
pub(super) const OXYGEN_PER_ROTTING: Figure = Figure::from_memory(1.2);
/// Oxygen used by a bed that is kept clean, mg per m² and hour.
pub(super) const BED_MG_PER_M2_H: Figure = Figure::from_memory(20.0);
/// Share of the day's plant production that plants respire again, spread over 24 h. A stand that
/// fills the tank shades itself: it makes little more than a thicket and breathes in full.
pub(super) const fn plant_respiration_share(planting: Planting) -> Figure {
    Figure::from_memory(if matches!(planting, Planting::Overgrown) {
        0.75
    } else {
        0.5
    })
}
/// Oxygen one peroxide catalyst sets free, mg per day, as long as it has any to set free.
pub(super) const CATALYST_MG_PER_DAY: Figure = Figure::from_memory(150.0);

/// Respiration of a group of animals.
///
/// Winberg's routine relation `a · W^b` at 20 °C, W in grams per animal, growing by the same factor
/// every 10 °C, times 1, 1.5 or 2 for activity. Coefficients from memory.
pub fn respiration_mg_h(group: &StockGroup, temperature: Temperature) -> f64 {
    let activity = match group.activity {
        Activity::Calm => 1.0,
        Activity::Usual => 1.5,
        Activity::Lively => 2.0,
    };
    let each = RESPIRATION_ML_H.value
        * group.mass_each().as_grams().powf(RESPIRATION_POWER.value)
        * MG_PER_ML;
    let warmth = RESPIRATION_Q10
        .value
        .powf((temperature.as_celsius() - 20.0) / 10.0);
    f64::from(group.count) * each * warmth * activity * group.build.from_water().value
}

/// Ammonia nitrogen that the feed sets free, mg per day: feed · protein · [`NITROGEN_PER_PROTEIN`].
pub fn nitrogen_mg_day(feed_per_day: Mass, protein: Percent) -> f64 {
    feed_per_day.as_grams() * 1000.0 * protein.as_percent() / 100.0 * NITROGEN_PER_PROTEIN.value
}

/// Nitrifying bacteria that keep up with the feed.
pub fn nitrification_mg_h(feed_per_day: Mass, protein: Percent) -> f64 {
    nitrogen_mg_day(feed_per_day, protein) * OXYGEN_PER_NITROGEN.value / 24.0
}

/// The dry feed that so much feed is worth, g.
pub fn dry_feed_g(feed: Mass, protein: Percent) -> f64 {
    feed.as_grams() * (protein.as_percent() / DRY_FEED_PROTEIN_PERCENT.value).min(1.0)
}

/// Droppings and leftovers of the daily feed. Worms and frozen feed are mostly water: they count by
/// their protein.
pub fn waste_mg_h(feed_per_day: Mass, protein: Percent) -> f64 {
    dry_feed_g(feed_per_day, protein) * OXYGEN_PER_FEED.value * 1000.0 / 24.0
}

/// Matter that rots besides the daily feed.
pub fn rotting_mg_h(rotting_per_day: Mass) -> f64 {
    rotting_per_day.as_grams() * OXYGEN_PER_ROTTING.value * 1000.0 / 24.0
}

/// The bed: half as much again where dirt stays for the stream to carry off.
pub fn bed_mg_h(area_m2: f64, school: BedSchool) -> f64 {
    area_m2 * BED_MG_PER_M2_H.value * dirt_left(school).value
}

/// How much more the bed uses than a siphoned one.
const fn dirt_left(school: BedSchool) -> Figure {
    Figure::from_memory(match school {
        BedSchool::Siphoned => 1.0,
        BedSchool::CarriedAway => 1.5,
    })
}

/// Oxygen that plants make over a day of light, mg per litre of tank.
pub const fn production_mg_l_day(planting: Planting) -> Figure {
    Figure::from_memory(match planting {
        Planting::None => 0.0,
        Planting::Sparse => 3.0,
        Planting::Moderate => 8.0,
        Planting::Dense => 16.0,
        Planting::Overgrown => 19.0,
    })
}

/// Respiration of plants, day and night, mg per litre and hour.
pub fn plant_respiration_mg_l_h(planting: Planting) -> f64 {
    production_mg_l_day(planting).value * plant_respiration_share(planting).value / 24.0
}

/// Peak of the half-sine of production, mg per litre and hour, for so many hours of light.
pub fn production_peak_mg_l_h(planting: Planting, light_hours: f64) -> f64 {
    if light_hours <= 0.0 {
        return 0.0;
    }
    production_mg_l_day(planting).value * std::f64::consts::FRAC_PI_2 / light_hours
}

/// Oxygen set free by peroxide catalysts.
pub fn catalyst_mg_h(catalysts: u32) -> f64 {
    f64::from(catalysts) * CATALYST_MG_PER_DAY.value / 24.0
}

/// Grams of oxygen from a gram of peroxide: 2 H₂O₂ → 2 H₂O + O₂, 32/68.
const OXYGEN_PER_PEROXIDE: Figure = Figure::published(0.470, "stoichiometry of peroxide");

/// Days that a catalyst lasts on so much peroxide.
pub fn catalyst_days(peroxide: Mass) -> f64 {
    peroxide.as_grams() * OXYGEN_PER_PEROXIDE.value * 1000.0 / CATALYST_MG_PER_DAY.value
}

#[cfg(test)]
mod tests {
    use super::{
        catalyst_days, nitrification_mg_h, production_mg_l_day, production_peak_mg_l_h,
        respiration_mg_h,
    };
    use crate::tank::{Activity, Planting, StockGroup};
    use crate::units::{Mass, Percent, Temperature};

    fn one_fish(grams: f64) -> StockGroup {
        StockGroup::weighing("fish", 1, Mass::grams(grams), Activity::Calm)
    }

    #[test]
    fn ten_small_fish_breathe_more_than_one_of_their_mass() {
        let at = Temperature::celsius(20.0);
        assert!(
            (respiration_mg_h(&one_fish(1.0), at) - 0.4287).abs() < 1e-9,
            "0.3 mL/h at 1.429 mg/mL"
        );
        let ten = StockGroup {
            count: 10,
            ..one_fish(1.0)
        };
        assert!(respiration_mg_h(&ten, at) > respiration_mg_h(&one_fish(10.0), at));
    }

    /// 1 kg of feed with 35 % protein sets 32.2 g of ammonia nitrogen free (Timmons & Ebeling).
    #[test]
    fn a_kilogram_of_feed_gives_the_published_ammonia() {
        let per_hour = nitrification_mg_h(Mass::grams(1000.0), Percent::of(35.0));
        assert!((per_hour * 24.0 / 1000.0 / 4.57 - 32.2).abs() < 1e-9);
    }

    /// By hand: 3 g of peroxide hold 1.41 g of oxygen.
    #[test]
    fn a_catalyst_lasts_until_its_peroxide_is_gone() {
        assert!((catalyst_days(Mass::grams(3.0)) - 9.4).abs() < 1e-9);
    }

    #[test]
    fn the_half_sine_adds_up_to_the_day_of_production() {
        let (hours, steps) = (10.0, 10_000);
        let peak = production_peak_mg_l_h(Planting::Dense, hours);
        let sum: f64 = (0..steps)
            .map(|i| {
                peak * (std::f64::consts::PI * (f64::from(i) + 0.5) / f64::from(steps)).sin()
                    * hours
                    / f64::from(steps)
            })
            .sum();
        assert!(
            (sum - production_mg_l_day(Planting::Dense).value).abs() < 1e-6,
            "{sum}"
        );
    }
}
