//! A clean that counts for a circuit, and what was seen of it.

use crate::belief::{Brought, Checks, Leaves, Told};
use jiff::Timestamp;
use jiff::civil::Date;
use murlo_base::text;
use murlo_brewer::bath::Taken;
use murlo_brewer::journal::SHOWN;
use murlo_brewer::{Brewer, Circuit};
use murlo_chemistry::cleaning::{Bathed, Film, Left, Path};
use serde::{Deserialize, Serialize};
use std::sync::{Arc, Mutex, PoisonError};

/// What was seen of the chalk in a clean.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Evidence {
    /// How much came out with the baths, as told.
    pub brought: Option<Told>,
    /// Whether chips came.
    pub bits: bool,
    /// Baths that came out brown.
    pub brown_baths: u32,
    /// What was seen of the result.
    pub checks: Checks,
    /// What was seen of a result that was not good enough, so that another bath followed; of several the last.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub failed: Option<FailedResult>,
}

/// A result that another bath followed: whoever only keeps the good one after it believes too little of the chalk that was there.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct FailedResult {
    /// Baths until then.
    pub baths: u32,
    /// What was seen.
    pub checks: Checks,
}

/// A clean that counts for a circuit.
#[derive(Debug, Clone, Default)]
pub struct Cleaned {
    /// The day.
    pub day: Date,
    /// When it ended; absent when it was told afterwards.
    pub at: Option<Timestamp>,
    /// The guided clean; absent when it was told afterwards.
    pub clean_id: Option<String>,
    /// What its baths did; absent when nobody saw.
    pub bathed: Option<Bathed>,
    /// What was seen of it.
    pub evidence: Evidence,
    /// Its agent and recipe, where they are known.
    pub taken: Option<Taken>,
    /// Whether it was given up: its bath did what it did, but it counts for no date.
    pub given_up: bool,
    /// What it leaves, as it was asked last.
    pub asked: KnownLeaves,
}

/// What a clean leaves in a circuit, as it was asked last: seven films are gone through for it. Before the last baths too, where
/// the result was not good enough then.
pub type KnownLeaves = Arc<Mutex<Option<(Wetted, Leaves, Option<Leaves>)>>>;

/// What of a circuit a bath's effect hangs on.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Wetted {
    /// Its path.
    pub path: Path,
    /// Its wetted area, cm².
    pub area_cm2: f64,
    /// The chalk at which it suffers, mg.
    pub limit_mg: f64,
}

impl Wetted {
    /// Of a circuit of `brewer`.
    #[must_use]
    pub fn of(circuit: &Circuit, brewer: &Brewer) -> Self {
        Self {
            path: circuit.path(brewer),
            area_cm2: circuit.area_cm2,
            limit_mg: circuit.limit_mg(),
        }
    }
}

/// The films that are gone through, as shares of the limit; between them what is left is smooth enough.
const FILMS: [f64; 7] = [0.125, 0.25, 0.5, 1.0, 2.0, 4.0, 8.0];

impl Cleaned {
    /// One that was told afterwards.
    #[must_use]
    pub fn told(day: Date) -> Self {
        Self {
            day,
            ..Self::default()
        }
    }

    /// The name under which what it teaches is left out.
    #[must_use]
    pub(crate) fn lesson_id(&self) -> String {
        let id = self
            .clean_id
            .clone()
            .unwrap_or_else(|| self.day.to_string());
        format!("{SHOWN}{id}")
    }

    /// How much chalk its baths brought out.
    #[must_use]
    pub fn brought(&self) -> Option<Brought> {
        let Evidence {
            brought,
            bits,
            brown_baths,
            ..
        } = self.evidence;
        Brought::of(brought, bits, brown_baths)
    }

    /// What it leaves in `wetted` of whatever was there; what was asked last is remembered.
    #[must_use]
    pub fn leaves(&self, wetted: &Wetted) -> Leaves {
        self.leaves_by_then(wetted).0
    }

    /// The same, and what its baths had left when its result was not good enough.
    pub(crate) fn leaves_by_then(&self, wetted: &Wetted) -> (Leaves, Option<Leaves>) {
        let Some(bathed) = &self.bathed else {
            return (Leaves::Same(TOLD_CLEAN), None);
        };
        let mut asked = self.asked.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some((same, leaves, failed)) = &*asked
            && same == wetted
        {
            return (leaves.clone(), failed.clone());
        }
        let failed = self.evidence.failed.map(|failed| {
            let mut until_then = bathed.clone();
            until_then.baths.truncate(failed.baths as usize);
            left_by(&until_then, wetted)
        });
        let leaves = left_by(bathed, wetted);
        *asked = Some((*wetted, leaves.clone(), failed.clone()));
        (leaves, failed)
    }

    /// "The clean on 25 Nov brought a lot of chalk out", "The clean on 25 Nov".
    #[must_use]
    pub fn seen(&self, today: Date) -> String {
        let day = text::day(self.day, today);
        let Evidence {
            bits, brown_baths, ..
        } = self.evidence;
        let what = match self.brought() {
            Some(Brought::None) => " brought no chalk out".to_owned(),
            Some(Brought::Some) if bits => " brought chips".to_owned(),
            Some(Brought::Some) => " brought a little chalk out".to_owned(),
            Some(Brought::Lot | Brought::VeryMuch) if brown_baths > 1 => {
                format!(" stayed brown through {brown_baths} baths")
            }
            Some(Brought::Lot | Brought::VeryMuch) => " brought a lot of chalk out".to_owned(),
            None => String::new(),
        };
        format!("The clean on {day}{what}")
    }
}

/// What these baths leave, by how much was there.
fn left_by(bathed: &Bathed, wetted: &Wetted) -> Leaves {
    Leaves::by_film(FILMS.map(|used| {
        let film = Film {
            mg: used * wetted.limit_mg,
            sigma: 0.0,
            area_cm2: wetted.area_cm2,
        };
        (used, bathed.leaves(&film, &wetted.path))
    }))
}

/// What a clean leaves that nobody saw. Judged.
pub const TOLD_CLEAN: Left = Left {
    p10: 0.04,
    median: 0.15,
    p90: 0.5,
};
