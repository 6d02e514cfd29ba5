//! One's own plan: any changes that fit, and what they come to together, at once.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::State;
use axum_extra::extract::Query;
use reed_core::remedy::Change;
use reed_core::remedy::change::{self, Phase};
use reed_core::remedy::plan::{MOST_CHANGES, go_together, stages};
use reed_store::{CaseId, RevisionId};

use super::super::ids::Id;
use super::changes::money;
use super::plans::PlanCard;
use super::{Weighed, weigh};
use crate::case_file::CaseStage;
use crate::error::PageError;
use crate::state::App;
use crate::view::{Frame, Tab};

/// The changes to mix from.
#[derive(Template, WebTemplate)]
#[template(path = "pages/case_mix.html")]
pub(super) struct MixPage {
    frame: Frame,
    case: CaseId,
    revision: RevisionId,
    groups: Vec<Group>,
    budget: String,
    mixed: Mixed,
    /// Why no plan can be begun now; empty where one can.
    not_now: &'static str,
}

/// Changes of one phase.
struct Group {
    title: &'static str,
    changes: Vec<Card>,
}

/// A change.
struct Card {
    id: &'static str,
    title: &'static str,
    costs: String,
    own_price: bool,
    not_now: &'static str,
    picked: bool,
}

/// What the picked ones come to.
struct Mixed {
    card: Option<PlanCard>,
    /// Why there is nothing to show, as a sentence.
    why: String,
}

#[derive(Default, serde::Deserialize)]
#[serde(default)]
pub(super) struct Picked {
    change: Vec<String>,
    /// How long a visit may take, minutes, as typed.
    budget: String,
}

const PHASES: [(Phase, &str); 8] = [
    (Phase::Look, "Looks once more"),
    (Phase::Alive, "Keeps them alive"),
    (Phase::Flow, "Moves the water, keeps air out"),
    (Phase::Clean, "Cleans, by parts"),
    (Phase::Media, "Media"),
    (Phase::Routine, "Habits"),
    (Phase::Feed, "Feeding"),
    (Phase::Looks, "Only looks better"),
];

/// Shortest visit that is accepted, minutes. A judgement.
const LEAST_MINUTES: f64 = 5.0;

/// How long a visit may take, minutes; none where nothing was typed.
pub(super) fn budget(typed: &str) -> Result<Option<f64>, String> {
    let typed = typed.trim();
    if typed.is_empty() {
        return Ok(None);
    }
    let most = reed_core::remedy::plan::MOST_MINUTES;
    typed
        .replace(',', ".")
        .parse()
        .ok()
        .filter(|minutes| (LEAST_MINUTES..=most).contains(minutes))
        .map(Some)
        .ok_or_else(|| {
            format!("Minutes for a visit: “{typed}” is not a number from {LEAST_MINUTES:.0} to {most:.0}.")
        })
}

pub(super) async fn show(
    State(app): State<App>,
    Id(case): Id<CaseId>,
    Query(picked): Query<Picked>,
) -> Result<MixPage, PageError> {
    let weighed = weigh(&app, case, None).await?;
    app.blocking(move |_| Ok(MixPage::of(&weighed, &picked)))
        .await
}

impl MixPage {
    fn of(weighed: &Weighed, picked: &Picked) -> Self {
        let file = &weighed.file;
        let tank = &file.tank_now().name;
        let card = |change: &'static Change| {
            let price = file.prices.of(change);
            Card {
                id: change.id,
                title: change.title,
                costs: format!("{}, {:.0} min", money(price.euros), price.minutes),
                own_price: file.prices.is_own(change),
                not_now: change
                    .blocked_by(&weighed.case.observed)
                    .unwrap_or_default(),
                picked: picked.change.iter().any(|id| id == change.id),
            }
        };
        let of_phase = |(phase, title): (Phase, &'static str)| Group {
            title,
            changes: weighed
                .offers
                .iter()
                .map(|offer| offer.change)
                .filter(|change| change.phase == phase)
                .map(card)
                .collect(),
        };
        let groups: Vec<Group> = PHASES.map(of_phase).into();
        let not_now = why_not_now(weighed);
        Self {
            frame: Frame::new(
                "case-mix",
                format!("Your own plan: {tank}, case {}", file.case.id),
            )
            .of_tank(file.case.tank_id, tank, Tab::Case),
            case: file.case.id,
            revision: file.revision(),
            groups: groups
                .into_iter()
                .filter(|group| !group.changes.is_empty())
                .collect(),
            budget: picked.budget.trim().to_owned(),
            mixed: Mixed::of(weighed, picked, not_now.is_empty()),
            not_now,
        }
    }
}

fn why_not_now(weighed: &Weighed) -> &'static str {
    match weighed.file.stage() {
        _ if weighed.is_choosing() => "",
        CaseStage::Closed => "This case is closed: open it again before a plan begins.",
        CaseStage::Looking => {
            "Nothing speaks in this case yet: say on its page what you notice, and a plan can begin."
        }
        _ => "A change is under way in this case: finish or drop it before another plan begins.",
    }
}

impl Mixed {
    /// `may_follow`: there is a form that follows it, and takes places along.
    fn of(weighed: &Weighed, picked: &Picked, may_follow: bool) -> Self {
        let nothing = |why: &str| Self {
            card: None,
            why: why.to_owned(),
        };
        let known: Option<Vec<&'static Change>> =
            picked.change.iter().map(|id| change::by_id(id)).collect();
        let Some(changes) = known else {
            return nothing("One of these is no change of this program.");
        };
        let budget = match budget(&picked.budget) {
            Ok(budget) => budget,
            Err(why) => return nothing(&why),
        };
        if changes.is_empty() {
            return nothing("Pick what you would do: what it comes to stands here at once.");
        }
        if changes.len() > MOST_CHANGES {
            return nothing(
                "More than four at once: nobody could tell what helped. Take one out, or plan the rest for later.",
            );
        }
        if !go_together(&changes) {
            return nothing("Two of these do the same or undo each other. Take one of them out.");
        }
        let reckoner = weighed.reckoner();
        match reckoner.reckon(&changes) {
            None => nothing("One of these does not fit the tank that the others make."),
            Some(reckoned) => {
                let stages = stages(&reckoner, &reckoned.changes, budget);
                let card = PlanCard::of(&reckoned, &stages, &reckoner, weighed);
                Self {
                    card: Some(PlanCard {
                        in_water: card.in_water && may_follow,
                        ..card
                    }),
                    why: String::new(),
                }
            }
        }
    }
}
