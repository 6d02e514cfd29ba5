//! Everything that is computed of one filter as it stands, from the tank, the log and the flow.

use jiff::civil::DateTime;

use super::air::{self, Suspect, Trapped, margin_kpa};
use super::clogging::Next;
use super::load::caught_by_flow;
use super::{Clogging, History, Load, Plumbing, Pressed};
use crate::log::Entry;
use crate::tank::{Filter, Medium, Tank};
use crate::units::days_of;
use crate::water::oxygen::atmosphere::pressure_at;

/// A filter as it stands.
#[derive(Clone, Debug, PartialEq)]
pub struct State {
    /// Pump, hoses, beds.
    pub plumbing: Plumbing,
    /// The dirt that comes to it.
    pub load: Load,
    /// What is on record of it.
    pub history: History,
    /// How full it is; none where it holds nothing that fills.
    pub clogging: Option<Clogging>,
    /// Flow through it clean, L/h: as measured, or as computed.
    pub clean: f64,
    /// The clean flow was measured.
    pub clean_is_measured: bool,
    /// Flow to reckon with now, L/h.
    pub flow: f64,
    /// Pressures on its suction side at that flow.
    pub pressed: Vec<Pressed>,
    /// Margin of the water at the pump before it sheds gas, kPa.
    pub margin_kpa: Option<f64>,
    /// When to open it next.
    pub next: Option<Next>,
    /// Whether bubbles are usual now.
    pub trapped: Trapped,
    /// Days until evaporation bares the top of its intake.
    pub exposed_in_days: Option<f64>,
    /// Where to look when bubbles leave it, in order.
    pub suspects: Vec<Suspect>,
}

impl State {
    /// Of a filter of a tank with its log; `caught` is the share of all dirt that its own intakes
    /// catch, by the flow model, where that is known.
    pub fn of(
        tank: &Tank,
        filter: &Filter,
        log: &[Entry],
        caught: Option<f64>,
        now: DateTime,
    ) -> Self {
        let plumbing = Plumbing::of(tank, filter);
        let caught = caught.unwrap_or_else(|| caught_by_flow(tank, filter));
        let load = Load::of(tank, filter, &plumbing, caught);
        let history = History::of(
            tank,
            filter,
            log,
            first_medium(filter, &plumbing, &load),
            now,
        );
        let clogging = Clogging::of(&plumbing, &load, &history, filter);
        let clean = plumbing.clean_l_per_h(filter);
        let flow = filter.flow().as_litres_per_hour();
        let choked = clogging.as_ref().map(|clogging| clogging.bed);
        let share = clogging
            .as_ref()
            .and_then(|clogging| clogging.share)
            .map(|share| share.middle);
        let pressed = plumbing.suction_side(flow, choked, share.unwrap_or_default());
        let margin = pressed
            .last()
            .map(|pump| margin_kpa(pump.kpa, 100.0, pressure_at(tank.altitude).as_kilopascals()));
        let trapped = Trapped::of(filter, history.opened, now);
        let exposed_in_days = air::exposed_in_days(tank, filter);
        let seals = filter
            .seals_renewed
            .map(|day| days_of(now.duration_since(day.at(0, 0, 0, 0))));
        let suspects = air::suspects(&air::Known {
            pressed: &pressed,
            margin_kpa: margin,
            share,
            trapped,
            exposed_in_days,
            seals_days: seals,
        });
        let next = clogging
            .as_ref()
            .and_then(|clogging| clogging.next(tank, &history, now));
        Self {
            plumbing,
            load,
            clogging,
            clean,
            clean_is_measured: filter.clean.is_some(),
            flow,
            pressed,
            margin_kpa: margin,
            next,
            trapped,
            exposed_in_days,
            suspects,
            history,
        }
    }

    /// The medium that fills first.
    pub fn first_medium(&self, filter: &Filter) -> Option<Medium> {
        first_medium(filter, &self.plumbing, &self.load)
    }
}

fn first_medium(filter: &Filter, plumbing: &Plumbing, load: &Load) -> Option<Medium> {
    let laid = plumbing.beds.get(load.first_full()?.0)?;
    let path = filter.path();
    let stop = path.iter().find(|stop| stop.at == laid.at)?;
    stop.media.get(laid.portion).map(|portion| portion.medium)
}
