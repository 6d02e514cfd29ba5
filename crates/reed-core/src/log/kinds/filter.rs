//! What is done to filters and other equipment.

use crate::log::effect::Effect;
use crate::log::entry::Entry;
use crate::log::happening::{Family, Happening, Measure, OnWhat, Tells, tells};
use crate::tank::{Filter, Tank};
use crate::units::FlowRate;

const BLANK: Happening = Happening {
    on: OnWhat::Filter,
    ..Happening::blank(Family::Filter)
};

/// A filter that stood still for so many hours has starved its colony of oxygen. A judgement.
const STOOD_STILL_H: f64 = 1.5;

/// The filter it happened on was opened that day, as the tank file says it.
fn opened(tank: &Tank, entry: &Entry) -> Option<Tank> {
    let mut after = tank.clone();
    let filter = filter_of(&mut after, entry)?;
    let day = entry.when.to.date();
    if filter.opened.is_some_and(|known| known >= day) {
        return None;
    }
    filter.opened = Some(day);
    // What was measured before is no more: what it moves now nobody has measured yet.
    filter.measured = None;
    filter.measured_on = None;
    Some(after)
}

/// The filter moves so much; and so much clean, where it was opened within these days.
fn bucket(tank: &Tank, entry: &Entry) -> Option<Tank> {
    /// A filter that was opened so lately is clean, days. A judgement.
    const CLEAN_WITHIN_DAYS: i32 = 3;
    let flow = FlowRate::litres_per_hour(entry.amount?);
    let mut after = tank.clone();
    let filter = filter_of(&mut after, entry)?;
    filter.measured = Some(flow);
    let day = entry.when.to.date();
    filter.measured_on = Some(day);
    let since = filter.opened.and_then(|opened| day.since(opened).ok());
    if since.is_some_and(|since| (0..=CLEAN_WITHIN_DAYS).contains(&since.get_days())) {
        filter.clean = Some(flow);
    }
    Some(after)
}

/// The seals of the filter are of that day.
fn seals(tank: &Tank, entry: &Entry) -> Option<Tank> {
    let mut after = tank.clone();
    let filter = filter_of(&mut after, entry)?;
    let day = entry.when.to.date();
    if filter.seals_renewed.is_some_and(|known| known >= day) {
        return None;
    }
    filter.seals_renewed = Some(day);
    Some(after)
}

/// The filter that an entry is about.
fn filter_of<'a>(tank: &'a mut Tank, entry: &Entry) -> Option<&'a mut Filter> {
    let own = tank.filters.iter();
    let place = own
        .map(|filter| filter.number)
        .position(|number| entry.on.is_filter(tank, number))?;
    tank.filters.get_mut(place)
}

pub(super) static ALL: &[Happening] = &[
    Happening {
        id: "filter-opened",
        label: "Filter opened",
        words: &[
            "opened filter",
            "cleaned filter",
            "filter cleaned",
            "filter opened",
            "opened the filter",
            "cleaned the filter",
        ],
        tells: &[tells("filter-cleaned")],
        completes: &["open-filter"],
        makes: Some(opened),
        ..BLANK
    },
    Happening {
        id: "prefilter-rinsed",
        label: "Pre-filter rinsed",
        words: &[
            "rinsed prefilter",
            "cleaned prefilter",
            "rinsed pre-filter",
            "cleaned pre-filter",
            "prefilter",
        ],
        completes: &["rinse-prefilter"],
        ..BLANK
    },
    Happening {
        id: "sock-changed",
        label: "Filter sock changed",
        words: &["changed sock", "sock changed", "new sock", "sock"],
        completes: &["change-sock"],
        ..BLANK
    },
    Happening {
        id: "tap-rinse",
        label: "Media rinsed under the tap",
        words: &[
            "rinsed media under tap",
            "rinsed under tap",
            "rinsed under the tap",
        ],
        amount: Some(Measure::percent("% of them")),
        tells: &[tells("media-rinsed-under-tap"), tells("filter-cleaned")],
        does: Some(|percent| Effect::TapRinse(percent / 100.0)),
        ..BLANK
    },
    Happening {
        id: "filter-new",
        label: "Filter or media new",
        words: &["new filter"],
        tells: &[tells("filter-or-media-new")],
        ..BLANK
    },
    Happening {
        id: "new-media",
        label: "Media replaced by new",
        words: &["replaced media", "new media", "new cartridge"],
        amount: Some(Measure::percent("% of them")),
        tells: &[tells("media-replaced"), tells("filter-or-media-new")],
        does: Some(|percent| Effect::NewMedia(percent / 100.0)),
        completes: &["replace-floss"],
        ..BLANK
    },
    Happening {
        id: "floss-new",
        label: "Floss thrown away, new laid",
        words: &["replaced floss", "new floss", "changed floss"],
        completes: &["replace-floss"],
        ..BLANK
    },
    Happening {
        id: "second-filter",
        label: "Second filter added",
        words: &["second filter", "added filter", "added a filter"],
        tells: &[tells("second-filter-added")],
        ..BLANK
    },
    Happening {
        id: "impeller-serviced",
        label: "Impeller taken out",
        words: &["cleaned impeller", "serviced impeller", "impeller"],
        tells: &[tells("impeller-serviced")],
        completes: &["service-impeller"],
        ..BLANK
    },
    Happening {
        id: "seals-renewed",
        label: "Seals renewed",
        words: &["renewed seals", "new seals", "new o-ring", "seals"],
        completes: &["renew-seals"],
        makes: Some(seals),
        ..BLANK
    },
    Happening {
        id: "hose-cleaned",
        label: "Hose cleaned or replaced",
        words: &["cleaned hose", "cleaned hoses", "new hose", "hose"],
        completes: &["clean-hose"],
        ..BLANK
    },
    Happening {
        id: "chemical-medium",
        label: "Chemical medium put in",
        words: &["chemical medium", "adsorbent pad", "phosphate remover"],
        amount: Some(Measure::fixed("L", 0.01, 100.0)),
        tells: &[tells("chemical-media-added")],
        completes: &["renew-chemical"],
        ..BLANK
    },
    Happening {
        id: "carbon",
        label: "Carbon put in",
        words: &["carbon", "added carbon", "new carbon"],
        amount: Some(Measure::fixed("L", 0.01, 100.0)),
        tells: &[tells("chemical-media-added")],
        completes: &["chemical-out", "renew-chemical"],
        ..BLANK
    },
    Happening {
        id: "ammonia-medium",
        label: "Medium against ammonia put in, last",
        words: &["zeolite", "ammonia remover", "ammonia resin"],
        amount: Some(Measure::fixed("L", 0.01, 100.0)),
        tells: &[tells("chemical-media-added")],
        does: Some(Effect::AmmoniaMedium),
        ..BLANK
    },
    Happening {
        id: "nitrate-medium",
        label: "Medium against nitrate put in, last",
        words: &["nitrate resin", "nitrate remover"],
        amount: Some(Measure::fixed("L", 0.01, 100.0)),
        tells: &[tells("chemical-media-added")],
        does: Some(Effect::NitrateMedium),
        ..BLANK
    },
    Happening {
        id: "media-out",
        label: "Chemical media taken out",
        words: &[
            "removed carbon",
            "carbon out",
            "took out carbon",
            "media out",
            "removed resin",
        ],
        does: Some(|_| Effect::MediaOut),
        completes: &["chemical-out"],
        ..BLANK
    },
    Happening {
        id: "stop",
        label: "Filters stood",
        words: &[
            "filter stopped",
            "filter off",
            "pump off",
            "pump stopped",
            "filter stood",
        ],
        amount: Some(Measure::fixed("h", 0.5, 240.0)),
        tells: &[Tells {
            finding: "pump-stopped",
            at_least: STOOD_STILL_H,
        }],
        does: Some(Effect::Stop),
        ..BLANK
    },
    Happening {
        id: "power-cut",
        never_planned: true,
        label: "Power cut",
        words: &["power cut", "power out", "no power", "outage"],
        on: OnWhat::Tank,
        amount: Some(Measure::fixed("h", 0.1, 240.0)),
        tells: &[Tells {
            finding: "pump-stopped",
            at_least: STOOD_STILL_H,
        }],
        does: Some(Effect::Stop),
        ..BLANK
    },
    Happening {
        id: "air-stopped",
        never_planned: true,
        label: "Air or what breaks the surface stopped",
        words: &[
            "air pump stopped",
            "air stopped",
            "air stone clogged",
            "air off",
        ],
        on: OnWhat::Tank,
        tells: &[tells("air-source-stopped")],
        ..BLANK
    },
    Happening {
        id: "equipment-moved",
        label: "Filter or outlet moved",
        words: &[
            "moved outlet",
            "moved filter",
            "moved the outlet",
            "moved the filter",
            "moved intake",
        ],
        tells: &[tells("equipment-moved")],
        ..BLANK
    },
    Happening {
        id: "bucket-test",
        never_planned: true,
        label: "Flow by bucket",
        words: &["bucket test", "measured flow", "flow by bucket"],
        amount: Some(Measure::fixed("L/h", 1.0, 100_000.0)),
        completes: &["measure-flow"],
        makes: Some(bucket),
        ..BLANK
    },
    Happening {
        id: "seed",
        label: "Mature media added",
        words: &["mature media", "seeded media", "seeded filter"],
        amount: Some(Measure::percent("% of what the tank needs")),
        does: Some(|percent| Effect::Seed(percent / 100.0)),
        ..BLANK
    },
];
