//! What something that happens does to the water of a tank.

/// An effect on the courses of ammonia, nitrite, nitrate and of the colonies that take them.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Effect {
    /// This share of the water is changed, 0 to 1.
    Change(f64),
    /// A change that habit would make is left out.
    Skip,
    /// This share of the media is rinsed under the tap.
    TapRinse(f64),
    /// This share of the media is replaced by new.
    NewMedia(f64),
    /// A medicine that harms bacteria goes into the tank.
    Medicine,
    /// The filters stand for so many hours.
    Stop(f64),
    /// Water with chlorine goes in.
    Chlorine,
    /// Mature media bring this share of a settled colony.
    Seed(f64),
    /// So much ammonia is dosed, mg N/L.
    Dose(f64),
    /// From now on so many times as much is fed.
    Feed(f64),
    /// From now on they are fed on so many days of seven, as much on each as before.
    FeedDays(f64),
    /// So many animals like those here are added, and fed like them.
    Animals(f64),
    /// So many litres of a medium that takes ammonia go in, last in the path.
    AmmoniaMedium(f64),
    /// So many litres of a medium that takes nitrate.
    NitrateMedium(f64),
    /// Media that take something come out.
    MediaOut,
    /// A conditioner that binds ammonia goes in: a kit may or may not read what is bound.
    Binder,
    /// Bacteria from a bottle or a sludge product: a claim, without effect here.
    Bottle,
}

impl Effect {
    /// As an entry of the log: the id of the kind that does just this, and its amount.
    pub const fn happening(self) -> (&'static str, Option<f64>) {
        match self {
            Self::Change(share) => ("change", Some(share * 100.0)),
            Self::Skip => ("skip", None),
            Self::TapRinse(share) => ("tap-rinse", Some(share * 100.0)),
            Self::NewMedia(share) => ("new-media", Some(share * 100.0)),
            Self::Medicine => ("medicine", None),
            Self::Stop(hours) => ("stop", Some(hours)),
            Self::Chlorine => ("chlorine", None),
            Self::Seed(share) => ("seed", Some(share * 100.0)),
            Self::Dose(mg_l) => ("dose", Some(mg_l)),
            Self::Feed(factor) => ("feed", Some(factor)),
            Self::FeedDays(days) => ("feeding-days", Some(days)),
            Self::Animals(count) => ("animals", Some(count)),
            Self::AmmoniaMedium(litres) => ("ammonia-medium", Some(litres)),
            Self::NitrateMedium(litres) => ("nitrate-medium", Some(litres)),
            Self::MediaOut => ("media-out", None),
            Self::Binder => ("binder", None),
            Self::Bottle => ("bottle", None),
        }
    }
}
