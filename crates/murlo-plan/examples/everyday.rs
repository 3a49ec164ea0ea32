//! A table of everyday cleans: what is planned for each family on soft and hard water, kept and neglected, beside what people do.

use jiff::civil::{Date, date};
use murlo_base::days::days_after;
use murlo_base::units::{HardnessUnit, Units};
use murlo_brewer::bath::Agent;
use murlo_brewer::water::{Chemistry, Reading, Waters};
use murlo_brewer::{BrewerDraft, Family};
use murlo_chalk::money::Terms;
use murlo_chalk::scale::{Cleaned, Growth, Known, Start};
use murlo_plan::{Facts, PlanOptions, Today};

const TODAY: Date = date(2026, 6, 1);
const DAYS: [(&str, i32, bool); 3] = [
    ("kept, 90 days", 90, true),
    ("half a year", 183, true),
    ("three years", 1096, false),
];
/// What people do, by family: soak and rinse of a kept brewer.
const PRACTICE: [(Family, &str); 6] = [
    (
        Family::PodReservoir,
        "soak 15-20 min (30 at 12 %), 10-15 rinses of a cup, 45-60 min",
    ),
    (Family::OneCupPod, "soak 20 min, 20-30 min"),
    (Family::CodedCapsule, "20 min of programme, several shots"),
    (Family::PumpCapsule, "30 min at 12 %, 2 x 200 mL"),
    (Family::Drip, "programme 30-75 min, 2 carafes, 70-100 min"),
    (
        Family::Combination,
        "programme 30-75 min, 2-3 carafes, 70-100 min",
    ),
];

fn main() {
    println!(
        "{:<16} {:>4} {:<14} {:<8} {:>5} {:>5} {:>6} {:>6} {:>5} {:>5} {:>5}  {:<20} {:<20} next due",
        "family",
        "mg/L",
        "state",
        "agent",
        "soak",
        "baths",
        "press",
        "rinse",
        "hands",
        "near",
        "free",
        "before",
        "after"
    );
    for (family, practice) in PRACTICE {
        for hardness in [60.0, 250.0] {
            for state in DAYS {
                for agent in ["vinegar", "citric"] {
                    line(family, hardness, state, agent);
                }
            }
        }
        println!("  people: {practice}\n");
    }
}

fn percent(chalk: &murlo_chalk::scale::Chalk) -> String {
    let [low, mid, high] = [chalk.used_low, chalk.used, chalk.used_high].map(|u| 100.0 * u);
    format!("{mid:.0} % ({low:.0}-{high:.0})")
}

fn line(family: Family, hardness: f64, (state, days, cleaned): (&str, i32, bool), agent: &str) {
    let start = days_after(TODAY, -days);
    let draft = BrewerDraft {
        nickname: "b".into(),
        weekday_cups: 2.5,
        weekend_cups: 2.5,
        self_clean: matches!(
            family,
            Family::Drip | Family::CodedCapsule | Family::Combination
        ),
        ..BrewerDraft::template(family, Units::Us, "h", "w", start)
    };
    let brewer = draft
        .check("b".into(), None, start)
        .expect("a template is sound");
    let circuit = &brewer.circuits[0];
    let reading = Reading::Strip {
        value: hardness,
        unit: HardnessUnit::MgPerL,
    };
    let waters = [Chemistry::of(&reading, &Waters::new()).expect("a strip is read")];
    let known = |cleans| Known {
        brewer: &brewer,
        circuit,
        waters: &waters,
        start: if cleaned {
            Start::told_clean(start)
        } else {
            Start::new(start)
        },
        cleans,
        entries: &[],
        logged: None,
        recall: None,
        today: TODAY,
    };
    let forecast = Growth::new(known(&[])).forecast(Units::Us);
    let agents = Agent::starters();
    let facts = Facts {
        brewer: &brewer,
        circuit,
        forecast: &forecast,
        agents: &agents,
        units: Units::Us,
        terms: &Terms::default(),
        today: Today::default(),
    };
    let options = PlanOptions {
        agent_id: Some(agent.to_owned()),
        ..PlanOptions::default()
    };
    let plan = match facts.plan(&options) {
        Ok(plan) => plan,
        Err(problems) => return println!("{}: {:?}", family.label(), problems.0),
    };
    let good = murlo_chalk::belief::Checks {
        flakes: Some(true),
        clear: Some(true),
        light: Some(true),
        ..Default::default()
    };
    let mut done = Cleaned::told(TODAY);
    done.bathed = plan.baths();
    done.evidence.checks = good;
    let next = Growth::new(known(std::slice::from_ref(&done)))
        .in_brief(Units::Us)
        .due;
    println!(
        "{:<16} {hardness:>4} {state:<14} {agent:<8} {:>5.0} {:>5} {:>6} {:>6} {:>5.0} {:>5.0} {:>5.0}  {:<20} {:<20} {:?} in {} days ({})",
        format!("{family:?}"),
        plan.chosen.soak_minutes,
        plan.likely_baths,
        plan.dispensing.count,
        plan.rinse.portions,
        plan.ribbon.hands_on_min,
        plan.ribbon.near_min,
        plan.ribbon.free_min,
        percent(&plan.chalk),
        plan.after.as_ref().map_or_else(String::new, percent),
        next.by,
        next.days,
        next.chalk_text,
    );
}
