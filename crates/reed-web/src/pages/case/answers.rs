//! What a keeper says of what was seen: one answer, the answers of a round of glances, or that a
//! check cannot be done.

use axum::extract::State;
use axum::response::Redirect;
use axum_extra::extract::Form;
use jiff::civil::DateTime;
use reed_core::diagnosis::check::{self, Check};
use reed_core::diagnosis::finding::{self, Finding, Kind};
use reed_core::diagnosis::{Answer, Declined, Hindrance};
use reed_core::log::{ROUGHLY, Rough, When};
use reed_core::tank::Serial;
use reed_store::answers::Given;
use reed_store::{CaseId, answers, cases, declined, tanks};
use serde::Deserialize;

use super::super::ids::Id;
use super::actions::back_to;
use super::evidence::Asking;
use crate::clock::Moment;
use crate::error::PageError;
use crate::state::App;

/// Of the rough times so many are said in one tap, the others after “Longer ago”.
const RECENT: usize = 3;

fn id_and_words(rough: &'static Rough) -> (&'static str, &'static str) {
    (rough.id, rough.words)
}

/// The times that are said in one tap: ids and words.
pub(super) fn recent() -> impl Iterator<Item = (&'static str, &'static str)> {
    ROUGHLY.iter().take(RECENT).map(id_and_words)
}

/// The others.
pub(super) fn longer_ago() -> impl Iterator<Item = (&'static str, &'static str)> {
    ROUGHLY.iter().skip(RECENT).map(id_and_words)
}

/// The time that was meant; without words, today.
fn ago(when: &str, now: DateTime) -> When {
    Rough::by_id(when).unwrap_or(&ROUGHLY[0]).before(now)
}

#[derive(Deserialize)]
pub(super) struct AnswerInput {
    finding: String,
    /// `yes`, `no`, anything else withdraws. An event answered with a time is a yes.
    #[serde(default)]
    answer: String,
    /// The number of a filter at which it was seen: a yes, and there. With [`NOT_THERE`] before it,
    /// that it was not there after all.
    #[serde(default)]
    filter: String,
    /// For an event: the id of one of [`ROUGHLY`].
    #[serde(default)]
    when: String,
    /// Where on the page it was answered.
    #[serde(default)]
    anchor: String,
    /// What was asked about there, so that it stays open.
    #[serde(flatten)]
    asking: Asking,
}

/// Before the number of a filter at which something was not seen after all. Sent twice, either says
/// the same twice.
const NOT_THERE: &str = "not-";

pub(super) async fn answer(
    State(app): State<App>,
    Id(case): Id<CaseId>,
    Form(input): Form<AnswerInput>,
) -> Result<Redirect, PageError> {
    let finding = question(&input.finding)?;
    let now = app.clock.now();
    let answer = if input.answer.is_empty() && !input.when.is_empty() {
        Some(Answer::Yes)
    } else {
        Answer::by_id(&input.answer)
    };
    let is_event = matches!(finding.kind, Kind::Event { .. });
    let at = if is_event && answer == Some(Answer::Yes) {
        ago(&input.when, now.wall)
    } else {
        When::minute(now.wall)
    };
    let given = move |answer| Given {
        when: at,
        ..Given::at(finding.id, answer, now.wall)
    };
    if input.filter.is_empty() {
        app.write(move |db| answers::add(db, case, &given(answer), now.utc))
            .await?;
    } else {
        let known = app
            .read(move |db| {
                Ok(tanks::latest(db, cases::find_open(db, case)?.tank_id)?
                    .tank
                    .filters)
            })
            .await?;
        let not_there = input.filter.strip_prefix(NOT_THERE);
        let number = not_there.unwrap_or(&input.filter).parse().ok().map(Serial);
        let number = number.filter(|number| {
            finding.is_of_a_filter() && known.iter().any(|filter| filter.number == *number)
        });
        let refused = || {
            PageError::Refused(format!(
                "“{}” is no filter of this tank at which this could be seen.",
                input.filter
            ))
        };
        let (number, is_there) = (number.ok_or_else(refused)?, not_there.is_none());
        app.write(move |db| {
            let said = answers::current(db, case)?
                .into_iter()
                .find(|said| said.finding == finding && said.answer == Answer::Yes);
            let mut filters = said.map_or_else(Vec::new, |said| said.filters);
            filters.retain(|filter| *filter != number);
            filters.extend(is_there.then_some(number));
            let given = Given {
                filters: &filters,
                ..given(Some(Answer::Yes))
            };
            answers::add(db, case, &given, now.utc)
        })
        .await?;
    }
    let anchor = if input.anchor == "noticed" {
        "noticed"
    } else {
        "next"
    };
    Ok(Redirect::to(&format!(
        "/cases/{case}{}#{anchor}",
        input.asking.query()
    )))
}

/// A question that can be asked, or why not.
fn question(id: &str) -> Result<&'static Finding, PageError> {
    let asked = finding::by_id(id).filter(|finding| !finding.asks.is_empty());
    asked.ok_or_else(|| PageError::Refused(format!("“{id}” is no question of this program.")))
}

/// What was said of one look of a round.
enum Said {
    Answer(Answer, When, Vec<Serial>),
    Declined(&'static Check, Hindrance),
}

/// Before the number of a filter at which something was seen, in a round.
const AT_FILTER: &str = "at-";

impl Said {
    /// From the word of a form; `None` where it is none.
    fn of(finding: &Finding, word: &str, filters: &[Serial], moment: &Moment) -> Option<Self> {
        if let Some(why) = Hindrance::by_id(word) {
            return Some(Self::Declined(check::of(finding)?, why));
        }
        let plain = |answer| Self::Answer(answer, When::minute(moment.wall), Vec::new());
        if let Some(number) = word.strip_prefix(AT_FILTER) {
            let number = Serial(number.parse().ok()?);
            return (finding.is_of_a_filter() && filters.contains(&number))
                .then(|| Self::Answer(Answer::Yes, When::minute(moment.wall), vec![number]));
        }
        let is_event = matches!(finding.kind, Kind::Event { .. });
        match Answer::by_id(word) {
            Some(Answer::Yes) if is_event => None,
            Some(answer) => Some(plain(answer)),
            None => {
                let known = is_event && Rough::by_id(word).is_some();
                known.then(|| Self::Answer(Answer::Yes, ago(word, moment.wall), Vec::new()))
            }
        }
    }
}

/// The answers of a round: each finding with its word; `asked` names those on the card, and with
/// `rest` those without a word are not so.
pub(super) async fn look_round(
    State(app): State<App>,
    Id(case): Id<CaseId>,
    Form(fields): Form<Vec<(String, String)>>,
) -> Result<Redirect, PageError> {
    let now = app.clock.now();
    let rest = fields
        .iter()
        .find(|(name, _)| name == "rest")
        .and_then(|(_, word)| Answer::by_id(word));
    let filters = app
        .read(move |db| {
            Ok(tanks::latest(db, cases::find_open(db, case)?.tank_id)?
                .tank
                .filters)
        })
        .await?;
    let filters: Vec<Serial> = filters.iter().map(|filter| filter.number).collect();
    let mut said = Vec::new();
    for (_, id) in fields.iter().filter(|(name, _)| name == "asked") {
        let finding = question(id)?;
        let word = fields
            .iter()
            .find(|(name, word)| name == id && !word.is_empty())
            .map(|(_, word)| word.as_str());
        let longer = fields
            .iter()
            .find(|(name, _)| *name == format!("when-{id}"))
            .map(|(_, word)| word.as_str());
        let word = if word == Some(LONGER_AGO) {
            longer
        } else {
            word
        };
        match (word, rest) {
            (Some(word), _) => {
                let refused =
                    || PageError::Refused(format!("“{word}” is no answer to “{}”.", finding.asks));
                said.push((
                    finding,
                    Said::of(finding, word, &filters, &now).ok_or_else(refused)?,
                ));
            }
            (None, Some(answer)) => {
                said.push((
                    finding,
                    Said::Answer(answer, When::minute(now.wall), Vec::new()),
                ));
            }
            (None, None) => {}
        }
    }
    app.write(move |db| {
        for (finding, said) in &said {
            match said {
                Said::Answer(answer, at, filters) => {
                    let given = Given {
                        filters,
                        when: *at,
                        ..Given::at(finding.id, Some(*answer), now.wall)
                    };
                    answers::add(db, case, &given, now.utc)?;
                }
                Said::Declined(check, why) => declined::set(
                    db,
                    case,
                    &Declined {
                        check,
                        why: *why,
                        at: now.wall,
                    },
                )?,
            }
        }
        Ok(())
    })
    .await?;
    Ok(back_to(case, "next"))
}

/// What a happening of a round is answered with before it is said when.
pub(super) const LONGER_AGO: &str = "longer";

#[derive(Deserialize)]
pub(super) struct DeclineInput {
    check: String,
    /// Id of a hindrance; anything else takes it back.
    #[serde(default)]
    why: String,
}

/// A check cannot be done, or can after all.
pub(super) async fn decline(
    State(app): State<App>,
    Id(case): Id<CaseId>,
    Form(input): Form<DeclineInput>,
) -> Result<Redirect, PageError> {
    let check = check::by_id(&input.check);
    let check = check.ok_or_else(|| {
        PageError::Refused(format!("“{}” is no check of this program.", input.check))
    })?;
    let (why, at) = (Hindrance::by_id(&input.why), app.clock.now().wall);
    app.write(move |db| match why {
        Some(why) => declined::set(db, case, &Declined { check, why, at }),
        None => declined::take_back(db, case, check),
    })
    .await?;
    Ok(back_to(
        case,
        if why.is_some() { "next" } else { "noticed" },
    ))
}
