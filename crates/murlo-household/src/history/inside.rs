//! Acid that stayed inside when a clean ended.

use murlo_clean::AcidLeft;
use serde::{Deserialize, Serialize};

/// A clean that ended with acid inside.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct AcidInside {
    /// The clean.
    pub clean_id: String,
    /// "ACID INSIDE, about 240 times what people notice. Do not brew."
    pub text: String,
}

impl AcidInside {
    pub(crate) fn of(clean_id: &str, acid: &AcidLeft) -> Self {
        Self {
            clean_id: clean_id.to_owned(),
            text: format!("ACID INSIDE, {}. Do not brew.", acid.times()),
        }
    }
}
