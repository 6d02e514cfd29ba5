//! What changes make of a tank beside its oxygen: media, filters, feed, habits. How much of each is
//! a judgement, and stands in the step that says how it is done.

use crate::filter::sump_levels::sump_levels;
use crate::remedy::choosing::usual_filter;
use crate::tank::thing::Cover;
use crate::tank::{Filter, FilterKind, Medium, Portion, Stage, Tank, Tray};
use crate::twin::numbers::medium_to_add;
use crate::units::{FlowRate, Length, Mass, Percent, Volume};

/// A medium for bacteria more, L. A judgement.
pub(super) const MORE_MEDIA_L: f64 = 1.0;
/// Fed up so many times. A judgement.
const FED_UP: f64 = 1.3;
/// A larger filter moves so many times as much. A judgement.
const LARGER: f64 = 1.5;
/// Of what a tray is too full, it is emptied to this share of what it holds; one of which that is
/// not known loses as much. A judgement.
const THINNED: f64 = 0.85;
/// Larger water changes are so many times as large. A judgement.
const LARGER_CHANGES: f64 = 1.5;

fn each_filter(tank: &Tank, change: impl Fn(&mut Filter)) -> Tank {
    let mut after = tank.clone();
    after.filters.iter_mut().for_each(change);
    after
}

fn each_portion(filter: &mut Filter, change: impl Fn(&mut Portion)) {
    let trays = filter.trays.iter_mut().map(|tray| &mut tray.media);
    let chambers = filter.sump.iter_mut().flat_map(|sump| &mut sump.chambers);
    let media = trays.chain(chambers.map(|chamber| &mut chamber.media));
    media.flatten().for_each(change);
}

/// A litre more for bacteria, in the first filter, behind what is there.
pub(super) fn more_media(tank: &Tank) -> Tank {
    let mut after = tank.clone();
    let medium = medium_to_add(tank);
    if let Some(filter) = after.filters.first_mut() {
        filter.trays.push(Tray {
            media: vec![Portion {
                medium,
                litres: Volume::litres(MORE_MEDIA_L),
                ..Portion::default()
            }],
            ..Tray::default()
        });
    }
    after
}

/// A sponge of the same size in place of each cartridge.
pub(super) fn sponge_for_cartridge(tank: &Tank) -> Tank {
    each_filter(tank, |filter| {
        if filter.kind.design().takes_cartridge {
            each_portion(filter, |portion| {
                if portion.medium == Medium::Floss {
                    portion.medium = Medium::FoamMedium;
                }
            });
        }
    })
}

/// Without what takes one substance out of the water.
pub(super) fn no_chemical_media(tank: &Tank) -> Tank {
    each_filter(tank, |filter| {
        for tray in &mut filter.trays {
            tray.media
                .retain(|portion| portion.medium.stage() != Stage::Chemical);
        }
    })
}

/// Media in the order that serves them.
pub(super) fn media_in_order(tank: &Tank) -> Tank {
    each_filter(tank, |filter| *filter = filter.in_order())
}

/// A third more to eat.
pub(super) fn fed_up(tank: &Tank) -> Tank {
    Tank {
        feed: Mass::grams(FED_UP * tank.feed.as_grams()),
        ..tank.clone()
    }
}

/// Every filter of a label half as large again.
pub(super) fn larger_filters(tank: &Tank) -> Tank {
    let larger = |flow: FlowRate| FlowRate::litres_per_hour(LARGER * flow.as_litres_per_hour());
    each_filter(tank, |filter| {
        filter.rated = larger(filter.rated);
        filter.measured = filter.measured.map(larger);
        filter.clean = filter.clean.map(larger);
    })
}

/// A hang-on filter of the usual size beside what there is.
pub(super) fn second_filter(tank: &Tank) -> Tank {
    let mut after = tank.clone();
    if let Some(filter) = usual_filter(tank, FilterKind::HangOnBack) {
        after.add_filter(filter);
    }
    after
}

/// A sponge over every intake.
pub(super) fn prefilters(tank: &Tank) -> Tank {
    let mut after = tank.clone();
    for thing in &mut after.things {
        if let Some(cover) = thing.what.form_mut().cover_mut() {
            *cover = Cover::Sponge;
        }
    }
    after
}

/// Trays that are too full hold no more than they should, the others a little less.
pub(super) fn media_thinned(tank: &Tank) -> Tank {
    each_filter(tank, |filter| {
        for tray in &mut filter.trays {
            let litres: f64 = tray
                .media
                .iter()
                .map(|portion| portion.litres.as_litres())
                .sum();
            let share = tray.holds.map_or(THINNED, |holds| {
                (THINNED * holds.as_litres() / litres.max(1e-9)).min(1.0)
            });
            for portion in &mut tray.media {
                portion.litres = Volume::litres(share * portion.litres.as_litres());
            }
        }
    })
}

/// Every sump runs no higher than what runs down leaves room for.
pub(super) fn sumps_at_their_mark(tank: &Tank) -> Tank {
    let mut after = tank.clone();
    for (index, filter) in tank.filters.iter().enumerate() {
        let levels = sump_levels(tank, filter);
        let (Some(levels), Some(sump)) = (levels, after.filters[index].sump.as_mut()) else {
            continue;
        };
        let mark = Length::cm(levels.highest_cm.unwrap_or_default().min(levels.runs_at_cm));
        if let Some(chamber) = sump.return_at().and_then(|at| sump.chambers.get_mut(at)) {
            chamber.level = mark;
        }
    }
    after
}

/// Water changes half as large again.
pub(super) fn larger_changes(tank: &Tank) -> Tank {
    changes(tank, LARGER_CHANGES, 1)
}

/// Water changes half as large, twice as often.
pub(super) fn small_changes_often(tank: &Tank) -> Tank {
    changes(tank, 0.5, 2)
}

fn changes(tank: &Tank, as_large: f64, as_often: u32) -> Tank {
    let mut after = tank.clone();
    let share = as_large * tank.practice.change_share.as_percent();
    after.practice.change_share = Percent::of(share.clamp(1.0, 90.0));
    after.practice.change_every_days = (tank.practice.change_every_days / as_often).max(1);
    after
}
