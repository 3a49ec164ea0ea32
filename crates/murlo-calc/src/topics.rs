//! The topics and their answers.

use super::{Field, FieldKind};
use crate::answers::{bath, days_of, dilution, learn, mix};
use crate::fields::{
    ACID, GRAMS, HEATER, MODELS, PERCENT, RATIO, RETAINED, TEMP, UNITS, VESSEL, acid, choice,
    hardness_unit, heat, maybe, model, number,
};
use crate::topic::Topic;
use murlo_base::bounds::{self as b, Bound};
use murlo_base::problem::{Code, Problem};
use murlo_base::units;
use murlo_brewer::rinse::dispenses;
use murlo_brewer::water;
use murlo_chalk::scale::pace;
use murlo_chemistry::acid::citrate_onset_g_l;
use murlo_chemistry::dissolve::{self, SoakedFilm};
use murlo_chemistry::flux::ROUGHNESS;
use murlo_chemistry::heater::{Heater, PLATING_SIGMA};
use murlo_chemistry::{carbonate, colour, film_mg};
use serde_json::json;

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
            let water = carbonate::WaterSample {
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
            let film = SoakedFilm {
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
                kind: FieldKind::Group(RATIO),
                required: false,
            },
            Field {
                name: "ratio",
                kind: FieldKind::Group(RATIO),
                required: false,
            },
            maybe(number("target_percent", b::PERCENT)),
            Field {
                name: "vessel",
                kind: FieldKind::Group(VESSEL),
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
                kind: FieldKind::Colour,
                required: true,
            },
            Field {
                name: "sample_rgb",
                kind: FieldKind::Colour,
                required: true,
            },
            Field {
                name: "white_rgb",
                kind: FieldKind::Colour,
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

/// The topic of that name.
///
/// # Errors
/// `UnknownId`, listing the topics.
pub fn topic(name: &str) -> Result<&'static Topic, Problem> {
    TOPICS.iter().find(|t| t.name == name).ok_or_else(|| {
        let known: Vec<_> = TOPICS.iter().map(|t| t.name).collect();
        Problem::new(
            Code::UnknownId,
            "topic",
            format!("no topic \"{name}\": there are {}", known.join(", ")),
        )
    })
}
