//! What stands on one page of the log: entries, readings, cases and changes of the tank together,
//! the latest first.

use jiff::civil::DateTime;
use reed_core::log::{Family, Happening, On};
use reed_core::tank::{Analyte, Serial, Tank};
use reed_core::units::Units;
use reed_store::entries::Wanted;
use reed_store::readings::By;
use reed_store::{
    Connection, Page, StoreError, TankId, cases, devices, entries, readings, tanks, watches,
};
use serde::Deserialize;

use super::entry;
use super::line::{Line, OF_CASE, OF_TANK};
use crate::alarms::is_live;
use crate::clock::Clock;

/// Lines of a page at most.
const MOST: usize = 60;

/// So many readings of a device hide nothing, however quickly they came. A judgement.
const FEW: usize = 10;

/// What is asked of the log; in its address.
#[derive(Clone, Debug, Default, Deserialize)]
#[serde(default)]
pub(super) struct Asked {
    /// Id of a [`Kind`].
    pub(super) kind: String,
    /// `filter-2`.
    pub(super) on: String,
    /// Words of notes or of what it is.
    pub(super) words: String,
    /// A moment and how many lines of that moment were shown before, such as
    /// `2026-03-10T08:30:00~2`.
    pub(super) before: String,
}

/// What can be shown alone.
pub(super) struct Choice {
    pub(super) id: &'static str,
    pub(super) words: &'static str,
}

/// What of the log is shown.
#[derive(Clone, Copy, PartialEq, Eq)]
pub(super) enum Kind {
    All,
    Readings,
    /// What devices read so often that it would hide all else.
    Devices,
    Cases,
    Tank,
    Of(Family),
}

impl Kind {
    pub(super) const CHOICES: &'static [Choice] = &[
        Choice {
            id: "",
            words: "Everything",
        },
        Choice {
            id: "readings",
            words: "Readings",
        },
        Choice {
            id: "devices",
            words: "Read by devices, one after another",
        },
        Choice {
            id: "water",
            words: "Water",
        },
        Choice {
            id: "filter",
            words: "Filter and equipment",
        },
        Choice {
            id: "animals",
            words: "Animals",
        },
        Choice {
            id: "food",
            words: "Food",
        },
        Choice {
            id: "added",
            words: "Put into the water",
        },
        Choice {
            id: "around",
            words: "Around the tank",
        },
        Choice {
            id: "routine",
            words: "Routine",
        },
        Choice {
            id: "cases",
            words: "Cases",
        },
        Choice {
            id: "tank",
            words: "Changes of the description",
        },
    ];

    fn by_id(id: &str) -> Self {
        match id {
            "readings" => Self::Readings,
            "devices" => Self::Devices,
            "cases" => Self::Cases,
            "tank" => Self::Tank,
            _ => Family::by_id(id).map_or(Self::All, Self::Of),
        }
    }

    fn shows(self, other: Self) -> bool {
        self == Self::All || self == other
    }

    fn is_of_entries(self) -> bool {
        matches!(self, Self::All | Self::Of(_))
    }
}

impl Asked {
    fn cursor(&self) -> Option<(DateTime, usize)> {
        let (at, shown) = self.before.split_once('~')?;
        Some((at.parse().ok()?, shown.parse().ok()?))
    }

    /// The words as they are looked for.
    fn looked_for(&self) -> String {
        self.words.trim().to_lowercase()
    }

    fn filter(&self) -> Option<Serial> {
        self.on.strip_prefix("filter-")?.parse().ok().map(Serial)
    }

    /// Something was asked for.
    pub(super) fn is_narrow(&self) -> bool {
        !(self.kind.is_empty() && self.on.is_empty() && self.words.trim().is_empty())
    }
}

/// The lines of a day.
pub(super) struct Day {
    /// Its date.
    pub(super) words: String,
    pub(super) lines: Vec<Line>,
}

/// The lines of a page, the latest first.
pub(super) struct Timeline {
    lines: Vec<Line>,
    /// What is wrong with rows that would stand here and cannot be read.
    pub(super) unreadable: Vec<String>,
    /// The moment of the first line that does not stand on this page any more, and how many lines
    /// of that moment were shown.
    next: Option<(DateTime, usize)>,
}

impl Timeline {
    pub(super) fn of_tank(
        db: &Connection,
        id: TankId,
        tank: &Tank,
        asked: &Asked,
        clock: &Clock,
        units: &Units,
    ) -> Result<Self, StoreError> {
        Ok(Self::cut(lines(db, id, tank, asked, clock, units)?, asked))
    }

    pub(super) fn of_all(
        db: &Connection,
        asked: &Asked,
        clock: &Clock,
        units: &Units,
    ) -> Result<Self, StoreError> {
        let mut all = Page {
            rows: Vec::new(),
            unreadable: Vec::new(),
        };
        for revision in tanks::all(db)? {
            let mut of_tank = lines(db, revision.tank_id, &revision.tank, asked, clock, units)?;
            for line in &mut of_tank.rows {
                line.tank = Some((revision.tank_id, revision.tank.name.clone()));
            }
            all.rows.extend(of_tank.rows);
            all.unreadable.extend(of_tank.unreadable);
        }
        Ok(Self::cut(all, asked))
    }

    /// The lines that follow the cursor, as many as a page holds.
    fn cut(page: Page<Line>, asked: &Asked) -> Self {
        let Page {
            rows: mut lines,
            unreadable,
        } = page;
        lines.sort_by_key(|line| std::cmp::Reverse((line.at, line.order)));
        if let Some((at, shown)) = asked.cursor() {
            let of_that_moment = lines.iter().take_while(|line| line.at == at).count();
            lines.drain(..shown.min(of_that_moment));
        }
        let next = lines.get(MOST).map(|line| {
            let at = line.at;
            let on_this = lines[..MOST].iter().filter(|line| line.at == at).count();
            let before = asked
                .cursor()
                .filter(|(moment, _)| *moment == at)
                .map_or(0, |(_, shown)| shown);
            (at, before + on_this)
        });
        lines.truncate(MOST);
        Self {
            lines,
            unreadable,
            next,
        }
    }

    /// The address of the page with what was before.
    pub(super) fn earlier(&self, asked: &Asked) -> Option<String> {
        let (at, shown) = self.next?;
        let pairs = [
            ("kind", asked.kind.as_str()),
            ("on", asked.on.as_str()),
            ("words", asked.words.as_str()),
            ("before", &format!("{at}~{shown}")),
        ];
        let mut query = form_urlencoded::Serializer::for_suffix(String::from("?"), 1);
        for (name, value) in pairs.iter().filter(|(_, value)| !value.is_empty()) {
            query.append_pair(name, value);
        }
        Some(query.finish())
    }

    /// Day by day.
    pub(super) fn days(self, now: DateTime) -> Vec<Day> {
        let mut days: Vec<(jiff::civil::Date, Day)> = Vec::new();
        for line in self.lines {
            let date = line.at.date();
            if days.last().is_none_or(|(last, _)| *last != date) {
                let words = if date == now.date() {
                    format!("Today, {}", date.strftime("%-d %B"))
                } else if date.year() == now.year() {
                    date.strftime("%A, %-d %B").to_string()
                } else {
                    date.strftime("%-d %B %Y").to_string()
                };
                days.push((
                    date,
                    Day {
                        words,
                        lines: Vec::new(),
                    },
                ));
            }
            if let Some((_, day)) = days.last_mut() {
                day.lines.push(line);
            }
        }
        days.into_iter().map(|(_, day)| day).collect()
    }
}

/// The lines of a tank that can stand on the page.
fn lines(
    db: &Connection,
    id: TankId,
    tank: &Tank,
    asked: &Asked,
    clock: &Clock,
    units: &Units,
) -> Result<Page<Line>, StoreError> {
    let now = clock.now().wall;
    let (kind, words) = (Kind::by_id(&asked.kind), asked.looked_for());
    let (until, shown) = asked.cursor().unwrap_or((DateTime::MAX, 0));
    let most = MOST + 1 + shown;
    let holds = |text: &str| words.is_empty() || text.to_lowercase().contains(&words);
    let (mut lines, mut unreadable) = (Vec::new(), Vec::new());
    if kind.is_of_entries() {
        let in_family = |happening: &&Happening| kind.shows(Kind::Of(happening.family));
        let kinds: Vec<&'static str> = Happening::all()
            .filter(in_family)
            .map(|happening| happening.id)
            .collect();
        let by_name = |happening: &&Happening| {
            holds(happening.label) || happening.words.iter().any(|word| holds(word))
        };
        let wanted = Wanted {
            tank: id,
            // What a newer version knows stands among everything.
            kinds: if kind == Kind::All { Vec::new() } else { kinds },
            on: asked.filter().map(On::Filter),
            named: Happening::all()
                .filter(|_| !words.is_empty())
                .filter(by_name)
                .map(|happening| happening.id)
                .collect(),
            words: words.clone(),
            until,
        };
        let kept = entries::page(db, &wanted, most)?;
        unreadable.extend(kept.unreadable);
        for kept in &kept.rows {
            let photos = entry::standing_photos(db, kept)?;
            lines.push(Line::of_entry(kept, photos, tank, now, units));
        }
    }
    // Only entries know on what they happened.
    if asked.filter().is_some() {
        return Ok(Page {
            rows: lines,
            unreadable,
        });
    }
    if kind.shows(Kind::Readings) || kind == Kind::Devices {
        let named: Vec<&'static str> = Analyte::ALL
            .iter()
            .filter(|analyte| holds(analyte.label))
            .map(|analyte| analyte.id)
            .collect();
        let only = (!words.is_empty()).then_some(named.as_slice());
        let mut add = |by: By, only: Option<&[&'static str]>| {
            let stored = readings::page(db, id, by, only, until, most)?;
            unreadable.extend(stored.unreadable);
            let of_reading = |stored| Line::of_reading(stored, id, units);
            lines.extend(stored.rows.iter().map(of_reading));
            Ok::<_, StoreError>(())
        };
        if kind != Kind::Devices {
            add(By::Hand, only)?;
        }
        // A laboratory's report is worth a line; what a probe reads each minute is not.
        for watched in watches::ever(db, id)? {
            let hides = is_live(&watched)
                && devices::latest(db, watched.device, watched.analyte, FEW + 1)?.len() > FEW;
            if hides == (kind == Kind::Devices) && holds(watched.analyte.label) {
                add(By::Device(watched.device), Some(&[watched.analyte.id]))?;
            }
        }
    }
    if kind.shows(Kind::Cases) {
        lines.extend(of_cases(db, id, clock)?);
    }
    if kind.shows(Kind::Tank) {
        lines.extend(of_revisions(db, id, clock)?);
    }
    lines.retain(|line| line.at <= until && (line.strike.is_some() || holds(&line.words)));
    Ok(Page {
        rows: lines,
        unreadable,
    })
}

fn of_cases(db: &Connection, id: TankId, clock: &Clock) -> Result<Vec<Line>, StoreError> {
    let of_case = |case: cases::KeptCase| {
        let line = |at, words: String| {
            let link = format!("/cases/{}", case.id);
            Line::plain(OF_CASE, case.id.0, clock.wall_at(at), words, link)
        };
        let closed = case
            .closed
            .as_ref()
            .map(|(at, why)| line(*at, format!("Case {} closed: {why}", case.id)));
        [
            Some(line(case.opened_at, format!("Case {} opened", case.id))),
            closed,
        ]
        .into_iter()
        .flatten()
    };
    Ok(cases::of_tank(db, id)?
        .into_iter()
        .flat_map(of_case)
        .collect())
}

fn of_revisions(db: &Connection, id: TankId, clock: &Clock) -> Result<Vec<Line>, StoreError> {
    let line = |line: tanks::HistoryLine| {
        let link = format!("/tanks/{id}/revisions/{}", line.id);
        let at = clock.wall_at(line.made_at);
        Line::plain(OF_TANK, line.id.0, at, line.why, link)
    };
    Ok(tanks::history(db, id)?.into_iter().map(line).collect())
}
