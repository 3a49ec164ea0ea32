//! The topic `belief`: what is believed of a circuit from everything that was seen of it.

use super::fields::{choice, flag, maybe, number};
use super::{Field, FieldKind, Topic, TopicInput};
use murlo_base::bounds as b;
use murlo_base::problem::{Code, Problem};
use murlo_brewer::journal::Sign;
use murlo_chalk::belief::{
    Belief, Brought, Checks, Leaves, Prior, Told, Window, Witnessed, Witnessing,
};
use murlo_chalk::scale::USE_SIGMA;
use murlo_chemistry::cleaning::Left;
use murlo_chemistry::heater::PLATING_SIGMA;
use serde_json::{Value, json};

/// Events beyond which a list is a mistake.
const MOST_EVENTS: usize = 10_000;

const LEFT: &[Field] = &[
    number("median", b::SHARES),
    number("p10", b::SHARES),
    number("p90", b::SHARES),
];
/// More films than this are no curve.
const MOST_FILMS: usize = 100;

const LEFT_AT: &[Field] = &[
    number("used", b::RATIO),
    number("median", b::SHARES),
    number("p10", b::SHARES),
    number("p90", b::SHARES),
];
const CHECKS: &[Field] = &[
    flag("flow"),
    flag("flakes"),
    flag("clear"),
    flag("heat"),
    flag("sound"),
    flag("light"),
];
const EVENT: &[Field] = &[
    choice("kind", &["sign", "timed", "water", "clean"]),
    maybe(number("potential_mg", b::CHALK_PASSED)),
    maybe(choice("sign", &["slow", "noisy", "cooler", "light"])),
    flag("dated"),
    flag("counts_only"),
    flag("left_out"),
    maybe(number("seconds_ratio", b::RATIO)),
    maybe(number("sigma_water", b::SPREAD)),
    maybe(group("left_fraction", LEFT)),
    Field {
        name: "left_at",
        kind: FieldKind::Groups(LEFT_AT, MOST_FILMS),
        required: false,
    },
    maybe(choice("brought", &["none", "some", "lot", "unseen"])),
    flag("bits"),
    maybe(number("brown_baths", b::COUNT)),
    maybe(group("checks", CHECKS)),
];
/// Which fields each kind of event takes besides those of all, and which of them it must have.
const OF_KIND: [(&str, &[&str], &[&str]); 4] = [
    (
        "sign",
        &["sign", "dated", "counts_only", "left_out"],
        &["sign"],
    ),
    ("timed", &["seconds_ratio"], &["seconds_ratio"]),
    ("water", &["sigma_water"], &["sigma_water"]),
    (
        "clean",
        &[
            "left_fraction",
            "left_at",
            "brought",
            "bits",
            "brown_baths",
            "checks",
        ],
        &[],
    ),
];

const fn group(name: &'static str, fields: &'static [Field]) -> Field {
    Field {
        name,
        kind: FieldKind::Group(fields),
        required: true,
    }
}

pub(super) const BELIEF: Topic = Topic {
    name: "belief",
    about: "chalk now, growth and days until the limit, from what was seen of a circuit",
    fields: &[
        number("limit_mg", b::LIMIT),
        number("plating_fraction", b::SOME),
        number("sigma_water", b::SPREAD),
        maybe(number("sigma_plating", b::SPREAD)),
        maybe(number("sigma_use", b::SPREAD)),
        maybe(group("start", LEFT)),
        Field {
            name: "events",
            kind: FieldKind::Groups(EVENT, MOST_EVENTS),
            required: false,
        },
        maybe(number("potential_since_mg", b::CHALK_PASSED)),
        number("litres_per_day", b::LITRES_A_DAY),
        number("potential_mg_l", b::POTENTIAL),
    ],
    example: r#"{"limit_mg": 569.1, "plating_fraction": 0.15, "sigma_water": 0.34, "litres_per_day": 0.705, "potential_mg_l": 55.1,
  "events": [{"kind": "clean", "potential_mg": 3794, "left_fraction": {"median": 0.12, "p10": 0.04, "p90": 0.3}, "brought": "some"},
    {"kind": "sign", "sign": "cooler", "potential_mg": 4000}]}"#,
    answer,
};

fn left(i: &TopicInput) -> Left {
    Left {
        p10: i.number("p10"),
        median: i.number("median"),
        p90: i.number("p90"),
    }
}

fn event(i: &TopicInput) -> Result<Witnessing, Problem> {
    let kind = i.word("kind");
    let (_, takes, needs) = OF_KIND
        .iter()
        .find(|(k, ..)| *k == kind)
        .expect("kinds were checked");
    let all = ["kind", "potential_mg"];
    if let Some(name) =
        i.0.keys()
            .find(|n| !all.contains(&n.as_str()) && !takes.contains(&n.as_str()))
    {
        let message = format!("a {kind} has none: it takes {}", takes.join(", "));
        return Err(Problem::new(Code::UnknownField, name, message));
    }
    if let Some(name) = needs.iter().find(|n| i.given(n).is_none()) {
        let message = format!("missing: a {kind} has one");
        return Err(Problem::new(Code::Missing, *name, message));
    }
    let what = match kind {
        "sign" => Witnessed::Sign {
            sign: match i.word("sign") {
                "slow" => Sign::Slow,
                "noisy" => Sign::Noisy,
                "cooler" => Sign::Cooler,
                _ => Sign::Light,
            },
            dated: i.given("dated").is_none() || i.flag("dated"),
            told: !i.flag("counts_only") && !i.flag("left_out"),
        },
        "timed" => Witnessed::Timed {
            ratio: i.number("seconds_ratio"),
        },
        "water" => Witnessed::Water {
            sigma: i.number("sigma_water"),
        },
        _ => clean(i)?,
    };
    Ok(Witnessing {
        potential_mg: i.maybe("potential_mg").unwrap_or(0.0),
        what,
    })
}

/// What a clean leaves: the same of any film, or by how much was there; one of the two.
fn leaves(i: &TopicInput) -> Result<Leaves, Problem> {
    let films = i.given("left_at").map(|_| i.groups("left_at"));
    let films = match (i.group("left_fraction"), films) {
        (Some(same), None) => return Ok(Leaves::Same(left(&same))),
        (None, Some(films)) => films,
        (None, None) => {
            let message = "give what the clean leaves as left_fraction or left_at";
            return Err(Problem::new(Code::Missing, "left_fraction", message));
        }
        (Some(_), Some(_)) => {
            let message = "give left_fraction or left_at, not both";
            return Err(Problem::new(Code::Contradiction, "left_at", message));
        }
    };
    let films: Vec<_> = films.iter().map(|f| (f.number("used"), left(f))).collect();
    if films.is_empty() {
        let message = "give at least one film";
        return Err(Problem::new(Code::Missing, "left_at", message));
    }
    if !films.is_sorted_by(|a, b| a.0 < b.0) {
        let message = "give each film once, by rising used";
        return Err(Problem::new(Code::Contradiction, "left_at", message));
    }
    Ok(Leaves::by_film(films))
}

fn clean(i: &TopicInput) -> Result<Witnessed, Problem> {
    let told = match i.given("brought").and_then(Value::as_str) {
        Some("none") => Some(Told::None),
        Some("some") => Some(Told::Some),
        Some("lot") => Some(Told::Lot),
        _ => None,
    };
    let brown = i.maybe("brown_baths").unwrap_or(0.0) as u32;
    let checks = i.group("checks");
    let seen = |name: &str| checks.as_ref()?.given(name)?.as_bool();
    Ok(Witnessed::Clean {
        failed: None,
        left: leaves(i)?,
        brought: Brought::of(told, i.flag("bits"), brown),
        checks: Checks {
            flakes: seen("flakes"),
            flow: seen("flow"),
            clear: seen("clear"),
            heat: seen("heat"),
            sound: seen("sound"),
            light: seen("light"),
        },
    })
}

fn answer(i: &TopicInput) -> Result<Value, Problem> {
    let events = i.groups("events").into_iter().enumerate();
    let events: Vec<_> = events
        .map(|(n, e)| event(&e).map_err(|p| p.within(&format!("events.{n}"))))
        .collect::<Result<_, _>>()?;
    let prior = Prior {
        limit_mg: i.number("limit_mg"),
        plating: i.number("plating_fraction"),
        sigma_plating: i.maybe("sigma_plating").unwrap_or(PLATING_SIGMA),
        sigma_use: i.maybe("sigma_use").unwrap_or(USE_SIGMA),
        sigma_water: i.number("sigma_water"),
        start: i.group("start").map_or(Left::NOTHING, |s| left(&s)),
        before_mg: [0.0; 3],
    };
    let belief = Belief::from(prior, &events, i.maybe("potential_since_mg").unwrap_or(0.0));
    let (used, to_go): (Window, Window) = (belief.used(), belief.to_go_mg());
    let daily = i.number("litres_per_day") * i.number("potential_mg_l");
    let days = |mg: f64| (daily > 0.0).then(|| mg / daily);
    Ok(json!({
        "used_median": used.median,
        "used_p10": used.p10,
        "used_p90": used.p90,
        "days_median": days(to_go.median),
        "days_p10": days(to_go.p10),
        "days_p90": days(to_go.p90),
        "theta_ratio": belief.growth(),
    }))
}
