//! Water reports that can be looked up by place.

use crate::water::Reading;
use serde::{Deserialize, Serialize};

/// What a supplier publishes for a place, as averages of a year.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Report {
    /// The place.
    pub place: String,
    /// Who publishes it.
    pub supplier: String,
    /// Its figures, as a label reading.
    pub reading: Reading,
}
