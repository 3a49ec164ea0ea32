//! The topics and their answers.

use super::{Field, Input, Kind, Topic};
use murlo_base::bounds::{self as b, Bound};
use murlo_base::problem::{Code, Problem};
use murlo_base::units::{self, HardnessUnit};
use murlo_brewer::bath::split;
use murlo_brewer::rinse::dispenses;
use murlo_brewer::water;
use murlo_chalk::scale::{Pace, pace};
use murlo_chemistry::acid::{Acid, Bath, citrate_onset_g_l};
use murlo_chemistry::carbonate::{self, Heat};
use murlo_chemistry::dissolve::{self, Film};
use murlo_chemistry::flux::ROUGHNESS;
use murlo_chemistry::heater::{Heater, PLATING_SIGMA};
use murlo_chemistry::washout::Washout;
use murlo_chemistry::{colour, film_mg};
use serde_json::{Value, json};

pub(super) const fn number(name: &'static str, bound: Bound) -> Field {
    Field {
        name,
        kind: Kind::Number(bound),
        required: true,
    }
}

pub(super) const fn choice(name: &'static str, words: &'static [&'static str]) -> Field {
    Field {
        name,
        kind: Kind::Choice(words),
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
        kind: Kind::Flag,
        required: false,
    }
}

const UNITS: &[&str] = &["mg/L", "ppm", "gpg", "dH", "fH", "clark", "mmol/L"];
const ACIDS: &[&str] = &[
    "acetic",
    "citric",
    "citric_monohydrate",
    "lactic",
    "sulfamic",
];
const MODELS: &[&str] = &["tank_batch", "tank_exp", "drip", "series2", "series3"];
pub(super) const ACID: Field = choice("acid", ACIDS);
pub(super) const PERCENT: Field = maybe(number("percent_wv", b::PERCENT));
pub(super) const GRAMS: Field = maybe(number("g_per_l", b::G_PER_L));
const TEMP: Field = number("temp_c", b::TEMPERATURE);
const HEATER: Field = number("heater_c", b::TEMPERATURE);
const RETAINED: Field = number("co2_retained", b::SHARE);
const RATIO: &[Field] = &[number("agent", b::AGENT_PART), number("water", b::PART)];
const VESSEL: &[Field] = &[
    number("capacity_ml", b::VOLUME),
    maybe(number("mark_ml", b::MARK)),
    Field {
        name: "mark_name",
        kind: Kind::Word,
        required: false,
    },
];

/// Every topic, in the order of the work.
pub const TOPICS: &[Topic] = &[
    Topic {
        name: "hardness-convert",
        about: "hardness from one unit to another",
        fields: &[
            number("value", b::HARDNESS),
            choice("from", UNITS),
            choice("to", UNITS),
        ],
        example: r#"{"value": 10, "from": "gpg", "to": "mg/L"}"#,
        answer: |i| {
            let mg = units::hardness("value", i.number("value"), hardness_unit(i.word("from")))?;
            Ok(json!({ "value": mg / hardness_unit(i.word("to")).mg_per_l() }))
        },
    },
    Topic {
        name: "hardness-class",
        about: "USGS class of a hardness in mg/L",
        fields: &[number("hardness", b::HARDNESS)],
        example: r#"{"hardness": 150}"#,
        answer: |i| Ok(json!({ "value": water::class(i.number("hardness")) })),
    },
    Topic {
        name: "hardness-from-label",
        about: "hardness and alkalinity from ions in mg/L",
        fields: &[
            number("ca_mg_l", b::ION),
            number("mg_mg_l", b::ION),
            number("hco3_mg_l", b::ION),
        ],
        example: r#"{"ca_mg_l": 80, "mg_mg_l": 26, "hco3_mg_l": 360}"#,
        answer: |i| {
            let (hardness, alkalinity, carbonate) = water::from_label(
                i.number("ca_mg_l"),
                i.number("mg_mg_l"),
                i.number("hco3_mg_l"),
            );
            Ok(
                json!({ "hardness": hardness, "alkalinity": alkalinity, "carbonate_hardness": carbonate }),
            )
        },
    },
    Topic {
        name: "hardness-blend",
        about: "two waters mixed by volume",
        fields: &[
            number("hardness_a", b::HARDNESS),
            number("alkalinity_a", b::ALKALINITY),
            number("hardness_b", b::HARDNESS),
            number("alkalinity_b", b::ALKALINITY),
            number("fraction_a", b::SHARE),
        ],
        example: r#"{"hardness_a": 180, "alkalinity_a": 140, "hardness_b": 0, "alkalinity_b": 0, "fraction_a": 0.5}"#,
        answer: |i| {
            let mix =
                |a: &str, b: &str| water::blend(i.number(a), i.number(b), i.number("fraction_a"));
            Ok(
                json!({ "hardness": mix("hardness_a", "hardness_b"), "alkalinity": mix("alkalinity_a", "alkalinity_b") }),
            )
        },
    },
    Topic {
        name: "ccpp",
        about: "scale potential of a known water, mg/L",
        fields: &[
            number("calcium_hardness", b::HARDNESS),
            number("alkalinity", b::ALKALINITY),
            number("ph", b::PH),
            number("tds", b::TDS),
            HEATER,
            number("source_c", b::TEMPERATURE),
            RETAINED,
        ],
        example: r#"{"calcium_hardness": 150, "alkalinity": 120, "ph": 7.6, "tds": 230, "heater_c": 92, "source_c": 20, "co2_retained": 1}"#,
        answer: |i| {
            let water = carbonate::Water {
                calcium: i.number("calcium_hardness"),
                alkalinity: i.number("alkalinity"),
                ph: i.number("ph"),
                tds: i.number("tds"),
                source_c: i.number("source_c"),
            };
            Ok(json!({ "value": carbonate::potential(&water, &heat(i)) }))
        },
    },
    Topic {
        name: "ccpp-strip",
        about: "scale potential when only total hardness is known, mg/L",
        fields: &[number("total_hardness", b::HARDNESS), HEATER, RETAINED],
        example: r#"{"total_hardness": 150, "heater_c": 92, "co2_retained": 0.15}"#,
        answer: |i| {
            Ok(
                json!({ "value": carbonate::potential(&water::from_strip(i.number("total_hardness")), &heat(i)) }),
            )
        },
    },
    Topic {
        name: "acid-molarity",
        about: "mol/L of an acid solution",
        fields: &[
            ACID,
            choice("unit", &["percent_wv", "g_per_l"]),
            number("value", b::G_PER_L),
        ],
        example: r#"{"acid": "acetic", "unit": "percent_wv", "value": 5}"#,
        answer: |i| {
            let grams = if i.word("unit") == "percent_wv" {
                b::PERCENT.check("value", i.number("value"))? * 10.0
            } else {
                i.number("value")
            };
            Ok(json!({ "value": acid(i).molarity(grams) }))
        },
    },
    Topic {
        name: "bath-ph",
        about: "pH of a bath that has taken up part of its stoichiometric load",
        fields: &[
            ACID,
            PERCENT,
            GRAMS,
            TEMP,
            number("fraction_neutralised", b::SHARE),
        ],
        example: r#"{"acid": "acetic", "percent_wv": 2.5, "temp_c": 25, "fraction_neutralised": 0.5}"#,
        answer: |i| {
            let bath = bath(i)?;
            Ok(
                json!({ "value": bath.ph(i.number("fraction_neutralised") * bath.stoichiometric()) }),
            )
        },
    },
    Topic {
        name: "bath-capacity-g-l",
        about: "g CaCO3 that a litre of bath can dissolve at all",
        fields: &[ACID, PERCENT, GRAMS, TEMP],
        example: r#"{"acid": "citric", "g_per_l": 20, "temp_c": 25}"#,
        answer: |i| Ok(json!({ "value": bath(i)?.capacity_g_l() })),
    },
    Topic {
        name: "bath-useful-g-l",
        about: "g CaCO3 that a litre of bath dissolves until it reaches an end pH",
        fields: &[
            ACID,
            PERCENT,
            GRAMS,
            TEMP,
            number("end_ph", Bound { min: 1.0, ..b::PH }),
        ],
        example: r#"{"acid": "acetic", "percent_wv": 2.5, "temp_c": 25, "end_ph": 4.5}"#,
        answer: |i| Ok(json!({ "value": bath(i)?.useful_g_l(i.number("end_ph")) })),
    },
    Topic {
        name: "citrate-onset-g-l",
        about: "g CaCO3 per litre at which calcium citrate begins to drop out",
        fields: &[number("citric_g_per_l", b::G_PER_L), TEMP],
        example: r#"{"citric_g_per_l": 30, "temp_c": 25}"#,
        answer: |i| Ok(json!({ "value": citrate_onset_g_l(i.number("citric_g_per_l")) })),
    },
    Topic {
        name: "dilution",
        about: "a stock thinned to a strength, rounded to the nearest mark",
        fields: &[
            number("stock_percent", b::PERCENT),
            number("target_percent", b::PERCENT),
            number("total_ml", b::VOLUME),
            number("mark_ml", b::MARK),
        ],
        example: r#"{"stock_percent": 24, "target_percent": 5, "total_ml": 1000, "mark_ml": 10}"#,
        answer: dilution,
    },
    Topic {
        name: "soak-minutes",
        about: "minutes until a share of a chalk film has dissolved",
        fields: &[
            ACID,
            PERCENT,
            GRAMS,
            TEMP,
            number("mass_mg", b::CHALK),
            number("area_cm2", b::AREA),
            number("bath_ml", b::VOLUME),
            number("fraction", b::SOME),
            number("roughness", b::ROUGHNESS),
        ],
        example: r#"{"acid": "acetic", "percent_wv": 2.5, "temp_c": 60, "mass_mg": 325.2, "area_cm2": 100, "bath_ml": 355, "fraction": 0.99, "roughness": 2}"#,
        answer: |i| {
            let film = Film {
                mass_mg: i.number("mass_mg"),
                area_cm2: i.number("area_cm2"),
                roughness: i.number("roughness"),
            };
            let minutes =
                dissolve::minutes(&bath(i)?, &film, i.number("bath_ml"), i.number("fraction"));
            Ok(json!({ "clears": minutes.is_some(), "minutes": minutes }))
        },
    },
    Topic {
        name: "soak-fresh-um-min",
        about: "µm a minute that a fresh bath takes off",
        fields: &[
            ACID,
            PERCENT,
            GRAMS,
            TEMP,
            maybe(number("roughness", b::ROUGHNESS)),
        ],
        example: r#"{"acid": "acetic", "percent_wv": 5, "temp_c": 60, "roughness": 2}"#,
        answer: |i| {
            Ok(
                json!({ "value": dissolve::fresh_um_per_min(&bath(i)?, i.maybe("roughness").unwrap_or(ROUGHNESS)) }),
            )
        },
    },
    Topic {
        name: "rinse-cups",
        about: "whole portions until acid has thinned to a target",
        fields: &[
            choice("model", MODELS),
            number("hold_ml", b::VOLUME),
            number("portion_ml", b::VOLUME),
            number("start_mg_l", b::MG_PER_L),
            number("target_mg_l", b::TARGET),
        ],
        example: r#"{"model": "tank_batch", "hold_ml": 355, "portion_ml": 235, "start_mg_l": 25000, "target_mg_l": 50}"#,
        answer: |i| {
            let n = model(i).portions(
                i.number("hold_ml"),
                i.number("portion_ml"),
                i.number("start_mg_l"),
                i.number("target_mg_l"),
            );
            Ok(json!({ "value": n }))
        },
    },
    Topic {
        name: "rinse-level-mg-l",
        about: "acid left after some portions, mg/L",
        fields: &[
            choice("model", MODELS),
            number("hold_ml", b::VOLUME),
            number("portion_ml", b::VOLUME),
            number("portions", b::COUNT),
            number("start_mg_l", b::MG_PER_L),
        ],
        example: r#"{"model": "drip", "hold_ml": 60, "portion_ml": 1500, "portions": 1, "start_mg_l": 25000}"#,
        answer: |i| {
            let left = model(i).remaining(
                i.number("hold_ml"),
                i.number("portion_ml"),
                i.number("portions"),
            );
            Ok(json!({ "value": i.number("start_mg_l") * left }))
        },
    },
    Topic {
        name: "forecast-from-potential",
        about: "days until chalk reaches its limit at a steady pace",
        fields: &[
            number("potential_mg_l", b::POTENTIAL),
            number("litres_per_day", b::LITRES_A_DAY),
            number("limit_mg", b::LIMIT),
            number("plating_fraction", b::SOME),
            number("sigma_log", b::SIGMA),
        ],
        example: r#"{"potential_mg_l": 63.9, "litres_per_day": 0.705, "limit_mg": 569.1, "plating_fraction": 0.15, "sigma_log": 0.6}"#,
        answer: |i| {
            let days = pace(
                i.number("potential_mg_l"),
                i.number("litres_per_day"),
                i.number("limit_mg"),
                i.number("plating_fraction"),
                i.number("sigma_log"),
            );
            Ok(days_of(&days))
        },
    },
    Topic {
        name: "forecast-kind",
        about: "days until a kind of brewer is due, with starting figures",
        fields: &[
            choice("brewer", &["tank", "thermoblock", "drip"]),
            number("total_hardness", b::HARDNESS),
            number("cups_per_day", b::CUPS),
            number("cup_ml", b::CUP),
            choice("water_from", &["strip", "label"]),
        ],
        example: r#"{"brewer": "tank", "total_hardness": 165, "cups_per_day": 2.5, "cup_ml": 235, "water_from": "strip"}"#,
        answer: |i| {
            let word = i.word("brewer");
            let defaults = Heater::ALL
                .into_iter()
                .find(|h| h.id() == word)
                .expect("heaters were checked")
                .defaults();
            let potential = carbonate::potential(
                &water::from_strip(i.number("total_hardness")),
                &defaults.heat,
            );
            let spread = if i.word("water_from") == "strip" {
                water::strip_sigma
            } else {
                water::label_sigma
            };
            let litres = i.number("cups_per_day") * i.number("cup_ml") / 1000.0;
            let limit = film_mg(defaults.limit_um, defaults.area_cm2);
            Ok(days_of(&pace(
                potential,
                litres,
                limit,
                defaults.plating,
                PLATING_SIGMA.hypot(spread(potential)),
            )))
        },
    },
    Topic {
        name: "phi-update",
        about: "plating learned from when symptoms began",
        fields: &[
            number("plating_fraction", b::SOME),
            number("sigma_log", b::SIGMA),
            number("limit_mg", b::LIMIT),
            number("potential_mg", b::LIMIT),
            number("sigma_observation", b::SIGMA),
        ],
        example: r#"{"plating_fraction": 0.15, "sigma_log": 0.5, "limit_mg": 569.1, "potential_mg": 2500, "sigma_observation": 0.4}"#,
        answer: |i| {
            let (phi, sigma) = learn(
                i.number("plating_fraction"),
                i.number("sigma_log"),
                i.number("limit_mg"),
                i.number("potential_mg"),
                i.number("sigma_observation"),
            );
            Ok(json!({ "phi": phi, "sigma": sigma }))
        },
    },
    Topic {
        name: "dispense",
        about: "whole dispenses of a volume, and what is left to pour away",
        fields: &[
            number("volume_ml", b::SPARE_VOLUME),
            number("dispense_ml", b::VOLUME),
            number("dead_volume_ml", b::SPARE_VOLUME),
        ],
        example: r#"{"volume_ml": 828, "dispense_ml": 355, "dead_volume_ml": 0}"#,
        answer: |i| {
            let (count, remainder) = dispenses(
                i.number("volume_ml"),
                i.number("dispense_ml"),
                i.number("dead_volume_ml"),
            );
            Ok(json!({ "count": count, "remainder_ml": remainder }))
        },
    },
    Topic {
        name: "mix",
        about: "agent and water for a vessel, the agent rounded up to a mark",
        fields: &[
            ACID,
            maybe(number("stock_percent", b::PERCENT)),
            GRAMS,
            Field {
                name: "label_ratio",
                kind: Kind::Group(RATIO),
                required: false,
            },
            Field {
                name: "ratio",
                kind: Kind::Group(RATIO),
                required: false,
            },
            maybe(number("target_percent", b::PERCENT)),
            Field {
                name: "vessel",
                kind: Kind::Group(VESSEL),
                required: false,
            },
            maybe(number("total_ml", b::VOLUME)),
        ],
        example: r#"{"acid": "acetic", "stock_percent": 5, "ratio": {"agent": 1, "water": 2}, "vessel": {"capacity_ml": 2070, "mark_ml": 147.857, "mark_name": "mark"}}"#,
        answer: mix,
    },
    Topic {
        name: "clarity",
        about: "colour difference of two glasses (CIEDE2000)",
        fields: &[
            Field {
                name: "reference_rgb",
                kind: Kind::Colour,
                required: true,
            },
            Field {
                name: "sample_rgb",
                kind: Kind::Colour,
                required: true,
            },
            Field {
                name: "white_rgb",
                kind: Kind::Colour,
                required: false,
            },
        ],
        example: r#"{"reference_rgb": [210, 199, 205], "sample_rgb": [150, 189, 205]}"#,
        answer: |i| {
            let (reference, sample) = (i.colour("reference_rgb"), i.colour("sample_rgb"));
            let delta = colour::delta_e(
                reference.expect("checked"),
                sample.expect("checked"),
                i.colour("white_rgb"),
            );
            Ok(json!({ "delta_e": delta, "verdict": colour::verdict(delta) }))
        },
    },
    super::cleaning::LEFTOVER,
    super::cleaning::ADVICE,
    super::belief::BELIEF,
    super::plan::PLAN,
    super::plan::DRY_RUN,
    super::visit::VISIT,
    super::trouble::TROUBLE,
];

fn hardness_unit(word: &str) -> HardnessUnit {
    HardnessUnit::ALL
        .into_iter()
        .find(|u| u.id() == word)
        .expect("units were checked")
}

pub(super) fn acid(i: &Input) -> Acid {
    let word = i.word("acid");
    Acid::ALL
        .into_iter()
        .find(|a| a.id() == word)
        .expect("acids were checked")
}

fn model(i: &Input) -> Washout {
    let word = i.word("model");
    Washout::ALL
        .into_iter()
        .find(|m| m.id() == word)
        .expect("models were checked")
}

fn heat(i: &Input) -> Heat {
    Heat {
        temp_c: i.number("heater_c"),
        co2_retained: i.number("co2_retained"),
    }
}

fn bath(i: &Input) -> Result<Bath, Problem> {
    Ok(Bath::new(acid(i), strength(i)?, i.number("temp_c")))
}

/// g/L, from exactly one way of telling the strength of a bath.
pub(super) fn strength(i: &Input) -> Result<f64, Problem> {
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

fn days_of(pace: &Pace) -> Value {
    json!({ "median_days": pace.median, "p10_days": pace.p10, "p90_days": pace.p90, "due_days": pace.due })
}

/// Spread of the plating factor never falls below this, however much was seen.
const LEAST_SIGMA: f64 = 0.20;

/// Plating factor and its spread after symptoms began once `potential_mg` had passed: Bayes on the logarithm. A question of its
/// own; the application learns by [`murlo_chalk::belief`].
fn learn(
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

fn dilution(i: &Input) -> Result<Value, Problem> {
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

fn mix(i: &Input) -> Result<Value, Problem> {
    let stock = match (
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
    };
    let parts = |group: Input| (group.number("agent"), group.number("water"));
    let (agent, water) = match (
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
    };
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
    let poured = split(total, (agent, water), mark);
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
