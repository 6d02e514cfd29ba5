//! The one thing to do next.

use reed_core::diagnosis::check::{Check, Gives, Station};
use reed_core::diagnosis::{
    Advice, Answer, CLEAR, CheckOutlook, Differential, Grasp, Hindrance, Proposal, Suspect, round,
};
use reed_core::remedy::Offer;
use reed_core::remedy::change::Wanted;
use reed_core::remedy::proof::{Judged, Part, Verdict};
use reed_core::tank::kit;
use reed_store::ChoiceId;
use reed_store::choices::ChosenChange;

use super::Weighed;
use super::choice::{field_of, proved_by};
use super::evidence::Question;
use crate::case_file::{CaseFile, CaseStage, Shown};
use crate::clock::Moment;
use crate::view::{percent, sketch, sketch_symbols, when};

/// What the page asks for first.
pub(super) enum NextView {
    /// Say what was seen: nothing is known yet.
    Say,
    /// Look or measure.
    Check(CheckView),
    /// Some glances on one walk.
    Round(RoundView),
    /// Clear enough: choose a change.
    Act(ActView),
    /// Nothing on the list fits: say so, and whom to ask. The safest change all the same.
    Lost(ActView),
    /// A change is being made.
    Do { title: String, left: usize },
    /// A reading is due.
    Prove {
        when: &'static str,
        what: &'static str,
        /// What is looked for, where that is enough.
        look: Option<LookAgain>,
        /// The earlier stage of the plan that it is about, if it is.
        stage: Option<String>,
        /// What names the fields of the reading.
        field: String,
        verdict: Option<(&'static str, String)>,
        /// What to do with the verdict.
        then: &'static str,
        proved: bool,
        /// It worked by a proof that was taken before its day.
        so_far: bool,
        /// The sign that opened the case, which nobody has looked for since: it has to be gone.
        stands: Option<Question>,
        /// From when on the proof counts, while that is still ahead.
        due: Option<String>,
        /// What the plan has next.
        follows: Option<String>,
    },
    /// Nothing: it is closed.
    Closed,
}

/// A sign that has to be gone.
pub(super) struct LookAgain {
    pub(super) choice: ChoiceId,
    pub(super) sign: &'static str,
    pub(super) asks: &'static str,
    /// The case began with it.
    pub(super) begins: bool,
}

/// A check with its way to answer.
pub(super) struct CheckView {
    pub(super) id: &'static str,
    pub(super) title: String,
    pub(super) how: &'static str,
    pub(super) caution: &'static str,
    pub(super) minutes: String,
    pub(super) why: String,
    /// The question, if it is one.
    pub(super) asks: Option<Question>,
    /// What may stand in its way: id and words.
    pub(super) hindrances: [(&'static str, &'static str); 2],
    /// Other checks that would do: id, title and effort.
    pub(super) others: Vec<(&'static str, String, String)>,
    /// Seconds to count down from.
    pub(super) seconds: Option<u32>,
}

/// Some glances, in the order in which they are passed.
pub(super) struct RoundView {
    pub(super) title: String,
    pub(super) minutes: String,
    pub(super) looks: Vec<LookView>,
    /// What their drawings share.
    pub(super) symbols: String,
    /// Seconds to count down from: the longest that one of them is watched for.
    pub(super) seconds: Option<u32>,
    /// They are recalled, not seen.
    pub(super) recalled: bool,
    pub(super) others: Vec<(&'static str, String, String)>,
}

/// One of them.
pub(super) struct LookView {
    pub(super) question: Question,
    pub(super) how: &'static str,
    pub(super) caution: &'static str,
    /// Drawings of a yes and of a no; empty where it is not drawn.
    pub(super) yes: String,
    pub(super) no: String,
    /// What may stand in its way, likeliest first: id and words.
    pub(super) hindrances: [(&'static str, &'static str); 2],
}

/// Acting beats looking.
pub(super) struct ActView {
    pub(super) suspect: &'static str,
    pub(super) probability: String,
    pub(super) sure: bool,
    pub(super) change: &'static str,
    pub(super) change_id: &'static str,
    pub(super) gain: Option<String>,
}

/// The kit to offer first: that of the reading which the next check asks for, else oxygen.
pub(super) fn kit_asked_for(outlook: &CheckOutlook, advice: &Advice) -> &'static str {
    let asked = if let Advice::Look { looks } = advice {
        outlook.proposals[looks[0]].analyte
    } else {
        None
    };
    asked.map_or("oxygen-drops", |analyte| kit::first_for(analyte).id)
}

impl NextView {
    /// What is next; the check of this id, where the keeper would rather do that one.
    pub(super) fn of(stage: CaseStage, weighed: &Weighed, rather: &str, moment: &Moment) -> Self {
        let file = &weighed.file;
        match (stage, file.choice()) {
            (CaseStage::Closed, _) => Self::Closed,
            (CaseStage::Doing, Some(choice)) => Self::Do {
                title: choice.title(),
                left: choice.steps().count().saturating_sub(choice.ticked.len()),
            },
            (CaseStage::Proving, Some(present)) => {
                let choice = file.to_prove().unwrap_or(present);
                Self::proving(choice, choice.id == present.id, file, moment)
            }
            _ => Self::looking(weighed, rather),
        }
    }

    /// What is to be shown next of a change that was made, and what was shown so far.
    fn proving(choice: &ChosenChange, is_present: bool, file: &CaseFile, moment: &Moment) -> Self {
        let proving = file.proving(choice);
        let overall = proving.overall;
        let shown: Vec<Option<Shown>> = (0..proving.parts.len())
            .map(|place| file.shown(choice, place))
            .collect();
        // What nobody has looked at yet, then what could not be told, then what was early.
        let judged = |shown: &Option<Shown>| shown.as_ref().map(|shown| shown.judged);
        let unjudged = shown.iter().position(Option::is_none);
        let untold = || {
            let untold = |one: Judged| one.verdict == Verdict::CannotTell;
            shown.iter().position(|one| judged(one).is_some_and(untold))
        };
        let early = || {
            shown
                .iter()
                .position(|one| judged(one).is_some_and(|one| !one.is_final))
        };
        let next = unjudged.or_else(untold).or_else(early).unwrap_or_default();
        let part = &proving.parts[next];
        let told: Vec<&str> = shown
            .iter()
            .flatten()
            .map(|shown| shown.words.as_str())
            .collect();
        let verdict = (!told.is_empty()).then(|| {
            let worked = |shown: &&Shown| shown.judged.verdict == Verdict::Proved;
            let of = match proving.parts.len() {
                1 => String::new(),
                parts => {
                    let worked = shown.iter().flatten().filter(worked).count();
                    format!(" {worked} of {parts} things are shown.")
                }
            };
            let says = match overall.verdict {
                Verdict::CannotTell if unjudged.is_some() => NOT_ALL,
                verdict => verdict_words(verdict, overall.is_final),
            };
            (says, told.join(" ") + &of)
        });
        let opening = file.still_stands(choice).map(|(finding, _)| finding);
        let look = match part.wanted {
            Wanted::Gone(sign) => Some(LookAgain {
                choice: choice.id,
                sign: sign.id,
                asks: sign.asks,
                begins: opening == Some(sign),
            }),
            _ => None,
        };
        // A verdict that was early is provisional until its day.
        let provisional = proving
            .parts
            .iter()
            .zip(&shown)
            .filter(|(_, shown)| judged(shown).is_some_and(|judged| !judged.is_final));
        let due = choice
            .done_wall
            .and_then(|done| provisional.map(|(part, _)| file.part_due(part, done)).max())
            .filter(|due| *due > moment.wall);
        Self::Prove {
            when: part.when,
            what: proved_by(part.wanted),
            look,
            stage: (!is_present).then(|| choice.title()),
            field: field_of(choice.id, is_present),
            verdict,
            then: overall.verdict.next(),
            proved: file.is_proved(choice),
            so_far: !overall.is_final && overall.verdict == Verdict::Proved,
            stands: opening
                .filter(|finding| {
                    // Where it is one of the things to be shown, it is asked for there.
                    let is_it = |part: &Part| part.wanted == Wanted::Gone(finding);
                    !proving.parts.iter().any(is_it)
                })
                .map(|finding| Question {
                    answer: "",
                    filters: Vec::new(),
                    ..Question::of(finding, file)
                }),
            due: due.map(|due| when(due, moment.wall)),
            follows: file.stages_to_come().first().map(|stage| {
                let titles: Vec<&str> = stage.changes.iter().map(|change| change.title).collect();
                titles.join(" + ")
            }),
        }
    }

    fn looking(weighed: &Weighed, rather: &str) -> Self {
        let Weighed {
            file,
            differential,
            account,
            outlook,
            advice,
            offers,
            ..
        } = weighed;
        if file.is_silent(&weighed.case.observed) {
            return Self::Say;
        }
        let rather = outlook
            .proposals
            .iter()
            .position(|proposal| proposal.check.id == rather);
        if let Some(rather) = rather {
            return Self::Check(CheckView::of(outlook, rather, file));
        }
        match (advice, offers.first()) {
            (Advice::Look { looks }, _) => match looks[..] {
                [only] => Self::Check(CheckView::of(outlook, only, file)),
                _ => Self::Round(RoundView::of(outlook, looks, file)),
            },
            (Advice::Act, None) => Self::Say,
            (Advice::Act, Some(offer)) if account.grasp(differential, advice) == Grasp::Lost => {
                Self::Lost(ActView::of(offer, differential))
            }
            (Advice::Act, Some(offer)) => Self::Act(ActView::of(offer, differential)),
        }
    }
}

/// The same in one line, which a phone keeps in sight.
pub(super) struct Strip {
    pub(super) kicker: &'static str,
    pub(super) words: String,
    /// Where on the page it is done.
    pub(super) anchor: &'static str,
    /// The question, where a yes or a no answers it.
    pub(super) asks: Option<Question>,
}

impl Strip {
    /// Of what is next; nothing where the page begins with it, or where there is nothing to do.
    pub(super) fn of(next: &NextView) -> Option<Self> {
        let line = |kicker, words: &str, anchor| {
            Some(Self {
                kicker,
                words: words.to_owned(),
                anchor,
                asks: None,
            })
        };
        match next {
            NextView::Say | NextView::Closed => None,
            NextView::Check(check) => {
                // A happening is answered by when it was: that takes the room of the card.
                let asks = check.asks.clone().filter(|question| !question.is_event);
                let anchor = if check.asks.is_none() {
                    "reading-form"
                } else {
                    "next"
                };
                line("Next", &check.title, anchor).map(|strip| Self { asks, ..strip })
            }
            NextView::Round(round) => line("Next", &round.title, "next"),
            NextView::Act(act) | NextView::Lost(act) => line("Next", act.change, "next"),
            NextView::Do { title, .. } => line("Under way", title, "doing"),
            NextView::Prove { what, look, .. } => {
                let words = look.as_ref().map_or(*what, |_| "look again");
                line("Proof", words, "proof")
            }
        }
    }
}

/// What is said while nobody has looked at everything.
const NOT_ALL: &str = "Not all is shown yet";

/// A verdict in words; before its day a success is one so far.
pub(super) const fn verdict_words(verdict: Verdict, is_final: bool) -> &'static str {
    match verdict {
        Verdict::Proved if !is_final => "So far it worked",
        Verdict::Proved => "Proved: it worked",
        Verdict::Partly => "Partly: it helped, not enough or not surely",
        Verdict::NotProved => "Not proved: no effect to be seen",
        Verdict::CannotTell => "Cannot tell yet",
    }
}

impl CheckView {
    fn of(outlook: &CheckOutlook, place: usize, file: &CaseFile) -> Self {
        let proposal = &outlook.proposals[place];
        let check = proposal.check;
        let asks = match &check.gives {
            Gives::Answer(finding) => Some(Question {
                answer: "",
                ..Question::of(finding, file)
            }),
            Gives::Reading(_) | Gives::Repeat => None,
        };
        Self {
            id: check.id,
            title: title(proposal),
            how: check.how,
            caution: check.caution,
            minutes: effort(check),
            why: why(proposal),
            asks,
            seconds: check.watch_seconds,
            hindrances: hindrances(check),
            others: others(outlook, &[place]),
        }
    }
}

impl RoundView {
    fn of(outlook: &CheckOutlook, looks: &[usize], file: &CaseFile) -> Self {
        let checks: Vec<&Check> = looks
            .iter()
            .map(|place| outlook.proposals[*place].check)
            .collect();
        let station = checks.first().and_then(|check| check.station());
        let title = match station {
            Some(Station::Memory) => format!("Think back: {} short questions", checks.len()),
            Some(Station::OpenFilter) => format!("With the filter open: {} looks", checks.len()),
            Some(Station::Filter) => format!("At the filter: {} quick looks", checks.len()),
            _ => format!("In front of the tank: {} quick looks", checks.len()),
        };
        Self {
            title,
            minutes: minutes(round::minutes_of(&checks)),
            seconds: checks.iter().filter_map(|check| check.watch_seconds).max(),
            recalled: station == Some(Station::Memory),
            symbols: sketch_symbols(),
            looks: checks
                .into_iter()
                .filter_map(|check| LookView::of(check, file))
                .collect(),
            others: others(outlook, looks),
        }
    }
}

impl LookView {
    fn of(check: &'static Check, file: &CaseFile) -> Option<Self> {
        let Gives::Answer(finding) = &check.gives else {
            return None;
        };
        let drawn = |answer| sketch(finding, answer).unwrap_or_default();
        Some(Self {
            question: Question {
                answer: "",
                ..Question::of(finding, file)
            },
            how: check.how,
            caution: check.caution,
            yes: drawn(Answer::Yes),
            no: drawn(Answer::No),
            hindrances: hindrances(check),
        })
    }
}

fn hindrances(check: &Check) -> [(&'static str, &'static str); 2] {
    Hindrance::of(check).map(|hindrance| (hindrance.id(), hindrance.words()))
}

/// The best checks beside these.
fn others(outlook: &CheckOutlook, looks: &[usize]) -> Vec<(&'static str, String, String)> {
    let others = outlook
        .proposals
        .iter()
        .enumerate()
        .filter(|(other, _)| !looks.contains(other))
        .take(3);
    others
        .map(|(_, other)| (other.check.id, title(other), effort(other.check)))
        .collect()
}

/// In the keeper's words; of a repeat, of what.
fn title(proposal: &Proposal) -> String {
    match (&proposal.check.gives, proposal.analyte) {
        (Gives::Repeat, Some(analyte)) => format!("Repeat the reading: {}", analyte.label),
        _ => proposal.check.title.to_owned(),
    }
}

fn effort(check: &Check) -> String {
    if check.recalled {
        "a moment".to_owned()
    } else {
        minutes(check.minutes)
    }
}

fn minutes(minutes: f64) -> String {
    if minutes < 1.0 {
        "a glance".to_owned()
    } else {
        format!("{minutes:.0} min")
    }
}

/// Why this check, in plain words.
fn why(proposal: &Proposal) -> String {
    let worth = match proposal.bits {
        much if much >= 0.5 => "Its answer takes away much of what is still open.",
        some if some >= 0.15 => {
            "Its answer takes away some of what is still open, for little effort."
        }
        _ => "Of all that is left to check it tells most for its effort.",
    };
    match &proposal.tells_apart {
        Some([(one, likely), (other, unlikely)]) => format!(
            "{worth} A yes is to be expected in {} of cases if “{}”, in {} if “{}”.",
            percent(*likely),
            one.title,
            percent(*unlikely),
            other.title
        ),
        None => worth.to_owned(),
    }
}

impl ActView {
    fn of(offer: &Offer, differential: &Differential) -> Self {
        // What the change is for; of several the likeliest.
        let meets = |suspect: &&Suspect| offer.change.is_for(suspect.fault);
        let likeliest = differential
            .suspects
            .iter()
            .find(meets)
            .or_else(|| differential.suspects.first());
        let (fault, probability) = likeliest.map_or(("Nothing known", 0.0), |suspect| {
            (suspect.fault.title, suspect.probability)
        });
        let sound = differential.is_sound() && differential.healthy > probability;
        let leading = if sound {
            differential.healthy
        } else {
            probability
        };
        Self {
            suspect: if sound { "Nothing is wrong" } else { fault },
            probability: percent(leading),
            sure: leading >= CLEAR,
            change: offer.change.title,
            change_id: offer.change.id,
            gain: (offer.gain_mg_l > 0.05).then(|| {
                format!(
                    "{:+.1} mg/L at the lowest point of the day",
                    offer.gain_mg_l
                )
            }),
        }
    }
}
