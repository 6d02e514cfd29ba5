//! Macros that several folders share; textual scope, so this module stands first in `lib.rs`.

/// Gives a closed set of choices its list, its ids (as in documents) and its words (as on pages).
macro_rules! closed_set {
    ($type:ident: $($variant:ident = $id:literal, $words:literal;)+) => {
        impl $type {
            /// All of them, in their order.
            pub const ALL: &'static [Self] = &[$(Self::$variant),+];

            /// All of them by id and words.
            pub const CHOICES: &'static [$crate::choice::Choice] =
                &[$($crate::choice::Choice { id: $id, words: $words }),+];

            /// Id as in the document.
            pub const fn id(self) -> &'static str {
                match self { $(Self::$variant => $id),+ }
            }

            /// In the keeper's words.
            pub const fn words(self) -> &'static str {
                match self { $(Self::$variant => $words),+ }
            }

            /// The choice with this id.
            pub fn by_id(id: &str) -> Option<Self> {
                Self::ALL.iter().copied().find(|choice| choice.id() == id)
            }
        }
    };
}

/// A closed set of choices that a field can take.
macro_rules! choices {
    ($type:ident: $($variant:ident = $id:literal, $words:literal;)+) => {
        closed_set! { $type: $($variant = $id, $words;)+ }

        impl $crate::field::FieldValue for $type {
            const WHAT: $crate::field::What = $crate::field::What::OneOf(Self::CHOICES);
        }
    };
}

/// Declares a set of choices together with its type: for sets whose variants need no words beyond
/// their own.
macro_rules! choice_set {
    ($(#[$doc:meta])* $type:ident: $($(#[$vdoc:meta])* $variant:ident = $id:literal, $words:literal;)+) => {
        $(#[$doc])*
        #[derive(Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord, serde::Serialize, serde::Deserialize)]
        #[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
        pub enum $type {
            $(#[doc = $words] $(#[$vdoc])* #[serde(rename = $id)] $variant,)+
        }
        choices! { $type: $($variant = $id, $words;)+ }
    };
}

/// Declares a part of the tank: the type, its form in documents and its table of fields, from one
/// row per field: a line of help (also the doc comment), name, type, key in documents, label, and
/// the accepted range in base units (for words: how many letters; for lists: how many entries).
macro_rules! described {
    ($(#[$doc:meta])* $name:ident {
        $(#[doc = $help:expr] $(#[$attr:meta])* $field:ident: $type:ty = $key:literal, $label:literal $(, $low:literal ..= $high:literal)?;)+
    }) => {
        $(#[$doc])*
        #[derive(Clone, Debug, PartialEq, serde::Serialize, serde::Deserialize)]
        #[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
        pub struct $name {
            $(#[doc = $help] $(#[$attr])* #[serde(rename = $key)] pub $field: $type,)+
        }

        impl $crate::field::Described for $name {
            const FIELDS: &'static [$crate::field::Field] = &[$($crate::field::Field {
                key: $key,
                label: $label,
                help: $help,
                what: <$type as $crate::field::FieldValue>::WHAT,
                optional: <$type as $crate::field::FieldValue>::OPTIONAL,
                range: described!(@range $($low, $high)?),
            }),+];
        }
    };
    (@range) => { (f64::NEG_INFINITY, f64::INFINITY) };
    (@range $low:literal, $high:literal) => { ($low as f64, $high as f64) };
}

/// Declares the kinds that a part can be of: the enum (in documents an object with the kind as its
/// one key), its bare twin without what belongs to a kind, and the trait by which each kind answers
/// for itself.
macro_rules! kinds {
    ($(#[$doc:meta])* $name:ident, $bare:ident: $form:ident { $($variant:ident = $id:literal, $words:literal;)+ }) => {
        $(#[$doc])*
        #[derive(Clone, Debug, PartialEq, serde::Serialize, serde::Deserialize)]
        #[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
        pub enum $name {
            $(#[doc = $words] #[serde(rename = $id)] $variant($variant),)+
        }

        impl $name {
            /// Id as in the document.
            pub const fn id(&self) -> &'static str {
                match self { $(Self::$variant(_) => $id),+ }
            }

            /// In the keeper's words.
            pub const fn words(&self) -> &'static str {
                match self { $(Self::$variant(_) => $words),+ }
            }

            /// Without what belongs to it.
            pub const fn bare(&self) -> $bare {
                match self { $(Self::$variant(_) => $bare::$variant),+ }
            }

            /// What it answers for itself.
            pub fn form(&self) -> &dyn $form {
                match self { $(Self::$variant(kind) => kind),+ }
            }

            /// The same, to be changed.
            pub fn form_mut(&mut self) -> &mut dyn $form {
                match self { $(Self::$variant(kind) => kind),+ }
            }
        }

        #[doc = concat!("A [`", stringify!($name), "`] without what belongs to it.")]
        #[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
        pub enum $bare {
            $(#[doc = $words] $variant,)+
        }

        impl $bare {
            /// All of them, in their order.
            pub const ALL: &'static [Self] = &[$(Self::$variant),+];

            /// Id as in the document.
            pub const fn id(self) -> &'static str {
                match self { $(Self::$variant => $id),+ }
            }

            /// One of this kind as most keepers have it.
            pub fn usual(self) -> $name {
                match self { $(Self::$variant => $name::$variant($variant::default())),+ }
            }
        }

        impl $crate::field::FieldValue for $name {
            const WHAT: $crate::field::What = $crate::field::What::Kinds(&[$($crate::field::KindOf {
                id: $id,
                words: $words,
                part: $crate::field::PartOf::of::<$variant>(),
            }),+]);
        }
    };
}
