//! A clean that counts for a circuit, and what was seen of it.

use crate::belief::{Belief, Brought, Checks, Told};
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
    /// What it left, the last time somebody asked.
    pub asked: Asked,
}

/// What a clean leaves, as it was asked last.
pub type Asked = Arc<Mutex<Option<(Film, Path, Left)>>>;

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
    pub fn lesson_id(&self) -> String {
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

    /// What it leaves of `film` in `path`; what was asked last is remembered.
    #[must_use]
    pub fn leaves(&self, film: &Film, path: &Path) -> Left {
        let Some(bathed) = &self.bathed else {
            return TOLD_CLEAN;
        };
        let mut asked = self.asked.lock().unwrap_or_else(PoisonError::into_inner);
        match *asked {
            Some((same, way, left)) if same == *film && way == *path => left,
            _ => {
                let left = bathed.leaves(film, path);
                *asked = Some((*film, *path, left));
                left
            }
        }
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

/// What a clean leaves of the chalk that was believed to be there before it.
pub(crate) fn leaves(clean: &Cleaned, circuit: &Circuit, brewer: &Brewer, before: &Belief) -> Left {
    let film = Film {
        mg: before.used_median() * circuit.limit_mg(),
        sigma: 0.0,
        area_cm2: circuit.area_cm2,
    };
    clean.leaves(&film, &circuit.path(brewer))
}

/// What a clean leaves that nobody saw. Judged.
pub const TOLD_CLEAN: Left = Left {
    p10: 0.04,
    median: 0.15,
    p90: 0.5,
};
