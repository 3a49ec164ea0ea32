//! How much is brewed.

use serde::{Deserialize, Serialize};

/// How much is brewed: cups a day on weekdays and at weekends.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Habit {
    /// Monday to Friday.
    pub weekday_cups: f64,
    /// Saturday and Sunday.
    pub weekend_cups: f64,
    /// One cup, mL.
    pub cup_ml: f64,
}

impl Habit {
    /// Cups brewed on a weekday or weekend day.
    #[must_use]
    pub const fn cups(&self, weekend: bool) -> f64 {
        if weekend {
            self.weekend_cups
        } else {
            self.weekday_cups
        }
    }

    /// Cups a day over a whole week.
    #[must_use]
    pub fn mean_cups(&self) -> f64 {
        (5.0 * self.weekday_cups + 2.0 * self.weekend_cups) / 7.0
    }

    /// Litres a day over a whole week.
    #[must_use]
    pub fn mean_litres(&self) -> f64 {
        self.mean_cups() * self.cup_ml / 1000.0
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_week_has_five_days_and_two() {
        let habit = Habit {
            weekday_cups: 2.0,
            weekend_cups: 5.5,
            cup_ml: 250.0,
        };
        assert!((habit.mean_cups() - 3.0).abs() < 1e-12);
        assert!((habit.mean_litres() - 0.75).abs() < 1e-12);
    }
}
