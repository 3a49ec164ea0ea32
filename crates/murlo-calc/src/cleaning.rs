//! The topics `clean-leftover` and `clean-advice`: what a schedule leaves, and what soak to advise.

use super::fields::{ACID, GRAMS, PERCENT, acid, choice, flag, maybe, number, strength};
use super::{Field, FieldKind, Topic, TopicInput};
use murlo_base::bounds::{self as b, TIMES};
use murlo_base::problem::{Code, Problem};
use murlo_chemistry::cleaning::{
    BathCourse, BathQuestion, Bathing, Film, Heats, HowWarm, Inflow, Phase, Typed,
};
use murlo_chemistry::heater::{Heater, Way};
use serde_json::{Value, json};

/// A schedule longer than this is a mistake.
const MOST_PHASES: usize = 500;

const PHASE: &[Field] = &[
    number("minutes", b::MINUTES),
    maybe(number("inflow_ml", b::SPARE_VOLUME)),
    maybe(choice("mix", &["flow", "batch"])),
    maybe(number("temp_c", b::TEMPERATURE)),
    maybe(number("cooling_tau_min", b::SOME_MINUTES)),
    maybe(number("hold_ml", b::SPARE_VOLUME)),
    flag("boiling"),
    PERCENT,
    GRAMS,
];

pub(super) const LEFTOVER: Topic = Topic {
    name: "clean-leftover",
    about: "what a schedule of passes, soaks and pauses leaves of a chalk film, as a distribution",
    fields: &[
        ACID,
        PERCENT,
        GRAMS,
        number("film_mg", b::CHALK),
        number("area_cm2", b::AREA),
        number("start_hold_ml", b::SPARE_VOLUME),
        maybe(number("baths", TIMES)),
        maybe(number("film_sigma", b::SPREAD)),
        Field {
            name: "phases",
            kind: FieldKind::Groups(PHASE, MOST_PHASES),
            required: true,
        },
    ],
    example: r#"{"acid": "acetic", "percent_wv": 2.5, "film_mg": 569.1, "area_cm2": 100, "start_hold_ml": 355,
  "phases": [{"minutes": 1, "inflow_ml": 296, "temp_c": 90, "hold_ml": 355}, {"minutes": 15, "temp_c": 82},
    {"minutes": 1, "inflow_ml": 296, "temp_c": 90, "hold_ml": 355}, {"minutes": 5, "temp_c": 82}]}"#,
    answer: leftover,
};

pub(super) const ADVICE: Topic = Topic {
    name: "clean-advice",
    about: "the shortest clean that leaves as little as is wanted, or what a typed choice leaves",
    fields: &[
        choice("way", &["presses", "cup", "programme", "halves"]),
        choice("heater", &["tank", "thermoblock", "drip"]),
        maybe(number("heater_c", b::TEMPERATURE)),
        number("hold_ml", b::SPARE_VOLUME),
        number("dispense_ml", b::VOLUME),
        number("presses", TIMES),
        number("bath_ml", b::VOLUME),
        maybe(number("programme_minutes", b::SOME_MINUTES)),
        maybe(number("brew_minutes", b::SOME_MINUTES)),
        ACID,
        PERCENT,
        GRAMS,
        number("film_mg", b::CHALK),
        number("film_p90_mg", b::CHALK),
        number("limit_mg", b::LIMIT),
        number("area_cm2", b::AREA),
        flag("sure"),
        maybe(number("most_baths", TIMES)),
        maybe(number("minutes_limit", b::STEP_MINUTES)),
        Field {
            name: "soak_after",
            kind: FieldKind::Numbers(TIMES),
            required: false,
        },
        Field {
            name: "soak_minutes",
            kind: FieldKind::Numbers(b::MINUTES),
            required: false,
        },
        maybe(number("baths", TIMES)),
    ],
    example: r#"{"way": "presses", "heater": "tank", "hold_ml": 355, "dispense_ml": 296, "presses": 3, "bath_ml": 946,
  "acid": "acetic", "percent_wv": 2.5, "film_mg": 569.1, "film_p90_mg": 1200, "limit_mg": 569.1, "area_cm2": 100}"#,
    answer: advice,
};

/// Baths advised at most where nobody says.
const MOST_BATHS: f64 = 4.0;

fn whole(field: &str, value: f64) -> Result<u32, Problem> {
    if value.fract() == 0.0 {
        Ok(value as u32)
    } else {
        let message = format!("{value} is not a whole number: give one");
        Err(Problem::new(Code::OutOfRange, field, message))
    }
}

fn phase(i: &TopicInput) -> Result<Phase, Problem> {
    let heat = match (i.maybe("temp_c"), i.maybe("cooling_tau_min")) {
        (Some(temp_c), None) => HowWarm::Held(temp_c),
        (None, Some(tau)) => HowWarm::Cooling(tau),
        (None, None) => {
            let message = "give temp_c where it is held, or cooling_tau_min where it cools";
            return Err(Problem::new(Code::Missing, "temp_c", message));
        }
        _ => {
            let message = "give temp_c or cooling_tau_min, not both";
            return Err(Problem::new(Code::Contradiction, "temp_c", message));
        }
    };
    let own = i.given("percent_wv").is_some() || i.given("g_per_l").is_some();
    let at_once = i.given("mix").is_some_and(|mix| mix == "batch");
    Ok(Phase {
        inflow: i.maybe("inflow_ml").map(|ml| Inflow { ml, at_once }),
        hold_ml: i.maybe("hold_ml"),
        boiling: i.flag("boiling"),
        g_per_l: if own { Some(strength(i)?) } else { None },
        ..Phase::standing(i.number("minutes"), heat)
    })
}

fn leftover(i: &TopicInput) -> Result<Value, Problem> {
    let phases = i.groups("phases").into_iter().enumerate();
    let phases: Vec<_> = phases
        .map(|(n, p)| phase(&p).map_err(|e| e.within(&format!("phases.{n}"))))
        .collect::<Result<_, _>>()?;
    let left = Bathing {
        acid: acid(i),
        g_per_l: strength(i)?,
        start_hold_ml: i.number("start_hold_ml"),
        phases: &phases,
        baths: whole("baths", i.maybe("baths").unwrap_or(1.0))?,
    }
    .leaves(&Film {
        mg: i.number("film_mg"),
        sigma: i.maybe("film_sigma").unwrap_or(0.0),
        area_cm2: i.number("area_cm2"),
    });
    Ok(json!({ "left_median": left.median, "left_p10": left.p10, "left_p90": left.p90 }))
}

fn advice(i: &TopicInput) -> Result<Value, Problem> {
    let heater = Heater::ALL
        .into_iter()
        .find(|h| h.id() == i.word("heater"))
        .expect("heaters were checked");
    let way = match i.word("way") {
        "presses" => Way::Presses,
        "cup" => Way::CupAtATime,
        "programme" => Way::Programme,
        _ => Way::Halves,
    };
    if way == Way::Programme && i.given("programme_minutes").is_none() {
        let message = "missing: give the minutes the programme takes";
        return Err(Problem::new(Code::Missing, "programme_minutes", message));
    }
    let asked = BathQuestion {
        course: BathCourse {
            way,
            heats: Heats {
                heater,
                heater_c: i.maybe("heater_c").unwrap_or(heater.defaults().heat.temp_c),
                brew_min: i.maybe("brew_minutes"),
            },
            hold_ml: i.number("hold_ml"),
            dispense_ml: i.number("dispense_ml"),
            presses: whole("presses", i.number("presses"))?,
            bath_ml: i.number("bath_ml"),
            programme_min: i.maybe("programme_minutes"),
            soaks_hot: true,
        },
        acid: acid(i),
        g_per_l: strength(i)?,
        film_mg: i.number("film_mg"),
        film_p90_mg: i.number("film_p90_mg"),
        limit_mg: i.number("limit_mg"),
        area_cm2: i.number("area_cm2"),
        sure: i.flag("sure"),
        most_soak: None,
        most_baths: whole("most_baths", i.maybe("most_baths").unwrap_or(MOST_BATHS))?,
        minutes: i.maybe("minutes_limit"),
    };
    let advice = match typed(i)? {
        Some(typed) => asked.weigh(&typed),
        None => asked.advise(),
    };
    let after: Vec<_> = advice.soaks.iter().map(|s| s.after).collect();
    let minutes: Vec<_> = advice.soaks.iter().map(|s| s.minutes).collect();
    Ok(json!({
        "reaches": advice.reaches,
        "baths": advice.baths,
        "soak_after": after,
        "soak_minutes": minutes,
        "soak_low_minutes": advice.low,
        "soak_high_minutes": advice.high,
        "total_minutes": advice.minutes,
        "left_of_limit": advice.left,
        "left_of_limit_p90_film": advice.left_p90,
    }))
}

/// A choice instead of a search, where one is given.
fn typed(i: &TopicInput) -> Result<Option<Typed>, Problem> {
    let (after, minutes) = (i.numbers("soak_after"), i.numbers("soak_minutes"));
    if after.is_none() && minutes.is_none() && i.given("baths").is_none() {
        return Ok(None);
    }
    let minutes = minutes.unwrap_or_default();
    let each = minutes.first().copied().unwrap_or(0.0);
    if minutes.iter().any(|m| *m != each) {
        let message = "every soak lasts the same here: give one number";
        return Err(Problem::new(Code::Contradiction, "soak_minutes", message));
    }
    let mut presses = Vec::new();
    for press in after.unwrap_or_default() {
        presses.push(whole("soak_after", press)?);
    }
    if each > 0.0 && presses.is_empty() {
        let message = "missing: give the presses after which it soaks, such as [1]";
        return Err(Problem::new(Code::Missing, "soak_after", message));
    }
    Ok(Some(Typed {
        after: presses,
        minutes: each,
        baths: whole("baths", i.maybe("baths").unwrap_or(1.0))?,
    }))
}
