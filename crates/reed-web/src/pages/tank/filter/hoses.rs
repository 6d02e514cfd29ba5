//! Hoses to cut, bores to choose from, and the levels of a sump.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::{Query, State as AppState};
use reed_core::filter::State;
use reed_core::filter::cut::{Cuts, by_bore, cuts, enough};
use reed_core::filter::sump_levels::{SOCK_DAYS, SumpLevels, sump_levels};
use reed_core::tank::{Filter, Sump};
use reed_core::units::{Quantity as _, Volume};
use reed_store::TankId;

use super::{AskedFilter, Part, PartFrame, Seen};
use crate::error::PageError;
use crate::pages::ids::Id;
use crate::state::App;
use crate::view::{Frame, sump_drawing};

#[derive(Template, WebTemplate)]
#[template(path = "pages/filter/hoses.html")]
pub(super) struct HosesPage {
    frame: Frame,
    part: PartFrame,
    id: TankId,
    number: u32,
    name: String,
    hoses: Option<HosesView>,
    sump: Option<SumpView>,
}

struct HosesView {
    /// To which fitting, the way, what to cut.
    runs: Vec<(String, String, String)>,
    all: String,
    warns: Vec<String>,
    bores: Vec<BoreView>,
    taken: Vec<String>,
}

struct BoreView {
    bore: String,
    flow: String,
    is_own: bool,
    is_enough: bool,
}

struct SumpView {
    is_overfull: bool,
    headline: String,
    lines: Vec<String>,
    drawing: String,
}

pub(super) async fn show(
    AppState(app): AppState<App>,
    Id(id): Id<TankId>,
    Query(asked): AskedFilter,
) -> Result<HosesPage, PageError> {
    let now = app.clock.now().wall;
    app.read(move |db| {
        let seen = Seen::read(db, id, asked, now)?;
        let (frame, part) = seen.framed(Part::Hoses);
        let (mut hoses, mut sump) = (None, None);
        let (mut number, mut name) = (0, String::new());
        if let Some((filter, state)) = &seen.filter {
            (number, name) = (filter.number.0, filter.name.clone());
            hoses = cuts(&seen.tank, filter, &state.plumbing)
                .map(|cuts| HosesView::of(&seen, filter, state, &cuts));
            let levels = sump_levels(&seen.tank, filter);
            sump = levels
                .zip(filter.sump.as_ref())
                .map(|(levels, sump)| SumpView::of(&seen, sump, &levels));
        }
        Ok(HosesPage {
            frame,
            part,
            id,
            number,
            name,
            hoses,
            sump,
        })
    })
    .await
}

impl HosesView {
    fn of(seen: &Seen, filter: &Filter, state: &State, cuts: &Cuts) -> Self {
        let cm = |value: f64| seen.length(value);
        let mut warns = Vec::new();
        if cuts.runs.len() > 1 && cuts.short_if_equal_cm() >= 1.0 {
            warns.push(format!(
                "Never cut it into equal pieces: the longest run is {:.0} % longer than the shortest, and would be {} short. A wrong cut idles the filter until new hose comes.",
                100.0 * cuts.uneven(),
                cm(cuts.short_if_equal_cm())
            ));
        }
        warns.push("Cut long, trim later; measure along the way the hose will really take. Square ends, no kink at the rim.".to_owned());
        if !cuts.stands_is_told {
            warns.push("The filter is taken to stand under the middle of the tank: enter where it stands for your own lengths.".to_owned());
        }
        let by_bore = by_bore(&state.plumbing);
        let best = enough(&by_bore);
        let own = state.plumbing.back.map(|hose| hose.bore * 1000.0);
        Self {
            runs: cuts
                .runs
                .iter()
                .map(|run| (run.to.clone(), cm(run.way_cm), cm(run.cut_cm)))
                .collect(),
            all: cm(cuts.all_cm),
            warns,
            bores: by_bore
                .iter()
                .map(|(bore, flow)| BoreView {
                    bore: format!("{bore:.0} mm"),
                    flow: seen.flow(*flow),
                    is_own: own.is_some_and(|own| (own - bore).abs() < 0.6),
                    is_enough: best.is_some_and(|best| (best - bore).abs() < 0.1),
                })
                .collect(),
            taken: state
                .plumbing
                .taken
                .iter()
                .map(|taken| format!("{}: {}", taken.what, taken.value))
                .chain(
                    filter.curve.is_empty().then(|| {
                        "the pump’s curve: a parabola between the label’s ends".to_owned()
                    }),
                )
                .collect(),
        }
    }
}

impl SumpView {
    fn of(seen: &Seen, sump: &Sump, levels: &SumpLevels) -> Self {
        let litres = |value: f64| seen.units.print(value, Volume::UNITS, 0);
        let is_overfull = levels.headroom_l() < 0.0;
        let headline = if is_overfull {
            format!(
                "Too full: when the pump stops, {} run down and only {} fit. {} go onto the floor.",
                litres(levels.drains_l),
                litres(levels.free_l),
                litres(-levels.headroom_l())
            )
        } else {
            format!(
                "When the pump stops, {} run down; {} fit. {} are left.",
                litres(levels.drains_l),
                litres(levels.free_l),
                litres(levels.headroom_l())
            )
        };
        let highest = levels.highest_cm.map_or_else(
            || "However low the return chamber runs, it does not all fit: raise the siphon break, or lower the other levels.".to_owned(),
            |highest| format!("Mark {} above its floor on the return chamber: with no higher running level all of it fits. It runs at {} now.", seen.length(highest), seen.length(levels.runs_at_cm)),
        );
        let told = if levels.break_is_told {
            "as you entered it"
        } else {
            "taken from the outlet as drawn, until you enter where the siphon breaks"
        };
        Self {
            is_overfull,
            headline,
            lines: vec![
                highest,
                format!("The tank sinks by {} until weir and siphon let go, {told}.", seen.length(levels.sinks_cm)),
                "Test it once: level at the mark, switch the pump off, stand by to switch it on again, see where the water comes to rest.".to_owned(),
                format!("Without a top-up its pump draws air after about {:.0} days: only the return chamber sinks.", levels.lasts_days),
                format!("Socks: change them after {:.0} or {:.0} days (common practice, no source), or leave the bottom open and let dirt go on to the next chamber.", SOCK_DAYS.0, SOCK_DAYS.1),
            ],
            drawing: sump_drawing(sump, levels),
        }
    }
}
