//! The steps of a clean in the order of the work, each made of instructions and worded for one brewer.
//!
//! The machine's own minutes come from the brewer.

mod after;
mod bath;
mod before;
mod small;

use super::kind::Numbers;
use super::{
    Caution, Chosen, Dispensing, Doing, Facts, Hazard, Inside, Kind, Picture, Place, Step, Work,
    minutes,
};
use after::{put_back, rinse_step, verify, wash};
use before::{
    baseline, body, filter, filter_soak, needle_work, needles, other_parts, parts_in_use, ready,
};
use murlo_brewer::bath::{Agent, Mixed, Soak};
use murlo_brewer::instruction::{Instruction, Thing, Washed, Wording};
use murlo_brewer::job::Job;
use murlo_brewer::rinse::Rinse;
use murlo_brewer::{Family, Outlet};

pub(super) use before::holder_bath;
use small::small_work;

/// Names of the answers; the running clean judges by them.
pub mod answers {
    /// Question: does anybody notice acid?
    pub const SMELL: &str = "smell";
    /// Question: is the water as clear as the reference?
    pub const CLEAR: &str = "clear";
    /// Question: does a light still ask for descaling?
    pub const LIGHT: &str = "light";
    /// Question: how was it smelled? A nose that hangs over acid tires.
    pub const NOSE: &str = "nose";
    /// After some minutes in fresh air.
    pub const FRESH: &str = "fresh";
    /// With a glass of plain water beside it.
    pub const BESIDE: &str = "beside";
    /// By somebody who was not there before.
    pub const SECOND: &str = "second";
    /// Just now, where the bath ran.
    pub const TIRED: &str = "tired";
    /// Question: do chips still come?
    pub const FLAKES: &str = "flakes";
    /// Question: is the cup as hot as it should be?
    pub const HEAT: &str = "heat";
    /// Question: does it rattle?
    pub const SOUND: &str = "sound";
    /// Question: what did the bath bring out? It teaches how fast chalk grows; the verdict does not depend on it.
    pub const SHOWED: &str = "showed";
    /// A lot of chalk came out, as from a brewer that suffered from it.
    pub const CHALK: &str = "chalk";
    /// A little came out, which tells nothing about how fast it grew.
    pub const SOME: &str = "some";
    /// Nothing came out.
    pub const NOTHING: &str = "nothing";
    /// Nobody looked.
    pub const UNSEEN: &str = "unseen";
    /// The good answer to each other question.
    pub const GOOD: &str = "good";
    /// The answer that asks for more work.
    pub const BAD: &str = "bad";
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
const GLASS_COOLS: f64 = 10.0;
struct Draft {
    step: Step,
}

impl Draft {
    fn new(kind: Kind, title: &str) -> Self {
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

    fn kind(&self) -> Kind {
        self.step.kind().expect("a step that was just drafted")
    }

    /// What is done once, when the step begins.
    fn does(mut self, acts: impl IntoIterator<Item = Instruction>) -> Self {
        self.step.instructions.extend(acts);
        self
    }

    /// The same without some acts.
    fn without(mut self, acts: impl Fn(&Instruction) -> bool) -> Self {
        self.step.instructions.retain(|i| !acts(i));
        self
    }

    /// What is done for each that is counted.
    fn each(mut self, acts: impl IntoIterator<Item = Instruction>) -> Self {
        self.step.each.extend(acts);
        self
    }

    /// What is done before every `per_fill`th.
    fn at_fill(mut self, acts: impl IntoIterator<Item = Instruction>, per_fill: u32) -> Self {
        self.step.at_fill.extend(acts);
        self.step.per_fill = per_fill.max(1);
        self
    }

    /// What is done besides, but not for the first fill.
    fn at_refill(mut self, acts: impl IntoIterator<Item = Instruction>) -> Self {
        self.step.at_refill.extend(acts);
        self
    }

    /// The step with its minutes, and its instructions in words.
    fn finish(mut self, facts: &Facts) -> Step {
        let wording = facts.wording();
        let kind = self.kind();
        let step = &mut self.step;
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

    fn check(mut self, check: &str, mistake: &str) -> Self {
        self.step.check = check.to_owned();
        self.step.mistake = mistake.to_owned();
        self
    }

    fn caution(mut self, hazard: Hazard, text: &str) -> Self {
        self.step.cautions.push(Caution {
            hazard,
            text: text.to_owned(),
        });
        self
    }

    fn act(mut self, act: &str, doing: Doing) -> Self {
        self.step.act = act.to_owned();
        self.step.doing = doing;
        self
    }

    fn machine(mut self, inside: Inside) -> Self {
        self.step.inside = inside;
        self
    }

    fn shows(mut self, picture: Picture, figure: String) -> Self {
        self.step.picture = Some(picture);
        self.step.figure = Some(figure);
        self
    }

    fn pictured(mut self, picture: Picture) -> Self {
        self.step.picture = Some(picture);
        self
    }

    /// Adds a line that was written down for this brewer, if there is one.
    fn told(mut self, line: Option<String>) -> Self {
        self.step.what.extend(line);
        self
    }

    /// Shows what the machine may signal meanwhile.
    fn signals(mut self, facts: &Facts) -> Self {
        self.step
            .signals
            .clone_from(&facts.circuit.operation.signals);
        self
    }

    /// Where it is done.
    fn at(mut self, places: &[Place]) -> Self {
        self.step.places = places.to_vec();
        self
    }

    fn hands_free(mut self, minutes: f64) -> Self {
        self.step.hands_free_min = minutes;
        self
    }
}

/// Where the coffee is, where the water is heated, and what it falls into.
const fn way_of(outlet: Outlet) -> [Place; 3] {
    match outlet {
        Outlet::Grounds => [Place::Basket, Place::Riser, Place::Carafe],
        Outlet::Pod | Outlet::Capsule => [Place::PodChamber, Place::Tank, Place::Mug],
    }
}

impl Facts<'_> {
    pub(super) fn wording(&self) -> Wording<'_> {
        Wording {
            units: self.units,
            operation: &self.circuit.operation,
            sizes: &self.circuit.mechanics.sizes,
            outlet: self.circuit.outlet,
            largest_ml: self.circuit.dispense_ml,
        }
    }

    pub(crate) fn has_hot_water(&self) -> bool {
        self.brewer.has_hot_water(self.circuit)
    }

    /// Where nobody has told whether there is a cleaning mode, or how it is entered.
    fn asks_for_the_manual(&self) -> Option<String> {
        let circuit = self.circuit;
        let may_have_one = self.brewer.family == Family::PodReservoir
            && circuit.mechanics.mode != Some(false)
            && circuit.operation.enter.is_empty();
        may_have_one.then(|| {
            "If it has a cleaning mode, see its manual: tell Murlo how it is entered, and the plan goes by it.".to_owned()
        })
    }
}

/// What the steps of a clean are drawn up from.
pub(super) struct Scheme<'a> {
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

pub(super) fn steps(facts: &Facts, scheme: &Scheme) -> Vec<Step> {
    // What the maker forbids touches nothing else either.
    let forbidden = facts.brewer.forbids.contains(&scheme.agent.id);
    let agent = (!forbidden).then_some(scheme.agent);
    let mut steps = match scheme.work {
        Work::Needles => needle_work(facts),
        Work::Upkeep => small_work(facts, scheme.job.unwrap_or(Job::Wash), agent),
        Work::Rehearsal => rehearsal(facts, scheme),
        Work::Descale => {
            let mut drafts = preparing(facts, agent);
            let mut numbers = Numbers::default();
            for n in 1..=scheme.chosen.baths {
                drafts.extend(one_bath(facts, scheme, n, &mut numbers));
            }
            fit_into_the_wait(&mut drafts, facts);
            drafts.extend(after_the_bath(facts, scheme));
            fit_beside_the_rinse(&mut drafts);
            finished(drafts, facts)
        }
    };
    mark_plug(&mut steps, true);
    steps
}

/// Rinsing on after a rinse that was ended early, perhaps with everything back already.
pub(super) fn rinse_on(
    facts: &Facts,
    rinse: &Rinse,
    left_in: &[Thing],
    filter_is_back: bool,
) -> Vec<Step> {
    let mut first = rinse_step(facts, rinse);
    let mut before = facts.unplug();
    before.extend([
        Instruction::EmptyReservoir,
        Instruction::Wash(Washed::Reservoir),
    ]);
    if filter_is_back {
        let thing = Thing::Filter;
        before.push(Instruction::TakeOut { thing });
    }
    before.extend(before::let_water_pass(facts));
    before.extend([
        Instruction::NoteOn,
        Instruction::CloseLid,
        Instruction::PlugIn,
        Instruction::SwitchOn,
        Instruction::EmptyVessel,
    ]);
    first
        .step
        .instructions
        .retain(|i| *i != Instruction::StillInMode);
    first.step.instructions.splice(0..0, before);
    finished([first, verify(facts), put_back(facts, left_in)], facts)
}

fn finished(drafts: impl IntoIterator<Item = Draft>, facts: &Facts) -> Vec<Step> {
    drafts.into_iter().map(|d| d.finish(facts)).collect()
}

/// One rinse for all baths, then judging and putting back.
fn after_the_bath(facts: &Facts, scheme: &Scheme) -> [Draft; 4] {
    [
        wash(facts, scheme.rinse),
        rinse_step(facts, scheme.rinse),
        verify(facts),
        put_back(facts, &scheme.left_in),
    ]
}

/// The `n`th bath and everything after it; `kept` is what could have been done while an earlier one worked.
pub(super) fn rest(facts: &Facts, scheme: &Scheme, n: u32, mut kept: Vec<Step>) -> Vec<Step> {
    let mut steps = finished(one_bath(facts, scheme, n, &mut Numbers::default()), facts);
    let wait = steps.iter().find(|s| s.hands_free_min > 0.0 && s.is_wait());
    let wait = wait.map(|s| s.id.clone());
    kept.iter_mut()
        .for_each(|step| step.during.clone_from(&wait));
    steps.extend(kept);
    steps.extend(finished(after_the_bath(facts, scheme), facts));
    steps
}

/// Clearing the needles as they are known now.
pub(super) fn clear_needles(facts: &Facts) -> Step {
    before::clear(facts.needles()).finish(facts)
}

/// The needles once more, after a hot cup: cooled first; then judged again.
pub(super) fn needles_again(facts: &Facts, alone: bool, left_in: &[Thing]) -> Vec<Step> {
    let mut drafts = vec![before::cool(), before::ready_again(facts)];
    drafts.extend(needles(facts, None));
    match alone {
        true => drafts.extend([before::after(facts), before::close_up(facts)]),
        false => {
            let mut again = verify(facts);
            let holds_ml = facts.circuit.dispense_ml;
            let vessel = Instruction::PlaceVessel { holds_ml };
            again.step.instructions.insert(0, vessel);
            drafts.extend([again, put_back(facts, left_in)]);
        }
    }
    finished(drafts, facts)
}

/// Everything before the bath; where the other side is being cleaned, it stands ready and its parts are washed.
fn preparing(facts: &Facts, agent: Option<&Agent>) -> Vec<Draft> {
    let mut drafts = Vec::new();
    if !facts.today.beside {
        drafts.push(ready(facts));
        drafts.extend(filter(facts));
        drafts.extend(parts_in_use(facts));
        drafts.extend(other_parts(facts));
        drafts.push(body(agent));
        drafts.extend(filter_soak(facts));
        drafts.extend(needles(facts, agent));
    }
    drafts.push(baseline(facts));
    drafts
}

fn one_bath(facts: &Facts, scheme: &Scheme, n: u32, numbers: &mut Numbers) -> Vec<Draft> {
    let mut drafts = vec![bath::mix(facts, scheme, n)];
    drafts.extend(bath::bath(facts, scheme, n));
    drafts.push(bath::look(facts));
    for draft in &mut drafts {
        let kind = draft.kind();
        draft.step.id = kind.step_id(numbers.next(kind, n));
        if n > 1 {
            draft.step.title = format!("{} – bath {n}", draft.step.title);
        }
    }
    drafts
}

/// Whether the machine is plugged in during each step, as its instructions leave it.
pub(super) fn mark_plug(steps: &mut [Step], mut plugged: bool) {
    for step in steps {
        for instruction in &step.instructions {
            match instruction {
                Instruction::Unplug => plugged = false,
                Instruction::PlugIn => plugged = true,
                _ => {}
            }
        }
        step.plugged = plugged;
    }
}

/// The buttons with plain water in place of the bath: one bath, a minute of soak, two of what is counted. Washing and wiping
/// teach no button.
fn rehearsal(facts: &Facts, scheme: &Scheme) -> Vec<Step> {
    let mut drafts = vec![ready(facts)];
    drafts.extend(one_bath(facts, scheme, 1, &mut Numbers::default()));
    // Plain water brings nothing out to look at.
    drafts.retain(|d| d.kind() != Kind::Look);
    drafts.push(rinse_step(facts, scheme.rinse));
    drafts.push(verify(facts));
    drafts.push(put_back(facts, &[]));
    drafts.iter_mut().for_each(rehearse);
    drafts.into_iter().map(|d| d.finish(facts)).collect()
}

/// Most minutes of soak, and most of what is counted, in a rehearsal.
const REHEARSED_SOAK: f64 = 1.0;
const REHEARSED_COUNT: u32 = 2;

/// The same step with plain water.
fn rehearse(draft: &mut Draft) {
    let kind = draft.kind();
    let step = &mut draft.step;
    step.inside = Inside::Water;
    step.picture = None;
    step.during = None;
    step.cautions
        .retain(|c| !matches!(c.hazard, Hazard::Acid | Hazard::NeverMix));
    step.instructions
        .retain_mut(|instruction| match instruction {
            Instruction::NoteOn | Instruction::NoteOff => false,
            // No hand goes inside before it is put back.
            Instruction::Unplug => kind != Kind::Ready,
            // The filter stays where it is, and nothing comes that a paper filter would catch.
            Instruction::PutIn {
                thing: Thing::Filter | Thing::PaperFilter,
                ..
            } => false,
            Instruction::PourBath { mg_l, lines, .. } => {
                *mg_l = 0.0;
                *lines = vec![
                    "Plain water in place of the bath: as much as the bath would be.".to_owned(),
                ];
                true
            }
            Instruction::Soak { minutes } => {
                *minutes = minutes.min(REHEARSED_SOAK);
                true
            }
            _ => true,
        });
    if kind == Kind::Rinse {
        // Nothing was washed in between: what is left of the water goes first.
        step.instructions.insert(0, Instruction::EmptyReservoir);
        step.instructions.insert(0, Instruction::EmptyVessel);
    }
    match &mut step.doing {
        Doing::Wait { minutes } if kind == Kind::Soak => {
            *minutes = minutes.min(REHEARSED_SOAK);
            step.hands_free_min = *minutes;
            step.figure = None;
            step.what
                .push("In a rehearsal one minute is enough.".to_owned());
        }
        Doing::Count { target } => {
            *target = (*target).min(REHEARSED_COUNT);
            step.figure = None;
        }
        _ => {}
    }
    say_as_rehearsed(kind, step);
}

/// The words of a step that are others with plain water.
fn say_as_rehearsed(kind: Kind, step: &mut Step) {
    match kind {
        Kind::Ready => {
            step.act = "Empty and ready".to_owned();
            step.cautions.retain(|c| c.hazard != Hazard::Unplug);
        }
        Kind::Mix => {
            step.title = "Fill with plain water".to_owned();
            step.check = "Water stands in the reservoir, nothing else.".to_owned();
            step.act = "Water is in".to_owned();
            step.figure = None;
        }
        Kind::Verify => {
            step.title = "Do you know the buttons?".to_owned();
            step.instructions = vec![Instruction::mind(
                "Write down what was different: edit the button recipe of this brewer.",
            )];
            step.check = "You could do it again without looking.".to_owned();
            step.mistake =
                "Leaving the cleaning mode half-way: some brewers then refuse to brew.".to_owned();
            step.act = "Yes".to_owned();
            step.doing = Doing::Once;
            step.figure = None;
        }
        _ => {}
    }
}

/// What found no room in a longer wait is done while the machine rinses: the sink is within earshot.
fn fit_beside_the_rinse(drafts: &mut Vec<Draft>) {
    let fits =
        |d: &Draft| matches!(d.kind(), Kind::Others | Kind::FilterSoak) && d.step.during.is_none();
    let (mut moved, kept): (Vec<_>, Vec<_>) = std::mem::take(drafts).into_iter().partition(fits);
    *drafts = kept;
    let Some(rinse) = drafts.iter().position(|d| d.kind() == Kind::Rinse) else {
        return drafts.extend(moved);
    };
    let id = drafts[rinse].step.id.clone();
    for draft in &mut moved {
        draft.step.during = Some(id.clone());
        draft.step.inside = Inside::Traces;
    }
    drafts.splice(rinse + 1..rinse + 1, moved);
}

/// Moves work that spares the machine into the first hands-free stretch that is long enough; it is then due before the
/// washing, if nobody did it meanwhile.
fn fit_into_the_wait(drafts: &mut Vec<Draft>, facts: &Facts) {
    let wait = drafts
        .iter()
        .find(|d| matches!(d.kind(), Kind::Soak | Kind::Programme) && d.step.hands_free_min > 0.0);
    let Some((kind, id, mut free)) =
        wait.map(|d| (d.kind(), d.step.id.clone(), d.step.hands_free_min))
    else {
        return;
    };
    // Only a machine that can be unplugged can be wiped meanwhile, or after the bath.
    let is_unplugged = kind == Kind::Soak && !facts.mode().is_there;
    let fits = |draft: &Draft| match draft.kind() {
        Kind::Others | Kind::FilterSoak => true,
        Kind::Body => is_unplugged,
        _ => false,
    };
    let (moved, kept): (Vec<_>, Vec<_>) = std::mem::take(drafts).into_iter().partition(|draft| {
        let minutes = minutes::planned(&draft.step).hands;
        let taken = fits(draft) && minutes <= free;
        if taken {
            free -= minutes;
        }
        taken
    });
    *drafts = kept;
    for mut draft in moved {
        draft.step.during = Some(id.clone());
        draft.step.inside = Inside::Bath;
        if draft.kind() == Kind::Body {
            draft.step.instructions.insert(0, Instruction::Unplug);
            draft
                .step
                .instructions
                .retain(|i| !matches!(i, Instruction::Mind { .. }));
            draft.step.check = "No coffee crust is left.".to_owned();
            draft.step.mistake =
                "Using a household cleaner now: it must never meet the acid.".to_owned();
        }
        drafts.push(draft);
    }
}
