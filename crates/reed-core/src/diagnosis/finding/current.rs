//! Where dirt comes to rest, what the current does, what floats on top. Common practice, no source,
//! throughout.

use super::{Finding, Kind, Place};
use crate::diagnosis::check::{Check, Gives};

looked_for! {
    /// In one place.
    MUCK_ONE_PILE @ Bed = "muck-one-pile", 0.02;
        "Muck gathers in one heap", not "Muck gathers in no one place",
        asks "Does muck gather in one heap that comes back after it was siphoned off?";
        look "Look for the heap", "Look along the bed from both ends. Note where it lies, siphon it off, look again in a week.", 0.5;
    /// In its lee.
    MUCK_BEHIND_STRUCTURE @ Bed = "muck-behind-structure", 0.02;
        "Muck lies behind a rock or root", not "It is clean behind rocks and roots",
        asks "Does muck gather behind a rock, root or group of stones?";
        look "Look behind the rocks", "Look from above and from the ends, on the side away from the outlet.", 0.5;
    /// Keepers see it in tanks with one outlet at the top of an end.
    FAST_FAR_END @ Bed = "fast-far-end-slow-outlet-end", 0.02;
        "Dirt races over the bed at the far end and creeps under the outlet", not "Dirt moves over the bed evenly",
        asks "Does dirt race over the bed at the end opposite the outlet, and creep below it?";
        look "Watch dirt move over the bed", "Stir up a pinch of muck at each end and follow it for a minute.", 3.0, watch 60 s;
    /// A drift test with fine food.
    FOOD_PASSES_INTAKE @ Bed = "food-passes-intake", 0.02;
        "Fine food drifts past the intake and comes to rest elsewhere", not "The intake catches what drifts",
        asks "Strew a pinch of fine food into the outlet's stream: does most of it miss the intake?";
        look "Drift test with fine food", "A pinch of the finest food into the outlet's stream. Watch from the front and from above for three minutes: where does it go, where does it rest?", 5.0, mind "A pinch, no more: it is feed too. Gel beads only where no animals are.", watch 180 s;
    /// Between two intakes.
    FOOD_RESTS_BETWEEN @ Bed = "food-rests-between-intakes", 0.02;
        "Fine food comes to rest between the two intakes", not "Nothing comes to rest between the intakes",
        asks "Strew a pinch of fine food: does it come to rest between the two intakes?";
        look "Drift test between the intakes", "A pinch of the finest food into each outlet's stream; watch for three minutes where the two meet.", 5.0, mind "A pinch, no more: it is feed too.", watch 180 s;
    /// Out of sight.
    BEHIND_BACKGROUND_DIRTY @ Bed = "behind-background-dirty", 0.003;
        "Muck lies behind the background", not "It is clean behind the background",
        asks "Is it dirty behind the background?";
        look "Look behind the background", "Shine a lamp into the gap from above.", 1.0;
    /// Uneaten.
    LEFTOVER_FOOD @ Bed = "leftover-food", 0.02;
        "Food lies uneaten on the bed", not "No food is left on the bed",
        asks "Does uneaten food lie on the bed an hour after feeding?";
        look "Look an hour after feeding", "Look into corners and behind plants an hour after the feeding; at night with a torch.", 2.0;
    /// Habit.
    BED_NOT_SIPHONED @ Bed = "bed-not-siphoned", 0.1;
        "The bed is not siphoned", not "The bed is siphoned at water changes",
        asks "Is the bed left unsiphoned at water changes?";
        look "Siphon a hand's breadth into a white bucket", "Push the tube in, lift, let the sand fall back. Is the water brown?", 5.0, mind "Start by bulb or by filling the tube, never by mouth. Rotten-egg smell: stop, air the room. Gloves, no open cuts.";
    /// Long fins and slow swimmers.
    PUSHED_BY_CURRENT @ Fish = "pushed-by-current", 0.003;
        "Fish are pushed about by the current", not "Fish rest where they like",
        asks "Are resting fish pushed about, or do they hide from the current?";
        look "Watch fish that rest", "Watch three fish that do not swim: do they hold their place without effort somewhere?", 1.0;
    /// Half height.
    OUTLET_MID_WATER @ Outlet = "outlet-mid-water", 0.02;
        "The stream blows at half height", not "The stream does not blow at half height",
        asks "Does the outlet or powerhead blow at half height, so that neither surface nor bed moves?";
        look "See where the stream goes", "A pinch of fine food before the outlet: does it fly level through the middle?", 1.0;
    /// Too short a pipe.
    RISER_SHORT @ Outlet = "riser-short", 0.02;
        "The riser of the sponge filter ends well below the surface", not "The riser reaches the surface",
        asks "Does the riser of a sponge filter end well below the surface?";
        look "Look at the riser", "How far below the surface does its upper end sit?", 0.25;
    /// For hours.
    FOAM_STAYS @ Surface = "foam-stays", 0.02;
        "Foam stays on the surface", not "No foam stays",
        asks "Does foam lie on the surface for hours?";
        look "Look at the foam", "Look where the stream ends, an hour after the last feeding.", 0.5;
    /// Bursts by itself.
    FOAM_SHORT_LIVED @ Surface = "foam-short-lived", 0.02;
        "The foam bursts by itself", not "The foam does not burst",
        asks "Do the bubbles on the surface burst by themselves within a minute?";
        look "Watch the foam for a minute", "Count how long a single bubble lasts.", 1.0, watch 60 s;
    /// Some fish build one.
    BUBBLE_NEST @ Surface = "bubble-nest", 0.003;
        "A nest of bubbles lies in a quiet corner, with a fish below it", not "There is no nest of bubbles",
        asks "Is the foam a raft of even bubbles in a quiet corner, guarded by a fish?";
        look "Look who is below the foam", "Wait a minute: does a fish mend it, chase others away?", 1.0;
    /// Fat floats.
    OILY_FOOD @ Surface = "oily-food", 0.15;
        "The food is oily", not "The food is not oily",
        asks "Is much oily or home-made food fed?";
        look "Drop some food into a glass of water", "Does an oily ring spread on the surface?", 1.0;
}
