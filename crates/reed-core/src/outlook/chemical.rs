//! Chemical media: one problem, one medium, for as long as the problem is there.
//!
//! All that a medium wins is hours; what it takes it does not make less of. To add a problem: its
//! card here, and the medium's row.

use jiff::ToSpan;
use jiff::civil::Date;

use crate::figure::Figure;
use crate::outlook::ahead::Setting;
use crate::tank::{Medium, Planting, Purpose, Species, Tank};

/// A named problem and the medium that is used against it. Common practice.
#[derive(Debug, PartialEq)]
pub struct Problem {
    /// Id in forms.
    pub id: &'static str,
    /// As a keeper would say it.
    pub words: &'static str,
    /// Against it.
    pub medium: Medium,
    /// The species of nitrogen that is meant to fill it.
    pub species: Option<Species>,
    /// Litres of it for a hundred litres of water.
    pub litres_per_100: Figure,
    /// What comes before it, or instead.
    pub first: &'static str,
    /// When to take it out, besides its time.
    pub until: &'static str,
}

/// Every problem that a medium is used against.
pub const PROBLEMS: &[Problem] = &[
    Problem {
        id: "ammonia",
        words: "Ammonia: a bridge until the bacteria carry the load, or a quarantine",
        medium: Medium::AmmoniaResin,
        species: Some(Species::Ammonia),
        litres_per_100: Figure::from_memory(0.4),
        first: "Feed less and change water: that helps today, and animals are no source of ammonia for a new tank.",
        until: "Out in two parts as soon as bacteria carry the load: while it is in they go hungry.",
    },
    Problem {
        id: "nitrate",
        words: "Nitrate that water changes do not hold, in a young tank",
        medium: Medium::NitrateResin,
        species: Some(Species::Nitrate),
        litres_per_100: Figure::from_memory(0.3),
        first: "Larger or more frequent changes, less feed, fast plants; and look at the tap's own nitrate.",
        until: "Out when changes hold it.",
    },
    Problem {
        id: "phosphate",
        words: "Nuisance algae, with feeding already right",
        medium: Medium::PhosphateRemover,
        species: None,
        litres_per_100: Figure::from_memory(0.1),
        first: "Feed less and take leftovers out: otherwise it is full within weeks, again and again.",
        until: "Out when the test shows that phosphate stays down.",
    },
    Problem {
        id: "tint",
        words: "A tint, a smell, or what is left of a medicine after its course",
        medium: Medium::Carbon,
        species: None,
        litres_per_100: Figure::from_memory(0.3),
        first: "A large water change does most of it. For a medicine: from the day the course ends, never before.",
        until: "In a bag, out after two months at the latest: it may give back what it took.",
    },
    Problem {
        id: "losses",
        words: "Losses with good readings, above all of shrimp: something that no kit reads",
        medium: Medium::AdsorbentPad,
        species: None,
        litres_per_100: Figure::from_memory(0.05),
        first: "A large water change with water you trust; read copper if you can. Its colour is a clue: blue copper, yellow ammonia, tan to brown organics; its packet says more.",
        until: "Out when the losses have stopped for some weeks.",
    },
];

/// What a medium would do in a tank.
#[derive(Clone, Debug, PartialEq)]
pub struct Advice {
    /// Litres to put in.
    pub litres: f64,
    /// Hours it wins at the load of now, if it got all of it; `None` where that is not what fills
    /// it.
    pub hours: Option<f64>,
    /// Comes out on this day at the latest.
    pub out_by: Date,
    /// Why not to use it here and now; empty when nothing speaks against it.
    pub against: Vec<&'static str>,
}

/// The problem with this id.
pub fn problem(id: &str) -> Option<&'static Problem> {
    PROBLEMS.iter().find(|problem| problem.id == id)
}

/// Hours until a medium is full: litres · capacity / load. All the load goes into it, which is its
/// least.
pub fn hours_until_full(medium: Medium, litres: f64, nitrogen_g_per_day: f64) -> Option<f64> {
    let takes = medium.takes()?;
    (nitrogen_g_per_day > 0.0)
        .then(|| 24.0 * litres * takes.holds_g_per_l.value / nitrogen_g_per_day)
}

impl Problem {
    /// What its medium would do in a tank, from today on.
    pub fn advice(&self, tank: &Tank, setting: &Setting, today: Date) -> Advice {
        let litres = self.litres_per_100.value * setting.litres / 100.0;
        let days = self
            .medium
            .comes_out_after_days()
            .map_or(30.0, |figure| figure.value);
        #[expect(clippy::cast_possible_truncation, reason = "some weeks")]
        let out_by = today.saturating_add((days as i64).days());
        Advice {
            litres,
            hours: self.species.and_then(|_| {
                hours_until_full(self.medium, litres, setting.load * setting.litres / 1000.0)
            }),
            out_by,
            against: against(self.medium, tank, setting),
        }
    }
}

/// What speaks against a medium in a tank.
fn against(medium: Medium, tank: &Tank, setting: &Setting) -> Vec<&'static str> {
    let strips_medicine = matches!(
        medium,
        Medium::Carbon | Medium::AdsorbentPad | Medium::AmmoniaResin | Medium::NitrateResin
    );
    let strips_plant_food = matches!(
        medium,
        Medium::Carbon | Medium::AdsorbentPad | Medium::PhosphateRemover | Medium::NitrateResin
    );
    [
        (
            strips_medicine && tank.purpose == Purpose::Treatment,
            "A course is running here: it would take the medicine out. It goes in on the day the course ends.",
        ),
        (
            strips_plant_food && tank.plants.planting >= Planting::Dense,
            "It takes fertiliser from a dense planting, and plants do its work already.",
        ),
        (
            medium.takes_species(Species::Ammonia) && setting.young_days.is_some(),
            "The colony is new: it is fed only by what the medium lets through, and the cycle takes longer.",
        ),
        (medium.takes_species(Species::Ammonia) && tank.salinity.is_salt_water(), "In salt water it takes hardly any ammonia."),
        (
            chemicals_in(tank) >= MOST_AT_ONCE,
            "Two are in already. More than two at once hide each other's work and are a fault of their own.",
        ),
    ]
    .into_iter()
    .filter_map(|(is, words)| is.then_some(words))
    .collect()
}

/// More additives at once are a finding. Common practice.
pub const MOST_AT_ONCE: usize = 2;

/// Kinds of chemical media in the filters of a tank.
pub fn chemicals_in(tank: &Tank) -> usize {
    let in_use = |medium: &&Medium| {
        tank.filters
            .iter()
            .flat_map(|filter| filter.media())
            .any(|portion| portion.medium == **medium)
    };
    Medium::ALL
        .iter()
        .filter(|medium| medium.comes_out_after_days().is_some())
        .filter(in_use)
        .count()
}

/// A chemical medium in a tank with the day on which it comes out at the latest; `None` where
/// nobody knows when it went in.
pub fn in_use(tank: &Tank) -> Vec<(Medium, Option<Date>)> {
    tank.filters
        .iter()
        .flat_map(|filter| filter.media())
        .filter_map(|portion| {
            let days = portion.medium.comes_out_after_days()?.value;
            #[expect(clippy::cast_possible_truncation, reason = "some weeks")]
            let out = portion
                .put_in
                .map(|day| day.saturating_add((days as i64).days()));
            Some((portion.medium, out))
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use jiff::civil::{Date, date};

    use super::{PROBLEMS, chemicals_in, hours_until_full, in_use, problem};
    use crate::document::start;
    use crate::outlook::ahead::{Setting, Tap};
    use crate::tank::{Medium, Planting, Portion, Purpose, Stage, Tank};
    use crate::twin::Stirring;
    use crate::units::Volume;

    const TODAY: Date = date(2026, 3, 10);

    fn tank() -> Tank {
        let mut tank = start::by_id("planted-canister").expect("listed").tank();
        tank.plants.planting = Planting::Sparse;
        tank
    }

    fn setting(tank: &Tank) -> Setting {
        Setting::of(
            tank,
            Stirring::AS_IT_LOOKS,
            TODAY.at(9, 0, 0, 0),
            &Tap::default(),
        )
    }

    #[test]
    fn every_chemical_medium_has_one_problem_and_comes_out_again() {
        for medium in Medium::ALL
            .iter()
            .filter(|medium| medium.stage() == Stage::Chemical)
        {
            assert_eq!(
                PROBLEMS
                    .iter()
                    .filter(|problem| problem.medium == *medium)
                    .count(),
                1,
                "{}",
                medium.words()
            );
            assert!(medium.comes_out_after_days().is_some());
        }
        let tank = tank();
        for card in PROBLEMS {
            let advice = card.advice(&tank, &setting(&tank), TODAY);
            assert!(
                card.species
                    .is_none_or(|species| card.medium.takes_species(species))
            );
            assert!(
                problem(card.id) == Some(card) && advice.litres > 0.0 && advice.out_by > TODAY,
                "{}",
                card.id
            );
            assert!(
                advice.against.is_empty(),
                "{}: {:?}",
                card.id,
                advice.against
            );
        }
    }

    /// By hand: half a litre at 1.2 g/L lasts two days against 0.3 g N a day; carbon is not filled
    /// by nitrogen.
    #[test]
    fn hours_are_litres_times_capacity_over_load() {
        assert!(
            (hours_until_full(Medium::AmmoniaResin, 0.5, 0.3).expect("it fills") - 48.0).abs()
                < 1e-9
        );
        assert_eq!(hours_until_full(Medium::Carbon, 0.5, 0.3), None);
        assert_eq!(hours_until_full(Medium::AmmoniaResin, 0.5, 0.0), None);
    }

    #[test]
    fn what_speaks_against_it_is_said() {
        let advice = |tank: &Tank, id: &str| {
            problem(id)
                .expect("listed")
                .advice(tank, &setting(tank), TODAY)
                .against
        };
        let treated = Tank {
            purpose: Purpose::Treatment,
            ..tank()
        };
        assert!(
            advice(&treated, "tint")[0].contains("course")
                && advice(&treated, "phosphate").is_empty()
        );
        let young = Tank {
            set_up: Some(date(2026, 3, 1)),
            ..tank()
        };
        assert!(advice(&young, "ammonia")[0].contains("colony is new"));
        let mut planted = tank();
        planted.plants.planting = Planting::Dense;
        assert!(advice(&planted, "nitrate")[0].contains("fertiliser"));
        let mut treated = tank();
        for medium in [Medium::Carbon, Medium::PhosphateRemover] {
            let put_in = (medium == Medium::Carbon).then(|| date(2026, 2, 1));
            treated.filters[0].trays[0].media.push(Portion {
                medium,
                litres: Volume::litres(0.2),
                put_in,
                ..Portion::default()
            });
        }
        let before = chemicals_in(&tank());
        assert_eq!(chemicals_in(&treated), before + 2);
        assert!(
            advice(&treated, "losses")
                .iter()
                .any(|words| words.contains("Two are in"))
        );
        assert!(
            in_use(&treated).contains(&(Medium::Carbon, Some(date(2026, 4, 2))))
                && in_use(&treated).contains(&(Medium::PhosphateRemover, None))
        );
    }
}
