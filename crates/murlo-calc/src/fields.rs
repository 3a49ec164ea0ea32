//! Fields that several topics ask for.

use crate::{Field, FieldKind, TopicInput};
use murlo_base::bounds::{self as b, Bound};
use murlo_base::problem::{Code, Problem};
use murlo_base::units::HardnessUnit;
use murlo_chemistry::acid::Acid;
use murlo_chemistry::carbonate::Heat;
use murlo_chemistry::washout::Washout;

pub(super) const fn number(name: &'static str, bound: Bound) -> Field {
    Field {
        name,
        kind: FieldKind::Number(bound),
        required: true,
    }
}

pub(super) const fn choice(name: &'static str, words: &'static [&'static str]) -> Field {
    Field {
        name,
        kind: FieldKind::Choice(words),
        required: true,
    }
}

pub(super) const fn maybe(field: Field) -> Field {
    Field {
        required: false,
        ..field
    }
}

pub(super) const fn flag(name: &'static str) -> Field {
    Field {
        name,
        kind: FieldKind::Flag,
        required: false,
    }
}

pub(crate) const UNITS: &[&str] = &["mg/L", "ppm", "gpg", "dH", "fH", "clark", "mmol/L"];

const ACIDS: &[&str] = &[
    "acetic",
    "citric",
    "citric_monohydrate",
    "lactic",
    "sulfamic",
];

pub(crate) const MODELS: &[&str] = &["tank_batch", "tank_exp", "drip", "series2", "series3"];

pub(super) const ACID: Field = choice("acid", ACIDS);

pub(super) const PERCENT: Field = maybe(number("percent_wv", b::PERCENT));

pub(super) const GRAMS: Field = maybe(number("g_per_l", b::G_PER_L));

pub(crate) const TEMP: Field = number("temp_c", b::TEMPERATURE);

pub(crate) const HEATER: Field = number("heater_c", b::TEMPERATURE);

pub(crate) const RETAINED: Field = number("co2_retained", b::SHARE);

pub(crate) const RATIO: &[Field] = &[number("agent", b::AGENT_PART), number("water", b::PART)];

pub(crate) const VESSEL: &[Field] = &[
    number("capacity_ml", b::VOLUME),
    maybe(number("mark_ml", b::MARK)),
    Field {
        name: "mark_name",
        kind: FieldKind::Word,
        required: false,
    },
];

pub(crate) fn hardness_unit(word: &str) -> HardnessUnit {
    HardnessUnit::ALL
        .into_iter()
        .find(|u| u.id() == word)
        .expect("units were checked")
}

pub(super) fn acid(i: &TopicInput) -> Acid {
    let word = i.word("acid");
    Acid::ALL
        .into_iter()
        .find(|a| a.id() == word)
        .expect("acids were checked")
}

pub(crate) fn model(i: &TopicInput) -> Washout {
    let word = i.word("model");
    Washout::ALL
        .into_iter()
        .find(|m| m.id() == word)
        .expect("models were checked")
}

pub(crate) fn heat(i: &TopicInput) -> Heat {
    Heat {
        temp_c: i.number("heater_c"),
        co2_retained: i.number("co2_retained"),
    }
}

/// g/L, from exactly one way of telling the strength of a bath.
pub(super) fn strength(i: &TopicInput) -> Result<f64, Problem> {
    match (i.maybe("percent_wv"), i.maybe("g_per_l")) {
        (Some(percent), None) => Ok(percent * 10.0),
        (None, Some(grams)) => Ok(grams),
        (None, None) => Err(Problem::new(
            Code::Missing,
            "percent_wv",
            "give the strength as percent_wv or g_per_l",
        )),
        _ => Err(Problem::new(
            Code::Contradiction,
            "percent_wv",
            "give percent_wv or g_per_l, not both",
        )),
    }
}
