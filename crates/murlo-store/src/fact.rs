//! Which facts have a table of their own, and how they are written.

use crate::error::{Result, StoreError};
use murlo_base::document;
use murlo_brewer::Brewer;
use murlo_brewer::bath::Agent;
use murlo_brewer::home::Home;
use murlo_brewer::water::Water;
use murlo_household::PastClean;
use murlo_household::rounds::Visit;
use murlo_household::stock::{Movement, Supply};
use murlo_plan::{KeptWay, OverDays};
use serde::Serialize;
use serde::de::DeserializeOwned;

/// A fact that has a table of its own.
pub trait Fact: Serialize + DeserializeOwned {
    /// Its table; a constant of this crate, never input.
    const TABLE: &'static str;
    /// What people call it.
    const KIND: &'static str;
    /// Its identity.
    fn id(&self) -> &str;
}

macro_rules! facts {
    ($($type:ty, $table:literal, $kind:literal;)*) => {$(
        impl Fact for $type {
            const TABLE: &'static str = $table;
            const KIND: &'static str = $kind;
            fn id(&self) -> &str { &self.id }
        }
    )*};
}

facts! {
    Home, "homes", "home";
    Water, "waters", "water";
    Agent, "agents", "agent";
    Brewer, "brewers", "brewer";
    PastClean, "past_cleans", "past clean";
    Supply, "supplies", "thing";
    Movement, "movements", "movement";
    Visit, "visits", "visit";
    KeptWay, "ways", "way";
    OverDays, "over_days", "clean over days";
}

/// As it is kept: what an import would refuse is refused here too, so that an own export can always be read again.
pub(crate) fn written(fact: &impl Serialize) -> Result<String> {
    let value = serde_json::to_value(fact)?;
    document::check(&value).map_err(StoreError::Wrong)?;
    Ok(value.to_string())
}
