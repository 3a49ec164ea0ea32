//! The figures by which chalk is reckoned in a heater, as a person may correct them: all start from the kind of heater.

use super::Circuit;
use murlo_base::bounds;
use murlo_base::problem::Problems;
use serde::{Deserialize, Serialize};

/// Figures of one heater; what is left open stays as it is.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Heating {
    /// Temperature of the water in it, °C.
    pub temp_c: Option<f64>,
    /// Wetted area, cm².
    pub area_cm2: Option<f64>,
    /// Crust at which the brewer suffers, µm.
    pub limit_um: Option<f64>,
    /// Share of the scale potential that is taken to stick before anything was learned, %.
    pub sticks_percent: Option<f64>,
}

impl Heating {
    /// Those of `circuit`.
    #[must_use]
    pub fn of(circuit: &Circuit) -> Self {
        Self {
            temp_c: Some(circuit.heat().temp_c),
            area_cm2: Some(circuit.area_cm2),
            limit_um: Some(circuit.limit_um),
            sticks_percent: Some((10_000.0 * circuit.plating).round() / 100.0),
        }
    }

    /// The same, each within its range.
    ///
    /// # Errors
    /// One problem per figure outside its range, fields prefixed by `within`.
    pub fn check(self, within: &str) -> Result<Self, Problems> {
        let mut problems = Problems::default();
        for (name, bound, value) in [
            ("temp_c", &bounds::HEATER, self.temp_c),
            ("area_cm2", &bounds::AREA, self.area_cm2),
            ("limit_um", &bounds::CRUST, self.limit_um),
            ("sticks_percent", &bounds::STICKS, self.sticks_percent),
        ] {
            problems.note(value.map_or(Ok(0.0), |v| bound.check(&format!("{within}.{name}"), v)));
        }
        problems.or(Some(self))
    }

    /// `circuit` with these figures.
    pub(super) fn set(self, circuit: Circuit) -> Circuit {
        let usual = circuit.heater.defaults().heat.temp_c;
        Circuit {
            temp_c: self.temp_c.or(circuit.temp_c).filter(|t| *t != usual),
            area_cm2: self.area_cm2.unwrap_or(circuit.area_cm2),
            limit_um: self.limit_um.unwrap_or(circuit.limit_um),
            plating: self.sticks_percent.map_or(circuit.plating, |p| p / 100.0),
            ..circuit
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::{BrewerDraft, Family};
    use jiff::civil::date;
    use murlo_base::units::Units;

    #[test]
    fn figures_are_corrected_one_by_one_and_the_rest_stays() {
        let today = date(2026, 11, 23);
        let draft = |heating| BrewerDraft {
            nickname: "Reef pod".into(),
            heating,
            ..BrewerDraft::template(Family::PodReservoir, Units::Metric, "h", "w", today)
        };
        let usual = draft(Heating::default())
            .check("b".into(), None, today)
            .unwrap();
        let hotter = Heating {
            temp_c: Some(96.0),
            sticks_percent: Some(20.0),
            ..Heating::default()
        };
        let brewer = draft(hotter).check("b".into(), None, today).unwrap();
        let (was, is) = (&usual.circuits[0], &brewer.circuits[0]);
        assert_eq!((is.heat().temp_c, is.plating), (96.0, 0.2));
        assert_eq!((is.area_cm2, is.limit_um), (was.area_cm2, was.limit_um));
        assert_eq!(is.heat().co2_retained, was.heat().co2_retained);
        // The form again gives the same brewer.
        let again = BrewerDraft::of(&brewer, Units::Metric);
        assert_eq!(
            again
                .check("b".into(), Some(&brewer), today)
                .unwrap()
                .circuits,
            brewer.circuits
        );
    }

    #[test]
    fn wrong_figures_are_named() {
        let wrong = Heating {
            temp_c: Some(130.0),
            area_cm2: Some(0.0),
            limit_um: Some(f64::NAN),
            sticks_percent: Some(101.0),
        };
        let fields: Vec<_> = wrong
            .check("heating")
            .unwrap_err()
            .0
            .into_iter()
            .map(|p| p.field)
            .collect();
        assert_eq!(
            fields,
            [
                "heating.temp_c",
                "heating.area_cm2",
                "heating.limit_um",
                "heating.sticks_percent"
            ]
        );
    }
}
