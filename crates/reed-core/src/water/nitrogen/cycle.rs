//! Two-step nitrification in one well-mixed box: ammonia to nitrite to nitrate by two colonies that
//! grow on surfaces.
//!
//! `dTAN/dt = load − r_A`, `dNO₂/dt = r_A − r_N`, `dNO₃/dt = r_N`, `dX/dt = growth − decay`, `r =
//! growth / yield`, `dAlk/dt = a·load − r_A/7`; growth is Monod in nitrogen, oxygen and, for the
//! first step, alkalinity. The form is that of the activated-sludge models (Henze et al. 1987 and
//! after). Nitrogen built into cells is left out, so ammonia, nitrite and nitrate together grow by
//! the load exactly.
//!
//! What the box alone leaves out is that a film can only cover so much: each colony is capped by
//! the surface it has ([`Conditions::most`]), at what
//! [`areal_rate_g_m2_day`](super::areal_rate_g_m2_day) lets it turn over.

use super::capture::Grains;
use super::surface::MOST_G_M2_DAY;
use crate::tank::PerSpecies;
use crate::units::Temperature;

/// Milliequivalents of alkalinity that a milligram of nitrogen uses up: two of them for each 14 mg.
/// By stoichiometry.
pub const ALKALINITY_PER_N: f64 = 1.0 / 7.0;
/// Milliequivalents that a milligram of nitrogen brings when it leaves an animal as ammonia.
pub const ALKALINITY_OF_WASTE: f64 = 1.0 / 14.0;

/// How the two colonies live: first those that take ammonia, then those that take nitrite. At 25
/// °C, per day and mg/L.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Kinetics {
    /// Fastest growth, 1/d.
    pub growth: [f64; 2],
    /// Factor on growth per degree.
    pub growth_per_degree: [f64; 2],
    /// Nitrogen at which they grow half as fast, mg N/L.
    pub half_nitrogen: [f64; 2],
    /// Oxygen at which they do, mg/L.
    pub half_oxygen: [f64; 2],
    /// Alkalinity at which the first do, meq/L.
    pub half_alkalinity: f64,
    /// Cells grown per nitrogen turned over, mg COD per mg N.
    pub yields: [f64; 2],
    /// Loss, 1/d, and its factor per degree.
    pub decay: [f64; 2],
    /// Factor on loss per degree.
    pub decay_per_degree: f64,
}

impl Default for Kinetics {
    /// From memory, within the ranges common in the activated-sludge literature; fitted to no
    /// measurement.
    fn default() -> Self {
        Self {
            growth: [0.9, 0.75],
            growth_per_degree: [1.08, 1.07],
            half_nitrogen: [0.5, 0.5],
            half_oxygen: [0.5, 1.0],
            half_alkalinity: 0.5,
            yields: [0.2, 0.06],
            decay: [0.05, 0.05],
            decay_per_degree: 1.08,
        }
    }
}

/// What is in the water and on its surfaces, all per litre of water.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct State {
    /// Total ammonia, mg N/L.
    pub tan: f64,
    /// Nitrite, mg N/L.
    pub nitrite: f64,
    /// Nitrate, mg N/L.
    pub nitrate: f64,
    /// The two colonies, mg COD/L.
    pub colonies: [f64; 2],
    /// Alkalinity, meq/L.
    pub alkalinity: f64,
    /// What media hold: of ammonia, and of nitrate, mg N/L.
    pub taken: PerSpecies<f64>,
}

/// What stays the same for a while.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Conditions {
    /// Of the water.
    pub temperature: Temperature,
    /// Of the water at its surfaces, mg/L.
    pub oxygen: f64,
    /// Nitrogen set free, mg N/L and day.
    pub load: f64,
    /// Alkalinity that comes with it, meq per mg N.
    pub alkalinity_of_load: f64,
    /// Most of each colony that its surfaces hold, mg COD/L; infinite for the box alone.
    pub most: [f64; 2],
    /// Media that take ammonia, and nitrate.
    pub media: PerSpecies<Option<Grains>>,
    /// Share of the colonies that lives in filters, where it meets the media.
    pub in_filters: f64,
}

impl Kinetics {
    /// Most of each colony on so much surface in so much water, mg COD/L: what turns over as much
    /// as a settled film does.
    pub fn most_on(&self, surface_m2: f64, litres: f64) -> [f64; 2] {
        let nitrogen = MOST_G_M2_DAY.value * 1000.0 * surface_m2 / litres;
        [0, 1].map(|step| nitrogen * self.yields[step] / self.growth[step])
    }

    /// The colonies that a steady load feeds, no more than their surfaces hold, mg COD/L.
    pub fn settled(&self, conditions: &Conditions) -> [f64; 2] {
        let warmer = conditions.temperature.as_celsius() - 25.0;
        [0, 1].map(|step| {
            let loss = self.decay[step] * self.decay_per_degree.powf(warmer);
            (conditions.load * self.yields[step] / loss).min(conditions.most[step])
        })
    }
}

/// Kinetics under conditions, ready for stepping.
struct Rates {
    growth: [f64; 2],
    half_nitrogen: [f64; 2],
    half_alkalinity: f64,
    per_yield: [f64; 2],
    decay: [f64; 2],
    load: f64,
    alkalinity: f64,
    media: PerSpecies<Option<Grains>>,
    in_filters: f64,
}

impl Rates {
    fn of(kinetics: &Kinetics, conditions: &Conditions) -> Self {
        let warmer = conditions.temperature.as_celsius() - 25.0;
        let oxygen = conditions.oxygen.max(0.0);
        Self {
            growth: [0, 1].map(|step| {
                kinetics.growth[step] * kinetics.growth_per_degree[step].powf(warmer) * oxygen
                    / (oxygen + kinetics.half_oxygen[step])
            }),
            half_nitrogen: kinetics.half_nitrogen,
            half_alkalinity: kinetics.half_alkalinity,
            per_yield: kinetics.yields.map(f64::recip),
            decay: kinetics
                .decay
                .map(|decay| decay * kinetics.decay_per_degree.powf(warmer)),
            load: conditions.load,
            alkalinity: conditions.load * conditions.alkalinity_of_load,
            media: conditions.media,
            in_filters: conditions.in_filters,
        }
    }

    /// Change per day. What a step took below zero counts as zero. `N` is [`WATER`] where there are
    /// no media, else [`ALL`]: what media hold comes last.
    fn slope<const N: usize>(&self, parts: [f64; N]) -> [f64; N] {
        let [tan, nitrite, nitrate, first, second, alkalinity] =
            std::array::from_fn(|part| parts[part]);
        let monod = |value: f64, half: f64| value.max(0.0) / (value.max(0.0) + half);
        let fed = monod(tan, self.half_nitrogen[0]);
        let growth = self.growth[0] * monod(alkalinity, self.half_alkalinity) * first.max(0.0);
        let second_grown = self.growth[1] * monod(nitrite, self.half_nitrogen[1]) * second.max(0.0);
        let second_turned = second_grown * self.per_yield[1];
        let mut slope = [0.0; N];
        let mut write = |grown: f64, taken: [f64; 2]| {
            let turned = grown * self.per_yield[0];
            let all = [
                self.load - turned - taken[0],
                turned - second_turned,
                second_turned - taken[1],
                grown - self.decay[0] * first,
                second_grown - self.decay[1] * second,
                self.alkalinity - turned * ALKALINITY_PER_N,
                taken[0],
                taken[1],
            ];
            slope.copy_from_slice(&all[..N]);
        };
        if N == WATER {
            write(growth * fed, [0.0; 2]);
            return slope;
        }
        let (held, held_nitrate) = (parts[WATER], parts[WATER + 1]);
        let fed = match self.media.ammonia {
            Some(medium) if medium.is_first => {
                let left = tan * (1.0 - medium.per_pass_after(held));
                self.in_filters * monod(left, self.half_nitrogen[0]) + (1.0 - self.in_filters) * fed
            }
            _ => fed,
        };
        let taken = self.media.ammonia.map_or(0.0, |medium| {
            let passing = medium.passes_per_day * tan.max(0.0);
            // What comes last sees what the bacteria of the filter left of a pass.
            let turned = growth * fed * self.per_yield[0];
            let seen = if medium.is_first {
                passing
            } else {
                (passing - self.in_filters * turned).max(0.0)
            };
            seen * medium.per_pass_after(held)
        });
        let taken_nitrate = self.media.nitrate.map_or(0.0, |medium| {
            medium.passes_per_day * nitrate.max(0.0) * medium.per_pass_after(held_nitrate)
        });
        write(growth * fed, [taken, taken_nitrate]);
        slope
    }

    /// Longest step that follows the fastest change, days.
    fn longest(&self, state: &State) -> f64 {
        let fastest = [0, 1].map(|step| {
            self.growth[step] * state.colonies[step] * self.per_yield[step]
                / self.half_nitrogen[step]
        });
        let media = self
            .media
            .both()
            .into_iter()
            .flatten()
            .map(|medium| medium.passes_per_day * medium.per_pass)
            .fold(0.0, f64::max);
        (STEADY / fastest[0].max(fastest[1]).max(media).max(f64::MIN_POSITIVE)).min(LONGEST_DAYS)
    }
}

/// Longest step, days, and how much of the fastest decay a step may cover: the classical scheme of
/// fourth order is stable to 2.78. Numeric, no result hangs on it.
const LONGEST_DAYS: f64 = 0.1;
const STEADY: f64 = 1.0;
/// Numbers in a [`State`] but for what media hold, and all of them.
const WATER: usize = 6;
const ALL: usize = 8;

impl State {
    const fn packed(&self) -> [f64; ALL] {
        [
            self.tan,
            self.nitrite,
            self.nitrate,
            self.colonies[0],
            self.colonies[1],
            self.alkalinity,
            self.taken.ammonia,
            self.taken.nitrate,
        ]
    }

    const fn unpacked(
        [
            tan,
            nitrite,
            nitrate,
            first,
            second,
            alkalinity,
            held,
            held_nitrate,
        ]: [f64; ALL],
    ) -> Self {
        Self {
            tan,
            nitrite,
            nitrate,
            colonies: [first, second],
            alkalinity,
            taken: PerSpecies {
                ammonia: held,
                nitrate: held_nitrate,
            },
        }
    }

    /// Moves it on by so many days under these conditions: classical Runge–Kutta.
    pub fn advance(&mut self, kinetics: &Kinetics, conditions: &Conditions, days: f64) {
        if conditions.media == PerSpecies::default() {
            self.advance_parts::<WATER>(kinetics, conditions, days);
        } else {
            self.advance_parts::<ALL>(kinetics, conditions, days);
        }
    }

    fn advance_parts<const N: usize>(
        &mut self,
        kinetics: &Kinetics,
        conditions: &Conditions,
        days: f64,
    ) {
        let rates = Rates::of(kinetics, conditions);
        let mut left = days;
        while left > 1e-9 {
            let dt = rates.longest(self).min(left);
            let mut packed = self.packed();
            let here: [f64; N] = std::array::from_fn(|part| packed[part]);
            let ahead = |slope: &[f64; N], by: f64| -> [f64; N] {
                std::array::from_fn(|part| here[part] + by * slope[part])
            };
            let one = rates.slope(here);
            let two = rates.slope(ahead(&one, dt / 2.0));
            let three = rates.slope(ahead(&two, dt / 2.0));
            let four = rates.slope(ahead(&three, dt));
            for part in 0..N {
                packed[part] +=
                    dt / 6.0 * (one[part] + 2.0 * two[part] + 2.0 * three[part] + four[part]);
            }
            *self = Self::unpacked(packed);
            // What does not fit on the surface is shed.
            self.colonies = [0, 1].map(|step| self.colonies[step].min(conditions.most[step]));
            if N == ALL {
                self.spill(&conditions.media);
            }
            left -= dt;
        }
    }

    /// A small medium may be full within a step: what is too much for it stays in the water.
    fn spill(&mut self, media: &PerSpecies<Option<Grains>>) {
        let over = PerSpecies::of(|species| {
            media[species].map_or(0.0, |medium| (self.taken[species] - medium.holds).max(0.0))
        });
        self.taken = PerSpecies::of(|species| self.taken[species] - over[species]);
        self.tan += over.ammonia;
        self.nitrate += over.nitrate;
    }

    /// Replaces a fraction of the water by water that holds so much; colonies sit on surfaces and
    /// stay.
    pub fn change_water(&mut self, fraction: f64, source: &Self) {
        let mix = |here: f64, there: f64| (1.0 - fraction) * here + fraction * there;
        self.tan = mix(self.tan, source.tan);
        self.nitrite = mix(self.nitrite, source.nitrite);
        self.nitrate = mix(self.nitrate, source.nitrate);
        self.alkalinity = mix(self.alkalinity, source.alkalinity);
    }

    /// Leaves so much of each colony.
    pub fn thin(&mut self, left: [f64; 2]) {
        self.colonies = [0, 1].map(|step| self.colonies[step] * left[step].clamp(0.0, 1.0));
    }

    /// Nitrogen in the water and in media, mg N/L.
    pub fn nitrogen(&self) -> f64 {
        self.tan + self.nitrite + self.nitrate + self.taken.ammonia + self.taken.nitrate
    }
}

#[cfg(test)]
mod tests {
    use super::super::capture::{Grains, share_of_bacteria};
    use super::{ALKALINITY_OF_WASTE, Conditions, Kinetics, State};
    use crate::tank::PerSpecies;
    use crate::units::Temperature;

    fn conditions(load: f64, most: [f64; 2]) -> Conditions {
        let temperature = Temperature::celsius(25.0);
        Conditions {
            temperature,
            oxygen: 8.0,
            load,
            alkalinity_of_load: ALKALINITY_OF_WASTE,
            most,
            media: PerSpecies::default(),
            in_filters: 0.8,
        }
    }

    #[test]
    fn nitrogen_is_neither_made_nor_lost() {
        let mut state = State {
            tan: 0.3,
            colonies: [0.01, 0.002],
            alkalinity: 4.0,
            ..State::default()
        };
        state.advance(
            &Kinetics::default(),
            &conditions(0.4, [f64::INFINITY; 2]),
            40.0,
        );
        assert!(
            (state.nitrogen() - 0.3 - 0.4 * 40.0).abs() < 1e-9,
            "{state:?}"
        );
        state.change_water(0.5, &State::default());
        assert!((state.nitrogen() - 8.15).abs() < 1e-9);
    }

    const GRAINS: Grains = Grains {
        passes_per_day: 60.0,
        per_pass: 0.4,
        holds: 20.0,
        is_first: false,
    };

    /// A medium keeps a new colony hungry; when it is full the ammonia comes all the same, and
    /// later.
    #[test]
    fn a_medium_puts_a_new_cycle_off_and_loses_nothing() {
        let after = |medium: Option<Grains>, days: f64| {
            let mut state = State {
                colonies: [0.002, 0.0006],
                alkalinity: 20.0,
                ..State::default()
            };
            state.advance(
                &Kinetics::default(),
                &Conditions {
                    media: PerSpecies {
                        ammonia: medium,
                        nitrate: None,
                    },
                    ..conditions(0.5, [f64::INFINITY; 2])
                },
                days,
            );
            assert!((state.nitrogen() - 0.5 * days).abs() < 1e-6, "{state:?}");
            state
        };
        let (none, with) = (after(None, 8.0), after(Some(GRAINS), 8.0));
        assert!(
            with.tan < 0.1 * none.tan
                && with.taken.ammonia > 3.9
                && none.colonies[0] > 3.0 * with.colonies[0],
            "{with:?} for {none:?}"
        );
        let spent = after(
            Some(Grains {
                holds: 5.0,
                ..GRAINS
            }),
            20.0,
        );
        assert!(
            spent.taken.ammonia <= 5.0 && spent.tan + spent.nitrite > 4.0,
            "{spent:?}"
        );
        let nitrate = Conditions {
            media: PerSpecies {
                ammonia: None,
                nitrate: Some(GRAINS),
            },
            ..conditions(0.5, [f64::INFINITY; 2])
        };
        let mut state = State {
            nitrate: 10.0,
            ..State::default()
        };
        state.advance(&Kinetics::default(), &nitrate, 2.0);
        assert!(
            state.nitrate < 0.1 && (state.taken.nitrate - 10.0).abs() < 0.1,
            "{state:?}"
        );
    }

    /// What a settled colony in a filter gets beside a fresh medium is what the formula of capture
    /// says.
    #[test]
    fn a_settled_colony_gets_its_share_by_the_order() {
        let kinetics = Kinetics::default();
        let settled = kinetics.settled(&conditions(0.5, [f64::INFINITY; 2]));
        let bacteria_get = |is_first| {
            let media = PerSpecies {
                ammonia: Some(Grains {
                    holds: 1e6,
                    is_first,
                    ..GRAINS
                }),
                nitrate: None,
            };
            let conditions = Conditions {
                media,
                in_filters: 1.0,
                ..conditions(0.5, [f64::INFINITY; 2])
            };
            let mut state = State {
                colonies: settled,
                alkalinity: 1e6,
                ..State::default()
            };
            state.advance(&kinetics, &conditions, 0.3);
            let [tan, before] = [state.tan, state.taken.ammonia];
            state.advance(&kinetics, &conditions, 0.1);
            let taken = state.taken.ammonia - before;
            // Of a pass: what the film takes where there is little ammonia.
            let passing = 60.0 * tan * 0.1;
            let turned = 0.5 * 0.1 - taken;
            let captured = if is_first {
                turned / (passing * 0.6)
            } else {
                turned / passing
            };
            (
                turned / (0.5 * 0.1),
                share_of_bacteria(captured, 0.4, is_first),
            )
        };
        for is_first in [false, true] {
            let (got, formula) = bacteria_get(is_first);
            assert!(
                (got / formula - 1.0).abs() < 0.03,
                "{got} by the course, {formula} by the formula"
            );
        }
        assert!(bacteria_get(false).0 > 1.2 * bacteria_get(true).0);
    }

    /// A colony that its surface does not hold cannot carry the load: ammonia rises by what is too
    /// much.
    #[test]
    fn a_surface_that_is_too_small_lets_ammonia_rise() {
        let kinetics = Kinetics::default();
        // 0.6 g/m²/d on 0.1 m² in 100 L: 0.6 mg/L/d at the very most.
        let most = kinetics.most_on(0.1, 100.0);
        let mut state = State {
            alkalinity: 50.0,
            colonies: most,
            ..State::default()
        };
        state.advance(&kinetics, &conditions(1.0, most), 20.0);
        assert!(
            state.tan > 0.35 * 20.0 && state.colonies[0] <= most[0],
            "{state:?}"
        );
        let ample = kinetics.most_on(5.0, 100.0);
        let mut state = State {
            alkalinity: 50.0,
            colonies: kinetics.settled(&conditions(1.0, ample)),
            ..State::default()
        };
        state.advance(&kinetics, &conditions(1.0, ample), 20.0);
        assert!(state.tan < 0.1 && state.nitrite < 0.1, "{state:?}");
    }
}
