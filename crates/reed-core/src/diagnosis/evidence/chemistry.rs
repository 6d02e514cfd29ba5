//! Nitrogen and carbon dioxide: computed from several readings at once.

use super::super::belief::{FaultSet, Likelihoods, NoisyOr};
use super::super::case::Case;
use super::super::finding::{Finding, computed, upkeep};
use super::super::hypothesis_space::HypothesisSpace;
use super::super::observed::Observed;
use super::super::origin::Origin;
use super::readings::{latest, rarer_beyond, sureness};
use super::{Piece, crossed, node};
use crate::tank::{Analyte, Planting};
use crate::twin::numbers;
use crate::units::masses::NITRATE_PER_NITROGEN;
use crate::water::carbon;
use crate::water::chemistry::{self, EIFAC_NH3_N_MG_L, NITRITE_LIMIT_MG_L};
use crate::water::nitrogen::KIT_ZERO_MG_L;

/// pH to assume beside an ammonia reading when none was read. From memory.
const USUAL_PH: f64 = 7.5;
/// Spread of the logarithm of what is computed from a pH: 0.2 of a pH is a factor of 1.6.
const PH_LOG_SPREAD: f64 = 0.5;
/// Chance that the half of the nitrogen poisons that was not read is high. From memory.
const UNREAD_IS_HIGH: f64 = 0.3;

/// What a reading of a nitrogen poison says.
struct Read {
    index: usize,
    /// How sure it is that there is anything to read.
    measurable: f64,
    /// How sure it is that it harms.
    harmful: f64,
    /// How much rarer so much is, without a fault, than just enough to harm.
    rarer: f64,
}

/// Nitrite and ammonia together, as one ladder: nothing to read, something to read, enough to harm.
/// Either is enough, and one that was not read cannot acquit. Where a medium or conditioner binds
/// ammonia a zero says nothing at all.
pub(super) fn nitrogen(space: &HypothesisSpace, case: &Case) -> Option<Piece> {
    let reads = Reads {
        nitrite: nitrite(&case.observed),
        ammonia: ammonia(case),
    };
    if reads.nitrite.is_none() && reads.ammonia.is_none() {
        return None;
    }
    let measurable = reads.sure(|read| read.measurable);
    let harmful = reads.sure(|read| read.harmful);
    if measurable <= 0.5 && hides_ammonia(case) {
        let says = "No ammonia to read, but something here binds it: that says nothing".to_owned();
        return Some(Piece {
            origin: Origin::Computed,
            says,
            alarms: false,
            likelihoods: Likelihoods::PerFault(1.0, vec![1.0; space.candidates.len()]),
        });
    }
    Some(Piece {
        origin: Origin::Computed,
        says: reads.says(measurable > 0.5, harmful > 0.5).to_owned(),
        alarms: measurable > 0.5,
        likelihoods: reads.likelihoods(space),
    })
}

impl Read {
    /// Of a reading with what is measurable and what harms: value, limit and spread of each.
    fn of(index: usize, something: (f64, f64, f64), harm: (f64, f64, f64)) -> Self {
        let (value, limit, _) = harm;
        let rarer = rarer_beyond(value - limit, limit, true);
        let sure = |(value, limit, spread): (f64, f64, f64)| {
            sureness((value - limit) / spread.max(1e-3), rarer)
        };
        Self {
            index,
            measurable: sure(something),
            harmful: sure(harm),
            rarer,
        }
    }
}

fn nitrite(observed: &Observed) -> Option<Read> {
    let (index, reading) = latest(observed, Analyte::NITRITE)?;
    let spread = reading.spread.max(0.01);
    Some(Read::of(
        index,
        (reading.value, NITRITE_LIMIT_MG_L / 2.0, spread),
        (reading.value, NITRITE_LIMIT_MG_L, spread),
    ))
}

/// Ammonia is measurable as such, and harms by its un-ionised part.
fn ammonia(case: &Case) -> Option<Read> {
    let observed = &case.observed;
    let (index, reading) = latest(observed, Analyte::AMMONIA)?;
    let ph = latest(observed, Analyte::PH).map_or(USUAL_PH, |(_, reading)| reading.value);
    let share = chemistry::un_ionised_share(case.water_temperature(), ph);
    let value = reading.value * share;
    let spread = (reading.spread * share).hypot(value * PH_LOG_SPREAD);
    Some(Read::of(
        index,
        (
            reading.value,
            KIT_ZERO_MG_L,
            (reading.spread / 2.0).max(0.01),
        ),
        (value, EIFAC_NH3_N_MG_L, spread),
    ))
}

/// Whether one of two things is so, from how sure it is of each.
fn either(one: f64, other: f64) -> f64 {
    1.0 - (1.0 - one) * (1.0 - other)
}

/// The latest readings of both poisons.
struct Reads {
    nitrite: Option<Read>,
    ammonia: Option<Read>,
}

impl Reads {
    /// How sure it is that one of the two is so high.
    fn sure(&self, of: fn(&Read) -> f64) -> f64 {
        let [nitrite, ammonia] =
            [&self.nitrite, &self.ammonia].map(|read| read.as_ref().map_or(UNREAD_IS_HIGH, of));
        either(nitrite, ammonia)
    }

    fn says(&self, measurable: bool, harmful: bool) -> &'static str {
        match (measurable, harmful) {
            (_, true) => computed::TOXIC_NITROGEN.says,
            (true, false) => "Ammonia or nitrite can be read, at a level that harms no gills yet",
            _ if self.nitrite.is_none() => "Ammonia is harmless; nitrite was not read",
            _ if self.ammonia.is_none() => "Nitrite is harmless; ammonia was not read",
            _ => computed::NITROGEN_MEASURABLE.says_not,
        }
    }

    fn likelihoods(&self, space: &HypothesisSpace) -> Likelihoods {
        let reads = [self.nitrite.as_ref(), self.ammonia.as_ref()];
        // What lies far beyond harm comes about without a fault so much the more seldom.
        let rarest = reads
            .into_iter()
            .flatten()
            .map(|read| read.rarer)
            .fold(1.0, f64::min);
        let [some, harm] =
            [&computed::NITROGEN_MEASURABLE, &computed::TOXIC_NITROGEN].map(|finding| {
                let node = node(&space.candidates, finding);
                NoisyOr {
                    leak: node.leak * rarest,
                    ..node
                }
                .chances(&space.hypotheses)
            });
        let misread = reads.map(|read| {
            read.map_or(FaultSet::NONE, |read| {
                FaultSet::NONE.with(space.misread_of(read.index))
            })
        });
        let as_read = likelihood(reads, [false; 2]);
        let mut of_sets: Vec<f64> = some
            .iter()
            .zip(&harm)
            .map(|(some, harm)| as_read(*some, *harm))
            .collect();
        let any_misread = misread
            .into_iter()
            .flat_map(FaultSet::iter)
            .fold(FaultSet::NONE, FaultSet::with);
        space.hypotheses.each_holding(any_misread, |set| {
            let off =
                misread.map(|misread| space.hypotheses.sets()[set].only(misread) != FaultSet::NONE);
            of_sets[set] = likelihood(reads, off)(some[set], harm[set]);
        });
        Likelihoods::PerSet(of_sets)
    }
}

/// The likelihood of what was read, nitrite first, some of it by kits that are off, from the chance
/// of anything measurable and of harm.
fn likelihood(reads: [Option<&Read>; 2], off: [bool; 2]) -> impl Fn(f64, f64) -> f64 {
    let sure = |of: fn(&Read) -> f64| {
        let not = |which: usize| match reads[which] {
            Some(_) if off[which] => 0.5,
            Some(read) => 1.0 - of(read),
            None => 1.0 - UNREAD_IS_HIGH,
        };
        1.0 - not(0) * not(1)
    };
    // A kit that is off shows as much no oftener than tanks without a fault do.
    let rarer: f64 = [0, 1]
        .into_iter()
        .filter(|which| off[*which])
        .filter_map(|which| reads[which])
        .map(|read| read.rarer)
        .product();
    let some = sure(|read| read.measurable);
    let harm = sure(|read| read.harmful).min(some);
    move |of_some: f64, of_harm: f64| {
        let of_harm = of_harm.min(of_some);
        rarer
            * ((1.0 - some) * (1.0 - of_some)
                + (some - harm) * (of_some - of_harm)
                + harm * of_harm)
    }
}

/// Something takes or binds ammonia here: by the tank file, or by what was done in the last weeks.
fn hides_ammonia(Case { tank, observed }: &Case) -> bool {
    /// How long a medium is reckoned to last, days. From memory.
    const LASTS_DAYS: f64 = 60.0;
    let lately = |event: &Finding| observed.happened_within(event, LASTS_DAYS);
    tank.binds_ammonia()
        || lately(&upkeep::BINDING_CONDITIONER_USED)
        || lately(&upkeep::CHEMICAL_MEDIA_ADDED)
}

/// A nitrate reading against what feed and water changes should have brought; `None` where plants
/// or a medium take it first, where little is fed, or in a tank younger than a few weeks.
pub(super) fn nitrate_absent(
    space: &HypothesisSpace,
    Case { tank, observed }: &Case,
) -> Option<Piece> {
    /// Younger than this nothing is to be expected, days. A judgement.
    const WEEKS_DAYS: f64 = 42.0;
    /// What should come to less than this by the next change tells nothing, mg/L of the ion.
    const LEAST_MG_L: f64 = 10.0;
    /// Less than this share of it is hardly any; how much that is, is known to half. All from
    /// memory.
    const HARDLY: f64 = 0.25;
    /// The lowest patches of a card lie nearer to each other than the others.
    const LOW_ON_THE_CARD: f64 = 0.5;
    let (index, reading) = latest(observed, Analyte::NITRATE)?;
    let young = observed.happened_within(&upkeep::TANK_SET_UP, WEEKS_DAYS);
    let peak = numbers::nitrate_peak_mg_l(tank, 0.0);
    if young || peak < LEAST_MG_L || tank.plants.planting > Planting::Sparse || tank.takes_nitrate()
    {
        return None;
    }
    let limit = HARDLY * peak / NITRATE_PER_NITROGEN;
    let spread = (LOW_ON_THE_CARD * reading.spread).hypot(0.5 * limit);
    let misread = FaultSet::NONE.with(space.misread_of(index));
    let likelihoods = crossed(
        space,
        &computed::NITRATE_ABSENT,
        sureness((limit - reading.value) / spread, 1.0),
        misread,
        1.0,
    );
    let says = if reading.value < limit {
        computed::NITRATE_ABSENT.says
    } else {
        computed::NITRATE_ABSENT.says_not
    };
    Some(Piece {
        origin: Origin::Computed,
        says: says.to_owned(),
        alarms: false,
        likelihoods,
    })
}

pub(super) fn carbon_dioxide(space: &HypothesisSpace, observed: &Observed) -> Option<Piece> {
    let ((ph_index, ph), (kh_index, kh)) = (
        latest(observed, Analyte::PH)?,
        latest(observed, Analyte::KH)?,
    );
    let co2 = chemistry::from_ph_and_kh(ph.value, kh.value).as_mg_l();
    let rarer = rarer_beyond(co2 - carbon::CEILING_MG_L, carbon::CEILING_MG_L, true);
    let sureness = sureness(
        (co2.max(0.01) / carbon::CEILING_MG_L).ln() / PH_LOG_SPREAD,
        rarer,
    );
    let misread = FaultSet::NONE
        .with(space.misread_of(ph_index))
        .with(space.misread_of(kh_index));
    let likelihoods = crossed(space, &computed::CO2_COMPUTED, sureness, misread, rarer);
    let says = format!("pH and KH mean {co2:.0} mg/L of carbon dioxide");
    Some(Piece {
        origin: Origin::Computed,
        says,
        alarms: sureness > 0.5,
        likelihoods,
    })
}
