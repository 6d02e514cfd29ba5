//! What the filter, its hoses and its outlet show: weak flow, air, drips. Common practice, no
//! source, throughout.
//!
//! Each has a look of its own; what is seen only with the filter open says so.

use super::{Finding, Kind, Place};
use crate::diagnosis::check::{Check, Gives};

looked_for! {
    /// By eye a loss of a quarter goes unnoticed (from memory).
    FLOW_WEAK @ Outlet = "flow-weak", 0.05;
        "The outlet runs weaker than it did", not "The flow is as it always was",
        asks "Is the flow at the outlet weaker than it was?";
        look "Feel the flow", "Hold a hand before the outlet, or time how long it takes to fill a bucket. Compare with what it did when it was clean.", 1.0;
    /// Nothing comes.
    FLOW_STOPPED @ Outlet = "flow-stopped", 0.02;
        "Nothing comes out of the outlet", not "Water comes out of the outlet",
        asks "Has the flow stopped, though the pump has power?";
        look "See whether anything comes", "Hold a hand before the outlet. Listen to the pump.", 0.25, mind "A pump that runs dry burns out: switch it off if nothing comes.";
    /// Lasting.
    OUTLET_BUBBLES_CONSTANT @ Outlet = "outlet-bubbles-constant", 0.02;
        "Fine bubbles stream out of the outlet all the time", not "No steady bubbles leave the outlet",
        asks "Do fine bubbles leave the outlet all the time?";
        look "Watch the outlet for a minute", "Look at the stream against the light for a minute. Where several outlets run, note which one.", 1.0, watch 60 s;
    /// In gulps.
    OUTLET_BUBBLES_BURSTS @ Outlet = "outlet-bubbles-bursts", 0.02;
        "The outlet gives off bubbles in bursts", not "No bursts of bubbles",
        asks "Does the outlet give off bubbles in bursts, minutes or hours apart?";
        look "Wait for a burst", "Sit beside the tank for five minutes, or ask who sits there. A gush right after a restart is normal.", 5.0, watch 300 s;
    /// A vortex, or a nozzle half out.
    OUTLET_DRAWS_AIR @ Outlet = "outlet-draws-air", 0.003;
        "The outlet pulls air in at the surface", not "The outlet pulls no air in",
        asks "Does the stream pull air down with it where the outlet meets the surface?";
        look "Look where the stream leaves", "Look along the surface at the outlet: is there a funnel, or a nozzle half out of the water?", 0.25;
    /// By design.
    STOPS_AND_RESTARTS @ Outlet = "stops-and-restarts", 0.003;
        "The filter stops by itself and starts again", not "The filter never stops by itself",
        asks "Does the filter stop by itself and start again shortly after?";
        look "Watch a restart", "Plug it in and stay for two minutes; ask whether it does so every 12 to 24 hours. The manual says whether it purges itself.", 3.0, watch 120 s;
    /// Wherever they come from.
    BUBBLES_IN_WATER @ Water = "bubbles-in-water", 0.02;
        "Fine bubbles drift through the water", not "No bubbles drift in the water",
        asks "Do fine bubbles drift through the water?";
        look "Look through the long side", "Look against a lamp. Haze that is bubbles clears within a minute in a glass of it; silt sinks within the hour.", 0.5;
    /// Photosynthesis.
    BUBBLES_ONLY_IN_LIGHT @ Water = "bubbles-only-in-light", 0.02;
        "The bubbles come only while the lights are on", not "The bubbles come in the dark too",
        asks "Do the bubbles come only while the lights are on?";
        look "Look after lights-out", "Look with a torch half an hour after the lights went off.", 2.0;
    /// After a refill.
    BUBBLES_ON_PANES @ Water = "bubbles-on-panes", 0.02;
        "Small bubbles sit on panes and equipment", not "The panes are free of bubbles",
        asks "Do small bubbles sit on the panes?";
        look "Look at the panes", "Look along the inside of the front pane.", 0.25;
    /// Not swept up.
    PARTICLES_DRIFTING @ Water = "particles-drifting", 0.02;
        "Particles drift about and are not caught", not "No particles drift about",
        asks "Do particles drift about for hours?";
        look "Look against a lamp", "Look through the water against a lamp an hour after the last feeding.", 0.5;
    /// Evaporated.
    WATER_LEVEL_LOW @ Surface = "water-level-low", 0.1;
        "The water stands lower than usual", not "The water stands at its mark",
        asks "Does the water stand lower than usual?";
        look "Look at the level", "Compare with the mark, or the dried edge on the glass.", 0.25;
    /// On skin and fins.
    BUBBLES_ON_FISH @ Fish = "bubbles-on-fish", 0.02;
        "Small bubbles sit on fish", not "No bubbles on fish",
        asks "Do small bubbles sit on skin or fins?";
        look "Look at the fins", "Look at three fish from close by.", 0.5;
    /// Overflowing past the media.
    LID_LIFTED @ Filter = "lid-lifted-media-exposed", 0.003;
        "The lid is lifted, or media stand out of the water", not "Lid flat, all media under water",
        asks "Is the hang-on filter's lid lifted, or do media stand out of the water?";
        look "Look into the hang-on filter", "Lift the lid: are all media under water, and does the water take its way through them?", 0.5;
    /// Collected.
    AIR_UNDER_LID @ Filter = "air-under-lid", 0.02;
        "Air stands under the canister's head", not "No air under the canister's head",
        asks "Is there air under the canister's head (a light sound when you tap it, a line through the housing)?";
        look "Tap the canister", "Tap the housing from the bottom up with a knuckle: where it rings light there is air.", 1.0;
    /// Tilting frees what has collected.
    GAS_ON_TILTING @ Filter = "gas-on-tilting", 0.02;
        "Tilting the running canister brings large bubbles out", not "Tilting brings nothing out",
        asks "Tilt the running canister: do large bubbles come out of the outlet?";
        look "Tilt the running canister", "Leave it running and tilt it slowly by some 30° to each side, watching the outlet for half a minute.", 2.0, mind "Only on a dry floor, with the drip loop of its lead in place; stop if anything drips.", watch 30 s;
    /// Impeller, air, dirt.
    GURGLE_OR_RATTLE @ Filter = "gurgle-or-rattle", 0.02;
        "The filter gurgles or rattles", not "The filter is quiet",
        asks "Does the filter gurgle, grind or rattle?";
        look "Listen to the filter", "Put an ear near the pump. Gurgling is air, grinding or rattling the impeller.", 0.5;
    /// Water where none should be.
    DAMP_OR_DRIP @ Filter = "damp-or-drip", 0.02;
        "The filter or a joint is damp", not "Filter and joints are dry",
        asks "Is the filter, a joint or the floor below it damp?";
        look "Feel for damp", "Wipe everything dry, lay a paper towel under it, look again in an hour.", 3.0, mind "Water near sockets: switch off at the fuse first, and leave the rest to an electrician.";
    /// On the intake.
    PREFILTER_DIRTY @ Filter = "prefilter-dirty", 0.05;
        "The sponge on the intake is full of dirt", not "The intake sponge is clean, or there is none",
        asks "Is the sponge on the intake brown and heavy?";
        look "Lift the intake sponge off", "Filter on, take the sponge off for a minute and watch the outlet: does the flow jump up?", 2.0, mind "Fry and shrimp may be drawn in meanwhile: keep a net before the intake.", watch 60 s;
    /// Seen with the filter open.
    FINE_MEDIA_CLOGGED @ Filter = "fine-media-clogged", 0.003;
        "The fine pad is choked with dirt", not "The fine pad is clean",
        asks "With the filter open: is the fine pad or floss choked?";
        look "Open the filter and grade each stage", "Look at every stage apart: coarse, medium, fine, biological. A pad that no longer lets light or water through is choked. Take a photo.", 15.0, mind "Both lines shut and seen dry before a canister is parted; unplug it; it is heavy.", opens filter true;
    /// Seen with the filter open.
    MEDIA_PACKED_TIGHT @ Filter = "media-packed-tight", 0.003;
        "The trays are packed tight", not "The media lie loosely",
        asks "With the filter open: are the trays packed so tight that nothing moves?";
        look "Feel how tight the trays are", "With the filter open, press each bag and pad: it should give. Take one bag out and compare the flow.", 15.0, mind "Both lines shut and seen dry before a canister is parted; unplug it.", opens filter true;
    /// No squeezing clears it.
    SPONGE_CHOKED @ Filter = "sponge-choked", 0.003;
        "Squeezing no longer clears the sponge", not "The sponge squeezes clear",
        asks "Squeeze the sponge in tank water five times: does it stay clogged?";
        look "Squeeze the sponge", "In a bucket of tank water: squeeze it until the water stays clear, then see whether water runs through it.", 10.0, mind "Unplug the filter first. Never under the tap: its bacteria live there.", opens filter true;
    /// Bits come off.
    SPONGE_CRUMBLING @ Filter = "sponge-crumbling", 0.02;
        "The sponge crumbles in the hand", not "The sponge is firm",
        asks "Do bits of the sponge come off in the hand?";
        look "Rub the sponge", "Rub an edge between two fingers in tank water.", 3.0;
    /// More than two years.
    SPONGE_OLD @ Filter = "sponge-old", 0.15;
        "The sponge is older than two years", not "The sponge is young",
        asks "Is the sponge older than two years?";
        look "Recall the sponge's age", "Look at the tank's records, or recall when it was bought.", 0.5, recalled true;
    /// A sump's.
    SOCK_OVERFLOWING @ Filter = "sock-overflowing", 0.003;
        "Water runs over the filter sock", not "Water runs through the sock",
        asks "Does water run over the edge of the filter sock?";
        look "Look at the sock", "Look into the first chamber while the pump runs.", 0.5;
    /// A sump's.
    SUMP_LEVEL_HIGH @ Filter = "sump-level-high", 0.003;
        "The sump stands above its mark while it runs", not "The sump stands at its running mark",
        asks "Does the sump stand higher than its running mark, or without room for what drains back?";
        look "Switch the return off once", "Note the level, switch the return pump off and watch how high the sump rises. Stay beside it.", 4.0, mind "Be ready to switch on again before it runs over.";
    /// A sump's.
    RETURN_CHAMBER_LOW @ Filter = "return-chamber-low", 0.003;
        "The return chamber stands low at the pump", not "The return pump stands well under water",
        asks "Does the return chamber stand so low that the pump nears the surface?";
        look "Look into the return chamber", "Look how much water stands above the pump's intake.", 0.5;
    /// Levers.
    TAPS_NOT_OPEN @ Filter = "taps-not-open", 0.003;
        "A tap or coupling is not fully open", not "Taps open, coupling seated",
        asks "Is a tap only half open, or the coupling not seated?";
        look "Look at the levers", "See that each lever stands along its hose and the coupling sits down all round.", 0.5;
    /// Visible.
    HOSE_KINKED @ Filter = "hose-kinked", 0.003;
        "A hose is kinked or furred inside", not "The hoses run free and clear",
        asks "Is a hose kinked, flattened or brown inside?";
        look "Follow both hoses", "Run a hand along each hose from end to end; hold a lamp behind it.", 2.0;
    /// Years.
    HOSE_OLD @ Filter = "hose-old", 0.15;
        "The hoses are years old and stiff", not "The hoses are soft",
        asks "Are the hoses stiff or several years old?";
        look "Bend a hose", "Press and bend the suction hose near its fittings.", 0.5;
    /// Under the cover.
    IMPELLER_DIRTY @ Filter = "impeller-dirty", 0.003;
        "The impeller is slimed, worn or blocked", not "The impeller is clean and turns freely",
        asks "Open the pump: is the impeller slimed, worn or blocked?";
        look "Look at the impeller", "Unplug, open the motor cover, lift the impeller out: slime, hair, a snail shell, a worn shaft?", 12.0, mind "Unplug first; both lines shut and seen dry on a canister.", opens filter true;
    /// On the suction side.
    JOINT_LOOSE @ Filter = "joint-loose", 0.003;
        "A joint of the suction hose gives", not "Every joint is snug",
        asks "Turn and push each joint between intake and filter: does one give?";
        look "Press each joint", "From the intake to the filter: push the hose on, tighten the nut, see whether the bubbles stop.", 3.0;
    /// Above the water.
    INTAKE_FITTING_ABOVE @ Filter = "intake-fitting-above-water", 0.003;
        "A slit or joint of the intake stands above the water", not "The intake is wholly under water",
        asks "Does a slit or joint of the intake stand above the water?";
        look "Look at the intake", "Look at the intake where it meets the surface.", 0.5;
    /// Lid, taps, pump seat.
    LID_SEAL_BAD @ Filter = "lid-seal-bad", 0.003;
        "A seal is flat, dry, cracked or dirty", not "The seals are clean and supple",
        asks "Is a seal flat, dry, cracked or dirty?";
        look "Look at the seals", "Lid, each tap, pump seat, motor cover in turn: clean, supple, lightly greased, seated all round?", 15.0, mind "Both lines shut and seen dry before a canister is parted; unplug it. Only seal-safe grease.", opens filter true;
    /// It may leak inward only.
    HOSE_CRACKED @ Filter = "hose-cracked", 0.003;
        "A hose has a hair crack", not "The hoses are whole",
        asks "Does another suction hose, or a tight wrap of film over it, end the bubbles?";
        look "Try another suction hose", "Swap the suction hose for a spare, or wrap its fittings tightly in film for ten minutes.", 10.0, mind "Taps shut, unplugged, a bucket below.", watch 600 s;
    /// Housing.
    BODY_CRACKED @ Filter = "body-cracked", 0.003;
        "The housing has a crack", not "The housing is whole",
        asks "Is there a crack in the housing (dry it, press paper along every edge)?";
        look "Paper along the housing", "Dry the housing, press a strip of paper along each edge and latch: where does it darken?", 6.0;
    /// Near an intake.
    AIR_SOURCE_NEAR_INTAKE @ Filter = "air-source-near-intake", 0.02;
        "Bubbles of an air stone or return reach an intake", not "No bubbles reach an intake",
        asks "Do bubbles from an air stone, sponge filter or splashing return reach an intake? Switch the air off for ten minutes: do the outlet's bubbles stop?";
        look "Switch the air off for ten minutes", "Note the bubbles at the outlet, switch the air off, look again after ten minutes.", 5.0, watch 600 s;
    /// Pearling.
    PLANTS_PEARLING @ Filter = "plants-pearling-near-intake", 0.02;
        "Plants give off bubbles near an intake", not "No plant gives off bubbles near an intake",
        asks "Do plants near an intake give off strings of bubbles in the light?";
        look "Look at the plants near the intake", "Look an hour after the lights came on.", 1.0;
    /// Found inside.
    ANIMALS_IN_FILTER @ Filter = "animals-in-filter", 0.02;
        "Animals were found inside the filter", not "No animal inside the filter",
        asks "With the filter open: are there animals inside?";
        look "Look for animals in the filter", "Before rinsing anything, look through the coarse stage and the housing.", 15.0, mind "Both lines shut and seen dry before a canister is parted; unplug it.", opens filter true;
    /// A place nobody suspects.
    MOTOR_COVER_DAMP @ Filter = "motor-cover-damp", 0.02;
        "It is damp round the motor cover", not "The motor cover is dry",
        asks "Is it damp round the motor cover?";
        look "Paper under the motor", "Unplug, dry the motor cover, lay paper below, look again in an hour.", 3.0, mind "Water at a motor: unplug before you touch it. Damaged lead: stop.";
    /// Again and again.
    CLEANING_DID_NOT_CURE @ Filter = "cleaning-did-not-cure", 0.1;
        "Cleaning the filter did not help", not "It was not cleaned in vain",
        asks "Was the filter cleaned because of this, without help?";
        look "Recall the last cleaning", "Did the trouble start before the last cleaning, and go on after it?", 0.5, recalled true;
}
