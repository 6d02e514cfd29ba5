//! What filters ask for.

use super::interval::{Because, Interval};
use super::known::Known;
use super::task::{DoneBy, Help, Raised, Stake, Task};
use crate::filter::air::SEALS_DAYS;
use crate::filter::clogging::SetBy;
use crate::filter::load::has_prefilter;
use crate::filter::sump_levels::SOCK_DAYS;
use crate::filter::{Clogging, State};
use crate::log::On;
use crate::tank::{ChemicalSchool, Filter, FilterKind, Medium, Portion, Stage};
use crate::units::days_of;

const ELECTRIC: &str = "Unplug before hands or housings get wet; dry hands, a drip loop, a residual-current device. A damaged lead: stop, and a licensed electrician.";
const LINES: &str = "Both taps shut and seen dry before a canister is parted; a full one is heavy.";
const COLONY: &str =
    "Never all media for bacteria at once; tank water of tank temperature, kept wet.";

pub(super) const ALL: &[&Task] = &[
    &OPEN,
    &PREFILTER,
    &SOCK,
    &FLOSS,
    &SPONGE,
    &BIOLOGICAL,
    &CHEMICAL,
    &RENEW_CHEMICAL,
    &IMPELLER,
    &SEALS,
    &HOSE,
    &BUCKET,
    &PRODUCT,
];

static OPEN: Task = Task {
    id: "open-filter",
    words: "Open and clean the filter",
    done_by: DoneBy::Entry("filter-opened"),
    helped_by: Some(Help::ServiceSheet),
    minutes: 40.0,
    stake: Stake::Water,
    disturbs: true,
    cautions: &[ELECTRIC, LINES, COLONY],
    raised: |known| each(known, |filter, state| Some(opening(filter, state?))),
    ..Task::BLANK
};

static PREFILTER: Task = Task {
    id: "rinse-prefilter",
    words: "Rinse the sponge over the intake",
    done_by: DoneBy::Entry("prefilter-rinsed"),
    minutes: 5.0,
    stake: Stake::Water,
    cautions: &["Pump off first: a bared intake draws animals in."],
    raised: |known| {
        each(known, |filter, _| {
            let why = "A sponge over an intake keeps about half of the dirt and fills long before the filter does.";
            has_prefilter(known.tank, filter).then(|| {
                on(
                    filter,
                    "Rinse the sponge over the intake of",
                    Interval::usual(14.0, why),
                )
            })
        })
    },
    ..Task::BLANK
};

static SOCK: Task = Task {
    id: "change-sock",
    words: "Change the filter sock",
    done_by: DoneBy::Entry("sock-changed"),
    minutes: 5.0,
    stake: Stake::Water,
    supplies: &["filter sock"],
    raised: |known| {
        each(known, |filter, _| {
            let why = "Dirt in a sock rots in the stream after three or four days; few keepers change it so often.";
            holds(filter, Medium::Sock).then(|| {
                on(
                    filter,
                    "Change the sock of",
                    Interval::usual(SOCK_DAYS.1, why),
                )
            })
        })
    },
    ..Task::BLANK
};

static FLOSS: Task = Task {
    id: "replace-floss",
    words: "Throw the floss away and lay new",
    done_by: DoneBy::Entry("floss-new"),
    helped_by: Some(Help::ServiceSheet),
    minutes: 10.0,
    stake: Stake::Water,
    cautions: &[ELECTRIC],
    supplies: &["filter floss"],
    raised: |known| {
        each(known, |filter, _| {
            let why = "Floss closes first of all media; it carries no colony worth keeping.";
            holds(filter, Medium::Floss)
                .then(|| on(filter, "New floss in", Interval::usual(30.0, why)))
        })
    },
    ..Task::BLANK
};

static SPONGE: Task = Task {
    id: "replace-sponge-half",
    words: "Replace one half of the worn sponge",
    done_by: DoneBy::Entry("sponge-half-new"),
    helped_by: Some(Help::ServiceSheet),
    minutes: 15.0,
    disturbs: true,
    cautions: &[ELECTRIC, COLONY],
    supplies: &["foam, cut to fit"],
    raised: |known| {
        each(known, |filter, _| {
            let why = "Thin cut foam lasts about half a year: then bits come off, or squeezing no longer clears it. One half now, the other after four weeks.";
            let foam = |portion: &&Portion| {
                matches!(
                    portion.medium,
                    Medium::FoamCoarse | Medium::FoamMedium | Medium::FoamFine
                )
            };
            let oldest = filter
                .media()
                .filter(foam)
                .map(|portion| portion.put_in)
                .min()?;
            Some(Raised {
                since: oldest,
                ..on(
                    filter,
                    "One half of the sponge new in",
                    Interval::usual(180.0, why),
                )
            })
        })
    },
    ..Task::BLANK
};

static BIOLOGICAL: Task = Task {
    id: "rinse-biological",
    words: "Swirl one part of the media for bacteria in tank water",
    done_by: DoneBy::Entry("biological-rinsed"),
    helped_by: Some(Help::ServiceSheet),
    minutes: 20.0,
    stake: Stake::Water,
    disturbs: true,
    cautions: &[ELECTRIC, COLONY],
    raised: |known| {
        each(known, |filter, _| {
            let parts = filter
                .trays
                .iter()
                .filter(|tray| {
                    tray.media
                        .iter()
                        .any(|portion| portion.medium.stage() == Stage::Biological)
                })
                .count();
            let why = match parts {
                0 => return None,
                1 => "Only if dirt lies on them. Half of the one tray this time, the other half next time.".to_owned(),
                parts => format!("Only if dirt lies on them. One of {parts} trays each time, so that all are done within two years at the latest."),
            };
            let every = Interval::every(180.0, Because::Practice, why);
            Some(on(filter, "One part of the media for bacteria of", every))
        })
    },
    ..Task::BLANK
};

/// The chemical medium of a filter that went in first, and after how many days it is full.
fn oldest_chemical(filter: &Filter) -> Option<(&Portion, f64)> {
    let chemical = filter.media().filter_map(|portion| {
        let days = portion.medium.comes_out_after_days()?;
        Some((portion, days.value))
    });
    chemical.min_by_key(|(portion, _)| portion.put_in)
}

/// A task about the oldest chemical medium of each filter.
fn of_chemical(known: &Known<'_>, doing: &str, then: &str, others: &'static str) -> Vec<Raised> {
    each(known, |filter, _| {
        let (portion, days) = oldest_chemical(filter)?;
        let medium = portion.medium.words();
        let why =
            format!("{medium} takes what it can hold within weeks and may give back after. {then}");
        Some(Raised {
            since: portion.put_in,
            on: On::Filter(filter.number),
            ..Raised::of_tank(Interval::every(days, Because::School, why))
                .saying(format!(
                    "{doing} {}: {}",
                    filter.name,
                    medium.to_lowercase()
                ))
                .others_say(others)
        })
    })
}

static CHEMICAL: Task = Task {
    id: "chemical-out",
    words: "Take the chemical medium out",
    done_by: DoneBy::Entry("media-out"),
    stake: Stake::Water,
    cautions: &[ELECTRIC],
    raised: |known| match known.tank.practice.chemical {
        ChemicalSchool::OutInTime => of_chemical(
            known,
            "Take out of",
            "It is used against one thing, and comes out when that is gone.",
            "Some keep no carbon or resin at all, some keep a pad in for good: dirty water has to be changed either way.",
        ),
        ChemicalSchool::None => of_chemical(
            known,
            "Take out of",
            "You keep none: what it was put in for is over by then.",
            "Some use it against one substance whenever there is one, some keep a pad in for good.",
        ),
        ChemicalSchool::Renewed => Vec::new(),
    },
    ..Task::BLANK
};

static RENEW_CHEMICAL: Task = Task {
    id: "renew-chemical",
    words: "Renew the chemical medium",
    done_by: DoneBy::Entry("chemical-medium"),
    stake: Stake::Water,
    cautions: &[
        ELECTRIC,
        "Out during a course of medicine: it takes the medicine too.",
    ],
    supplies: &["chemical medium, as much as goes in"],
    raised: |known| match known.tank.practice.chemical {
        ChemicalSchool::Renewed => of_chemical(
            known,
            "Renew in",
            "You keep it in for good, so new goes in when the old is full.",
            "Some use it against one substance and take it out when that is gone, some keep none: dirty water has to be changed either way.",
        ),
        ChemicalSchool::OutInTime | ChemicalSchool::None => Vec::new(),
    },
    ..Task::BLANK
};

static IMPELLER: Task = Task {
    id: "service-impeller",
    words: "Wipe the impeller and its well",
    done_by: DoneBy::Entry("impeller-serviced"),
    cautions: &[ELECTRIC],
    supplies: &["impeller with shaft, as a spare"],
    raised: |known| {
        each(known, |filter, state| {
            let next = state.filter(|_| has_motor(filter))?;
            let why = "Every second time the filter is open: slime, a hair or a shell brakes it, and it wears its shaft.";
            let opening = opening(filter, next).interval.days;
            let interval = Interval::every(2.0 * opening, Because::Practice, why);
            Some(on(filter, "Impeller of", interval))
        })
    },
    ..Task::BLANK
};

static SEALS: Task = Task {
    id: "renew-seals",
    words: "Renew all seals as a set",
    done_by: DoneBy::Entry("seals-renewed"),
    helped_by: Some(Help::AirPaths),
    minutes: 15.0,
    cautions: &[ELECTRIC, LINES],
    supplies: &["a set of seals", "seal-safe grease"],
    raised: |known| {
        each(known, |filter, _| {
            let why = "Rubber sets within about two years; air is drawn in long before water drips out. If one has failed, all are due.";
            filter.kind.design().is_canister.then(|| Raised {
                since: filter.seals_renewed,
                ..on(filter, "All seals new in", Interval::usual(SEALS_DAYS, why))
            })
        })
    },
    ..Task::BLANK
};

static HOSE: Task = Task {
    id: "clean-hose",
    words: "Brush the hoses",
    done_by: DoneBy::Entry("hose-cleaned"),
    helped_by: Some(Help::Hoses),
    minutes: 20.0,
    cautions: &[LINES],
    supplies: &["a length of hose, as a spare"],
    raised: |known| {
        each(known, |filter, state| {
            let why = "What grows in a hose narrows it from all sides; a kink or fur takes more flow than media do.";
            let usual = Interval::usual(180.0, why);
            filter
                .kind
                .design()
                .is_plumbed
                .then(|| on(filter, "Brush the hoses of", sooner_by_flow(usual, state)))
        })
    },
    ..Task::BLANK
};

static BUCKET: Task = Task {
    id: "measure-flow",
    words: "Bucket test of the filter",
    done_by: DoneBy::Entry("bucket-test"),
    helped_by: Some(Help::BucketTest),
    minutes: 8.0,
    raised: |known| {
        each(known, |filter, state| {
            let state = state?;
            if !filter.kind.design().is_plumbed {
                return None;
            }
            let history = &state.history;
            let is_unmeasured = history.measured.is_empty();
            let interval = if is_unmeasured {
                Interval::usual(
                    30.0,
                    "It was never measured: what it loses can only be seen against a first reading, best just after it was cleaned.",
                )
            } else {
                let why = "Half an interval between openings: each reading narrows down when the next one is due.";
                Interval::every(
                    (opening(filter, state).interval.days / 2.0).clamp(14.0, 90.0),
                    Because::Model,
                    why,
                )
            };
            Some(on(filter, "Bucket test of", interval))
        })
    },
    ..Task::BLANK
};

static PRODUCT: Task = Task {
    id: "dose-additive",
    words: "Bacteria product, as you keep it",
    done_by: DoneBy::Entry("bottle"),
    minutes: 2.0,
    stake: Stake::Looks,
    supplies: &["bacteria product"],
    raised: |known| {
        use crate::tank::SeedingSchool::{Gel, MatureMedia, None as Nothing, WithCleanings};
        let words = match known.tank.practice.seeding {
            WithCleanings => "Bacteria product after the cleaning",
            Gel => "Gel on the media after the cleaning",
            MatureMedia | Nothing => return Vec::new(),
        };
        let openings = known.filters.iter().filter_map(|(number, state)| {
            let filter = known
                .tank
                .filters
                .iter()
                .find(|filter| filter.number == *number)?;
            Some(opening(filter, state).interval.days)
        });
        let Some(days) = openings.min_by(f64::total_cmp) else {
            return Vec::new();
        };
        let why = "You keep it so with each cleaning. It is a claim of those who sell it; the model gives it no effect.";
        vec![
            Raised::of_tank(Interval::every(days, Because::School, why))
                .saying(words)
                .others_say("Most add nothing: mature media bring the same bacteria, alive."),
        ]
    },
    ..Task::BLANK
};

/// Something of each filter with its state, where there is something.
fn each(
    known: &Known<'_>,
    raise: impl Fn(&Filter, Option<&State>) -> Option<Raised>,
) -> Vec<Raised> {
    let with_state = |filter: &Filter| {
        let own = known
            .filters
            .iter()
            .find(|(number, _)| *number == filter.number);
        raise(filter, own.map(|(_, state)| state))
    };
    known.tank.filters.iter().filter_map(with_state).collect()
}

fn on(filter: &Filter, what: &str, interval: Interval) -> Raised {
    Raised {
        on: On::Filter(filter.number),
        ..Raised::of_tank(interval).saying(format!("{what} {}", filter.name))
    }
}

fn holds(filter: &Filter, medium: Medium) -> bool {
    filter.media().any(|portion| portion.medium == medium)
}

const fn has_motor(filter: &Filter) -> bool {
    !matches!(filter.kind, FilterKind::SpongeOnAir)
}

/// When it is opened: by the keeper's school and by what is known of its dirt.
fn opening(filter: &Filter, state: &State) -> Raised {
    let history = &state.history;
    let interval = match (&state.clogging, &state.next) {
        (Some(clogging), Some(next)) => {
            let (because, why) = match next.by {
                SetBy::Dirt if clogging.learned_from + clogging.measured > 0 => (
                    Because::Learned,
                    "Learned from what it looked like when it was opened, and from bucket tests.",
                ),
                SetBy::Dirt => (
                    Because::Model,
                    "Reckoned from the feed, its media and what its intake catches, right to a factor of two. Grade what you see when you open it.",
                ),
                SetBy::HardLimit => (
                    Because::Practice,
                    "No filter is left longer, however clean it seems.",
                ),
                SetBy::Fixed => (Because::School, "At a fixed interval, as you keep it."),
                SetBy::WaterChange => (
                    Because::School,
                    "The sponge is squeezed at each water change, as you keep it.",
                ),
            };
            let opened = history.opened.map(|at| at.date());
            let days = |to: jiff::civil::Date| {
                opened.map_or(clogging.lasts_days.middle, |from| {
                    f64::from(to.since(from).map_or(0, |span| span.get_days())).max(1.0)
                })
            };
            let usual = Interval::every(days(next.likely), because, why);
            let interval = Interval {
                least: days(next.from),
                most: days(next.to).max(days(next.likely) + 1.0),
                ..usual
            };
            moved_by_grades(clogging, interval)
        }
        (Some(clogging), None) => Interval::every(
            clogging.lasts_days.middle,
            Because::Model,
            "Reckoned from the feed, its media and what its intake catches; when it was last opened is not on record.",
        ),
        (None, _) => Interval::usual(
            60.0,
            "It holds nothing that fills; a look every other month finds what is loose.",
        ),
    };
    Raised {
        since: filter.opened,
        ..on(filter, "Open and clean", interval)
    }
}

/// What the openings on record moved, against what would be reckoned without them.
fn moved_by_grades(clogging: &Clogging, interval: Interval) -> Interval {
    if interval.because != Because::Learned {
        return interval;
    }
    let (grades, tests) = (
        format!(
            "{} graded {}",
            clogging.learned_from,
            openings(clogging.learned_from)
        ),
        format!(
            "{} bucket {}",
            clogging.measured,
            if clogging.measured == 1 {
                "test"
            } else {
                "tests"
            }
        ),
    );
    let from = match (clogging.learned_from, clogging.measured) {
        (_, 0) => grades,
        (0, _) => tests,
        _ => format!("{grades} and {tests}"),
    };
    Interval {
        moved: Some(super::Moved {
            before: clogging.reckoned_days,
            after: clogging.lasts_days.middle,
            from,
        }),
        ..interval
    }
}

const fn openings(count: usize) -> &'static str {
    if count == 1 { "opening" } else { "openings" }
}

/// Hoses are looked at sooner where a bucket test soon after a cleaning gave too little: it is not
/// the media then.
fn sooner_by_flow(usual: Interval, state: Option<&State>) -> Interval {
    /// So soon after an opening media are still clean, days; and so little of the clean flow is too
    /// little. Judgements.
    const STILL_CLEAN_DAYS: f64 = 14.0;
    const TOO_LITTLE: f64 = 0.8;
    let short = state.and_then(|state| {
        let last = state.history.measured.last()?;
        let is_clean = last.after_days.is_some_and(|days| days <= STILL_CLEAN_DAYS);
        let left = last.flow / state.clean;
        (state.clean_is_measured && is_clean && left < TOO_LITTLE).then_some((left, last.at))
    });
    match short {
        Some((left, at)) => {
            let days = usual.days / 2.0;
            let from = format!(
                "the bucket test of {}: {:.0} % of its clean flow just after a cleaning, so not the media",
                at.strftime("%-d %B"),
                100.0 * left
            );
            usual.moved_to(days, Because::Learned, from)
        }
        None => usual,
    }
}

/// Days since a filter was last opened, where that is on record.
pub(super) fn days_open(known: &Known<'_>) -> Option<f64> {
    let opened = known
        .filters
        .iter()
        .filter_map(|(_, state)| state.history.opened);
    let last = opened.max()?;
    Some(days_of(known.now.duration_since(last)))
}
