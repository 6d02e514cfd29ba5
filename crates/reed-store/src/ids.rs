//! Row numbers, typed so that one cannot stand for another.

macro_rules! ids {
    ($($(#[$doc:meta])* $name:ident;)+) => {$(
        $(#[$doc])*
        #[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
        pub struct $name(pub i64);

        impl From<i64> for $name {
            fn from(row: i64) -> Self {
                Self(row)
            }
        }

        impl std::fmt::Display for $name {
            fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
                self.0.fmt(f)
            }
        }

        impl rusqlite::ToSql for $name {
            fn to_sql(&self) -> rusqlite::Result<rusqlite::types::ToSqlOutput<'_>> {
                self.0.to_sql()
            }
        }

        impl rusqlite::types::FromSql for $name {
            fn column_result(value: rusqlite::types::ValueRef<'_>) -> rusqlite::types::FromSqlResult<Self> {
                i64::column_result(value).map(Self)
            }
        }
    )+};
}

ids! {
    /// A tank.
    TankId;
    /// A revision of a tank.
    RevisionId;
    /// A case.
    CaseId;
    /// A reading.
    ReadingId;
    /// A change that was chosen in a case.
    ChoiceId;
    /// An arrangement that was tried.
    TryId;
    /// A pinch of food that was watched.
    DriftTrialId;
    /// An entry of the log.
    EntryId;
    /// A photo of an entry.
    PhotoId;
    /// What was brought in from a file at once.
    BatchId;
    /// A plan that was chosen in a case.
    PlanId;
    /// What is watched after a case.
    DutyId;
    /// A device that sends what it reads.
    DeviceId;
}
