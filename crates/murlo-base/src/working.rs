//! Showing the working: how a figure came about, for people to read and tests to check.

use serde::{Deserialize, Serialize};

/// One number that went into a figure.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Input {
    /// What it is.
    pub name: String,
    /// Its value with its unit, rounded for reading.
    pub value: String,
}

/// Formula, inputs, result and published source of one figure.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Working {
    /// Which figure this explains.
    pub figure: String,
    /// The formula in words and symbols.
    pub formula: String,
    /// What went in.
    pub inputs: Vec<Input>,
    /// What came out, with its unit.
    pub result: String,
    /// Where the formula was published, or on whose assumption it rests.
    pub source: String,
}

impl Working {
    /// The working of `figure`.
    pub fn new(
        figure: &str,
        formula: &str,
        inputs: &[(&str, String)],
        result: String,
        source: &str,
    ) -> Self {
        Self {
            figure: figure.to_owned(),
            formula: formula.to_owned(),
            inputs: inputs
                .iter()
                .map(|(name, value)| Input {
                    name: (*name).to_owned(),
                    value: value.clone(),
                })
                .collect(),
            result,
            source: source.to_owned(),
        }
    }
}
