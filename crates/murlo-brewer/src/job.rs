//! The small works there are: which brewers they fit, how often they usually want doing, and who is asked for them.

use serde::{Deserialize, Serialize};

macro_rules! jobs {
    ($($(#[$doc:meta])* $job:ident: $name:literal, $done:literal;)*) => {
        /// Which small work.
        #[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
        #[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
        #[serde(rename_all = "snake_case")]
        pub enum Job { $($(#[$doc])* $job,)* }

        impl Job {
            /// Every one, in the order in which they are asked for.
            pub const ALL: &[Self] = &[$(Self::$job,)*];

            /// Its name for people.
            #[must_use]
            pub const fn name(self) -> &'static str {
                match self { $(Self::$job => $name,)* }
            }

            /// Its name for machines, in one word.
            #[must_use]
            pub fn key(self) -> String {
                format!("{self:?}").to_lowercase()
            }

            /// What ticks it off.
            #[must_use]
            pub const fn done(self) -> &'static str {
                match self { $(Self::$job => $done,)* }
            }
        }
    };
}

jobs! {
    /// The reservoir emptied and left open to dry.
    Empty: "Empty it", "Emptied today";
    /// Fresh water after it stood.
    Back: "Fresh water after being away", "Done today";
    /// A new water filter.
    Filter: "Water filter", "Fitted today";
    /// Clearing the needles.
    Needles: "Needles", "Cleared today";
    /// Drip tray and rim.
    Tray: "Drip tray and rim", "Washed today";
    /// A rinse pod run through, then cups without a pod.
    RinsePod: "Rinse pod", "Run today";
    /// Parts, body and crevices without a bath.
    Wash: "Wash only", "Washed today";
    /// The hollow behind the pod holder.
    Hollow: "Hollow behind the holder", "Wiped today";
    /// The pod holder stood in something that dissolves chalk.
    Holder: "Soak the pod holder", "Soaked today";
    /// The reusable filter.
    Reusable: "Reusable filter", "Washed today";
    /// A small bath for a brewer that takes a cup at a time.
    LightBath: "Light bath", "Done today";
    /// Mould or slime.
    Slime: "Mould or slime", "Scrubbed today";
    /// Coffee stains on glass and plastic.
    Stains: "Coffee stains", "Gone today";
}

/// For how much a household wants to be asked.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Asks {
    /// Only for what keeps the brewer running.
    Needed,
    /// For what most people do.
    #[default]
    Usual,
    /// For all of it.
    All,
}

/// How often a work is done on one brewer, where it differs from what is usual.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Cadence {
    /// Which work.
    pub job: Job,
    /// At least every so many days.
    #[serde(default)]
    pub days: Option<u32>,
    /// At least every so many brews.
    #[serde(default)]
    pub brews: Option<u32>,
    /// Never asked for.
    #[serde(default)]
    pub off: bool,
}
