//! What shows the state of the colony and of the water's chemistry. Common practice, no source,
//! throughout.

use super::{Finding, Kind, Place};
use crate::diagnosis::check::{Check, Gives};

looked_for! {
    /// Invertebrates are more sensitive than fish, to metals above all.
    DEATHS_INVERTEBRATES @ Fish = "deaths-invertebrates-only", 0.02;
        "Shrimp or snails die while the fish are well", not "Shrimp and snails live",
        asks "Have only shrimp, crayfish or snails died, while the fish are well?";
        look "Look for shrimp and snails", "Count them at night with a torch; look for empty shells.", 3.0;
    /// Hollow belly.
    THIN_FISH @ Fish = "thin-fish", 0.02;
        "Fish are thin: hollow bellies, a ridge along the underside", not "Bellies are full",
        asks "Are bellies hollow, with a ridge along the underside?";
        look "Look at bellies from the front", "Look at five fish from the front and from the side an hour after feeding.", 1.0;
    /// Illness follows weakness.
    DISEASE_SIGNS @ Fish = "disease-signs", 0.05;
        "Fish show spots, frayed fins, wounds or swellings", not "No fish shows spots, wounds or swellings",
        asks "Do fish show spots, frayed fins, wounds or swellings?";
        look "Look over the fish", "Look at skin, fins and eyes of each kind.", 1.0, mind "No medicine on suspicion: ask a fish vet.";
    /// They lack calcium and magnesium, or were poisoned.
    FAILED_MOULTS @ Fish = "failed-moults", 0.003;
        "Shrimp or crayfish get stuck in their moult", not "Moults go well",
        asks "Do shrimp or crayfish die in the moult, with a white ring or half out of the shell?";
        look "Look for moults", "Look at cast shells and at dead animals: is there a split that stopped halfway?", 1.0;
    /// The old ones got used to it step by step.
    NEWCOMERS_DIE @ Fish = "newcomers-die", 0.02;
        "Only newcomers die", not "Newcomers live",
        asks "Do only newly bought animals die, while those that have long been here live?";
        look "Recall the newcomers", "Go through what came in during the last year, and what became of it.", 1.0, recalled true;
    /// Bacteria in the water, or dust.
    CLOUDY_WHITE @ Water = "cloudy-white", 0.02;
        "The water is milky", not "The water is not milky",
        asks "Is the water milky or hazy white?";
        look "Hold a page behind the tank", "Hold a printed page behind the tank: is it veiled?", 0.5;
    /// Bubbles clear within a minute, silt sinks within the hour; a bloom stays.
    JAR_STAYS_CLOUDY @ Water = "jar-stays-cloudy", 0.003;
        "A glass of the water is still hazy after an hour", not "A glass of the water clears",
        asks "Is a glass of the water still hazy after an hour?";
        look "Jar test", "Fill a clear glass. Bubbles are gone within a minute, silt lies on the bottom within the hour; a bloom of bacteria stays hazy.", 1.0;
    /// Wood, leaves.
    TINT_BROWN @ Water = "tint-brown", 0.02;
        "The water is tinted brown", not "The water is clear",
        asks "Is the water tinted yellow or brown?";
        look "Look at a white cup of it", "Fill a white cup with tank water, another with tap water, and compare in daylight.", 1.0;
    /// Hydrogen sulphide.
    SMELL_ROTTEN_EGG @ Water = "smell-rotten-egg", 0.003;
        "It smells of rotten eggs", not "No smell of rotten eggs",
        asks "Does it smell of rotten eggs?";
        look "Smell at the surface", "Open the lid and smell once, without bending down into the tank.", 0.25,
        mind "Rotten eggs are hydrogen sulphide: air the room and leave the bed alone. At high levels one smells nothing: no smell is no proof.";
    /// Light and nutrients.
    NUISANCE_ALGAE @ Water = "nuisance-algae", 0.1;
        "Algae are a nuisance", not "Algae are no nuisance",
        asks "Do algae cover panes, plants or stones faster than you can wipe?";
        look "Look how soon the panes are green", "How many days after wiping are they green again?", 1.0;
    /// Without oxygen.
    BED_BLACK @ Bed = "bed-black-or-gassing", 0.02;
        "The bed is black in places, or bubbles rise from it", not "The bed is neither black nor gassing",
        asks "Is the bed black in places, seen through the pane, or do bubbles rise from it?";
        look "Look at the bed through the pane", "Look along the lower edge of all panes for black patches; watch for bubbles that rise by themselves.", 1.0,
        mind "Do not stir it to find out: what comes out may be hydrogen sulphide.";
    /// More than two weeks.
    RECURRING @ Event = "recurring", 0.1;
        "It keeps coming back", not "It has not come back",
        asks "Has it been bad, better and bad again over more than two weeks?";
        look "Recall how it went", "Look at the log: the same trouble before, with good days between?", 1.0, recalled true;
    /// A broad pad that changes colour is a clue.
    PAD_BLUE @ Water = "pad-blue", 0.003;
        "A colour pad turned blue", not "A colour pad did not turn blue",
        asks "Did a piece of colour-changing pad turn blue within a day or a week?";
        look "Hang in a colour pad", "A piece of about 2.5 cm for 40 L. Look after a day and after a week; blue is copper. Beside tests, not in place of them.", 5.0,
        mind "Never during a course of medicine: it takes that out.";
    /// Organics.
    PAD_TAN @ Water = "pad-tan", 0.02;
        "A colour pad turned tan to brown", not "A colour pad did not turn brown",
        asks "Did a piece of colour-changing pad turn tan or brown?";
        look "Look at the colour pad", "After a day and after a week, in daylight, against a new piece: tan to brown are dissolved organics.", 5.0,
        mind "Never during a course of medicine: it takes that out.";
    /// A medicine's own colour, paler.
    PAD_PALE @ Water = "pad-pale", 0.003;
        "A colour pad took a pale shade of a medicine's colour", not "A colour pad shows no medicine",
        asks "Did a piece of colour-changing pad take a paler shade of a medicine that was used here?";
        look "Compare the pad with the medicine", "After a day and after a week, against a drop of the medicine on paper.", 5.0,
        mind "Only once the course is over.";
    /// Bottles.
    SEVERAL_ADDITIVES @ Water = "several-additives", 0.003;
        "More than two additives are in use at once", not "At most two additives are in use",
        asks "Are more than two additives in use at once?";
        look "Line up the bottles", "Put every bottle that goes into this tank on the table.", 1.0, recalled true;
    /// The end product.
    NITRATE_FLAT @ Water = "nitrate-flat", 0.02;
        "Nitrate does not rise from week to week", not "Nitrate rises from week to week",
        asks "Does nitrate stay where it is over two weeks, although the tank is fed and there are few plants?";
        look "Compare two nitrate readings", "Read nitrate, and again after a week without a water change.", 12.0;
    /// Five weeks and no further.
    CYCLE_STALLED @ Water = "cycle-stalled", 0.003;
        "Ammonia or nitrite has stood still for five weeks", not "Ammonia and nitrite move",
        asks "Have ammonia or nitrite stood at the same level for more than five weeks?";
        look "Look at the readings of the last weeks", "Do ammonia and nitrite fall, and nitrate rise?", 1.0, recalled true;
    /// What a medium hid.
    AMMONIA_WITHOUT_MEDIUM @ Filter = "ammonia-without-medium", 0.003;
        "Ammonia shows once the medium is out for two days", not "Ammonia stays at zero with the medium out",
        asks "Take ammonia-taking media out for 48 hours: does ammonia show then?";
        look "Take the medium out for 48 hours", "Take resin, zeolite or adsorbent pads out, leave the rest, test ammonia after one and two days.", 20.0,
        mind "Test daily; at 0.25 mg/L put it back and change a third of the water. Before any new animal.";
    /// Acid.
    PH_FALLING @ Water = "ph-falling", 0.02;
        "The pH falls from week to week", not "The pH holds",
        asks "Does the pH fall from week to week?";
        look "Compare pH readings", "Read it at the same hour of the day as last week.", 3.0;
    /// Thrown away with its colony.
    CARTRIDGE_ONLY @ Filter = "cartridge-only", 0.1;
        "The filter holds nothing but cartridges that are thrown away", not "The filter holds media that stay",
        asks "Does the filter hold nothing but cartridges that are replaced as a whole?";
        look "Look what stays in the filter", "What is left in it when the cartridge goes?", 0.5;
    /// Nowhere to live.
    BIO_MEDIA_ABSENT @ Filter = "bio-media-absent", 0.02;
        "There is no medium for bacteria in the filter", not "There is a medium for bacteria in the filter",
        asks "Is there no sponge, ring, ball or other medium for bacteria in the filter?";
        look "Look through the trays", "Which trays hold something porous that is never thrown away?", 2.0;
    /// Past its time.
    CHEMICAL_MEDIA_OLD @ Filter = "chemical-media-old", 0.003;
        "A chemical medium has been in for more than two months", not "No chemical medium is older than two months",
        asks "Has carbon, resin, zeolite or a pad been in the filter for more than two months?";
        look "Look when the medium went in", "On its bag, in the log, on the receipt.", 1.0, recalled true;
    /// Too keen.
    FILTER_OPENED_OFTEN @ Filter = "filter-opened-often", 0.02;
        "The filter is opened more often than every other month", not "The filter is seldom opened",
        asks "Is the filter opened more often than every other month?";
        look "Count the openings", "How many times in the last half year?", 0.5, recalled true;
    /// Nothing to clean.
    OPENED_CLEAN @ Filter = "opened-clean", 0.02;
        "Its stages were hardly dirty when it was opened", not "Its stages were dirty when it was opened",
        asks "Were the sponges hardly dirty the last times the filter was opened?";
        look "Recall the last opening", "Look at the photo or the grades: did squeezing blacken the bucket?", 0.5, recalled true;
    /// Stale.
    FOOD_POOR @ Fish = "food-poor", 0.1;
        "The food is old, or always the same", not "The food is fresh and varied",
        asks "Is the food open for more than half a year, or always of one kind?";
        look "Look at the packet", "When was it opened, what does it list first, how much is left uneaten?", 1.0, recalled true;
}
