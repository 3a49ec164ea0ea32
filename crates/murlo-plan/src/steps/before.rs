//! Steps before the bath: making ready, filter, parts, body, needles, the first glass; and needles alone.

use crate::Kind;
use crate::facts::Facts;
use crate::step::{Doing, Hazard, Inside, Picture, Place, Step};
use crate::steps::draft::{Draft, finished, way_of};
use crate::steps::once::say_once;
use murlo_base::text;
use murlo_brewer::bath::{Agent, AgentForm};
use murlo_brewer::instruction::{Instruction, Thing, Washed};
use murlo_brewer::{Care, Needle, Outlet, Part, Seat, Tank};

/// Flushes after the needles were cleared by hand.
const FLUSHES: u32 = 2;
/// A flush, or a cup for a glass, is no larger than this, mL: 8 fl oz.
const FLUSH_ML: f64 = 236.6;
/// Minutes until needles that were just heated can be touched.
const COOLS: f64 = 8.0;

/// "Just unclog": the needles, a flush, and a cup timed before and after.
pub(super) fn needle_work(facts: &Facts) -> Vec<Step> {
    let mut drafts = vec![
        Draft::new(Kind::Before, "Time a cup as it is")
            .does(with_water_passing(
                facts,
                [
                    Instruction::PlaceVessel {
                        holds_ml: facts.circuit.dispense_ml,
                    },
                    Instruction::mind(
                        "Time it from the first drop to the last, and count the streams.",
                    ),
                ],
            ))
            .does(facts.press(facts.circuit.dispense_ml, false))
            .check(
                "You know how it flows today. It may be skipped, if nothing comes at all.",
                "Judging from memory: the change comes too slowly to see.",
            )
            .caution(Hazard::Hot, "The water is near boiling.")
            .act("Go on", measured(facts))
            .at(&[Place::Mug])
            .machine(Inside::Water),
        cool(),
        ready_after_the_glass(facts),
    ];
    drafts.extend(needles(facts, None));
    drafts.extend([after(facts), close_up(facts)]);
    say_once(&mut drafts, None);
    finished(drafts, facts)
}

/// What a hot cup has heated cools before a hand goes in.
pub(super) fn cool() -> Draft {
    Draft::new(Kind::Cool, "Let the needles cool")
        .does([Instruction::Cool { minutes: COOLS }])
        .check(
            "The holder is no more than warm.",
            "Reaching for needles that a cup has just heated.",
        )
        .caution(Hazard::Hot, "The needles are near boiling after a cup.")
        .act("It has cooled", Doing::Wait { minutes: COOLS })
        .hands_free(COOLS)
}

/// The way back of what was put in.
fn taken_out(act: Instruction) -> Option<Instruction> {
    let Instruction::PutIn { thing, .. } = act else {
        return None;
    };
    Some(Instruction::TakeOut { thing })
}

/// Unplugged and open once more; the cup has shown that nothing is left in it but what let it pass, and what an earlier step
/// has left in.
pub(super) fn ready_again(facts: &Facts, left_in: &[Thing]) -> Draft {
    let brewed = Instruction::TakeOut {
        thing: brewed(facts.circuit.outlet),
    };
    let mut again = ready_after_the_glass(facts).without(|act| *act == brewed);
    for thing in left_in {
        let out = Instruction::TakeOut { thing: *thing };
        if !again.step.instructions.contains(&out) {
            again = again.does([out]);
        }
    }
    again
}

/// Made ready after a cup of water, which may have been left out: what is brewed is looked for all the same.
pub(super) fn ready_after_the_glass(facts: &Facts) -> Draft {
    let out = let_water_pass(facts).into_iter().filter_map(taken_out);
    ready(facts).does(out)
}

pub(super) fn after(facts: &Facts) -> Draft {
    Draft::new(Kind::After, "Time a cup again")
        .does([
            Instruction::mind("The largest size once more: seconds and streams as before."),
            Instruction::PlaceVessel {
                holds_ml: facts.circuit.dispense_ml,
            },
            water_for(facts, 1, facts.circuit.dispense_ml),
        ])
        .does(facts.press(facts.circuit.dispense_ml, false))
        .check(
            "A steady stream without grit, about as quick as when it was well.",
            "Clearing without flushing: what was loosened settles in the next cup.",
        )
        .caution(Hazard::Hot, "The water is near boiling.")
        .act("Go on", measured(facts))
        .at(&[Place::Mug])
        .machine(Inside::Water)
}

/// Nothing was taken apart but what the needles needed.
pub(super) fn close_up(facts: &Facts) -> Draft {
    let mut back = vec![Instruction::mind(
        "Holder and lid snapped home, tray in place.",
    )];
    back.extend(takes_out_what_let_water_pass(facts));
    Draft::new(Kind::PutBack, "Put everything back")
        .does(back)
        .check(
            "It closes without force.",
            "A holder that does not sit flush: water then runs around the pod.",
        )
        .act("All in place", Doing::Once)
        .at(&[Place::Reservoir])
        .machine(Inside::Water)
}

/// Plugged in, closed, with what lets water pass in place and water for a cup: then `acts`.
pub(super) fn with_water_passing(
    facts: &Facts,
    acts: impl IntoIterator<Item = Instruction>,
) -> Vec<Instruction> {
    let mut all = water_passes(facts);
    all.push(water_for(facts, 1, facts.circuit.dispense_ml));
    all.extend(acts);
    all
}

/// Plugged in, closed, with what lets water pass in place.
fn water_passes(facts: &Facts) -> Vec<Instruction> {
    let mut all = vec![
        Instruction::OpenLid,
        Instruction::TakeOut {
            thing: brewed(facts.circuit.outlet),
        },
    ];
    all.extend(let_water_pass(facts));
    all.extend([
        Instruction::CloseLid,
        Instruction::PlugIn,
        Instruction::SwitchOn,
    ]);
    all
}

/// Water for so many cups, and what the reservoir never gives; the cup itself where it is poured in.
pub(super) fn water_for(facts: &Facts, cups: u32, ml: f64) -> Instruction {
    if facts.brewer.takes_a_cup_at_a_time() {
        return Instruction::FillUp { ml: Some(ml) };
    }
    let all = f64::from(cups) * ml + facts.circuit.dead_volume_ml;
    Instruction::HaveWater {
        ml: all.min(facts.reservoir_ml()),
    }
}

/// What must be in place for water to pass at all.
pub(super) fn let_water_pass(facts: &Facts) -> Vec<Instruction> {
    match facts.circuit.outlet {
        Outlet::Capsule => vec![
            Instruction::OpenLid,
            Instruction::PutIn {
                thing: Thing::EmptyCapsule,
                new: false,
            },
        ],
        Outlet::Pod | Outlet::Grounds => Vec::new(),
    }
}

pub(super) fn takes_out_what_let_water_pass(facts: &Facts) -> Vec<Instruction> {
    match facts.circuit.outlet {
        Outlet::Capsule => vec![
            Instruction::OpenLid,
            Instruction::TakeOut {
                thing: Thing::EmptyCapsule,
            },
            Instruction::CloseLid,
        ],
        Outlet::Pod | Outlet::Grounds => Vec::new(),
    }
}

/// What is brewed on this side, and may still be in it.
pub(super) const fn brewed(outlet: Outlet) -> Thing {
    match outlet {
        Outlet::Pod => Thing::Pod,
        Outlet::Capsule => Thing::Capsule,
        Outlet::Grounds => Thing::Grounds,
    }
}

fn measured(facts: &Facts) -> Doing {
    Doing::Measure {
        cup: facts.wording().size(facts.circuit.dispense_ml),
    }
}

pub(super) fn filter(facts: &Facts) -> Option<Draft> {
    let filter = facts.brewer.filter?;
    let keep = match (facts.today.filter_due, facts.today.filter_unknown) {
        (true, _) => "Wash the housing. This cartridge is worn out: throw it away.".to_owned(),
        (false, false) => {
            "Wash the housing; rinse the cartridge and keep it in a glass of water.".to_owned()
        }
        (false, true) => format!(
            "Wash the housing. Is the cartridge older than about {:.0} days? Then throw it away and have a new one ready; else rinse it and keep it in a glass of water.",
            filter.days
        ),
    };
    Some(
        Draft::new(Kind::Filter, "Take the water filter out")
            .does([
                Instruction::TakeOut { thing: Thing::Filter },
                Instruction::mind(keep),
            ])
            .check("Nothing but the reservoir is left for the bath to touch.", "Running acid through the filter: it spoils the filter and the filter weakens the acid.")
            .act("Filter is out", Doing::Once)
            .at(&[Place::Filter]),
    )
}

/// The new water filter soaks before it is fitted; it has time while the machine works.
pub(super) fn filter_soak(facts: &Facts) -> Option<Draft> {
    facts.brewer.filter?;
    facts.today.filter_due.then(|| {
        Draft::new(Kind::FilterSoak, "Set the new filter to soak")
            .does([Instruction::mind("Stand the new cartridge in a glass of fresh water; 5 to 20 minutes, as its leaflet says.")])
            .check(
                "It is under water and has stopped bubbling.",
                "Fitting it dry: air in it then holds the water back.",
            )
            .act("Filter is soaking", Doing::Once)
            .at(&[Place::Filter])
    })
}

/// A holder that does not come apart is soaked instead of forced: in the agent of this bath, where it is a liquid.
fn holder_soak(needles: &[Needle], agent: Option<&Agent>) -> Option<Draft> {
    let whole = |n: &Needle| n.seat == Seat::Exit && !n.comes_out;
    let into = agent
        .and_then(holder_bath)
        .unwrap_or_else(|| "hot soapy water".to_owned());
    needles.iter().any(whole).then(|| {
        Draft::new(Kind::HolderSoak, "Soak the pod holder")
            .does([Instruction::Wash(Washed::Holder { into })])
            .check(
                "Light falls through its opening.",
                "Prising it apart: this one does not come apart.",
            )
            .caution(Hazard::Sharp, "The needle in it is sharp.")
            .caution(Hazard::Unplug, "Unplugged, and cool enough to touch.")
            .act("Holder is clean and back", Doing::Once)
            .at(&[Place::PodChamber, Place::CupNeedle])
    })
}

/// What a holder can stand in besides soapy water.
pub(crate) fn holder_bath(agent: &Agent) -> Option<String> {
    matches!(agent.form, AgentForm::Liquid { .. }).then(|| format!("a cup of {}", agent.in_text()))
}

pub(super) fn ready(facts: &Facts) -> Draft {
    let outlet = facts.circuit.outlet;
    let check = match outlet {
        Outlet::Pod => "The pod chamber is empty. Look twice.",
        Outlet::Capsule => "The capsule seat is empty. Look twice.",
        Outlet::Grounds => "The basket and the carafe are empty.",
    };
    let guide = &facts.brewer.places.guide;
    Draft::new(Kind::Ready, "Make ready")
        .does([
            Instruction::Unplug,
            Instruction::mind("Move the brewer next to the sink; lay a towel for the parts."),
            Instruction::OpenLid,
            Instruction::TakeOut { thing: brewed(outlet) },
        ])
        .told((!guide.is_empty()).then(|| format!("The maker's guide is kept here: {guide}.")))
        .check(check, "A forgotten pod or filter full of grounds: nothing the water shows afterwards can be trusted.")
        .caution(Hazard::Unplug, "Unplug with dry hands before any hand work.")
        .caution(Hazard::Manual, "Where the maker's manual says otherwise, the manual wins. Do not open the casing; faults belong to a qualified repairer.")
        .act("Unplugged and empty", Doing::Once)
        .at(&[way_of(outlet)[0]])
}

/// One line for each way of washing that these parts want.
fn washing(parts: &[Part]) -> Vec<String> {
    let named = |care: Care| {
        let names: Vec<_> = parts
            .iter()
            .filter(|p| p.care == care)
            .map(|p| p.name.as_str())
            .collect();
        (!names.is_empty()).then(|| names.join(", "))
    };
    let mut lines = Vec::new();
    if let Some(names) = named(Care::Hand) {
        lines.push(format!("By hand in hot soapy water: {names}."));
    }
    if let Some(names) = named(Care::TopRack) {
        lines.push(format!(
            "By hand, or in the top rack of a dishwasher: {names}."
        ));
    }
    if let Some(names) = named(Care::RinseOnly) {
        lines.push(format!("Only rinsed: {names}."));
    }
    if let Some(names) = named(Care::WipeOnly) {
        lines.push(format!("Never under water, only wiped: {names}."));
    }
    lines
}

/// Parts the bath touches: clean before it comes.
pub(super) fn parts_in_use(facts: &Facts) -> Option<Draft> {
    let mut parts = facts.brewer.parts();
    parts.retain(|p| p.in_use);
    let [chamber, _, vessel] = way_of(facts.circuit.outlet);
    let draft = washed(
        facts,
        Kind::Parts,
        "Wash the loose parts",
        &parts,
        "Brush, rinse, dry, and put back.",
    )?;
    Some(draft.at(&[Place::Reservoir, chamber, vessel]))
}

/// Parts the machine can spare while it works.
pub(super) fn other_parts(facts: &Facts) -> Option<Draft> {
    let mut parts = facts.brewer.parts();
    parts.retain(|p| !p.in_use);
    washed(
        facts,
        Kind::Others,
        "Wash the other parts",
        &parts,
        "Brush, rinse, and dry.",
    )
}

fn washed(facts: &Facts, kind: Kind, title: &str, parts: &[Part], then: &str) -> Option<Draft> {
    if parts.is_empty() {
        return None;
    }
    let mut lines = washing(parts);
    lines.push(then.to_owned());
    let mut acts = Vec::new();
    if kind == Kind::Parts && facts.brewer.tank() == Tank::TakenOff {
        // The reservoir is one of them: what stands in it is poured away first.
        acts.push(Instruction::mind(
            "Pour away what is left in the reservoir.",
        ));
    }
    acts.push(Instruction::Wash(Washed::Parts {
        lines,
        inside: kind == Kind::Parts,
    }));
    Some(
        Draft::new(kind, title)
            .does(acts)
            .check("Parts feel smooth, smell of nothing, and sit flush.", "Putting the electric body into water, or a part into the dishwasher that the manual does not allow there.")
            .act("Parts are washed", Doing::Once),
    )
}

/// A swab holds so much of a liquid's acid, % w/v, whatever the bath: half and half of usual vinegar.
const WIPE_PERCENT: f64 = 2.5;

/// What a crevice is wiped with: a mild mix of what the maker does not forbid.
fn swab(agent: Option<&Agent>) -> String {
    let Some((agent, AgentForm::Liquid { percent, .. })) = agent.map(|a| (a, a.form)) else {
        return "a little dish soap".to_owned();
    };
    let water = (percent / WIPE_PERCENT - 1.0).round().max(1.0) as u32;
    let water = match water {
        1 => "one part water".to_owned(),
        n => format!("{n} parts water"),
    };
    format!("a mix of one part {} and {water}", agent.in_text())
}

pub(super) fn body(agent: Option<&Agent>) -> Draft {
    Draft::new(Kind::Body, "Wipe the body")
        .does([
            Instruction::Wash(Washed::Body { with: swab(agent) }),
            Instruction::mind("Wipe any household cleaner off completely: acid comes next."),
        ])
        .check(
            "No coffee crust and no cleaner is left.",
            "Leaving a cleaner on a part that acid will reach.",
        )
        .caution(
            Hazard::NeverMix,
            "Never let bleach or any other cleaner meet the acid: the gas is dangerous.",
        )
        .caution(
            Hazard::Unplug,
            "Keep the plug out and the body out of water.",
        )
        .act("Body is clean", Doing::Once)
        .at(&[Place::Body])
}

/// Clearing by hand while all is cold, then flushing what was loosened.
pub(super) fn needles(facts: &Facts, agent: Option<&Agent>) -> Vec<Draft> {
    let needles = facts.needles();
    let mut drafts: Vec<_> = holder_soak(&needles, agent).into_iter().collect();
    if !needles.is_empty() {
        drafts.insert(0, clear(needles));
    }
    if facts.circuit.outlet == Outlet::Capsule {
        drafts.push(seat());
    }
    if !drafts.is_empty() {
        drafts.push(flush(facts));
    }
    drafts
}

pub(super) fn clear(needles: Vec<Needle>) -> Draft {
    let has = |seat| needles.iter().any(|n: &Needle| n.seat == seat);
    let mut lines = Vec::new();
    if has(Seat::Exit) {
        lines.push("Cup needle (exit): brace the machine and take the holder out, push from beneath where there is no needle, pull from above. Clear its holes and the opening under its seat, rinse it under the tap, snap it back flush.".to_owned());
    }
    if has(Seat::Entrance) {
        lines.push("Lid needle (entrance): push the rubber seal back. Its holes face sideways: come in at an angle, bend the clip if needed, and go along the grooves of the rubber.".to_owned());
    }
    let spots: usize = needles.iter().map(|n| n.spots().count()).sum();
    let fixed = needles.iter().any(|n| n.seat == Seat::Exit && !n.comes_out);
    let holder = if fixed {
        "This holder does not come apart and is not forced: it is soaked instead."
    } else {
        "A holder that does not come apart is not forced: soak it instead."
    };
    Draft::new(Kind::Needles, "Clear the needles")
        .does([Instruction::ClearNeedles { lines }])
        .check("The clip comes out clean. Dark oil on it means: once more.", "Pushing far up: behind the needle is a soft tube that a clip can pierce. Wooden picks snap off inside.")
        .caution(Hazard::Sharp, "The needles are sharp, the largest most of all, and hot after a brew.")
        .caution(Hazard::Unplug, "Unplugged, dry hands.")
        .caution(Hazard::Manual, holder)
        .act("Clip comes out clean", Doing::Clear { needles })
        .shows(Picture::Needles, text::count(spots as u32, "place to clear", "places to clear"))
}

fn flush(facts: &Facts) -> Draft {
    let ml = facts.circuit.dispense_ml.min(FLUSH_ML);
    let draft = Draft::new(Kind::Flush, "Flush what was loosened")
        .does(let_water_pass(facts))
        .does([
            Instruction::CloseLid,
            Instruction::PlugIn,
            Instruction::SwitchOn,
            Instruction::PlaceVessel { holds_ml: ml },
        ])
        .told(Some("Look for grit and a steady stream.".to_owned()));
    let per_fill = if facts.brewer.takes_a_cup_at_a_time() {
        1
    } else {
        FLUSHES
    };
    draft
        .at_fill([water_for(facts, per_fill, ml)], per_fill)
        .each(facts.press(ml, false))
        .check(
            "No grit, a steady stream. If not: clear again, flush again.",
            "A needle cleared but not flushed: the crumbs end in the next cup.",
        )
        .caution(
            Hazard::Hot,
            "The water is near boiling, and the needles are hot afterwards.",
        )
        .act("Flushed", Doing::Count { target: FLUSHES })
        .at(&[Place::LidNeedle, Place::CupNeedle])
        .machine(Inside::Water)
}

fn seat() -> Draft {
    Draft::new(Kind::Capsule, "Clear the capsule seat")
        .does([Instruction::Wash(Washed::Seat)])
        .check("The holes are open and the seal is smooth.", "Running the bath through a full capsule, or with none: then no water passes and the pump runs hot.")
        .caution(Hazard::Sharp, "The piercing points are sharp.")
        .caution(Hazard::Manual, "Forbidden by the maker, or a special cleaning capsule came with it? Then the manual's way is the way.")
        .act("Seat is clear", Doing::Once)
        .at(&[Place::PodChamber])
}

pub(super) fn baseline(facts: &Facts) -> Draft {
    let outlet = facts.circuit.outlet;
    // The largest size: what is timed is held against a healthy cup of that.
    let ml = facts.circuit.dispense_ml;
    let mut acts = water_passes(facts);
    match outlet {
        // A carafe brewer only stops when all of it is through.
        Outlet::Grounds => acts.extend([
            Instruction::PlaceVessel {
                holds_ml: facts.reservoir_ml(),
            },
            Instruction::FillUp {
                ml: Some(ml.min(FLUSH_ML)),
            },
            Instruction::Brew { minutes: 2.0 },
        ]),
        Outlet::Pod | Outlet::Capsule => {
            acts.extend([
                Instruction::PlaceVessel { holds_ml: ml },
                water_for(facts, 1, ml),
            ]);
            acts.extend(facts.rearm());
            acts.push(Instruction::Press { ml, in_mode: false });
        }
    }
    Draft::new(Kind::Baseline, "Look at the first glass")
        .does(acts)
        .does([
            Instruction::mind("Into a perfectly clean glass, with a glass of tap water beside it: colour, bits, streams."),
            Instruction::EmptyVessel,
        ])
        .check(
            "You know what the brewer gives today. This step may be skipped; it makes success visible.",
            "Judging from memory: the change comes too slowly to see.",
        )
        .caution(Hazard::Hot, "The water is near boiling.")
        .act("Seen it", measured(facts))
        .machine(Inside::Water)
        .pictured(Picture::Glasses)
}

#[cfg(test)]
mod tests {
    use super::*;
    use murlo_chemistry::acid::Acid;

    #[test]
    fn a_swab_holds_the_mild_mix_whatever_the_bath() {
        let vinegar = |percent| Agent {
            form: AgentForm::Liquid {
                acid: Acid::Acetic,
                percent,
            },
            ..Agent::starters().remove(0)
        };
        for (percent, water) in [
            (4.0, "one part water"),
            (5.0, "one part water"),
            (6.1, "one part water"),
            (6.3, "2 parts water"),
            (10.0, "3 parts water"),
            (25.0, "9 parts water"),
        ] {
            let told = swab(Some(&vinegar(percent)));
            assert!(
                told.starts_with("a mix of one part ") && told.ends_with(water),
                "{told}"
            );
        }
        assert_eq!(swab(None), "a little dish soap");
    }
}
