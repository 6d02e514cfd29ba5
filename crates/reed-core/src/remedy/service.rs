//! The service sheet: what to do at one filter on one visit, in order, by how it is built and by
//! the keeper's schools. Common practice, no source, where nothing else is named.

use jiff::civil::Date;

use crate::filter::State;
use crate::filter::air::SEALS_DAYS;
use crate::filter::sump_levels::SOCK_DAYS;
use crate::tank::{Filter, FilterKind, Medium, Portion, RinseSchool, SeedingSchool, Stage, Tank};
use crate::twin::numbers::Capacity;

/// A step of the sheet.
#[derive(Clone, Debug, PartialEq)]
pub struct Step {
    /// Known by this from visit to visit, so that ticks find it again.
    pub id: &'static str,
    /// What to do.
    pub words: String,
    /// What to mind, beside it.
    pub caution: Option<&'static str>,
}

/// What the sheet is of.
#[derive(Clone, Debug, PartialEq)]
pub struct Sheet {
    /// Its steps, in order.
    pub steps: Vec<Step>,
    /// Tank water to set aside for rinsing, L.
    pub rinse_l: f64,
    /// Share of all surface for bacteria that may be disturbed on this visit, 0 to 1.
    pub safe_share: f64,
    /// A water change is due and can be combined with it.
    pub with_change: bool,
    /// Seals are due.
    pub seals_due: bool,
    /// The impeller is due: every second time.
    pub impeller_due: bool,
}

/// Tank water for a litre of loaded sponge, L. From memory.
const RINSE_L_PER_SPONGE_L: f64 = 5.0;
/// The colony left must carry so many times what is fed. A judgement.
const LEFT_CARRIES: f64 = 1.3;
/// Never more than this of the colony at once, whatever it carries. A judgement.
const AT_ONCE: f64 = 0.5;
/// Tank water for a rinse where no sponge is, L. A judgement.
const RINSE_AT_LEAST_L: f64 = 2.0;
/// Thin cut foam lasts about so many days. Common practice.
const THIN_FOAM_DAYS: i32 = 180;

const ELECTRIC: &str = "Unplug before hands or housings get wet; dry hands, the lead in a drip loop, a residual-current device. A damaged lead: stop, and a licensed electrician.";
const ALL_OFF: &str = "Every pump, not only this one’s: a bared intake draws animals and air.";
const HEATERS: &str = "Heaters off and cooled before the level drops; a hot one in the air cracks.";
const SIPHON: &str = "Start a siphon by bulb or by filling the tube, never by mouth; no open cuts. A fish in the tube: let air in, the flow stops.";
const HEAVY: &str = "A full canister is heavy; water on the floor is slippery.";
const LINES: &str = "An open line empties the tank down to the intake.";
const DRY_RUN: &str = "A pump that runs dry is soon ruined.";

/// Tasks that have a step under some conditions only.
struct Writer<'a> {
    tank: &'a Tank,
    filter: &'a Filter,
    steps: Vec<Step>,
}

impl Writer<'_> {
    fn step(&mut self, id: &'static str, words: impl Into<String>) {
        self.steps.push(Step {
            id,
            words: words.into(),
            caution: None,
        });
    }

    fn careful(&mut self, id: &'static str, words: impl Into<String>, caution: &'static str) {
        self.steps.push(Step {
            id,
            words: words.into(),
            caution: Some(caution),
        });
    }

    fn has(&self, stage: Stage) -> bool {
        self.filter
            .media()
            .any(|portion| portion.medium.stage() == stage)
    }
}

/// The share of all surface for bacteria that can be lost at once and what is left still carries the
/// feed, and a share for safety: from the capacity that bacteria have.
pub fn safe_share(tank: &Tank) -> f64 {
    let ratio = Capacity::of(tank).ratio();
    ratio.map_or(AT_ONCE, |ratio| {
        (1.0 - LEFT_CARRIES / ratio).clamp(0.0, AT_ONCE)
    })
}

/// Share of all surface for bacteria that lies in the sponges of a filter.
pub fn share_in_sponges(tank: &Tank, filter: &Filter) -> f64 {
    let all = Capacity::of(tank).have_m2();
    let sponges: f64 = filter
        .media()
        .filter(|portion| is_sponge(portion.medium))
        .map(Portion::surface_m2)
        .sum();
    if all > 0.0 { sponges / all } else { 0.0 }
}

const fn is_sponge(medium: Medium) -> bool {
    matches!(
        medium,
        Medium::FoamCoarse | Medium::FoamMedium | Medium::FoamFine
    )
}

/// The sheet for a filter today.
pub fn sheet(
    tank: &Tank,
    filter: &Filter,
    state: &State,
    today: Date,
    last_change: Option<Date>,
) -> Sheet {
    let sponges: f64 = filter
        .media()
        .filter(|portion| is_sponge(portion.medium))
        .map(|portion| portion.litres.as_litres())
        .sum();
    let days_since = |day: Date| today.since(day).map_or(0, |span| span.get_days());
    let seals_due = filter.kind.design().is_canister
        && filter
            .seals_renewed
            .is_none_or(|day| f64::from(days_since(day)) >= SEALS_DAYS);
    let with_change = last_change.is_none_or(|day| {
        days_since(day) >= i32::try_from(tank.practice.change_every_days).unwrap_or(7) - 1
    });
    // Every second time: it is due where the filter was opened since it was last out.
    let openings = &state.history.openings;
    let impeller_due = state
        .history
        .impeller
        .is_none_or(|out| openings.iter().any(|opening| opening.at > out));
    let sheet = Sheet {
        steps: Vec::new(),
        rinse_l: RINSE_L_PER_SPONGE_L * sponges,
        safe_share: safe_share(tank),
        with_change,
        seals_due,
        impeller_due,
    };
    let mut writer = Writer {
        tank,
        filter,
        steps: Vec::new(),
    };
    before(&mut writer, &sheet);
    open(&mut writer);
    clean(&mut writer, &sheet, today);
    close(&mut writer, &sheet, state);
    Sheet {
        steps: writer.steps,
        ..sheet
    }
}

/// What comes before anything is opened.
fn before(writer: &mut Writer<'_>, sheet: &Sheet) {
    let (tank, filter) = (writer.tank, writer.filter);
    if tank.filters.len() > 1 {
        writer.step("look-at-all", "Look at all filters first: flow, outlet, lid, sound. One lot of tank water then serves whichever needs it, and only one is opened today.");
    }
    let to_rinse = sheet.rinse_l.max(RINSE_AT_LEAST_L);
    let siphon = if sheet.with_change {
        let share = tank.practice.change_share.as_percent();
        let all = tank.net_volume().as_litres() * share / 100.0;
        format!(
            "Siphon {:.0} L of tank water, of which {to_rinse:.0} L go into clean tubs for rinsing; with it the water change of {share:.0} % is done.",
            all.max(to_rinse)
        )
    } else {
        format!("Siphon {to_rinse:.0} L of tank water into clean tubs for rinsing.")
    };
    writer.careful(
        "heaters-off",
        "Switch heaters off and let them cool.",
        HEATERS,
    );
    writer.careful("siphon", siphon, SIPHON);
    if sheet.with_change {
        writer.careful(
            "all-pumps-off",
            "All pumps off before the level bares an intake.",
            ALL_OFF,
        );
    }
    if filter.kind == FilterKind::Sump {
        writer.step("sock", format!(
            "Change the sock: after {:.0} or {:.0} days it runs over. Or leave its bottom open, with carbon or an organic pad in it, never a medium against ammonia or nitrate: dirt then goes on to the next chamber.",
            SOCK_DAYS.0, SOCK_DAYS.1
        ));
    }
}

/// Opening it, by how it is built.
fn open(writer: &mut Writer<'_>) {
    match writer.filter.kind {
        FilterKind::RisingBasketCanister
        | FilterKind::FallingBasketCanister
        | FilterKind::RingAndCoreCanister
        | FilterKind::CartridgeSlotCanister => {
            writer.careful("unplug", "Unplug this filter.", ELECTRIC);
            writer.careful(
                "taps-shut",
                "Shut both taps and see that no line runs.",
                LINES,
            );
            writer.careful("carry", "Part the coupling and carry it to a tub.", HEAVY);
            writer.step(
                "mark",
                "Mark how head and body stand to each other, with tape over the joint.",
            );
            writer.step(
                "latches",
                "Open the latches with even pressure; lift the head straight up.",
            );
            writer.step(
                "bag",
                "A tub or a bag ready for what drips: media travel in it.",
            );
            writer.step(
                "own-water",
                "Its own water stays in the body: it will do for a first rinse.",
            );
        }
        FilterKind::HangOnBack => {
            writer.careful(
                "unplug",
                "Unplug it; its water runs back by itself.",
                ELECTRIC,
            );
            writer.step(
                "lid-off",
                "Take the lid off and lift the media out, into a bowl of tank water.",
            );
        }
        FilterKind::InternalTopDown | FilterKind::InternalSideIn => {
            writer.careful("unplug", "Unplug it.", ELECTRIC);
            writer.step("bag", "Slip a bag under it while it is still in the water, and lift both: dirt stays in the bag.");
        }
        FilterKind::SpongeOnAir => {
            writer.step("bag", "Shut the air. Slip a bag over the sponge in the water, and lift both: dirt stays in the bag.");
        }
        FilterKind::SpongeWithPowerhead | FilterKind::Mat => {
            writer.careful("unplug", "Unplug the powerhead.", ELECTRIC);
            writer.step(
                "bag",
                "Slip a bag over the sponge in the water, and lift both: dirt stays in the bag.",
            );
        }
        FilterKind::Sump | FilterKind::WetDryTower | FilterKind::MovingBed => {
            writer.careful(
                "unplug",
                "Unplug the return pump and see the water come to rest below the rim.",
                ELECTRIC,
            );
        }
    }
    writer.step("grade", "Grade each stage and the water inside before anything is rinsed; take a photo; count animals that were drawn in.");
}

/// Rinsing, by the keeper's school, within what the colony stands.
fn clean(writer: &mut Writer<'_>, sheet: &Sheet, today: Date) {
    let (tank, filter) = (writer.tank, writer.filter);
    let sponges: Vec<&Portion> = filter
        .media()
        .filter(|portion| is_sponge(portion.medium))
        .collect();
    if !sponges.is_empty() {
        let in_them = share_in_sponges(tank, filter);
        let words = match tank.practice.rinse {
            RinseSchool::TapForLoaded if in_them <= sheet.safe_share => format!(
                "Rinse loaded sponges under the tap, at tank temperature: {:.0} % of the colony sits in them, and up to {:.0} % may go at once here.",
                100.0 * in_them,
                100.0 * sheet.safe_share
            ),
            RinseSchool::TapForLoaded => format!(
                "Not under the tap this time: {:.0} % of the colony sits in these sponges, and what is left of it carries the feed only if no more than {:.0} % go. Squeeze them in {:.0} L of tank water until it passes freely, not until it is clear.",
                100.0 * in_them,
                100.0 * sheet.safe_share,
                sheet.rinse_l
            ),
            RinseSchool::TankWater => format!(
                "Squeeze sponge by sponge in {:.0} L of tank water until it passes freely, not until they look new.",
                sheet.rinse_l
            ),
        };
        writer.step("rinse-sponges", words);
        let worn = sponges.iter().any(|portion| {
            let age = portion
                .put_in
                .map(|day| today.since(day).map_or(0, |span| span.get_days()));
            age.is_some_and(|days| days >= THIN_FOAM_DAYS)
        });
        let age = if worn {
            " One here is over half a year old; thin cut foam lasts about so long."
        } else {
            ""
        };
        writer.step("sponge-ends", format!(
            "A sponge is finished when bits come off in the hand, or when five squeezes no longer clear it.{age} Replace one half now, the other after four weeks."
        ));
    }
    if writer.has(Stage::Fine) {
        writer.step("floss", "Throw floss and fine pads away and lay new ones flat over the whole section; wash a sock inside out.");
    }
    if writer.has(Stage::Biological) {
        let words = match tank.practice.seeding {
            SeedingSchool::MatureMedia | SeedingSchool::None => {
                "Media for bacteria: swirl them in tank water of tank temperature, only if dirt lies on them, and never all trays on one visit. Keep them wet."
            }
            SeedingSchool::WithCleanings => {
                "Media for bacteria: swirl them in tank water, never all trays on one visit. Your bacteria product goes on them now; it is a claim, the model gives it no effect."
            }
            SeedingSchool::Gel => {
                "Media for bacteria: swirl them in tank water, never all trays on one visit. Your gel goes on them now; it is a claim, the model gives it no effect."
            }
        };
        writer.step("rinse-biological", words);
    }
    if writer.has(Stage::Chemical) {
        writer.step("chemical", "Carbon comes out after about two months; a medium against one substance when that is gone or it is spent. It goes back last in the path.");
    }
    if filter.kind != FilterKind::SpongeOnAir {
        if sheet.impeller_due {
            writer.step("impeller", "Impeller out, wipe it, its shaft and its well; look for a hair, a shell, a chip. It is due every second time.");
        } else {
            writer.step(
                "impeller-next",
                "The impeller can wait until the next opening, unless it rattles.",
            );
        }
    }
    writer.step("housing", "Housing, tubes and lid under the tap, with a brush. Never soap. Rinse water never goes back.");
    if filter.kind.design().is_canister {
        let words = if sheet.seals_due {
            "Seals are due: renew all of them as a set, the inner ones at the taps and the pump and the outer one at the lid; a seal-safe grease."
        } else {
            "Seals: wipe, look for nicks, a seal-safe grease. If one leaks, renew all as a set. A strip of paper shut in the lid must not pull out anywhere."
        };
        writer.step("seals", words);
    }
}

/// Closing it, and what to see afterwards.
fn close(writer: &mut Writer<'_>, sheet: &Sheet, state: &State) {
    let filter = writer.filter;
    let is_canister = filter.kind.design().is_canister;
    if is_canister {
        writer.step("stack", "Stack by the path of the water: coarse first, then finer, bacteria, what is chemical last. Fill with tank water.");
        writer.step("head", "Head on by the marks, even pressure. A head that will not seat means something is out of line: never force it.");
        writer.careful(
            "couple",
            "Couple, lock, open both taps, wait until no bubbles leave; then the power.",
            DRY_RUN,
        );
        let purges = if filter.purges_every.is_some() {
            "Leave it plugged in: it stops and restarts by itself within two minutes and sheds its air. Off and on begins that anew."
        } else {
            "Tilt it gently to each side: large bubbles at the outlet are air that was left inside."
        };
        writer.step("air-out", purges);
    } else {
        let back = match filter.kind {
            FilterKind::HangOnBack => {
                "Media back by the path, lid flat. Fill the box with tank water, then the power."
            }
            FilterKind::Sump | FilterKind::WetDryTower | FilterKind::MovingBed => {
                "Everything back by the path; power; see the return chamber come to its mark."
            }
            FilterKind::InternalTopDown
            | FilterKind::InternalSideIn
            | FilterKind::SpongeOnAir
            | FilterKind::SpongeWithPowerhead
            | FilterKind::Mat
            | FilterKind::RisingBasketCanister
            | FilterKind::FallingBasketCanister
            | FilterKind::RingAndCoreCanister
            | FilterKind::CartridgeSlotCanister => {
                "Back into the water, air out of it first, then the power."
            }
        };
        writer.careful("back", back, DRY_RUN);
    }
    if sheet.with_change {
        writer.step("refill", "Refill with conditioned water of tank temperature; level above every intake before pumps run.");
    }
    writer.step(
        "heaters-on",
        "Heaters and all other pumps on again; lids on.",
    );
    let clean = state.clean;
    if clean > 0.0 {
        writer.step("bucket", format!("Bucket test, three runs: clean it gives some {clean:.0} L/h{}. Enter it: what it loses later is judged by this.", if state.clean_is_measured { ", as measured" } else { " by reckoning" }));
    }
    writer.step(
        "first-hour",
        "Micro bubbles of the first two or three hours, and one gush at the restart, are usual.",
    );
    if filter.kind == FilterKind::HangOnBack {
        writer.step(
            "lid-flat",
            "The lid lies flat and all media stand under water: it is done when both are so.",
        );
    }
    if is_canister {
        writer.step(
            "dry",
            "Dry paper under it: look after one hour and after two.",
        );
    }
}
