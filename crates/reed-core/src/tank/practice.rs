//! How the tank is kept. Keepers differ, with reasons on both sides; each setting says what it
//! changes in the numbers.

use super::feeding::FeedingSchool;
use crate::units::Percent;

choice_set! {
    /// Where media are rinsed.
    RinseSchool:
    #[default]
    TankWater = "tank-water", "all media in tank water";
    TapForLoaded = "tap-for-loaded", "loaded sponges under the tap";
}

choice_set! {
    /// When a filter is opened.
    IntervalSchool:
    #[default]
    Learned = "learned", "as each opening teaches";
    Fixed = "fixed", "at a fixed interval";
    OnFlow = "on-flow", "when the flow drops";
    EachWaterChange = "each-water-change", "the sponge squeezed at each water change";
}

choice_set! {
    /// What happens to dirt on the bed.
    BedSchool:
    #[default]
    Siphoned = "siphoned", "siphoned off at each water change";
    CarriedAway = "carried-away", "left to the stream and the intakes";
}

choice_set! {
    /// Where bacteria come from.
    SeedingSchool:
    #[default]
    MatureMedia = "mature-media", "mature media, nothing bought";
    WithCleanings = "with-cleanings", "a bacteria product with each cleaning";
    Gel = "gel", "a gel on the media";
    None = "none", "nothing";
}

choice_set! {
    /// What becomes of media that take one substance out of the water.
    ChemicalSchool:
    #[default]
    OutInTime = "out-in-time", "used against one substance, out in time";
    Renewed = "renewed", "kept in for good, renewed in time";
    None = "none", "not used";
}

choice_set! {
    /// What tap water is treated with.
    Conditioner:
    #[default]
    Plain = "plain", "plain: chlorine and metals";
    BindsAmmonia = "binds-ammonia", "one that binds ammonia too";
    None = "none", "nothing (no chlorine here)";
}

described! {
    /// The keeper's schools.
    #[derive(Copy)]
    Practice {
        /// Tank water spares the colony on the sponges; the tap is quicker, and safe only if the other media carry the load.
        #[serde(default)]
        rinse: RinseSchool = "rinse", "Media are rinsed";
        /// A fixed interval is simple and often too short; what each opening shows fits the interval to this tank.
        #[serde(default)]
        interval: IntervalSchool = "interval", "Filters are opened";
        /// Leftovers are found there even under careful feeding; where the loop carries all to the intakes some never siphon. Dirt that stays uses half as much oxygen again.
        #[serde(default)]
        bed: BedSchool = "bed", "Dirt on the bed is";
        /// Products are claimed to help; the model gives them no effect.
        #[serde(default)]
        seeding: SeedingSchool = "seeding", "Bacteria come from";
        /// Fasting days keep bellies neither hollow nor round, and less comes to the filter; others feed a little every day.
        #[serde(default)]
        feeding: FeedingSchool = "feeding", "They are fed";
        /// Carbon, resins and the like only win time: dirty water has to be changed either way. Some keep a pad in for good, some keep none.
        #[serde(default)]
        chemical: ChemicalSchool = "chemical", "Chemical media are";
        /// A binder can hide ammonia from the colony or from the kit; that is disputed. A zero read under it proves nothing.
        #[serde(default)]
        conditioner: Conditioner = "conditioner", "Conditioner";
        /// Of the water, each time. What is needed follows from the load; 20 % a week is a usual start.
        #[serde(default = "change_share")]
        change_share: Percent = "change_percent", "Water changed", 1.0..=100.0;
        /// From one change to the next.
        #[serde(default = "change_every_days")]
        change_every_days: u32 = "change_every_days", "Days between changes", 1..=365;
    }
}

fn change_share() -> Percent {
    Percent::of(20.0)
}

const fn change_every_days() -> u32 {
    7
}

impl Default for Practice {
    fn default() -> Self {
        Self {
            rinse: RinseSchool::default(),
            interval: IntervalSchool::default(),
            bed: BedSchool::default(),
            seeding: SeedingSchool::default(),
            feeding: FeedingSchool::default(),
            chemical: ChemicalSchool::default(),
            conditioner: Conditioner::default(),
            change_share: change_share(),
            change_every_days: change_every_days(),
        }
    }
}
