//! The steps of a clean in the order of the work, worded for one brewer.
//!
//! Minutes of hand work are starting values from practice, shown as "about"; the machine's own minutes come from the brewer.

mod after;
mod bath;
mod before;

use super::{
    Caution, Chosen, Dispensing, Doing, Facts, Hazard, Inside, Picture, Place, Step, Work,
};
use crate::bath::Mixed;
use crate::brewer::{Outlet, Way};
use crate::rinse::Rinse;
use after::{put_back, rinse_step, verify, wash};
use bath::{cup_bath, drip_bath, mix, pressed_bath, programme_bath};
use before::{
    baseline, body, capsule, filter, filter_soak, holder_soak, needle_work, needles, other_parts,
    parts_in_use, ready,
};

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
pub const MIX: &str = "mix";

/// Whether `step` mixes a bath; a repeated bath starts at the last of these.
#[must_use]
pub fn mixes(step: &Step) -> bool {
    step.id == MIX
        || step
            .id
            .strip_prefix(MIX)
            .is_some_and(|n| n.starts_with('-'))
}
/// The step in which rinses are counted.
pub const RINSE: &str = "rinse";
/// The step in which the result is judged.
pub const VERIFY: &str = "verify";
/// The step in which the bath soaks.
pub const SOAK: &str = "soak";
/// The step in which a cup is timed again after the needles alone were cleared.
pub const AFTER: &str = "after";
/// The step in which everything goes back, the filter last.
pub const PUT_BACK: &str = "put_back";
/// The step in which a new water filter is set to soak.
const FILTER_SOAK: &str = "filter_soak";
/// The step in which a holder soaks that is not to be forced.
const HOLDER_SOAK: &str = "holder_soak";
/// The step in which the rest of the bath is run through.
pub const RUN: &str = "run";
/// The step in which the cleaning programme runs.
pub const PROGRAMME: &str = "programme";

/// Minutes of hand work for one dispense: press, wait, empty.
const PER_DISPENSE: f64 = 1.5;
/// Minutes until a glass carafe may meet cold water.
const GLASS_COOLS: f64 = 10.0;
/// Flushes after the needles were cleared by hand.
const FLUSHES: u32 = 2;

struct Draft {
    step: Step,
}

impl Draft {
    fn new(id: &str, title: &str, minutes: f64, what: &[&str]) -> Self {
        Self {
            step: Step {
                id: id.to_owned(),
                title: title.to_owned(),
                what: what.iter().map(|s| (*s).to_owned()).collect(),
                figure: None,
                check: String::new(),
                mistake: String::new(),
                cautions: Vec::new(),
                doing: Doing::Once,
                act: "Done".to_owned(),
                picture: None,
                hands_on_min: minutes,
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

    fn machine(mut self, inside: Inside, plugged: bool) -> Self {
        self.step.inside = inside;
        self.step.plugged = plugged;
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

    /// Makes it a step of the `n`th bath.
    fn again(&mut self, n: u32) {
        self.step.id = format!("{}-{n}", self.step.id);
        self.step.title = format!("{} – bath {n}", self.step.title);
    }

    /// Where it is done.
    fn at(mut self, places: &[Place]) -> Self {
        self.step.places = places.to_vec();
        self
    }

    fn refill(mut self, what: String) -> Self {
        self.step.refill = Some(what);
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

pub(super) fn steps(
    facts: &Facts,
    work: Work,
    chosen: &Chosen,
    mixed: &Mixed,
    dispensing: &Dispensing,
    rinse: &Rinse,
) -> Vec<Step> {
    if work == Work::Needles {
        return needle_work(facts);
    }
    let mut drafts = Vec::new();
    if !facts.today.beside {
        drafts.push(ready(facts));
        drafts.extend(filter(facts));
        drafts.extend(parts_in_use(facts));
        drafts.extend(other_parts(facts));
        drafts.push(body());
        drafts.extend(filter_soak(facts));
    }
    drafts.extend(needles(facts));
    drafts.extend(holder_soak(facts));
    if facts.circuit.outlet == Outlet::Capsule && facts.way() == Way::Presses {
        drafts.push(capsule(facts));
    }
    drafts.push(baseline(facts));
    for n in 1..=chosen.baths {
        let mut bath = vec![mix(facts, mixed)];
        bath.extend(match facts.way() {
            Way::Presses => pressed_bath(facts, chosen, dispensing),
            Way::CupAtATime => cup_bath(facts, chosen),
            Way::Programme => programme_bath(facts),
            Way::Halves => drip_bath(facts, chosen),
        });
        if n > 1 {
            bath.iter_mut().for_each(|draft| draft.again(n));
        }
        drafts.extend(bath);
    }
    fit_into_the_wait(&mut drafts);
    drafts.push(wash(facts, rinse));
    drafts.push(rinse_step(facts, rinse));
    drafts.push(verify(facts));
    drafts.push(put_back(facts));
    if work == Work::Rehearsal {
        drafts.retain(|d| !REHEARSED_WITHOUT.contains(&d.step.id.as_str()));
        drafts.iter_mut().for_each(rehearse);
    }
    drafts.into_iter().map(|draft| draft.step).collect()
}

/// How the bath `mixed` is mixed.
pub(super) fn mix_step(facts: &Facts, mixed: &Mixed) -> Step {
    mix(facts, mixed).step
}

/// Washing and wiping teach no button.
const REHEARSED_WITHOUT: [&str; 9] = [
    "parts",
    "others",
    "body",
    FILTER_SOAK,
    "needles",
    HOLDER_SOAK,
    "capsule",
    "baseline",
    "wash",
];

/// The same step with plain water.
fn rehearse(draft: &mut Draft) {
    let step = &mut draft.step;
    step.inside = Inside::Water;
    step.picture = None;
    step.during = None;
    step.cautions
        .retain(|c| !matches!(c.hazard, Hazard::Acid | Hazard::NeverMix));
    match &mut step.doing {
        Doing::Wait { minutes } if step.id == SOAK => {
            *minutes = minutes.min(1.0);
            step.hands_free_min = *minutes;
            step.figure = None;
            step.what
                .push("In a rehearsal one minute is enough.".to_owned());
        }
        Doing::Count { target } => {
            *target = (*target).min(2);
            step.hands_on_min = PER_DISPENSE * f64::from(*target);
            step.figure = None;
        }
        _ => {}
    }
    match step.id.as_str() {
        MIX => {
            step.title = "Fill with plain water".to_owned();
            step.what =
                vec!["Plain water in place of the bath: as much as the bath would be.".to_owned()];
            step.check = "Water stands in the reservoir, nothing else.".to_owned();
            step.act = "Water is in".to_owned();
        }
        VERIFY => {
            step.title = "Do you know the buttons?".to_owned();
            step.what = vec![
                "Write down what was different: edit the button recipe of this brewer.".to_owned(),
            ];
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

/// Moves work that spares the machine into the first hands-free stretch that is long enough; it is then due before the
/// washing, if nobody did it meanwhile.
fn fit_into_the_wait(drafts: &mut Vec<Draft>) {
    let wait = drafts
        .iter()
        .find(|d| matches!(d.step.id.as_str(), SOAK | PROGRAMME));
    let Some((id, mut free)) = wait.map(|d| (d.step.id.clone(), d.step.hands_free_min)) else {
        return;
    };
    let fits = |draft: &Draft| match draft.step.id.as_str() {
        "others" | FILTER_SOAK => true,
        // A running programme is plugged in and needs its holder; a soaking machine can be unplugged.
        "body" | HOLDER_SOAK => id == SOAK,
        _ => false,
    };
    let (moved, kept): (Vec<_>, Vec<_>) = std::mem::take(drafts).into_iter().partition(|draft| {
        let minutes = draft.step.hands_on_min;
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
        if draft.step.id == "body" {
            draft.step.what = vec![
                "Switched off and unplugged, while it soaks: damp cloth outside, a swab with a little of the bath into the crevices.".to_owned(),
            ];
            draft.step.check = "No coffee crust is left.".to_owned();
            draft.step.mistake =
                "Using a household cleaner now: it must never meet the acid.".to_owned();
        }
        drafts.push(draft);
    }
}
