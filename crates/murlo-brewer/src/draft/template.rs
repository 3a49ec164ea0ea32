//! A sheet as it starts for each family.

use crate::draft::sheet::usual_life;
use crate::draft::{BrewerDraft, SideDraft};
use crate::{Beforehand, Family, Heating, Mechanics, Operation, Places, Policy};
use jiff::civil::Date;
use murlo_base::units::{Units, trim};

impl BrewerDraft {
    /// The starting figures of `family` for a household that reads `units`.
    #[must_use]
    pub fn template(
        family: Family,
        units: Units,
        home_id: &str,
        water_id: &str,
        today: Date,
    ) -> Self {
        let volume = |oz: f64, ml: f64| in_units(units, oz, ml);
        let drip = family.has_carafe();
        let usual_cup = family.usual_cup().map(|(oz, ml)| volume(oz, ml));
        let cup = usual_cup.clone().filter(|_| !drip);
        let [reservoir, hold_up, dead_volume] = usual_volumes(family, units);
        let other_side = (family == Family::Combination).then(|| SideDraft {
            dispense: usual_cup.unwrap_or_default(),
            hold_up: volume(4.0, 120.0),
            dead_volume: volume(1.0, 30.0),
            share: 40.0,
            reservoir: None,
            operation: Operation::default(),
            mechanics: Mechanics::default(),
            heating: Heating::default(),
        });
        Self {
            nickname: String::new(),
            home_id: home_id.to_owned(),
            family,
            water_id: water_id.to_owned(),
            reservoir,
            dispense: cup,
            hold_up,
            dead_volume,
            carafe_marks: drip.then_some(10.0),
            carafe_mark: drip.then(|| volume(5.0, 125.0)),
            brew_minutes: drip.then_some(10.0),
            reservoir_line: None,
            filter: family == Family::PodReservoir,
            filter_takes_out: 0.0,
            filter_days: usual_life(),
            filter_fills: usual_life(),
            filter_price: None,
            washout: None,
            policy: Policy::default(),
            light_counts: false,
            forbids: Vec::new(),
            self_clean: matches!(family, Family::CodedCapsule | Family::Combination),
            weekday_cups: 2.0,
            weekend_cups: 3.0,
            cup: usual_mug(family, units),
            in_use_since: today,
            last_descaled: None,
            beforehand: Some(Beforehand::default()),
            operation: usual_operation(family),
            mechanics: Mechanics::default(),
            other_side,
            needles: None,
            parts: None,
            places: Places::default(),
            reader: None,
            heating: Heating::default(),
            hot_water: false,
        }
    }
}

/// What a family starts from. Which buttons are pressed is the manual's to say: it is left blank, and asked for.
fn usual_operation(family: Family) -> Operation {
    match family {
        Family::OneCupPod => Operation {
            purge: "Switched off, lid left closed: hold the button until no more comes, and let go before the pump runs dry".to_owned(),
            ..Operation::default()
        },
        Family::CodedCapsule => Operation {
            programme_minutes: Some(20.0),
            ..Operation::default()
        },
        Family::PodReservoir | Family::PumpCapsule | Family::Drip | Family::Combination => {
            Operation::default()
        }
    }
}

/// A volume as such a household reads it: fluid ounces or mL.
fn in_units(units: Units, oz: f64, ml: f64) -> String {
    match units {
        Units::Us => format!("{} fl oz", trim(oz, 1)),
        Units::Metric => Units::Metric.volume(ml),
    }
}

/// Reservoir, hold-up and dead volume of a kind.
fn usual_volumes(family: Family, units: Units) -> [String; 3] {
    let volume = |oz: f64, ml: f64| in_units(units, oz, ml);
    match family {
        Family::PodReservoir => [volume(48.0, 1400.0), volume(12.0, 355.0), volume(1.0, 30.0)],
        Family::OneCupPod => [volume(12.0, 350.0), volume(2.0, 60.0), volume(0.0, 0.0)],
        Family::CodedCapsule | Family::PumpCapsule => {
            [volume(40.0, 1200.0), volume(2.0, 60.0), volume(1.0, 30.0)]
        }
        Family::Drip | Family::Combination => {
            ["10 marks".to_owned(), volume(2.0, 60.0), volume(0.0, 0.0)]
        }
    }
}

/// The cup that is usually drunk from a kind.
fn usual_mug(family: Family, units: Units) -> String {
    match family {
        Family::PumpCapsule => in_units(units, 4.0, 110.0),
        Family::CodedCapsule => in_units(units, 7.0, 200.0),
        Family::PodReservoir | Family::OneCupPod | Family::Drip | Family::Combination => {
            in_units(units, 8.0, 235.0)
        }
    }
}
