//! Everything that is stored of a case, and which of it counts now.

mod proving;

use jiff::civil::DateTime;
use jiff::{SignedDuration, Timestamp};
use reed_core::diagnosis::finding::{self, Kind};
use reed_core::diagnosis::record::{self, Recorded};
use reed_core::diagnosis::{Answered, Case, Declined, Observed};
use reed_core::filter::history;
use reed_core::flow::Facts;
use reed_core::log::Entry;
use reed_core::remedy::plan::Prices;
use reed_core::tank::Tank;
use reed_core::units::Units;
use reed_store::cases::KeptCase;
use reed_store::choices::{ChosenChange, ProvedBy};
use reed_store::duties::KeptDuty;
use reed_store::entries::KeptEntry;
use reed_store::plans::{KeptPlan, KeptStage};
use reed_store::readings::Stored;
use reed_store::tanks::Revision;
use reed_store::{
    CaseId, Connection, RevisionId, StoreError, answers, cases, choices, declined, duties, entries,
    plans, prices, readings, settings, tanks,
};

pub(crate) use self::proving::{Proving, Shown};
use crate::clock::Clock;
use crate::flows;

/// Readings of one thing that a case holds at most.
const MOST_OF_EACH: usize = 24;
/// Readings this long before a case was opened still describe it.
const BEFORE_OPENING: SignedDuration = SignedDuration::from_hours(48);

/// Of what happened longer ago than this before a case only the latest of each kind counts.
const REMEMBERED: SignedDuration = SignedDuration::from_hours(24 * 180);

/// How far a case has come.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(crate) enum CaseStage {
    /// Something was noticed; causes are being weighed.
    Looking,
    /// A change was chosen and is being made.
    Doing,
    /// It was made; a reading must show that it worked.
    Proving,
    /// Closed.
    Closed,
}

/// A case with all its records.
#[derive(Clone, Debug)]
pub(crate) struct CaseFile {
    pub(crate) case: KeptCase,
    opened_wall: DateTime,
    /// Every revision of the tank, newest first.
    revisions: Vec<Revision>,
    pub(crate) answers: Vec<Answered>,
    /// What could not be looked at or tested.
    pub(crate) declined: Vec<Declined>,
    /// Of each thing the latest readings of each state, since shortly before the case was opened,
    /// struck ones too.
    pub(crate) readings: Vec<Stored>,
    pub(crate) choices: Vec<ChosenChange>,
    /// What each of them has to show, and what came of it so far.
    proving: Vec<Proving>,
    /// The plan that is followed.
    pub(crate) plan: Option<KeptPlan>,
    /// What its next proof reading can be compared with: value and name for a form.
    pub(crate) controls: Vec<(String, String)>,
    /// What changes cost here.
    pub(crate) prices: Prices,
    /// What the case left to be watched.
    pub(crate) duties: Vec<KeptDuty>,
    pub(crate) answer_history: Vec<answers::Entry>,
    /// What counts of the tank's log.
    log: Vec<KeptEntry>,
    /// What is on record of its filters, and of what was fed.
    filter_log: Vec<KeptEntry>,
    /// What the flow model found in the tank that the suspects are about, if it has been through.
    pub(crate) flow: Option<Facts>,
    /// The units the keeper reads.
    pub(crate) units: Units,
    /// They were chosen by the keeper.
    pub(crate) units_are_chosen: bool,
}

/// Something that was entered.
#[derive(Clone, Copy, Debug)]
pub(crate) enum Entered<'a> {
    /// An answer, or its withdrawal.
    Answer(&'a answers::Entry),
    /// A reading.
    Reading(&'a Stored),
    /// A reading was struck out.
    Strike(&'a Stored),
    /// A change was chosen.
    ChosenChange(&'a ChosenChange),
}

impl Entered<'_> {
    /// When.
    pub(crate) fn at(&self) -> Timestamp {
        match self {
            Self::Answer(answer) => answer.entered_at,
            Self::Reading(stored) => stored.entered_at,
            Self::Strike(stored) => stored.struck_at.unwrap_or(stored.entered_at),
            Self::ChosenChange(choice) => choice.chosen_at,
        }
    }
}

/// What was read in each of the states that a case knows: before each change, since the last one,
/// before it was closed; and what its proofs hang on. A probe that goes on reading takes none of it
/// away.
fn of_each_state(
    db: &Connection,
    case: &KeptCase,
    choices: &[ChosenChange],
    opened_wall: DateTime,
    clock: &Clock,
) -> Result<Vec<Stored>, StoreError> {
    let since = opened_wall - BEFORE_OPENING;
    let closed = case.closed.as_ref().map(|(at, _)| clock.wall_at(*at));
    let done = choices.iter().filter_map(|choice| choice.done_wall);
    let mut all = Vec::new();
    for until in done.chain(closed).chain([DateTime::MAX]) {
        let span = (since, until);
        all.extend(readings::latest_of_each(
            db,
            case.tank_id,
            span,
            MOST_OF_EACH,
        )?);
    }
    for proof in choices.iter().flat_map(|choice| &choice.proofs) {
        if let ProvedBy::Reading(reading) = proof.by {
            all.push(readings::find(db, case.tank_id, reading)?);
        }
    }
    all.sort_by_key(|stored| (stored.reading.taken_at, stored.id));
    all.dedup_by_key(|stored| stored.id);
    Ok(all)
}

impl CaseFile {
    /// Loads a case.
    pub(crate) fn load(db: &Connection, id: CaseId, clock: &Clock) -> Result<Self, StoreError> {
        let case = cases::find(db, id)?;
        let opened_wall = clock.wall_at(case.opened_at);
        let choices = choices::of_case(db, id)?;
        let mut file = Self {
            revisions: tanks::revisions(db, case.tank_id)?,
            answers: answers::current(db, id)?,
            declined: declined::of_case(db, id)?,
            readings: of_each_state(db, &case, &choices, opened_wall, clock)?,
            choices,
            proving: Vec::new(),
            plan: plans::of_case(db, id)?,
            controls: Vec::new(),
            prices: prices::all(db)?,
            duties: duties::of_case(db, (case.tank_id, id))?,
            answer_history: answers::history(db, id)?,
            log: entries::counting(db, case.tank_id, opened_wall - REMEMBERED)?,
            filter_log: entries::of_kinds(db, case.tank_id, &history::KINDS)?,
            units: settings::units(db)?,
            units_are_chosen: settings::are_chosen(db)?,
            opened_wall,
            case,
            flow: None,
        };
        file.settle();
        file.controls = file.controls_of(db)?;
        file.flow = flows::kept(db, file.case.tank_id, file.tank())?;
        Ok(file)
    }

    /// The change that is being made or was made last, unless it fell short of its proof, or an
    /// earlier stage of its plan did since it was made, and the case looks again.
    pub(crate) fn choice(&self) -> Option<&ChosenChange> {
        let last = self.choices.last()?;
        let fell_short = self
            .choices
            .iter()
            .zip(&self.proving)
            .any(|(choice, proving)| {
                let since = proving.fell_short;
                let of_its_plan = last.plan.is_some() && choice.plan == last.plan;
                let is_news = |done| since.is_some_and(|since| since > done);
                choice.id == last.id && since.is_some()
                    || of_its_plan && last.done_wall.is_some_and(is_news)
            });
        (!fell_short).then_some(last)
    }

    /// How far it has come.
    pub(crate) fn stage(&self) -> CaseStage {
        match self.choice() {
            _ if self.case.closed.is_some() => CaseStage::Closed,
            None => CaseStage::Looking,
            Some(choice) if choice.is_done() => CaseStage::Proving,
            Some(_) => CaseStage::Doing,
        }
    }

    /// The tank that the suspects are about: as it stood before the change that is under way.
    pub(crate) fn tank(&self) -> &Tank {
        self.tank_at(
            self.choice()
                .map_or(Timestamp::MAX, |choice| choice.chosen_at),
        )
    }

    /// The tank as it stood at a moment.
    fn tank_at(&self, at: Timestamp) -> &Tank {
        // The list is newest first and a tank has a revision from the moment it exists.
        let standing = self
            .revisions
            .iter()
            .find(|revision| revision.made_at <= at);
        &standing
            .or(self.revisions.last())
            .expect("every tank has a revision")
            .tank
    }

    /// The number of the revision that stands now.
    pub(crate) fn revision(&self) -> RevisionId {
        self.revisions[0].id
    }

    /// The tank as it stands now.
    pub(crate) fn tank_now(&self) -> &Tank {
        &self.revisions[0].tank
    }

    /// The tank has been put away.
    pub(crate) fn is_put_away(&self) -> bool {
        self.revisions[0].removed
    }

    /// Nothing was said or read since the case was opened, or since a change fell short.
    pub(crate) fn is_silent(&self, observed: &Observed) -> bool {
        let since = self.looks_again_since().unwrap_or(self.opened_wall);
        observed.answers.is_empty()
            && observed
                .readings
                .iter()
                .all(|reading| reading.taken_at < since)
    }

    /// Whether a reading counts for the suspects: not struck, and of the state that they are about.
    pub(crate) fn counts(&self, stored: &Stored) -> bool {
        let at = stored.reading.taken_at;
        let since = self.looks_again_since().is_none_or(|since| at >= since);
        // Moments are kept to the minute: what was entered before the change was chosen is of the
        // old state, in the same minute too.
        let is_before = |choice: &ChosenChange| {
            stored.entered_at <= choice.chosen_at || choice.done_wall.is_none_or(|done| at < done)
        };
        let before = self.choice().is_none_or(is_before);
        !stored.is_struck() && since && before
    }

    /// What was seen and read, as far as it counts.
    pub(crate) fn observed(&self, now: DateTime) -> Observed {
        let since = self.looks_again_since();
        Observed {
            now: self
                .choice()
                .and_then(|choice| choice.done_wall)
                .unwrap_or(now),
            answers: self
                .answers
                .iter()
                .filter(|answered| answer_counts(answered, since))
                .cloned()
                .collect(),
            declined: self.declined.clone(),
            recorded: self.recorded(now),
            readings: self
                .readings
                .iter()
                .filter(|stored| self.counts(stored))
                .map(|stored| stored.reading.clone())
                .collect(),
            flow: self.flow.clone(),
            units: self.units,
        }
    }

    /// What is on record of the tank besides the answers of the case.
    fn recorded(&self, now: DateTime) -> Vec<Recorded> {
        let log: Vec<Entry> = self.log.iter().map(|kept| kept.entry.clone()).collect();
        record::of(self.tank(), &log, now)
    }

    /// What is on record of the tank's filters, and of what was fed.
    pub(crate) fn filter_log(&self) -> Vec<Entry> {
        let log = self.filter_log.iter();
        log.map(|kept| kept.entry.clone()).collect()
    }

    /// Everything that was entered until it was closed, in its order.
    pub(crate) fn entries(&self) -> Vec<Entered<'_>> {
        let answers = self.answer_history.iter().map(Entered::Answer);
        let readings = self.readings.iter().map(Entered::Reading);
        let strikes = self
            .readings
            .iter()
            .filter(|stored| stored.is_struck())
            .map(Entered::Strike);
        let choices = self.choices.iter().map(Entered::ChosenChange);
        let mut entries: Vec<Entered<'_>> = answers
            .chain(readings)
            .chain(strikes)
            .chain(choices)
            .collect();
        let closed = self.case.closed.as_ref().map(|(at, _)| *at);
        entries.retain(|entry| closed.is_none_or(|closed| entry.at() <= closed));
        entries.sort_by_key(Entered::at);
        entries
    }

    /// The case as it stood after its first so many entries.
    pub(crate) fn after(&self, entries: usize, clock: &Clock) -> Self {
        let all = self.entries();
        let entered = &all[..entries.min(all.len())];
        let until = entered.last().map_or(self.case.opened_at, Entered::at);
        let wall = clock.wall_at(until);
        let (mut given, mut readings, mut choices) = (
            Vec::<&answers::Entry>::new(),
            Vec::<Stored>::new(),
            Vec::new(),
        );
        for entry in entered {
            match *entry {
                Entered::Answer(answer) => given.push(answer),
                Entered::Reading(stored) => readings.push(Stored {
                    struck_at: None,
                    ..stored.clone()
                }),
                Entered::Strike(stored) => {
                    readings
                        .iter_mut()
                        .filter(|known| known.id == stored.id)
                        .for_each(|known| known.struck_at = stored.struck_at);
                }
                Entered::ChosenChange(choice) => choices.push(choice.clone()),
            }
        }
        readings.sort_by_key(|stored| (stored.reading.taken_at, stored.id.0));
        for choice in &mut choices {
            choice.done_wall = choice.done_wall.filter(|done| *done <= wall);
            choice.proofs.retain(|proof| match proof.by {
                ProvedBy::Reading(id) => readings.iter().any(|stored| stored.id == id),
                ProvedBy::Look(seen) => seen <= wall,
            });
        }
        let revisions: Vec<Revision> = self
            .revisions
            .iter()
            .filter(|revision| revision.made_at <= until)
            .cloned()
            .collect();
        let mut file = Self {
            case: KeptCase {
                closed: None,
                ..self.case.clone()
            },
            revisions: if revisions.is_empty() {
                self.revisions.clone()
            } else {
                revisions
            },
            answers: replayed(given.into_iter()),
            declined: self
                .declined
                .iter()
                .filter(|declined| declined.at <= wall)
                .cloned()
                .collect(),
            readings,
            choices,
            answer_history: self.answer_history.clone(),
            log: self
                .log
                .iter()
                .filter(|kept| kept.made_at <= until)
                .cloned()
                .collect(),
            filter_log: self
                .filter_log
                .iter()
                .filter(|kept| kept.made_at <= until)
                .cloned()
                .collect(),
            flow: self.flow.clone(),
            proving: Vec::new(),
            plan: None,
            controls: Vec::new(),
            prices: self.prices.clone(),
            duties: Vec::new(),
            ..*self
        };
        file.settle();
        file
    }

    /// The case as the diagnosis takes it: the tank that it is about and what counts.
    pub(crate) fn as_seen(&self, now: DateTime) -> Case {
        Case {
            tank: self.tank().clone(),
            observed: self.observed(now),
        }
    }

    /// The stages of the plan that is followed which are still to come.
    pub(crate) fn stages_to_come(&self) -> Vec<&KeptStage> {
        let Some(plan) = &self.plan else {
            return Vec::new();
        };
        let is_made = |stage: &KeptStage| {
            self.choices
                .iter()
                .any(|choice| choice.plan == Some(plan.id) && choice.changes == stage.changes)
        };
        plan.stages.iter().filter(|stage| !is_made(stage)).collect()
    }
}

/// What happened stays true after a change that fell short; what was seen before it may not.
fn answer_counts(answered: &Answered, since: Option<DateTime>) -> bool {
    matches!(answered.finding.kind, Kind::Event { .. })
        || since.is_none_or(|since| answered.at >= since)
}

/// The answers that count after these entries, oldest first.
fn replayed<'a>(entries: impl Iterator<Item = &'a answers::Entry>) -> Vec<Answered> {
    let mut answers: Vec<Answered> = Vec::new();
    for entry in entries {
        let Some(finding) = finding::by_id(&entry.finding) else {
            continue;
        };
        let given = entry.answer.map(|given| Answered {
            filters: entry.filters.clone(),
            ..Answered::new(finding, given, entry.seen_at)
        });
        match (
            answers
                .iter_mut()
                .find(|answered| answered.finding == finding),
            given,
        ) {
            (Some(known), Some(given)) => *known = given,
            (Some(_), None) => answers.retain(|answered| answered.finding != finding),
            (None, given) => answers.extend(given),
        }
    }
    answers
}
