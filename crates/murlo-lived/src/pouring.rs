//! Baths that are poured otherwise than planned.

use murlo_plan::{PouredSo, Wish};
use serde_json::Value;

/// What somebody says who took `more` of the agent: of a powder more grams, of a liquid so much less water that the tank stands
/// as high.
pub(crate) fn poured_so(view: &Value, more: f64) -> Option<Wish> {
    let bath = &view["plan"]["bath"];
    let total_ml = bath["total"]["ml"].as_f64()?;
    let (amount, water_ml) = match bath["powder_g"].as_f64() {
        Some(grams) => (format!("{:.1} g", more * grams), total_ml),
        None => {
            let agent_ml = more * bath["agent"]["ml"].as_f64()?;
            (format!("{agent_ml:.1} mL"), total_ml - agent_ml)
        }
    };
    let agent_id = view["plan"]["chosen"]["agent_id"].as_str()?.to_owned();
    (water_ml > 5.0).then(|| Wish::Poured {
        by_eye: None,
        so: PouredSo {
            agent_id,
            amount,
            water: format!("{water_ml:.1} mL"),
        },
    })
}
