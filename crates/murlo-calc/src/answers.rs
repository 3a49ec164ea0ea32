//! Answers that take more than a line.

use crate::TopicInput;
use crate::fields::{acid, strength};
use murlo_base::problem::{Code, Problem};
use murlo_brewer::bath::split;
use murlo_chalk::scale::SteadyPace;
use murlo_chemistry::acid::AcidBath;
use serde_json::{Value, json};

pub(crate) fn bath(i: &TopicInput) -> Result<AcidBath, Problem> {
    Ok(AcidBath::new(acid(i), strength(i)?, i.number("temp_c")))
}

pub(crate) fn days_of(pace: &SteadyPace) -> Value {
    json!({ "median_days": pace.median, "p10_days": pace.p10, "p90_days": pace.p90, "due_days": pace.due })
}

/// Spread of the plating factor never falls below this, however much was seen.
const LEAST_SIGMA: f64 = 0.20;

/// Plating factor and its spread after symptoms began once `potential_mg` had passed: Bayes on the logarithm. A question of its
/// own; the application learns by [`murlo_chalk::belief`].
pub(crate) fn learn(
    plating: f64,
    sigma: f64,
    limit_mg: f64,
    potential_mg: f64,
    sigma_observation: f64,
) -> (f64, f64) {
    let observed = (limit_mg / potential_mg).ln();
    let (w0, w1) = (sigma.powi(-2), sigma_observation.powi(-2));
    let log = (w0 * plating.ln() + w1 * observed) / (w0 + w1);
    (log.exp(), (w0 + w1).sqrt().recip().max(LEAST_SIGMA))
}

fn too_strong(target: f64, stock: f64) -> Problem {
    Problem::new(
        Code::OutOfRange,
        "target_percent",
        format!("{target} % is stronger than the stock: give at most {stock} %"),
    )
}

/// Strength of what is thinned, %; nothing where only its label's ratio is told.
fn stock_percent(i: &TopicInput) -> Result<Option<f64>, Problem> {
    Ok(
        match (
            i.maybe("stock_percent"),
            i.maybe("g_per_l"),
            i.group("label_ratio").is_some(),
        ) {
            (Some(percent), None, _) => Some(percent),
            (None, Some(grams), _) => Some(grams / 10.0),
            (None, None, true) => None,
            (None, None, false) => {
                return Err(Problem::new(
                    Code::Missing,
                    "stock_percent",
                    "give the strength as stock_percent or g_per_l, or the label_ratio of a bottle",
                ));
            }
            _ => {
                return Err(Problem::new(
                    Code::Contradiction,
                    "stock_percent",
                    "give stock_percent or g_per_l, not both",
                ));
            }
        },
    )
}

/// Parts of agent and of water.
fn ratio(i: &TopicInput, stock: Option<f64>) -> Result<(f64, f64), Problem> {
    let parts = |group: TopicInput| (group.number("agent"), group.number("water"));
    Ok(
        match (
            i.group("ratio").or_else(|| i.group("label_ratio")),
            i.maybe("target_percent"),
        ) {
            (Some(ratio), None) => parts(ratio),
            (None, Some(target)) => {
                let stock = stock.ok_or_else(|| {
                    Problem::new(
                        Code::Missing,
                        "stock_percent",
                        "a target strength needs the strength of the stock",
                    )
                })?;
                if target > stock {
                    return Err(too_strong(target, stock));
                }
                (target, stock - target)
            }
            (None, None) => {
                return Err(Problem::new(
                    Code::Missing,
                    "ratio",
                    "give a ratio of agent to water, or a target_percent",
                ));
            }
            _ => {
                return Err(Problem::new(
                    Code::Contradiction,
                    "target_percent",
                    "give a ratio or a target_percent, not both",
                ));
            }
        },
    )
}

pub(crate) fn dilution(i: &TopicInput) -> Result<Value, Problem> {
    let (stock, target) = (i.number("stock_percent"), i.number("target_percent"));
    let (total, mark) = (i.number("total_ml"), i.number("mark_ml"));
    if target > stock {
        return Err(too_strong(target, stock));
    }
    let stock_ml = ((total * target / stock / mark + 0.5 + 1e-9).floor() * mark).min(total);
    Ok(
        json!({ "stock_ml": stock_ml, "water_ml": total - stock_ml, "actual_percent": stock * stock_ml / total }),
    )
}

pub(crate) fn mix(i: &TopicInput) -> Result<Value, Problem> {
    let stock = stock_percent(i)?;
    let ratio = ratio(i, stock)?;
    let vessel = i.group("vessel");
    let capacity = vessel.as_ref().map(|v| v.number("capacity_ml"));
    let total = i.maybe("total_ml").or(capacity).ok_or_else(|| {
        Problem::new(
            Code::Missing,
            "vessel",
            "give a vessel with its capacity_ml, or a total_ml",
        )
    })?;
    if let Some(capacity) = capacity.filter(|c| total > c * 1.000_001) {
        return Err(Problem::new(
            Code::TooMuch,
            "total_ml",
            format!("the vessel holds {capacity} mL: give at most that"),
        ));
    }
    let mark = vessel.as_ref().and_then(|v| v.maybe("mark_ml"));
    let poured = split(total, ratio, mark);
    let percent = stock.map(|s| s * poured.agent_ml / total);
    let mut warnings = Vec::new();
    // Whoever pours it has the undiluted agent in hand.
    let handled = [stock, percent].into_iter().flatten();
    if handled.fold(0.0, f64::max) >= murlo_brewer::bath::GOGGLES_PERCENT {
        warnings.push("strong");
    }
    if poured.water_ml <= 0.0 {
        warnings.push("neat");
    }
    let marks = |ml: f64| mark.map(|m| ml / m);
    Ok(json!({
        "agent_ml": poured.agent_ml,
        "water_ml": poured.water_ml,
        "total_ml": total,
        "agent_marks": marks(poured.agent_ml),
        "water_marks": marks(poured.water_ml),
        "mark_name": vessel.as_ref().and_then(|v| v.given("mark_name")).cloned(),
        "actual_ratio": { "agent": 1.0, "water": poured.water_ml / poured.agent_ml },
        "actual_percent": percent,
        "warnings": warnings,
    }))
}
