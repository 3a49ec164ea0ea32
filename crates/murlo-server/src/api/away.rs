//! What is out of sight, and what is gone for good.

use serde::Serialize;
use utoipa::ToSchema;

/// What can be put away.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum PutAwayKind {
    /// A brewer.
    Brewer,
    /// A water.
    Water,
    /// An agent.
    Agent,
    /// A clean that was told.
    PastClean,
    /// A way that was kept.
    Way,
    /// A home.
    Home,
    /// A visit.
    Visit,
    /// A photo.
    Photo,
    /// Something in the cupboard.
    Supply,
}

/// Something that was put away.
#[derive(Serialize, ToSchema)]
pub struct PutAway {
    /// What it is.
    pub kind: PutAwayKind,
    /// Its identity.
    pub id: String,
    /// Its name.
    pub name: String,
}

/// What erasing would take.
#[derive(Serialize, ToSchema)]
pub struct EraseLook {
    /// "1 home, 2 brewers and 14 cleans".
    pub goes: String,
    /// "9 backups"; empty where there are none.
    pub copies: String,
    /// What nobody here can reach.
    pub elsewhere: String,
}

/// What erasing took.
#[derive(Serialize, ToSchema)]
pub struct ErasedView {
    /// "1 home, 2 brewers and 14 cleans"; empty where only backups held it.
    pub goes: String,
    /// Backups that were written anew without it.
    pub rewritten: usize,
    /// Letters of the outbox that went with it.
    pub letters: usize,
    /// Backups that still hold it, each with why.
    pub left: Vec<String>,
    /// What nobody here can reach.
    pub elsewhere: String,
}
