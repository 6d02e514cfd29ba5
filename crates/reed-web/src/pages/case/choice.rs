//! The change that was chosen, its steps, and what proves it, ready to print.

use jiff::civil::DateTime;
use reed_core::remedy::change::{Acts, Wanted};
use reed_core::remedy::proof::{Judged, Part, Verdict, read_before};
use reed_core::tank::{Analyte, kit};
use reed_store::choices::{ChosenChange, ProvedBy};
use reed_store::{CaseId, ChoiceId};

use super::next::verdict_words;
use crate::case_file::CaseFile;
use crate::clock::Moment;
use crate::forms::{ReadingInput, Refusals};
use crate::view::{Chart, Dot, HourRow, Keeper, ReadingForm, chart_table, when};

/// What was chosen: a change, or several that are made together.
pub(super) struct ChoiceView {
    pub(super) id: ChoiceId,
    pub(super) title: String,
    pub(super) what: Vec<&'static str>,
    pub(super) steps: Vec<StepView>,
    pub(super) steps_left: usize,
    /// Where things go, of a change chosen as it was tried.
    pub(super) as_tried: Vec<String>,
    pub(super) look_after: Vec<&'static str>,
    pub(super) done: Option<String>,
    pub(super) promised: Option<String>,
    pub(super) chart: String,
    pub(super) table: Vec<HourRow>,
    pub(super) parts: Vec<PartView>,
    /// What has to be read before the change, since nothing can be proved without it.
    pub(super) read_first: Option<&'static str>,
    /// What all proofs make together, once there are any; and how it looks.
    pub(super) verdict: Option<(&'static str, &'static str)>,
    /// Of a choice with a verdict that cannot tell: the case may go on without it.
    pub(super) may_leave: bool,
    pub(super) if_not: Vec<&'static str>,
    /// What it makes of the tank is not written into its file by itself: how much it was only the
    /// keeper knows.
    pub(super) to_enter: bool,
    /// It is the change that is under way, and no earlier stage.
    is_present: bool,
}

/// What names the fields of the reading that proves a choice.
pub(super) fn field_of(choice: ChoiceId, is_present: bool) -> String {
    if is_present {
        "proof".to_owned()
    } else {
        format!("proof{choice}")
    }
}

/// A step.
pub(super) struct StepView {
    pub(super) index: usize,
    /// The change that it begins, where there are several.
    pub(super) begins: Option<&'static str>,
    pub(super) text: &'static str,
    pub(super) caution: &'static str,
    /// How long it takes by the clock, s.
    pub(super) seconds: Option<u32>,
    pub(super) done: bool,
}

/// One thing that has to be shown.
pub(super) struct PartView {
    /// Id of what is read or of the sign.
    pub(super) id: &'static str,
    /// Marks its fields, where there are several; empty of the first.
    pub(super) mark: String,
    /// What has to be so.
    pub(super) what: String,
    pub(super) when: &'static str,
    /// It is earlier than it should be looked at.
    pub(super) early: Option<String>,
    /// The latest that came of it: verdict, tone and words.
    pub(super) proof: Option<ProofView>,
    /// The form of the reading.
    pub(super) form: Option<ReadingForm>,
    /// The question, where looking is enough.
    pub(super) asks: Option<&'static str>,
}

/// A judged reading or look.
pub(super) struct ProofView {
    pub(super) verdict: &'static str,
    pub(super) tone: &'static str,
    pub(super) words: String,
}

/// What a part is proved by, in words.
pub(super) fn proved_by(wanted: Wanted) -> &'static str {
    match wanted {
        Wanted::Gone(_) => "a second look",
        wanted => wanted
            .analyte()
            .map_or("a reading", |analyte| analyte.label),
    }
}

/// What came of one part, in words.
const fn shown_words(judged: Judged) -> &'static str {
    match judged.verdict {
        Verdict::Proved if judged.is_final => "Shown",
        verdict => verdict_words(verdict, judged.is_final),
    }
}

/// What has to be so, in words.
fn what(wanted: Wanted, file: &CaseFile) -> String {
    let units = &file.units;
    match wanted {
        Wanted::OxygenAsForecast => "Oxygen risen, and above the level to act on".to_owned(),
        Wanted::OxygenStaysGood => "Oxygen good, with nothing changed".to_owned(),
        Wanted::AtMost(analyte, limit) => {
            format!("{} at most {}", analyte.label, analyte.print(limit, units))
        }
        Wanted::RisenBy(analyte, least) => format!("{} risen by {least:.1} or more", analyte.label),
        Wanted::IntendedTemperature => "The temperature that you mean it to have".to_owned(),
        Wanted::FlowBack => "The flow that the filters give when clean, by bucket".to_owned(),
        Wanted::Gone(sign) => sign.says_not.to_owned(),
    }
}

impl ChoiceView {
    pub(super) fn of(choice: &ChosenChange, file: &CaseFile, moment: &Moment) -> Self {
        let proving = file.proving(choice);
        let steps = steps(choice);
        let (chart, table) = promise(choice, file);
        let mut parts: Vec<PartView> = proving
            .parts
            .iter()
            .enumerate()
            .map(|(place, part)| PartView::of(part, place, choice, (file, moment)))
            .collect();
        parts.iter_mut().skip(1).for_each(|part| {
            part.mark = format!("-{}", part.id);
        });
        let is_judged = parts.iter().any(|part| part.proof.is_some());
        let verdict = is_judged.then(|| {
            let overall = proving.overall;
            (
                verdict_words(overall.verdict, overall.is_final),
                overall.verdict.id(),
            )
        });
        Self {
            id: choice.id,
            title: choice.title(),
            what: choice.changes.iter().map(|change| change.what).collect(),
            steps_left: steps.iter().filter(|step| !step.done).count(),
            steps,
            as_tried: choice
                .moves
                .as_ref()
                .map_or_else(Vec::new, |moves| moves.words(file.tank(), &file.units)),
            look_after: choice
                .changes
                .iter()
                .map(|change| change.look_after)
                .filter(|words| !words.is_empty())
                .collect(),
            done: choice.done_wall.map(|done| when(done, moment.wall)),
            promised: choice.after.as_ref().map(|after| {
                format!(
                    "from {:.1} ± {:.1} to {:.1} ± {:.1} mg/L at the lowest point of the day",
                    choice.now.lowest, choice.now.lowest_spread, after.lowest, after.lowest_spread
                )
            }),
            chart,
            table,
            read_first: lacks_a_before(&proving.parts, choice, file),
            parts,
            verdict,
            may_leave: proving.overall.is_final && proving.overall.verdict == Verdict::CannotTell,
            if_not: choice.changes.iter().map(|change| change.if_not).collect(),
            to_enter: choice
                .changes
                .iter()
                .any(|change| matches!(change.acts, Acts::Makes(_))),
            is_present: file.choice().is_some_and(|present| present.id == choice.id),
        }
    }

    /// Adds the forms of what is still to be shown, once the change is done.
    pub(super) fn forms(
        &mut self,
        case: CaseId,
        refused: Option<(ReadingInput, Refusals)>,
        (keeper, controls): (&Keeper, &[(String, String)]),
    ) {
        if self.done.is_none() {
            return;
        }
        // One reading at a time: the next is asked for once this one is judged.
        let open = self.parts.iter_mut().find(|part| {
            part.asks.is_none()
                && part
                    .proof
                    .as_ref()
                    .is_none_or(|proof| proof.tone != "proved")
        });
        let last_read = open.is_none();
        let read = match open {
            Some(part) => Some(part),
            None => self.parts.iter_mut().find(|part| part.asks.is_none()),
        };
        let Some(part) = read else { return };
        let Some(analyte) = Analyte::ALL.iter().find(|analyte| analyte.id == part.id) else {
            return;
        };
        let action = format!("/cases/{case}/choices/{}/proof", self.id);
        let prefix = field_of(self.id, self.is_present);
        let form = match refused {
            Some((input, refusals)) => {
                ReadingForm::typed(prefix.as_str(), action, input, refusals, keeper)
            }
            None => ReadingForm::blank(prefix.as_str(), action, kit::first_for(analyte).id, keeper),
        };
        let button = if last_read {
            "Judge another reading"
        } else {
            "Judge this reading"
        };
        part.form = Some(form.beside(controls).due_next(button));
    }
}

fn steps(choice: &ChosenChange) -> Vec<StepView> {
    let mut steps = Vec::new();
    for change in &choice.changes {
        for (place, step) in change.steps.iter().enumerate() {
            let index = steps.len();
            steps.push(StepView {
                index,
                begins: (place == 0 && choice.changes.len() > 1).then_some(change.title),
                text: step.text,
                caution: step.caution,
                seconds: step.seconds,
                done: choice.ticked.contains(&index),
            });
        }
    }
    steps
}

/// What was forecast when it was chosen, as a chart and as a table.
fn promise(choice: &ChosenChange, file: &CaseFile) -> (String, Vec<HourRow>) {
    let proved = |id| {
        choice
            .proofs
            .iter()
            .any(|proof| proof.by == ProvedBy::Reading(id))
    };
    let dots: Vec<Dot> = file
        .readings
        .iter()
        .filter(|stored| {
            stored.reading.analyte == Analyte::OXYGEN && (proved(stored.id) || file.counts(stored))
        })
        .map(|stored| Dot::of(&stored.reading, proved(stored.id)))
        .collect();
    let chart = Chart {
        now: &choice.now,
        after: choice.after.as_ref(),
        plants: file.tank().plants,
        dots: &dots,
        id: "promise",
    };
    (
        chart.draw(),
        chart_table(&choice.now, choice.after.as_ref()),
    )
}

/// What has to be compared with a reading before the change that nobody has taken yet.
fn lacks_a_before(parts: &[Part], choice: &ChosenChange, file: &CaseFile) -> Option<&'static str> {
    if choice.is_done() {
        return None;
    }
    let before = file.before(choice);
    let lacking = parts.iter().find_map(|part| {
        let is_compared = match part.wanted {
            Wanted::AtMost(..)
            | Wanted::RisenBy(..)
            | Wanted::IntendedTemperature
            | Wanted::FlowBack => true,
            Wanted::OxygenAsForecast | Wanted::OxygenStaysGood | Wanted::Gone(_) => false,
        };
        let analyte = part.wanted.analyte().filter(|_| is_compared)?;
        read_before(&before, analyte).is_none().then_some(analyte)
    });
    lacking.map(|analyte| analyte.label)
}

impl PartView {
    fn of(
        part: &Part,
        place: usize,
        choice: &ChosenChange,
        (file, moment): (&CaseFile, &Moment),
    ) -> Self {
        let due = |done: DateTime| file.part_due(part, done);
        let early = choice.done_wall.map(due).filter(|due| *due > moment.wall);
        Self {
            id: part.wanted.id(),
            mark: String::new(),
            what: what(part.wanted, file),
            when: part.when,
            early: early.map(|due| when(due, moment.wall)),
            proof: file.shown(choice, place).map(|shown| ProofView {
                verdict: shown_words(shown.judged),
                tone: shown.judged.verdict.id(),
                words: shown.words,
            }),
            form: None,
            asks: match part.wanted {
                Wanted::Gone(sign) => Some(sign.asks),
                _ => None,
            },
        }
    }
}
