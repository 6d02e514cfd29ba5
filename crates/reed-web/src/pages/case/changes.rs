//! Changes side by side, the one that was chosen, and its proof, ready to print.

use reed_core::diagnosis::Case;
use reed_core::log::Entry;
use reed_core::outlook::forecast::Forecast;
use reed_core::remedy::change::Wanted;
use reed_core::remedy::{Effects, Offer};
use reed_core::tank::{Analyte, Tank, kit};
use reed_store::choices::{ChosenChange, ProvedBy};
use reed_store::{CaseId, ChoiceId};

use super::next::verdict_words;
use crate::case_file::CaseFile;
use crate::clock::Moment;
use crate::forms::{ReadingInput, Refusals};
use crate::view::{
    Chart, ChartSize, Dot, EffectLine, HourRow, Keeper, ReadingForm, chart_table, effect_lines,
    percent, when,
};

/// At most so many offers are shown in full.
const SHOWN: usize = 3;

/// How many are: the foremost, and what is worth laying beside it.
fn compared(offers: &[Offer]) -> usize {
    offers
        .iter()
        .take(SHOWN)
        .take_while(|offer| offer.is_worth_comparing_with(&offers[0]))
        .count()
}

/// The changes to choose from.
pub(super) struct OffersView {
    pub(super) chart: String,
    pub(super) table: Vec<HourRow>,
    pub(super) first: &'static str,
    pub(super) now: String,
    pub(super) now_grade: &'static str,
    pub(super) offers: Vec<OfferView>,
    /// How many more fit this tank.
    pub(super) others: usize,
}

/// One change with what it would do.
pub(super) struct OfferView {
    pub(super) id: &'static str,
    pub(super) title: &'static str,
    pub(super) what: &'static str,
    pub(super) chart: String,
    /// Lowest oxygen after it, where it is computed.
    pub(super) lowest: Option<String>,
    pub(super) gain: String,
    pub(super) safe: String,
    pub(super) settles: String,
    pub(super) euros: String,
    pub(super) minutes: String,
    pub(super) fits_cause: String,
    pub(super) not_now: &'static str,
    pub(super) look_after: &'static str,
    /// What else it does, by every model that holds what it acts on.
    pub(super) effects: Vec<EffectLine>,
    /// Why there is no number, where there is none.
    pub(super) unseen: &'static str,
}

impl OffersView {
    pub(super) fn of(now: &Forecast, offers: &[Offer], case: &Case, log: &[Entry]) -> Self {
        let Case { tank, observed } = case;
        let best = offers.first();
        let after = best.and_then(|offer| offer.after.as_ref());
        let dots: Vec<Dot> = observed
            .readings
            .iter()
            .filter(|reading| reading.analyte == Analyte::OXYGEN)
            .map(|reading| Dot::of(reading, false))
            .collect();
        let (shown, others) = offers.split_at(compared(offers));
        Self {
            chart: Chart {
                now,
                after,
                plants: tank.plants,
                dots: &dots,
                size: ChartSize::Full,
                id: "day",
            }
            .draw(),
            table: chart_table(now, after),
            first: best.map_or("", |offer| offer.change.title),
            now: format!("{:.1} ± {:.1} mg/L", now.lowest, now.lowest_spread),
            now_grade: now.grade().words(),
            offers: shown
                .iter()
                .map(|offer| OfferView {
                    chart: small_chart(offer, now, tank),
                    ..OfferView::of(offer, case, log)
                })
                .collect(),
            others: others.len(),
        }
    }

    /// All but those that are shown in full.
    pub(super) fn others(offers: &[Offer], case: &Case, log: &[Entry]) -> Vec<OfferView> {
        offers
            .iter()
            .skip(compared(offers))
            .map(|offer| OfferView::of(offer, case, log))
            .collect()
    }
}

fn small_chart(offer: &Offer, now: &Forecast, tank: &Tank) -> String {
    let draw = |after| {
        Chart {
            now,
            after: Some(after),
            plants: tank.plants,
            dots: &[],
            size: ChartSize::Small,
            id: offer.change.id,
        }
        .draw()
    };
    offer.after.as_ref().map_or_else(String::new, draw)
}

impl OfferView {
    /// Without its drawing, which only offers shown in full have.
    fn of(offer: &Offer, case: &Case, log: &[Entry]) -> Self {
        let effects = Effects::of(offer.change, case, log);
        let change = offer.change;
        let after = offer.after.as_ref();
        Self {
            id: change.id,
            title: change.title,
            what: change.what,
            chart: String::new(),
            lowest: after
                .map(|after| format!("{:.1} ± {:.1} mg/L", after.lowest, after.lowest_spread)),
            gain: format!("{:+.1} mg/L", offer.gain_mg_l),
            safe: format!(
                "{} → {}",
                percent(offer.safe_now),
                percent(offer.safe_after)
            ),
            settles: after.map_or_else(String::new, |after| {
                format!("{:.0} h", after.hours_to_settle.ceil())
            }),
            euros: if change.euros < 0.5 {
                "nothing".to_owned()
            } else {
                format!("about {:.0} €", change.euros)
            },
            minutes: format!("{:.0} min", change.minutes),
            fits_cause: percent(offer.fits_cause),
            not_now: offer.not_now.unwrap_or(""),
            look_after: change.look_after,
            effects: effect_lines(&effects, after.is_some(), &case.observed.units),
            unseen: effects.unseen.unwrap_or_default(),
        }
    }
}

/// A change that was chosen.
pub(super) struct ChoiceView {
    pub(super) id: ChoiceId,
    pub(super) title: &'static str,
    pub(super) what: &'static str,
    pub(super) steps: Vec<StepView>,
    pub(super) steps_left: usize,
    /// Where things go, of a change chosen as it was tried.
    pub(super) as_tried: Vec<String>,
    pub(super) look_after: &'static str,
    pub(super) done: Option<String>,
    pub(super) promised: Option<String>,
    pub(super) chart: String,
    pub(super) table: Vec<HourRow>,
    pub(super) proof_what: &'static str,
    pub(super) proof_when: &'static str,
    /// What has to be read before the change, since nothing can be proved without it.
    pub(super) read_first: Option<&'static str>,
    /// It is earlier than the proof should be taken.
    pub(super) proof_early: Option<String>,
    pub(super) proofs: Vec<ProofView>,
    pub(super) if_not: &'static str,
    pub(super) proof_form: Option<ReadingForm>,
    wanted: Wanted,
    /// The question that proves it, where looking is enough and it is time to.
    pub(super) proof_look: Option<&'static str>,
}

/// A step.
pub(super) struct StepView {
    pub(super) index: usize,
    pub(super) text: &'static str,
    pub(super) caution: &'static str,
    pub(super) done: bool,
}

/// What a change is proved by, in words.
pub(super) fn proved_by(wanted: Wanted) -> &'static str {
    match wanted {
        Wanted::Gone(_) => "a second look",
        wanted => wanted
            .analyte()
            .map_or("a reading", |analyte| analyte.label),
    }
}

/// A judged reading or look.
pub(super) struct ProofView {
    pub(super) verdict: &'static str,
    pub(super) tone: &'static str,
    pub(super) words: String,
}

impl ChoiceView {
    pub(super) fn of(choice: &ChosenChange, file: &CaseFile, moment: &Moment) -> Self {
        let change = choice.change;
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
                stored.reading.analyte == Analyte::OXYGEN
                    && (proved(stored.id) || file.counts(stored))
            })
            .map(|stored| Dot::of(&stored.reading, proved(stored.id)))
            .collect();
        let chart = Chart {
            now: &choice.now,
            after: choice.after.as_ref(),
            plants: file.tank().plants,
            dots: &dots,
            size: ChartSize::Full,
            id: "promise",
        };
        let steps: Vec<StepView> = change
            .steps
            .iter()
            .enumerate()
            .map(|(index, step)| StepView {
                index,
                text: step.text,
                caution: step.caution,
                done: choice.ticked.contains(&index),
            })
            .collect();
        let due = choice.done_wall.map(|done| file.proof_due(change, done));
        let wanted = file.wanted(choice, moment.wall);
        Self {
            id: choice.id,
            title: change.title,
            what: change.what,
            steps_left: steps.iter().filter(|step| !step.done).count(),
            steps,
            as_tried: choice
                .moves
                .as_ref()
                .map_or_else(Vec::new, |moves| moves.words(file.tank(), &file.units)),
            look_after: change.look_after,
            done: choice.done_wall.map(|done| when(done, moment.wall)),
            promised: choice.after.as_ref().map(|after| {
                format!(
                    "from {:.1} ± {:.1} to {:.1} ± {:.1} mg/L at the lowest point of the day",
                    choice.now.lowest, choice.now.lowest_spread, after.lowest, after.lowest_spread
                )
            }),
            chart: chart.draw(),
            table: chart_table(&choice.now, choice.after.as_ref()),
            proof_what: proved_by(wanted),
            proof_when: change.proof.when,
            read_first: Self::lacks_a_before(wanted, choice, file, moment),
            proof_early: due
                .filter(|due| *due > moment.wall)
                .map(|due| when(due, moment.wall)),
            proofs: choice
                .proofs
                .iter()
                .map(|proof| ProofView {
                    verdict: verdict_words(proof.verdict, file.is_final(choice, proof)),
                    tone: proof.verdict.id(),
                    words: proof.words.clone(),
                })
                .collect(),
            if_not: change.if_not,
            proof_form: None,
            proof_look: None,
            wanted,
        }
    }

    /// What has to be compared with a reading before the change that nobody has taken yet.
    fn lacks_a_before(
        wanted: Wanted,
        choice: &ChosenChange,
        file: &CaseFile,
        moment: &Moment,
    ) -> Option<&'static str> {
        let compared = matches!(
            wanted,
            Wanted::AtMost(..) | Wanted::RisenBy(..) | Wanted::IntendedTemperature
        );
        let analyte = wanted.analyte().filter(|_| compared && !choice.is_done())?;
        file.observed(moment.wall)
            .latest(analyte)
            .is_none()
            .then_some(analyte.label)
    }

    /// Adds the form for the proof reading, once it is due.
    pub(super) fn form(
        &mut self,
        case: CaseId,
        refused: Option<(ReadingInput, Refusals)>,
        keeper: &Keeper,
    ) {
        if self.done.is_none() {
            return;
        }
        let Some(analyte) = self.wanted.analyte() else {
            self.proof_look = if let Wanted::Gone(finding) = self.wanted {
                Some(finding.asks)
            } else {
                None
            };
            return;
        };
        let action = format!("/cases/{case}/choices/{}/proof", self.id);
        let form = match refused {
            Some((input, refusals)) => ReadingForm::typed("proof", action, input, refusals, keeper),
            None => ReadingForm::blank("proof", action, kit::first_for(analyte).id, keeper),
        };
        self.proof_form = Some(form.due_next("Judge this reading"));
    }
}
