//! A step while it is being put together.

use crate::{
    Caution, Chosen, Dispensing, Doing, Facts, Hazard, Inside, Kind, Picture, Place, Step, Work,
    minutes,
};
use murlo_brewer::Outlet;
use murlo_brewer::bath::{Agent, Mixed, Soak};
use murlo_brewer::instruction::{Instruction, Thing};
use murlo_brewer::job::Job;
use murlo_brewer::rinse::Rinse;

pub(crate) struct Draft {
    pub(crate) step: Step,
}

impl Draft {
    pub(crate) fn new(kind: Kind, title: &str) -> Self {
        Self {
            step: Step {
                id: kind.id().to_owned(),
                title: title.to_owned(),
                what: Vec::new(),
                instructions: Vec::new(),
                each: Vec::new(),
                at_fill: Vec::new(),
                at_refill: Vec::new(),
                per_fill: 0,
                figure: None,
                check: String::new(),
                mistake: String::new(),
                cautions: Vec::new(),
                doing: Doing::Once,
                act: "Done".to_owned(),
                picture: None,
                hands_on_min: 0.0,
                near_min: 0.0,
                hands_free_min: 0.0,
                inside: Inside::Water,
                plugged: false,
                during: None,
                signals: Vec::new(),
                refill: None,
                places: Vec::new(),
            },
        }
    }

    pub(crate) fn kind(&self) -> Kind {
        self.step.kind().expect("a step that was just drafted")
    }

    /// What is done once, when the step begins.
    pub(crate) fn does(mut self, acts: impl IntoIterator<Item = Instruction>) -> Self {
        self.step.instructions.extend(acts);
        self
    }

    /// The same without some acts.
    pub(crate) fn without(mut self, acts: impl Fn(&Instruction) -> bool) -> Self {
        self.step.instructions.retain(|i| !acts(i));
        self
    }

    /// What is done for each that is counted.
    pub(crate) fn each(mut self, acts: impl IntoIterator<Item = Instruction>) -> Self {
        self.step.each.extend(acts);
        self
    }

    /// What is done before every `per_fill`th.
    pub(crate) fn at_fill(
        mut self,
        acts: impl IntoIterator<Item = Instruction>,
        per_fill: u32,
    ) -> Self {
        self.step.at_fill.extend(acts);
        self.step.per_fill = per_fill.max(1);
        self
    }

    /// What is done besides, but not for the first fill.
    pub(crate) fn at_refill(mut self, acts: impl IntoIterator<Item = Instruction>) -> Self {
        self.step.at_refill.extend(acts);
        self
    }

    /// The step with its minutes, and its instructions in words.
    pub(crate) fn finish(mut self, facts: &Facts) -> Step {
        let wording = facts.wording();
        let kind = self.kind();
        let step = &mut self.step;
        vessel_first(&mut step.instructions);
        if step.places.is_empty() {
            step.places = usual_places(kind, facts.circuit.outlet);
        }
        let minutes = minutes::planned(step).times(facts.today.pace.factor(kind));
        (step.hands_on_min, step.near_min) = (minutes.hands, minutes.near);
        let told = std::mem::take(&mut step.what);
        step.what = wording.say(&step.instructions);
        let counted: Vec<_> = step.at_fill.iter().chain(&step.each).cloned().collect();
        step.what.extend(wording.say(&counted));
        step.what.extend(told);
        if step.per_fill > 1 {
            step.what.push(format!("One fill gives {}.", step.per_fill));
        }
        if step.per_fill > 0 {
            let refill: Vec<_> = step
                .at_fill
                .iter()
                .chain(&step.at_refill)
                .cloned()
                .collect();
            step.refill = Some(wording.say(&refill).join(" "));
        }
        self.step
    }

    pub(crate) fn check(mut self, check: &str, mistake: &str) -> Self {
        self.step.check = check.to_owned();
        self.step.mistake = mistake.to_owned();
        self
    }

    pub(crate) fn caution(mut self, hazard: Hazard, text: &str) -> Self {
        self.step.cautions.push(Caution {
            hazard,
            text: text.to_owned(),
        });
        self
    }

    pub(crate) fn act(mut self, act: &str, doing: Doing) -> Self {
        self.step.act = act.to_owned();
        self.step.doing = doing;
        self
    }

    pub(crate) fn machine(mut self, inside: Inside) -> Self {
        self.step.inside = inside;
        self
    }

    pub(crate) fn shows(mut self, picture: Picture, figure: String) -> Self {
        self.step.picture = Some(picture);
        self.step.figure = Some(figure);
        self
    }

    pub(crate) fn pictured(mut self, picture: Picture) -> Self {
        self.step.picture = Some(picture);
        self
    }

    /// Adds a line that was written down for this brewer, if there is one.
    pub(crate) fn told(mut self, line: Option<String>) -> Self {
        self.step.what.extend(line);
        self
    }

    /// Shows what the machine may signal meanwhile.
    pub(crate) fn signals(mut self, facts: &Facts) -> Self {
        self.step
            .signals
            .clone_from(&facts.circuit.operation.signals);
        self
    }

    /// Where it is done.
    pub(crate) fn at(mut self, places: &[Place]) -> Self {
        self.step.places = places.to_vec();
        self
    }

    pub(crate) fn hands_free(mut self, minutes: f64) -> Self {
        self.step.hands_free_min = minutes;
        self
    }
}

/// Where a step is done that names no place of its own: what the hands touch, or where it happens meanwhile.
fn usual_places(kind: Kind, outlet: Outlet) -> Vec<Place> {
    let [chamber, heater, vessel] = way_of(outlet);
    match kind {
        Kind::Soak => vec![heater],
        Kind::Before
        | Kind::Baseline
        | Kind::After
        | Kind::Flush
        | Kind::HotWater
        | Kind::First
        | Kind::Half
        | Kind::Run
        | Kind::Programme
        | Kind::Rinse => vec![heater, vessel],
        // Needles cool, or the glass does.
        Kind::Cool => match outlet {
            Outlet::Grounds => vec![vessel],
            Outlet::Pod | Outlet::Capsule => vec![Place::LidNeedle, chamber],
        },
        Kind::Look | Kind::Verify => vec![vessel],
        Kind::Ready
        | Kind::Others
        | Kind::HolderSoak
        | Kind::Capsule
        | Kind::Disc
        | Kind::Close => vec![chamber],
        Kind::Filter | Kind::FilterSoak => vec![Place::Filter],
        Kind::Parts => vec![Place::Reservoir, chamber, vessel],
        Kind::Mix | Kind::Wash | Kind::PutBack | Kind::Slime | Kind::Dry => vec![Place::Reservoir],
        Kind::Needles => vec![Place::LidNeedle, Place::CupNeedle],
        Kind::Body | Kind::Tray | Kind::Hollow | Kind::Stains => vec![Place::Body],
        Kind::RinsePod => vec![chamber, vessel],
        Kind::Reusable => vec![chamber],
    }
}

/// The vessel stands before the plug goes in and before any switch.
fn vessel_first(instructions: &mut [Instruction]) {
    let can_run = |i: &Instruction| {
        matches!(
            i,
            Instruction::PlugIn
                | Instruction::SwitchOn
                | Instruction::FillUp { .. }
                | Instruction::HaveWater { .. }
        )
    };
    let is_vessel = |i: &Instruction| matches!(i, Instruction::PlaceVessel { .. });
    if let Some(vessel) = instructions.iter().position(is_vessel) {
        let before = instructions[..vessel].iter().rev();
        let power = before.take_while(|i| can_run(i)).count();
        instructions[vessel - power..=vessel].rotate_right(1);
    }
}

/// What the steps of a clean are drawn up from.
pub(crate) struct Scheme<'a> {
    pub work: Work,
    pub job: Option<Job>,
    pub chosen: &'a Chosen,
    pub agent: &'a Agent,
    pub mixed: &'a Mixed,
    pub dispensing: &'a Dispensing,
    pub soak: &'a Soak,
    pub rinse: &'a Rinse,
    /// What earlier steps put in, which has to come out in the end.
    pub left_in: Vec<Thing>,
}

/// What was put in and is still in after those acts; `before` was in already.
pub(crate) fn in_after<'a>(
    before: &[Thing],
    acts: impl IntoIterator<Item = &'a Instruction>,
) -> Vec<Thing> {
    let mut things = before.to_vec();
    for act in acts {
        if let Instruction::PutIn { thing, .. } = act
            && !things.contains(thing)
        {
            things.push(*thing);
        } else if let Instruction::TakeOut { thing } = act {
            things.retain(|t| t != thing);
        }
    }
    things
}

pub(crate) fn finished(drafts: impl IntoIterator<Item = Draft>, facts: &Facts) -> Vec<Step> {
    drafts.into_iter().map(|d| d.finish(facts)).collect()
}

/// The step in which the bath is mixed; those of further baths end in "-2", "-3".
pub const MIX: &str = Kind::Mix.id();

/// The step in which rinses are counted.
pub const RINSE: &str = Kind::Rinse.id();

/// The step in which the result is judged.
pub const VERIFY: &str = Kind::Verify.id();

/// The step in which the bath soaks.
pub const SOAK: &str = Kind::Soak.id();

/// The step in which a cup is timed again after the needles alone were cleared.
pub const AFTER: &str = Kind::After.id();

/// Minutes until a glass carafe may meet cold water.
pub(crate) const GLASS_COOLS: f64 = 10.0;

/// Where the coffee is, where the water is heated, and what it falls into.
pub(crate) const fn way_of(outlet: Outlet) -> [Place; 3] {
    match outlet {
        Outlet::Grounds => [Place::Basket, Place::Riser, Place::Carafe],
        Outlet::Pod | Outlet::Capsule => [Place::PodChamber, Place::Tank, Place::Mug],
    }
}
