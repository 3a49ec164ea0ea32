//! The steps of each work in the order of the work, and what fits into the waiting.

use crate::kind::Numbers;
use crate::steps::after::{put_back, rinse_step, verify, wash};
use crate::steps::bath;
use crate::steps::before::{
    self, baseline, body, filter, filter_soak, needle_work, needles, other_parts, parts_in_use,
    ready,
};
use crate::steps::draft::{Draft, Scheme, finished, in_after};
use crate::steps::once::say_once;
use crate::steps::rehearsal::{rehearse, speak_of_water};
use crate::steps::small::small_work;
use crate::{Facts, Inside, Kind, Step, Work, minutes};
use murlo_brewer::Family;
use murlo_brewer::bath::Agent;
use murlo_brewer::instruction::{Instruction, Thing, Wording};
use murlo_brewer::job::Job;
use murlo_brewer::rinse::Rinse;

impl Facts<'_> {
    pub(crate) fn wording(&self) -> Wording<'_> {
        Wording {
            units: self.units,
            operation: &self.circuit.operation,
            sizes: &self.circuit.mechanics.sizes,
            outlet: self.circuit.outlet,
            tank: self.brewer.tank(),
            largest_ml: self.circuit.dispense_ml,
        }
    }

    pub(crate) fn has_hot_water(&self) -> bool {
        self.brewer.has_hot_water(self.circuit)
    }

    /// Where nobody has told whether there is a cleaning mode, or how it is entered.
    pub(crate) fn asks_for_the_manual(&self) -> Option<String> {
        let circuit = self.circuit;
        let may_have_one = self.brewer.family == Family::PodReservoir
            && circuit.mechanics.mode != Some(false)
            && circuit.operation.enter.is_empty();
        may_have_one.then(|| {
            "If it has a cleaning mode, see its manual: tell Murlo how it is entered, and the plan goes by it.".to_owned()
        })
    }
}

pub(crate) fn steps(facts: &Facts, scheme: &Scheme) -> Vec<Step> {
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
            let end = after_the_bath(facts, scheme, &left_in(&scheme.left_in, &drafts));
            drafts.extend(end);
            fit_beside_the_rinse(&mut drafts);
            say_once(&mut drafts, None);
            finished(drafts, facts)
        }
    };
    mark_plug(&mut steps, true);
    steps
}

/// Rinsing on after a rinse that was ended early, perhaps with everything back already.
pub(crate) fn rinse_on(
    facts: &Facts,
    rinse: &Rinse,
    left_in: &[Thing],
    out_first: &[Thing],
) -> Vec<Step> {
    // What is inside is poured away before anything else is read.
    let mut empty = wash(facts, rinse).without(|i| matches!(i, Instruction::Mind { .. }));
    empty.step.title = "Empty it first".to_owned();
    let acts = &mut empty.step.instructions;
    acts.retain(|i| !facts.unplug().contains(i));
    acts.splice(
        0..0,
        facts.unplug().into_iter().chain([Instruction::NoteOn]),
    );
    for thing in out_first {
        let out = Instruction::TakeOut { thing: *thing };
        if !acts.contains(&out) {
            acts.push(out);
        }
    }
    // Out of the mode by now, where there was one: the rinse runs as plain cups.
    let mut first = rinse_step(facts, rinse);
    let acts = &mut first.step.instructions;
    let is_on = acts.contains(&Instruction::PlugIn);
    acts.retain(|i| *i != Instruction::StillInMode);
    acts.splice(0..0, before::let_water_pass(facts));
    if !is_on {
        acts.extend([
            Instruction::CloseLid,
            Instruction::PlugIn,
            Instruction::SwitchOn,
        ]);
    }
    let in_now = in_after(left_in, &first.step.instructions);
    let mut steps = [empty, first, verify(facts), put_back(facts, &in_now)];
    say_once(&mut steps, None);
    finished(steps, facts)
}

/// One rinse for all baths, then judging and putting back.
fn after_the_bath(facts: &Facts, scheme: &Scheme, left_in: &[Thing]) -> [Draft; 4] {
    [
        wash(facts, scheme.rinse),
        rinse_step(facts, scheme.rinse),
        verify(facts),
        put_back(facts, left_in),
    ]
}

/// What lets water pass and is still in after those steps; `before` was in already.
fn left_in(before: &[Thing], drafts: &[Draft]) -> Vec<Thing> {
    let acts = drafts.iter().flat_map(|d| &d.step.instructions);
    let mut things = in_after(before, acts);
    things.retain(|thing| thing.lets_pass());
    things
}

/// The `n`th bath and everything after it; `kept` is what could have been done while an earlier one worked.
pub(crate) fn rest(facts: &Facts, scheme: &Scheme, n: u32, mut kept: Vec<Step>) -> Vec<Step> {
    let mut drafts = one_bath(facts, scheme, n, &mut Numbers::default());
    let from_here = drafts.len();
    let in_now = left_in(&scheme.left_in, &drafts);
    drafts.extend(after_the_bath(facts, scheme, &in_now));
    let wait = drafts
        .iter()
        .find(|d| d.step.hands_free_min > 0.0 && d.step.is_wait());
    let wait = wait.map(|d| d.step.id.clone());
    let unplugs = |step: &Step| step.instructions.contains(&Instruction::Unplug);
    let unplugged_at = wait.clone().filter(|_| kept.iter().any(unplugs));
    say_once(&mut drafts, unplugged_at);
    let after = drafts.split_off(from_here);
    let mut steps = finished(drafts, facts);
    kept.iter_mut()
        .for_each(|step| step.during.clone_from(&wait));
    steps.extend(kept);
    steps.extend(finished(after, facts));
    steps
}

/// Clearing the needles as they are known now.
pub(crate) fn clear_needles(facts: &Facts) -> Step {
    before::clear(facts.needles()).finish(facts)
}

/// The needles once more, after a hot cup: cooled first; then judged again.
pub(crate) fn needles_again(facts: &Facts, alone: bool, in_before: &[Thing]) -> Vec<Step> {
    let mut drafts = vec![before::cool(), before::ready_again(facts, in_before)];
    drafts.extend(needles(facts, None));
    match alone {
        true => drafts.extend([before::after(facts), before::close_up(facts)]),
        false => {
            let mut again = verify(facts);
            let holds_ml = facts.circuit.dispense_ml;
            let vessel = Instruction::PlaceVessel { holds_ml };
            again.step.instructions.insert(0, vessel);
            let in_now = left_in(in_before, &drafts);
            drafts.extend([again, put_back(facts, &in_now)]);
        }
    }
    say_once(&mut drafts, None);
    finished(drafts, facts)
}

/// Everything before the bath: the first glass as the brewer stands, then what is cleaned by hand while all is cold. Where the
/// other side is being cleaned, plug and body are in use, and only the glass is looked at.
fn preparing(facts: &Facts, agent: Option<&Agent>) -> Vec<Draft> {
    if facts.today.beside {
        return vec![baseline(facts)];
    }
    let mut drafts = vec![baseline(facts), before::ready_after_the_glass(facts)];
    let needles = needles(facts, agent);
    // Filter and body come first: meanwhile what the glass has heated cools.
    let mut cold: Vec<_> = filter(facts).into_iter().collect();
    cold.push(body(agent));
    if needles.is_empty() {
        drafts.extend(cold);
    } else {
        drafts.push(before::cool());
        fit_into(&mut cold, drafts.last());
        drafts.extend(cold);
    }
    drafts.extend(parts_in_use(facts));
    drafts.extend(needles);
    drafts.extend(other_parts(facts));
    drafts.extend(filter_soak(facts));
    drafts
}

/// Marks what may be done while `wait` runs, as far as its minutes go.
fn fit_into(drafts: &mut [Draft], wait: Option<&Draft>) {
    let Some(wait) = wait else { return };
    let mut free = wait.step.hands_free_min;
    for draft in drafts {
        free -= minutes::planned(&draft.step).hands;
        if free >= 0.0 {
            draft.step.during = Some(wait.step.id.clone());
        }
    }
}

pub(crate) fn one_bath(
    facts: &Facts,
    scheme: &Scheme,
    n: u32,
    numbers: &mut Numbers,
) -> Vec<Draft> {
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
pub(crate) fn mark_plug(steps: &mut [Step], mut plugged: bool) {
    for step in steps {
        for instruction in &step.instructions {
            if *instruction == Instruction::Unplug {
                plugged = false;
            } else if *instruction == Instruction::PlugIn {
                plugged = true;
            }
        }
        step.plugged = plugged;
    }
}

/// What found no room in a longer wait is done while the machine rinses: the sink is within earshot.
fn fit_beside_the_rinse(drafts: &mut Vec<Draft>) {
    // A new filter soaks before the bath runs, where it found no room in it: it has to be ready by then.
    let fits = |d: &Draft| d.kind() == Kind::Others && d.step.during.is_none();
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
    let fits = |draft: &Draft| {
        draft.step.during.is_none()
            && (matches!(draft.kind(), Kind::Others | Kind::FilterSoak)
                || (draft.kind() == Kind::Body && is_unplugged))
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

/// The buttons with plain water in place of the bath: one bath, a minute of soak, two of what is counted. Washing and wiping
/// teach no button.
pub(crate) fn rehearsal(facts: &Facts, scheme: &Scheme) -> Vec<Step> {
    let mut drafts = vec![ready(facts).does(before::let_water_pass(facts))];
    drafts.extend(one_bath(facts, scheme, 1, &mut Numbers::default()));
    // Plain water brings nothing out to look at.
    drafts.retain(|d| d.kind() != Kind::Look);
    drafts.push(rinse_step(facts, scheme.rinse));
    drafts.push(verify(facts));
    let in_now = left_in(&[], &drafts);
    drafts.push(put_back(facts, &in_now));
    drafts.iter_mut().for_each(rehearse);
    say_once(&mut drafts, None);
    let mut steps = finished(drafts, facts);
    steps.iter_mut().for_each(speak_of_water);
    steps
}
