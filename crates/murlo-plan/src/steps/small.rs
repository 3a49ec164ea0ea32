//! The small works beside descaling, each with steps of its own: most of them hands at the sink, some with cups to throw away.

use super::before::{
    body, brewed, let_water_pass, other_parts, parts_in_use, ready, takes_out_what_let_water_pass,
};
use crate::Kind;
use crate::facts::Facts;
use crate::step::{Doing, Hazard, Inside, Place, Step};
use crate::steps::draft::{Draft, finished};
use murlo_brewer::Outlet;
use murlo_brewer::bath::Agent;
use murlo_brewer::instruction::{Instruction, Thing, Washed};
use murlo_brewer::job::Job;

/// A cup that is thrown away is no larger than this, mL.
pub(crate) const CUP_ML: f64 = 236.6;
/// A new cartridge soaks, minutes.
const FILTER_SOAK: f64 = 15.0;
/// A holder stands in what dissolves chalk, minutes.
const HOLDER_SOAK: f64 = 20.0;
/// Stain remover works, minutes.
const STAINS_SOAK: f64 = 10.0;

/// The steps of `job`, with `agent` for what is wiped or stood in it, where the maker does not forbid that.
pub(super) fn small_work(facts: &Facts, job: Job, agent: Option<&Agent>) -> Vec<Step> {
    let with_cups = |mut drafts: Vec<Draft>, n| {
        drafts.extend(fresh_cups(facts, n));
        drafts
    };
    let drafts = match job {
        Job::Tray => vec![tray(facts)],
        Job::RinsePod => with_cups(vec![rinse_pod(facts)], 2),
        Job::Filter => with_cups(new_filter(), 1),
        Job::Hollow => vec![hollow(), closed(false)],
        Job::Holder => with_cups(vec![holder(agent), closed(false)], 1),
        Job::Reusable => vec![reusable(facts)],
        Job::Stains => vec![stains(), washed_off(facts)],
        Job::Empty => vec![dry()],
        Job::Back => with_cups(vec![fresh_water(facts)], 2),
        Job::Slime => with_cups(vec![slime(facts), closed(false)], 2),
        // Needles and the light bath have plans of their own; whoever asks for them here gets the parts washed.
        Job::Wash | Job::Needles | Job::LightBath => wash_only(facts, agent),
    };
    finished(drafts, facts)
}

fn wash_only(facts: &Facts, agent: Option<&Agent>) -> Vec<Draft> {
    let mut drafts = vec![ready(facts)];
    drafts.extend(facts.brewer.filter.map(|_| {
        filter_out("Rinse the cartridge and keep it in a glass of water; wash its housing.")
    }));
    drafts.extend(parts_in_use(facts));
    drafts.extend(other_parts(facts));
    let mut wiped = body(agent.filter(|agent| super::holder_bath(agent).is_some()));
    wiped
        .step
        .instructions
        .retain(|i| !matches!(i, Instruction::Mind { .. }));
    drafts.push(wiped.does([Instruction::mind(
        "Wipe once more with a cloth and plain water, and dry it against spots.",
    )]));
    drafts.push(closed(facts.brewer.filter.is_some()));
    drafts.extend(fresh_cups(facts, 2));
    drafts
}

fn tray(facts: &Facts) -> Draft {
    let used = match facts.circuit.outlet {
        Outlet::Capsule => "Empty the box for used capsules too.",
        Outlet::Pod | Outlet::Grounds => "Splashes under the rim are back within a week.",
    };
    let lines = vec![
        "Take the drip tray out, in its two pieces where it has them: hot soapy water, brush, rinse, dry.".to_owned(),
        "Wipe under the rim where the drink comes out, and where the tray sits, with a damp cloth.".to_owned(),
    ];
    Draft::new(Kind::Tray, "Wash drip tray and rim")
        .does([
            Instruction::Unplug,
            Instruction::mind(used),
            Instruction::Wash(Washed::Parts {
                lines,
                inside: false,
            }),
            Instruction::PlugIn,
        ])
        .check(
            "The tray sits flush; nothing sticks under the rim.",
            "Emptying it without washing: what is left grows.",
        )
        .caution(Hazard::Unplug, "Unplug with dry hands before you wipe.")
        .caution(
            Hazard::Hot,
            "After a brew the outlet is hot: let it cool first.",
        )
        .act("Tray is back", Doing::Once)
        .at(&[Place::Body])
}

fn rinse_pod(facts: &Facts) -> Draft {
    let ml = facts.circuit.dispense_ml.min(CUP_ML);
    let thing = Thing::RinsePod;
    let by_cup = facts.brewer.takes_a_cup_at_a_time();
    let mut acts = vec![
        Instruction::OpenLid,
        Instruction::TakeOut {
            thing: brewed(facts.circuit.outlet),
        },
        Instruction::PutIn { thing, new: true },
        Instruction::CloseOn { thing },
        Instruction::PlugIn,
        Instruction::SwitchOn,
        Instruction::PlaceVessel { holds_ml: ml },
        Instruction::FillUp {
            ml: by_cup.then_some(ml),
        },
        Instruction::Press { ml, in_mode: false },
        Instruction::EmptyVessel,
        Instruction::OpenLid,
        Instruction::TakeOut { thing },
    ];
    if !by_cup {
        acts.push(Instruction::mind("The next cups run without any pod."));
    }
    Draft::new(Kind::RinsePod, "Run a rinse pod")
        .does(acts)
        .check(
            "What comes is brown at first.",
            "Taking it for clearing: it rinses around the lid needle and clears no hole.",
        )
        .caution(
            Hazard::Hot,
            "The water is near boiling, and the pod and the needles are hot afterwards.",
        )
        .act("Run, and out again", Doing::Once)
        .at(&[Place::PodChamber, Place::LidNeedle, Place::Mug])
        .machine(Inside::Water)
}

fn filter_out(keep: &str) -> Draft {
    let thing = Thing::Filter;
    Draft::new(Kind::Filter, "Take the water filter out")
        .does([Instruction::TakeOut { thing }, Instruction::mind(keep)])
        .check(
            "The housing is clean.",
            "Losing its housing: a new cartridge fits only in that.",
        )
        .act("Filter is out", Doing::Once)
        .at(&[Place::Filter])
}

fn new_filter() -> Vec<Draft> {
    let thing = Thing::Filter;
    let soak = Draft::new(Kind::FilterSoak, "Set the new filter to soak")
        .does([Instruction::mind(
            "Stand the new cartridge in a glass of fresh water; 5 to 20 minutes, as its leaflet says.",
        )])
        .check("It is under water and has stopped bubbling.", "Fitting it dry: air in it then holds the water back.")
        .act("It has soaked", Doing::Wait { minutes: FILTER_SOAK })
        .at(&[Place::Filter])
        .hands_free(FILTER_SOAK);
    let fit = [
        Instruction::PutIn { thing, new: true },
        Instruction::mind("Fill with fresh water and set the reservoir back."),
    ];
    let fitted = Draft::new(Kind::PutBack, "Fit the new filter")
        .does(fit)
        .check(
            "It clicks in and does not float.",
            "Upside down, or not flushed: black grains in the first cups.",
        )
        .act("Filter is fitted", Doing::Once)
        .at(&[Place::Filter, Place::Reservoir]);
    let mut out =
        filter_out("Throw the old cartridge away; wash the housing in soapy water and rinse it.");
    out.step.during = Some(Kind::FilterSoak.id().to_owned());
    vec![soak, out, fitted]
}

fn hollow() -> Draft {
    let lines = vec![
        "Take the pod holder out.".to_owned(),
        "A damp cloth around a blunt blade, or a long swab, into the hollow behind it: coffee splashes dry on there. Wipe it dry.".to_owned(),
        "Put the holder back until it clicks.".to_owned(),
    ];
    Draft::new(Kind::Hollow, "Wipe the hollow behind the holder")
        .does([
            Instruction::Unplug,
            Instruction::OpenLid,
            Instruction::TakeOut { thing: Thing::Pod },
            Instruction::Wash(Washed::Parts {
                lines,
                inside: true,
            }),
        ])
        .check(
            "The swab comes out clean.",
            "Forcing a holder that does not come out: leave it and reach around.",
        )
        .caution(Hazard::Unplug, "Unplugged, and cool enough to touch.")
        .caution(Hazard::Sharp, "The needle in the holder is sharp.")
        .act("Hollow is clean", Doing::Once)
        .at(&[Place::PodChamber])
}

fn holder(agent: Option<&Agent>) -> Draft {
    let into = agent
        .and_then(super::holder_bath)
        .unwrap_or_else(|| "hot soapy water".to_owned());
    Draft::new(Kind::HolderSoak, "Soak the pod holder")
        .does([
            Instruction::Unplug,
            Instruction::OpenLid,
            Instruction::TakeOut { thing: Thing::Pod },
            Instruction::Wash(Washed::Holder { into }),
        ])
        .check(
            "Light falls through its opening.",
            "Prising it apart where it does not come apart.",
        )
        .caution(Hazard::Sharp, "The needle in it is sharp.")
        .caution(Hazard::Unplug, "Unplugged, and cool enough to touch.")
        .act(
            "It has soaked and is back",
            Doing::Wait {
                minutes: HOLDER_SOAK,
            },
        )
        .at(&[Place::PodChamber, Place::CupNeedle])
        .hands_free(HOLDER_SOAK)
}

fn reusable(facts: &Facts) -> Draft {
    let has_pods = facts
        .brewer
        .circuits
        .iter()
        .any(|c| c.outlet == Outlet::Pod);
    let has_basket = facts
        .brewer
        .circuits
        .iter()
        .any(|c| c.outlet == Outlet::Grounds);
    let knock = match has_basket {
        true => {
            "Knock the grounds out, rinse the filter from outside to inside under the tap, brush the mesh with dish soap."
        }
        false => {
            "Open the reusable pod, knock the grounds out, rinse it from outside to inside under the tap, brush mesh and lid with dish soap."
        }
    };
    let mut lines = vec![knock.to_owned()];
    if has_pods {
        lines.push(
            "A pod of your own: look that the hole in its lid and the seal around it are clean, or water goes past it."
                .to_owned(),
        );
    }
    let place = match has_basket {
        true => Place::Basket,
        false => Place::PodChamber,
    };
    Draft::new(Kind::Reusable, "Wash the reusable filter")
        .does([Instruction::Wash(Washed::Parts {
            lines,
            inside: false,
        })])
        .check(
            "Held against the light, every hole is open.",
            "Leaving it wet with grounds in it: oil closes the mesh.",
        )
        .act("Filter is clean", Doing::Once)
        .at(&[place])
}

fn stains() -> Draft {
    let lines = vec![
        "Undiluted stain remover on the stained glass or plastic part, off the machine; brush, and let it work.".to_owned(),
    ];
    Draft::new(Kind::Stains, "Take the stains off")
        .does([Instruction::Unplug, Instruction::Wash(Washed::Parts { lines, inside: false })])
        .check("The brown comes off under the brush.", "Running it through the machine: it never goes through.")
        .caution(Hazard::NeverMix, "Never together with vinegar, descaler or bleach: wash one off before the other comes near.")
        .caution(Hazard::Manual, "Only on parts that its label allows.")
        .act("It has worked", Doing::Wait { minutes: STAINS_SOAK })
        .hands_free(STAINS_SOAK)
}

fn washed_off(facts: &Facts) -> Draft {
    let lines = vec![
        "Wash the parts in hot soapy water, rinse them twice under the tap, dry them, and put them back.".to_owned(),
    ];
    Draft::new(Kind::Wash, "Wash it off")
        .does([
            Instruction::Wash(Washed::Parts {
                lines,
                inside: false,
            }),
            Instruction::PlugIn,
        ])
        .check(
            "Nothing of the remover is smelled or felt.",
            "Leaving some in a corner of the carafe.",
        )
        .act("Washed and back", Doing::Once)
        .at(&[match facts.circuit.outlet {
            Outlet::Grounds => Place::Carafe,
            Outlet::Pod | Outlet::Capsule => Place::Mug,
        }])
}

fn dry() -> Draft {
    Draft::new(Kind::Dry, "Empty it and leave it open")
        .does([
            Instruction::SwitchOff,
            Instruction::EmptyReservoir,
            Instruction::mind("Empty the tray, and the carafe if there is one."),
            Instruction::mind("Dry the reservoir and leave its lid open."),
            Instruction::mind("Before you go away, pull the plug as well."),
        ])
        .check(
            "Nothing stands in it.",
            "Closing the lid over a wet reservoir: it turns musty.",
        )
        .caution(Hazard::Unplug, "Dry hands at switch and plug.")
        .act("Empty and open", Doing::Once)
        .at(&[Place::Reservoir])
}

fn fresh_water(facts: &Facts) -> Draft {
    let mut acts = vec![
        Instruction::Unplug,
        Instruction::EmptyReservoir,
        Instruction::Wash(Washed::Reservoir),
    ];
    acts.extend([
        Instruction::OpenLid,
        Instruction::TakeOut {
            thing: brewed(facts.circuit.outlet),
        },
    ]);
    Draft::new(Kind::Wash, "Fresh water")
        .does(acts)
        .check(
            "It smells of nothing.",
            "Brewing with water that stood for days.",
        )
        .caution(Hazard::Unplug, "Unplug with dry hands.")
        .act("Washed", Doing::Once)
        .at(&[Place::Reservoir])
}

fn slime(facts: &Facts) -> Draft {
    let mut draft = fresh_water(facts);
    draft.step.id = Kind::Slime.id().to_owned();
    draft.step.title = "Scrub the reservoir and its lid".to_owned();
    let has_filter = facts.brewer.filter.is_some();
    let lines = vec![
        "Hot soapy water and a brush into every corner of reservoir, lid and seals; rinse, and let them dry open.".to_owned(),
    ];
    draft
        .step
        .instructions
        .push(Instruction::Wash(Washed::Parts {
            lines,
            inside: false,
        }));
    draft
        .told(has_filter.then(|| "Slime sits in a water filter too: fit a new one.".to_owned()))
        .told(Some("Then plan a clean for dirt, a bath with a short soak even without chalk; and empty it after use from now on.".to_owned()))
        .check("No film is felt with a finger, and nothing smells.", "Rinsing only: the film stays and is back in days.")
        .act("Scrubbed and dry", Doing::Once)
}

/// Everything back and closed, the `filter` too where it was taken out.
fn closed(filter: bool) -> Draft {
    let mut acts = vec![Instruction::mind(
        "Dry parts back in their places, tray and holder snapped home.",
    )];
    acts.extend(filter.then_some(Instruction::PutIn {
        thing: Thing::Filter,
        new: false,
    }));
    acts.extend([Instruction::CloseLid, Instruction::PlugIn]);
    Draft::new(Kind::PutBack, "Put everything back")
        .does(acts)
        .check(
            "It closes without force.",
            "A part that does not sit flush: water runs around it.",
        )
        .act("All in place", Doing::Once)
        .at(&[Place::Reservoir])
        .machine(Inside::Water)
}

/// Cups of fresh water that are thrown away, without a pod; a carafe brewer brews a little once.
fn fresh_cups(facts: &Facts, n: u32) -> Vec<Draft> {
    let ml = facts.circuit.dispense_ml.min(CUP_ML);
    let mut acts = vec![
        Instruction::OpenLid,
        Instruction::TakeOut {
            thing: brewed(facts.circuit.outlet),
        },
    ];
    acts.extend(let_water_pass(facts));
    acts.extend([
        Instruction::CloseLid,
        Instruction::PlugIn,
        Instruction::SwitchOn,
    ]);
    let draft = Draft::new(Kind::Flush, "Cups to throw away")
        .check(
            "Clear, and it smells of nothing.",
            "Leaving a pod in: nothing is seen of what comes.",
        )
        .caution(Hazard::Hot, "The water is near boiling.")
        .machine(Inside::Water);
    let by_cup = facts.brewer.takes_a_cup_at_a_time();
    let cups = match facts.circuit.outlet {
        Outlet::Grounds => draft
            .does([Instruction::Unplug, Instruction::EmptyReservoir])
            .does(acts)
            .does([
                Instruction::PlaceVessel {
                    holds_ml: facts.reservoir_ml(),
                },
                Instruction::FillUp {
                    ml: Some(f64::from(n) * CUP_ML),
                },
                Instruction::Brew { minutes: 4.0 },
                Instruction::EmptyVessel,
            ])
            .act("Run and poured away", Doing::Once)
            .at(&[Place::Carafe]),
        Outlet::Pod | Outlet::Capsule => draft
            .does(acts)
            .does([Instruction::PlaceVessel { holds_ml: ml }])
            .at_fill(
                [Instruction::FillUp {
                    ml: by_cup.then_some(ml),
                }],
                if by_cup { 1 } else { n },
            )
            .each(facts.press(ml, false))
            .act("Poured away", Doing::Count { target: n })
            .at(&[Place::Mug]),
    };
    [cups].into_iter().chain(empty_capsule_out(facts)).collect()
}

/// Where an empty capsule let the water pass, it comes out again.
fn empty_capsule_out(facts: &Facts) -> Option<Draft> {
    let out = takes_out_what_let_water_pass(facts);
    (!out.is_empty()).then(|| {
        Draft::new(Kind::Close, "Take the empty capsule out")
            .does(out)
            .check(
                "The slot is empty and closed.",
                "Leaving it in: it passes for a full one next time.",
            )
            .caution(Hazard::Hot, "It is hot after the cups.")
            .act("It is out", Doing::Once)
            .at(&[Place::PodChamber])
            .machine(Inside::Water)
    })
}
