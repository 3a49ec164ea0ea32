//! The figures of a brewer with where each is from: usual for its kind, told, or measured by its cleans.

use crate::Measured;
use murlo_base::units::{Units, trim};
use murlo_brewer::rinse::dispense_by;
use murlo_brewer::{Brewer, BrewerDraft, Circuit, Outlet};
use serde::{Deserialize, Serialize};

/// Where a figure is from.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Origin {
    /// What such brewers usually have.
    Usual,
    /// Somebody said so.
    Told,
    /// Cleans counted or timed it.
    Measured,
}

/// How a figure is typed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Typing {
    /// A volume with its unit.
    Volume,
    /// A bare number.
    Number,
}

/// One figure.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Figure {
    /// Its field of the form.
    pub field: String,
    /// Its name.
    pub name: String,
    /// "10 fl oz".
    pub text: String,
    /// How it is typed.
    pub typing: Typing,
    /// Where it is from.
    pub origin: Origin,
    /// What cleans measured, where that is not the figure itself.
    pub measured: Option<String>,
}

/// A stated figure as near as this to the usual one was left as it stood.
const SAME: f64 = 0.005;

/// The figures of `brewer`, in the order in which water meets them; `measured` gives what cleans measured of a circuit.
#[must_use]
pub fn figures(
    brewer: &Brewer,
    units: Units,
    measured: impl Fn(&str) -> Option<Measured>,
) -> Vec<Figure> {
    let template = BrewerDraft::template(brewer.family, units, "h", "w", brewer.in_use_since);
    let named = BrewerDraft {
        nickname: "usual".to_owned(),
        ..template
    };
    let usual = named.check("usual".to_owned(), None, brewer.in_use_since);
    let usual = usual.as_ref().unwrap_or(brewer);
    let mut sheet = Sheet {
        units,
        all: Vec::new(),
    };
    sheet.whole(brewer, usual);
    for (i, circuit) in brewer.circuits.iter().enumerate() {
        let side = match brewer.circuits.len() {
            1 => String::new(),
            _ => format!(", {}", circuit.name()),
        };
        let before = if i == 0 { "" } else { "other_side." };
        sheet.side(before, &side, circuit, usual.circuits.get(i));
    }
    with_measured(&mut sheet.all, brewer, units, measured);
    sheet.all
}

/// A volume of a side.
type Volume = fn(&Circuit) -> f64;

/// Figures as they are gathered.
struct Sheet {
    units: Units,
    all: Vec<Figure>,
}

impl Sheet {
    /// A figure with its field and name, beside the usual one.
    fn add(&mut self, typing: Typing, (field, name): (&str, &str), value: f64, usual: Option<f64>) {
        let same = usual.is_some_and(|usual| (value - usual).abs() <= SAME * usual.abs());
        self.all.push(Figure {
            field: field.to_owned(),
            name: name.to_owned(),
            text: match typing {
                Typing::Volume => self.units.volume(value),
                Typing::Number => trim(value, 1),
            },
            typing,
            origin: if same { Origin::Usual } else { Origin::Told },
            measured: None,
        });
    }

    /// What belongs to the whole brewer.
    fn whole(&mut self, brewer: &Brewer, usual: &Brewer) {
        use Typing::{Number, Volume};
        let reservoir = ("reservoir", "Reservoir, to its top mark");
        self.add(
            Volume,
            reservoir,
            brewer.reservoir_ml,
            Some(usual.reservoir_ml),
        );
        if let Some(carafe) = brewer.carafe {
            let marks = ("carafe_marks", "Marks on the carafe");
            self.add(Number, marks, carafe.marks, usual.carafe.map(|c| c.marks));
            let mark = ("carafe_mark", "One carafe mark");
            self.add(
                Volume,
                mark,
                carafe.mark_ml,
                usual.carafe.map(|c| c.mark_ml),
            );
        }
        if let Some(minutes) = brewer.brew_minutes {
            let brew = ("brew_minutes", "Minutes of a full brew");
            self.add(Number, brew, minutes, usual.brew_minutes);
        }
        let (habit, usual) = (brewer.habit(), usual.habit());
        self.add(Volume, ("cup", "One cup"), habit.cup_ml, Some(usual.cup_ml));
        let weekdays = ("weekday_cups", "Cups a day, Monday to Friday");
        self.add(
            Number,
            weekdays,
            habit.weekday_cups,
            Some(usual.weekday_cups),
        );
        let weekend = ("weekend_cups", "Cups a day, at weekends");
        self.add(
            Number,
            weekend,
            habit.weekend_cups,
            Some(usual.weekend_cups),
        );
    }

    /// What belongs to one side; its fields stand behind `before`.
    fn side(&mut self, before: &str, side: &str, circuit: &Circuit, usual: Option<&Circuit>) {
        let volumes: [(&str, &str, Volume); 3] = [
            ("dispense", "Largest cup", |c| c.dispense_ml),
            ("hold_up", "Stays in heater and tubes", |c| c.hold_up_ml),
            ("dead_volume", "Left in the reservoir", |c| c.dead_volume_ml),
        ];
        // One that fills a carafe has no cup of its own.
        let from = usize::from(circuit.outlet == Outlet::Grounds);
        for (field, name, of) in &volumes[from..] {
            let named = (format!("{before}{field}"), format!("{name}{side}"));
            let named = (named.0.as_str(), named.1.as_str());
            // Told by its button, also where that is the usual size.
            let is_told = *field == "dispense" && !circuit.mechanics.sizes.is_empty();
            let usual = usual.filter(|_| !is_told);
            self.add(Typing::Volume, named, of(circuit), usual.map(of));
        }
        if let Some(minutes) = circuit.operation.programme_minutes {
            let field = format!("{before}operation.programme_minutes");
            let name = format!("Minutes of its programme{side}");
            let usual = usual.and_then(|c| c.operation.programme_minutes);
            self.add(Typing::Number, (&field, &name), minutes, usual);
        }
    }
}

/// What cleans counted stands beside what was told: the next plan goes by it.
fn with_measured(
    all: &mut [Figure],
    brewer: &Brewer,
    units: Units,
    measured: impl Fn(&str) -> Option<Measured>,
) {
    for (i, circuit) in brewer.circuits.iter().enumerate() {
        let Some(measured) = measured(&circuit.id) else {
            continue;
        };
        let before = if i == 0 { "" } else { "other_side." };
        let mut set = |field: &str, text: String| {
            let field = format!("{before}{field}");
            if let Some(figure) = all.iter_mut().find(|figure| figure.field == field) {
                figure.origin = Origin::Measured;
                figure.measured = Some(text);
            }
        };
        let stated = circuit.dispense_ml;
        let by = |counts| dispense_by(stated, circuit.dead_volume_ml, counts);
        let told = |ml: f64| (ml - stated).abs() > SAME * stated;
        let (bath, fill) = (by(&measured.bath), by(&measured.fill));
        if told(bath) || told(fill) {
            let text = format!(
                "counted: {} of bath, {} of rinse water",
                units.volume(bath),
                units.volume(fill)
            );
            set("dispense", text);
        }
        if let Some(minutes) = measured.programme_min {
            set(
                "operation.programme_minutes",
                format!("timed: {minutes:.0} min"),
            );
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::civil::date;
    use murlo_brewer::Family;
    use murlo_brewer::rinse::Counted;

    fn brewer(family: Family, change: impl FnOnce(&mut BrewerDraft)) -> Brewer {
        let today = date(2026, 11, 26);
        let mut draft = BrewerDraft {
            nickname: "b".into(),
            ..BrewerDraft::template(family, Units::Us, "h", "w", today)
        };
        change(&mut draft);
        draft.check("b".into(), None, today).expect("sound")
    }

    fn of<'f>(figures: &'f [Figure], field: &str) -> &'f Figure {
        figures.iter().find(|f| f.field == field).expect(field)
    }

    #[test]
    fn an_untouched_brewer_has_usual_figures_only_and_a_changed_one_was_told() {
        for family in Family::ALL {
            let all = super::figures(&brewer(family, |_| {}), Units::Us, |_| None);
            assert!(all.iter().all(|f| f.origin == Origin::Usual), "{all:?}");
            let told = figures(
                &brewer(family, |d| d.cup = "5 fl oz".into()),
                Units::Us,
                |_| None,
            );
            for figure in &told {
                let is_told = figure.origin == Origin::Told;
                assert_eq!(is_told, figure.field == "cup", "{figure:?}");
            }
            assert_eq!(of(&told, "cup").text, "5 fl oz");
        }
    }

    #[test]
    fn a_size_that_was_confirmed_is_told_though_it_is_the_usual_one() {
        let confirmed = brewer(Family::PodReservoir, |d| {
            d.mechanics.sizes = vec!["10 fl oz".into()];
        });
        let all = super::figures(&confirmed, Units::Us, |_| None);
        assert_eq!(of(&all, "dispense").origin, Origin::Told);
        assert_eq!(of(&all, "hold_up").origin, Origin::Usual);
    }

    #[test]
    fn sides_have_their_own_and_a_carafe_side_no_cup() {
        let all = super::figures(&brewer(Family::Combination, |_| {}), Units::Metric, |_| {
            None
        });
        let fields: Vec<_> = all.iter().map(|f| f.field.as_str()).collect();
        assert!(!fields.contains(&"dispense"));
        for field in ["hold_up", "other_side.dispense", "other_side.hold_up"] {
            assert!(fields.contains(&field), "{fields:?}");
        }
        assert_eq!(
            of(&all, "other_side.dispense").name,
            "Largest cup, pod side"
        );
    }

    #[test]
    fn what_cleans_counted_and_timed_is_measured() {
        let pod = brewer(Family::PodReservoir, |_| {});
        let counted = Counted {
            volume_ml: 946.0,
            dispenses: 4,
        };
        let measured = Measured {
            bath: vec![counted; 3],
            ..Measured::default()
        };
        let all = super::figures(&pod, Units::Us, |id| {
            (id == "main").then(|| measured.clone())
        });
        let dispense = of(&all, "dispense");
        assert_eq!(dispense.origin, Origin::Measured);
        assert!(
            dispense
                .measured
                .as_deref()
                .is_some_and(|m| m.starts_with("counted: ")),
            "{dispense:?}"
        );
        assert_eq!(of(&all, "hold_up").origin, Origin::Usual);

        let coded = brewer(Family::CodedCapsule, |_| {});
        let timed = Measured {
            programme_min: Some(24.0),
            ..Measured::default()
        };
        let all = super::figures(&coded, Units::Us, |_| Some(timed.clone()));
        let programme = of(&all, "operation.programme_minutes");
        assert_eq!(programme.measured.as_deref(), Some("timed: 24 min"));
    }
}
