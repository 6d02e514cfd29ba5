//! Which kind of filter would serve a tank: what can be computed of each, and what keepers say of
//! the rest.

use crate::figure::Figure;
use crate::filter::{Load, Plumbing};
use crate::tank::{Filter, FilterKind, Medium, Portion, Tank, Tray};
use crate::twin::numbers::Capacity;
use crate::units::{FlowRate, Volume};

/// Times the water should pass the filters an hour, in the middle of what is usual. Common practice.
const TURNOVER: Figure = Figure::common_practice(5.0);

/// A kind of filter for a tank.
#[derive(Clone, Debug, PartialEq)]
pub struct Choice {
    /// The kind.
    pub kind: FilterKind,
    /// It stands here already.
    pub stands_here: bool,
    /// A label that would give the usual turnover, L/h.
    pub rated_l_per_h: f64,
    /// What it would move clean, L/h, by its usual pump and hoses.
    pub clean_l_per_h: f64,
    /// How many times its media alone would carry what is fed; none without feed.
    pub capacity: Option<f64>,
    /// Share of the dirt that comes to it that stays in it.
    pub catches: f64,
    /// Days from clean to full, all dirt of the tank coming to it that usually would.
    pub lasts_days: f64,
    /// Minutes of labour a month, by how often it wants opening.
    pub minutes_a_month: f64,
    /// Kilowatt hours a year.
    pub kwh_a_year: f64,
    /// What keepers say of it.
    pub said: Said,
}

/// What keepers say of a kind. Common practice, no source.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Said {
    /// What it does for oxygen.
    pub aeration: &'static str,
    /// How it sounds.
    pub noise: &'static str,
    /// What room it takes, and how it looks.
    pub room: &'static str,
}

/// What is usual of a kind, from memory: how media are stacked along the way, in litres for each
/// 100 L of tank; minutes for an opening; watts for each 100 L/h of label.
struct Usual {
    media: &'static [(Medium, f64)],
    minutes: f64,
    watts: f64,
    said: Said,
}

const CANISTER: Usual = Usual {
    media: &[
        (Medium::FoamCoarse, 0.6),
        (Medium::FoamMedium, 0.4),
        (Medium::Floss, 0.2),
        (Medium::Sintered, 1.8),
    ],
    minutes: 60.0,
    watts: 1.6,
    said: Said {
        aeration: "little by itself; its outlet stirs the surface where it is aimed at it",
        noise: "quiet",
        room: "in the cabinet; only pipes in the tank",
    },
};

const fn usual(kind: FilterKind) -> Option<Usual> {
    Some(match kind {
        FilterKind::RisingBasketCanister => CANISTER,
        FilterKind::HangOnBack => Usual {
            media: &[(Medium::FoamMedium, 0.4), (Medium::Sintered, 0.4)],
            minutes: 12.0,
            watts: 1.2,
            said: Said {
                aeration: "much, while its water falls",
                noise: "a trickle when the level is low",
                room: "behind the tank; a tube in it",
            },
        },
        FilterKind::InternalTopDown => Usual {
            media: &[(Medium::FoamMedium, 0.5), (Medium::Sintered, 0.2)],
            minutes: 12.0,
            watts: 1.2,
            said: Said {
                aeration: "some, at the surface",
                noise: "a hum",
                room: "in the tank, and seen",
            },
        },
        FilterKind::SpongeOnAir => Usual {
            media: &[(Medium::FoamFine, 0.8)],
            minutes: 8.0,
            watts: 0.6,
            said: Said {
                aeration: "much; its bubbles stir the surface",
                noise: "bubbling, and the air pump",
                room: "in the tank, and seen; safe for fry",
            },
        },
        FilterKind::SpongeWithPowerhead => Usual {
            media: &[(Medium::FoamFine, 0.8)],
            minutes: 8.0,
            watts: 1.2,
            said: Said {
                aeration: "none, unless it breaks the surface",
                noise: "quiet",
                room: "in the tank, and seen",
            },
        },
        FilterKind::Sump => Usual {
            media: &[
                (Medium::Sock, 0.4),
                (Medium::FoamCoarse, 1.0),
                (Medium::Sintered, 2.5),
            ],
            minutes: 15.0,
            watts: 2.0,
            said: Said {
                aeration: "much, at weir and falls",
                noise: "falling water",
                room: "much, below the tank; hides heaters, holds more water",
            },
        },
        FilterKind::Mat => Usual {
            media: &[(Medium::FoamMedium, 3.0)],
            minutes: 30.0,
            watts: 1.0,
            said: Said {
                aeration: "some, if air drives it",
                noise: "quiet",
                room: "an end of the tank; what hides behind is forgotten",
            },
        },
        // Built as one of these, or chosen for a purpose of their own.
        FilterKind::FallingBasketCanister
        | FilterKind::RingAndCoreCanister
        | FilterKind::CartridgeSlotCanister
        | FilterKind::InternalSideIn
        | FilterKind::WetDryTower
        | FilterKind::MovingBed => return None,
    })
}

/// The kinds that a tank could have, each of a usual size for it, that which stands here first.
pub fn choices(tank: &Tank) -> Vec<Choice> {
    let litres = tank.net_volume().as_litres();
    let capacity = Capacity::of(tank);
    let mut all: Vec<Choice> = FilterKind::ALL
        .iter()
        .filter_map(|kind| {
            let usual = usual(*kind)?;
            let rated = TURNOVER.value * litres / crate::tank::REAL_SHARE_OF_RATED.value;
            let filter = of_usual_size(*kind, &usual, litres, rated);
            let plumbing = Plumbing::of(tank, &filter);
            let load = Load::of(
                tank,
                &filter,
                &plumbing,
                crate::filter::load::CAUGHT_UNLESS_COMPUTED,
            );
            let stays: f64 = load.stays_g_per_day.iter().sum();
            let lasts_days = load.first_full().map_or(f64::INFINITY, |(_, days)| days);
            let surface: f64 = filter.media().map(Portion::surface_m2).sum();
            let limit = crate::filter::clogging::HARD_LIMIT_DAYS;
            Some(Choice {
                kind: *kind,
                stands_here: tank.filters.iter().any(|own| {
                    own.kind == *kind || own.kind.design().is_canister && kind.design().is_canister
                }),
                rated_l_per_h: rated,
                clean_l_per_h: plumbing.clean().map_or(0.0, |met| met.flow),
                capacity: capacity.ratio().map(|_| surface / capacity.need_m2()),
                catches: if load.g_per_day > 0.0 {
                    stays / load.g_per_day
                } else {
                    0.0
                },
                lasts_days,
                minutes_a_month: usual.minutes * 30.0 / lasts_days.clamp(3.0, limit),
                kwh_a_year: usual.watts * rated / 100.0 * 24.0 * 365.0 / 1000.0,
                said: usual.said,
            })
        })
        .collect();
    all.sort_by_key(|choice| !choice.stands_here);
    all
}

/// A filter of this kind as it is usually sold for a tank; none of the kinds that are chosen for a
/// purpose of their own.
pub fn usual_filter(tank: &Tank, kind: FilterKind) -> Option<Filter> {
    let usual = usual(kind)?;
    let litres = tank.net_volume().as_litres();
    let rated = TURNOVER.value * litres / crate::tank::REAL_SHARE_OF_RATED.value;
    Some(of_usual_size(kind, &usual, litres, rated))
}

/// A filter of this kind as it is usually sold for so many litres.
fn of_usual_size(kind: FilterKind, usual: &Usual, litres: f64, rated: f64) -> Filter {
    let portion = |(medium, per_hundred): &(Medium, f64)| Portion {
        medium: *medium,
        litres: Volume::litres(per_hundred * litres / 100.0),
        ..Portion::default()
    };
    Filter {
        kind,
        rated: FlowRate::litres_per_hour(rated),
        trays: usual
            .media
            .iter()
            .map(|medium| Tray {
                media: vec![portion(medium)],
                ..Tray::default()
            })
            .collect(),
        ..Filter::default()
    }
}
