//! What was answered to a question, and why one was not.

/// An answer to a question. "Not looked" is the absence of one.
#[derive(Clone, Copy, Debug, PartialEq, Eq, serde::Serialize, serde::Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Answer {
    /// It is so.
    Yes,
    /// It is not so.
    No,
}

impl Answer {
    /// Id as in documents and forms.
    pub const fn id(self) -> &'static str {
        match self {
            Self::Yes => "yes",
            Self::No => "no",
        }
    }

    /// The answer with this id.
    pub fn by_id(id: &str) -> Option<Self> {
        [Self::Yes, Self::No]
            .into_iter()
            .find(|answer| answer.id() == id)
    }
}

/// Why a check is not done.
#[derive(Clone, Copy, Debug, PartialEq, Eq, serde::Serialize, serde::Deserialize)]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Hindrance {
    /// Not at the tank, too dark, out of reach: it may do later.
    CannotLook,
    /// Nobody knows: it is not asked again in this case.
    DoNotKnow,
    /// No kit for it in the house: nothing that needs the kit is asked again in this case.
    NoKit,
}

impl Hindrance {
    /// All of them.
    pub const ALL: [Self; 3] = [Self::CannotLook, Self::DoNotKnow, Self::NoKit];

    /// Id as in documents and forms.
    pub const fn id(self) -> &'static str {
        match self {
            Self::CannotLook => "cannot-look",
            Self::DoNotKnow => "do-not-know",
            Self::NoKit => "no-kit",
        }
    }

    /// The hindrance with this id.
    pub fn by_id(id: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|hindrance| hindrance.id() == id)
    }

    /// In the keeper's words.
    pub const fn words(self) -> &'static str {
        match self {
            Self::CannotLook => "Can't look now",
            Self::DoNotKnow => "Don't know",
            Self::NoKit => "Have no kit",
        }
    }
}
