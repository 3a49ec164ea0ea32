//! What is asked of a result, and what can be answered: closed sets, so that a question that is judged nowhere, or an answer
//! that decides nothing, is missed by the compiler. Their names stand in stored plans and acts: they are only ever added.

use serde::{Deserialize, Serialize};

/// A question.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum QuestionId {
    /// Does anybody notice acid?
    Smell,
    /// Is the water as clear as the reference?
    Clear,
    /// Does a light still ask for descaling?
    Light,
    /// How was it smelled? A nose that hangs over acid tires.
    Nose,
    /// Do chips still come?
    Flakes,
    /// Is the cup as hot as it should be?
    Heat,
    /// Does it rattle?
    Sound,
    /// What did the bath bring out? It teaches how fast chalk grows; the verdict does not depend on it.
    Showed,
}

impl QuestionId {
    /// Every question.
    pub const ALL: [Self; 8] = [
        Self::Smell,
        Self::Clear,
        Self::Light,
        Self::Nose,
        Self::Flakes,
        Self::Heat,
        Self::Sound,
        Self::Showed,
    ];

    /// Its name in data.
    #[must_use]
    pub const fn id(self) -> &'static str {
        match self {
            Self::Smell => "smell",
            Self::Clear => "clear",
            Self::Light => "light",
            Self::Nose => "nose",
            Self::Flakes => "flakes",
            Self::Heat => "heat",
            Self::Sound => "sound",
            Self::Showed => "showed",
        }
    }

    /// Whether it may be left open: it asks for what not everybody can tell.
    #[must_use]
    pub(crate) const fn is_optional(self) -> bool {
        match self {
            Self::Flakes | Self::Heat | Self::Sound => true,
            Self::Smell | Self::Clear | Self::Light | Self::Nose | Self::Showed => false,
        }
    }
}

/// An answer.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum AnswerId {
    /// Smelled after some minutes in fresh air.
    Fresh,
    /// Smelled with a glass of plain water beside it.
    Beside,
    /// Smelled by somebody who was not there before.
    Second,
    /// Smelled just now, where the bath ran.
    Tired,
    /// A lot of chalk came out, as from a brewer that suffered from it.
    Chalk,
    /// A little came out, which tells nothing about how fast it grew.
    Some,
    /// Nothing came out.
    Nothing,
    /// Nobody looked.
    Unseen,
    /// The good answer to each other question.
    Good,
    /// The answer that asks for more work.
    Bad,
}
