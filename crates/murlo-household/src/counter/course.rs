//! Chalk over time, as a chart draws it.

use jiff::civil::Date;
use murlo_chalk::scale::Point;
use serde::{Deserialize, Serialize};

/// Chalk over time.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ChalkCourse {
    /// Chalk at which the brewer suffers, mg.
    pub limit_mg: f64,
    /// The cleans between the spans.
    pub cleans: Vec<Date>,
    /// From clean to clean, the last until today.
    pub spans: Vec<Vec<Point>>,
    /// From today on.
    pub fan: Vec<Point>,
    /// The months to write under a chart.
    pub months: Vec<Month>,
}

/// The first day of a month, for an axis.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Month {
    /// That day.
    pub day: Date,
    /// "Nov", with the year in January.
    pub label: String,
}

/// The months that begin between two days.
pub(super) fn months(from: Date, to: Date) -> Vec<Month> {
    std::iter::successors(Some(from.first_of_month()), |day| {
        day.checked_add(jiff::Span::new().months(1)).ok()
    })
    .skip_while(|day| *day < from)
    .take_while(|day| *day <= to)
    .map(|day| Month {
        day,
        label: if day.month() == 1 {
            day.strftime("%b %Y").to_string()
        } else {
            day.strftime("%b").to_string()
        },
    })
    .collect()
}
