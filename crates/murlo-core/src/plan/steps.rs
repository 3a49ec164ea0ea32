//! The steps of a clean in the order of the work, worded for one brewer.
//!
//! Minutes of hand work are starting values from practice, shown as "about"; the machine's own minutes come from the brewer.

use super::{
    Answer, Caution, Chosen, Dispensing, Doing, Facts, Hazard, Inside, NORMAL_BREW, Picture, Place,
    Question, Step, Work,
};
use crate::bath::Mixed;
use crate::brewer::{Care, Family, Heater, Meaning, Needle, Outlet, Part, Seat, Signal, Way};
use crate::rinse::Rinse;
use crate::text;

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
        drafts.push(capsule());
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

/// "Just unclog": the needles, a flush, and a cup timed before and after.
fn needle_work(facts: &Facts) -> Vec<Step> {
    let mut drafts = vec![
        Draft::new(
            "before",
            "Time a cup as it is",
            2.0,
            &[
                "Plug in, no pod. Run the largest size into a mug.",
                "Time it from the first drop to the last, and count the streams.",
            ],
        )
        .check(
            "You know how it flows today. It may be skipped, if nothing comes at all.",
            "Judging from memory: the change comes too slowly to see.",
        )
        .caution(Hazard::Hot, "The water is near boiling.")
        .act("Go on", measured(facts))
        .at(&[Place::Mug])
        .machine(Inside::Water, true),
        ready(facts),
    ];
    drafts.extend(needles(facts));
    if facts.circuit.outlet == Outlet::Capsule {
        drafts.push(capsule());
    }
    drafts.push(
        Draft::new(
            "after",
            "Time a cup again",
            2.0,
            &["The largest size once more, no pod: seconds and streams as before."],
        )
        .check(
            "A steady stream without grit, about as quick as when it was well.",
            "Clearing without flushing: what was loosened settles in the next cup.",
        )
        .caution(Hazard::Hot, "The water is near boiling.")
        .act("Go on", measured(facts))
        .at(&[Place::Mug])
        .machine(Inside::Water, true),
    );
    drafts.push(
        Draft::new(
            "put_back",
            "Put everything back",
            1.0,
            &["Holder and lid snapped home, tray in place."],
        )
        .check(
            "It closes without force.",
            "A holder that does not sit flush: water then runs around the pod.",
        )
        .act("All in place", Doing::Once)
        .at(&[Place::Reservoir])
        .machine(Inside::Water, true),
    );
    drafts.into_iter().map(|draft| draft.step).collect()
}

fn measured(facts: &Facts) -> Doing {
    Doing::Measure {
        cup: facts.units.volume(facts.circuit.dispense_ml),
    }
}

fn filter(facts: &Facts) -> Option<Draft> {
    facts.brewer.filter?;
    let keep = if facts.today.filter_due {
        "Wash the housing. This cartridge is worn out: throw it away."
    } else {
        "Wash the housing; rinse the cartridge and keep it in a glass of water."
    };
    Some(
        Draft::new("filter", "Take the water filter out", 1.0, &["Lift the filter and its holder out of the reservoir.", keep])
            .check("Nothing but the reservoir is left for the bath to touch.", "Running acid through the filter: it spoils the filter and the filter weakens the acid.")
            .act("Filter is out", Doing::Once)
            .at(&[Place::Filter]),
    )
}

/// The new water filter soaks before it is fitted; it has time while the machine works.
fn filter_soak(facts: &Facts) -> Option<Draft> {
    facts.brewer.filter?;
    facts.today.filter_due.then(|| {
        Draft::new(
            FILTER_SOAK,
            "Set the new filter to soak",
            1.0,
            &["Stand the new cartridge in a glass of fresh water; 5 to 20 minutes, as its leaflet says."],
        )
        .check(
            "It is under water and has stopped bubbling.",
            "Fitting it dry: air in it then holds the water back.",
        )
        .act("Filter is soaking", Doing::Once)
        .at(&[Place::Filter])
    })
}

/// A holder that does not come apart is soaked instead of forced.
fn holder_soak(facts: &Facts) -> Option<Draft> {
    let needles = match facts.circuit.outlet {
        Outlet::Grounds => Vec::new(),
        _ => facts.brewer.needles(),
    };
    let whole = |n: &Needle| n.seat == Seat::Exit && !n.comes_out;
    needles.iter().any(whole).then(|| {
        Draft::new(
            HOLDER_SOAK,
            "Soak the pod holder",
            2.0,
            &[
                "Take the holder out, without force, and stand it in a cup of vinegar for ten minutes or more.",
                "Brush it, rinse it under the tap, put it back until it clicks.",
            ],
        )
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

fn ready(facts: &Facts) -> Draft {
    let mut what = vec![
        "Switch off and pull the plug.",
        "Move the brewer next to the sink; lay a towel for the parts.",
    ];
    let check = match facts.circuit.outlet {
        Outlet::Pod => {
            what.push("Open the lid and take out any pod.");
            "The pod chamber is empty. Look twice."
        }
        Outlet::Capsule => {
            what.push("Open it and take out any capsule; empty the box of used ones.");
            "The capsule seat is empty. Look twice."
        }
        Outlet::Grounds => "The basket and the carafe are empty.",
    };
    let guide = &facts.brewer.places.guide;
    Draft::new("ready", "Make ready", 4.0, &what)
        .told((!guide.is_empty()).then(|| format!("The maker's guide is kept here: {guide}.")))
        .check(check, "A forgotten pod or filter full of grounds: nothing the water shows afterwards can be trusted.")
        .caution(Hazard::Unplug, "Unplug with dry hands before any hand work.")
        .caution(Hazard::Manual, "Where the maker's manual says otherwise, the manual wins. Do not open the casing; faults belong to a qualified repairer.")
        .act("Unplugged and empty", Doing::Once)
        .at(&[way_of(facts.circuit.outlet)[0]])
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
fn parts_in_use(facts: &Facts) -> Option<Draft> {
    let mut parts = facts.brewer.parts();
    parts.retain(|p| p.in_use);
    let [chamber, _, vessel] = way_of(facts.circuit.outlet);
    washed(
        "parts",
        "Wash the loose parts",
        &parts,
        "Brush, rinse, dry, and put back.",
        4.0,
        &[Place::Reservoir, chamber, vessel],
    )
}

/// Parts the machine can spare while it works.
fn other_parts(facts: &Facts) -> Option<Draft> {
    let mut parts = facts.brewer.parts();
    parts.retain(|p| !p.in_use);
    washed(
        "others",
        "Wash the other parts",
        &parts,
        "Brush, rinse, and dry.",
        3.0,
        &[],
    )
}

fn washed(
    id: &str,
    title: &str,
    parts: &[Part],
    then: &str,
    minutes: f64,
    places: &[Place],
) -> Option<Draft> {
    if parts.is_empty() {
        return None;
    }
    let lines = washing(parts);
    let mut what: Vec<&str> = lines.iter().map(String::as_str).collect();
    what.push(then);
    Some(
        Draft::new(id, title, minutes, &what)
            .check("Parts feel smooth, smell of nothing, and sit flush.", "Putting the electric body into water, or a part into the dishwasher that the manual does not allow there.")
            .act("Parts are washed", Doing::Once)
            .at(places),
    )
}

fn body() -> Draft {
    Draft::new("body", "Wipe the body", 3.0, &["Damp soft cloth outside; a cotton swab with a little vinegar into the crevices where coffee dries on.", "Wipe any household cleaner off completely: acid comes next."])
        .check("No coffee crust and no cleaner is left.", "Leaving a cleaner on a part that acid will reach.")
        .caution(Hazard::NeverMix, "Never let bleach or any other cleaner meet the acid: the gas is dangerous.")
        .caution(Hazard::Unplug, "Keep the plug out and the body out of water.")
        .act("Body is clean", Doing::Once)
        .at(&[Place::Body])
}

/// Clearing by hand, then flushing what was loosened.
fn needles(facts: &Facts) -> Vec<Draft> {
    let needles = match facts.circuit.outlet {
        Outlet::Grounds => Vec::new(),
        _ => facts.brewer.needles(),
    };
    if needles.is_empty() {
        return Vec::new();
    }
    let has = |seat| needles.iter().any(|n: &Needle| n.seat == seat);
    let mut what = Vec::new();
    if has(Seat::Exit) {
        what.push("Cup needle (exit): brace the machine and take the holder out, push from beneath where there is no needle, pull from above. Clear its holes and the opening under its seat, rinse it under the tap, snap it back flush.");
    }
    if has(Seat::Entrance) {
        what.push("Lid needle (entrance): push the rubber seal back. Its holes face sideways: come in at an angle, bend the clip if needed, and go along the grooves of the rubber.");
    }
    let spots: usize = needles.iter().map(|n| n.spots().count()).sum();
    let fixed = needles.iter().any(|n| n.seat == Seat::Exit && !n.comes_out);
    let holder = if fixed {
        "This holder does not come apart and is not forced: soak it in a cup of vinegar instead."
    } else {
        "A holder that does not come apart is not forced: soak it in a cup of vinegar instead."
    };
    let clear = Draft::new("needles", "Clear the needles", 4.0, &what)
        .check("The clip comes out clean. Dark oil on it means: once more.", "Pushing far up: behind the needle is a soft tube that a clip can pierce. Wooden picks snap off inside.")
        .caution(Hazard::Sharp, "The needles are sharp, the largest most of all, and hot after a brew.")
        .caution(Hazard::Unplug, "Unplugged, dry hands.")
        .caution(Hazard::Manual, holder)
        .act("Clip comes out clean", Doing::Clear { needles })
        .shows(Picture::Needles, text::count(spots as u32, "place to clear", "places to clear"));
    let cup = facts.units.volume(facts.circuit.dispense_ml.min(240.0));
    let line = format!(
        "Plug in, close the lid without a pod, run about {cup} of plain water. Look for grit and a steady stream."
    );
    let flush = Draft::new(
        "flush",
        "Flush the needles",
        PER_DISPENSE * f64::from(FLUSHES),
        &[&line],
    )
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
    .machine(Inside::Water, true);
    vec![clear, flush]
}

fn capsule() -> Draft {
    Draft::new(
        "capsule",
        "Clear the capsule seat",
        3.0,
        &[
            "Wipe the piercing points, the plate with the holes and the seal with a damp cotton swab; dried coffee sits in the holes.",
            "Put in a used capsule that you have emptied, rinsed and closed with nothing in it: water only passes with one in place.",
        ],
    )
    .check("The empty capsule is in and it closes without force. Open it at the end to be sure that it held nothing.", "Running the bath through a full capsule, or with none: then no water passes and the pump runs hot.")
    .caution(Hazard::Sharp, "The piercing points are sharp.")
    .caution(Hazard::Manual, "Forbidden by the maker, or a special cleaning capsule came with it? Then the manual's way is the way.")
    .act("Empty capsule is in", Doing::Once)
    .at(&[Place::PodChamber])
}

fn baseline(facts: &Facts) -> Draft {
    let each = facts.units.volume(facts.circuit.dispense_ml.min(240.0));
    let first = format!(
        "Plug in. Run plain water, about {each}, into a perfectly clean glass, and put a glass of tap water beside it."
    );
    Draft::new(
        "baseline",
        "Look at the first glass",
        2.0,
        &[&first, "Note colour, bits and how many streams fall."],
    )
    .check(
        "You know what the brewer gives today. This step may be skipped; it makes success visible.",
        "Judging from memory: the change comes too slowly to see.",
    )
    .caution(Hazard::Hot, "The water is near boiling.")
    .act("Seen it", measured(facts))
    .machine(Inside::Water, true)
    .pictured(Picture::Glasses)
}

fn mix(facts: &Facts, mixed: &Mixed) -> Draft {
    let (agent, water) = (&mixed.agent_text, &mixed.water.text);
    let first = if mixed.powder_g.is_some() {
        format!(
            "Dissolve {agent} of {} completely in {water} of warm water.",
            mixed.agent_name.to_lowercase()
        )
    } else {
        format!(
            "Pour {agent} of {} and {water} of water into the empty reservoir.",
            mixed.agent_name.to_lowercase()
        )
    };
    let figure = if mixed.powder_g.is_some() {
        format!("{agent} in {water}")
    } else {
        format!(
            "{agent} {} + {water} water",
            mixed.agent_name.to_lowercase()
        )
    };
    let note = "Put a note on the brewer: acid inside, do not brew.";
    let mut draft = Draft::new(MIX, "Mix the bath", 3.0, &[&first, note])
        .check(
            &format!("{} in the reservoir, which holds {}.", mixed.total.text, facts.units.volume(facts.reservoir_ml())),
            "Taking carafe marks for measuring cups, or a ratio without knowing the strength on the label.",
        )
        .caution(Hazard::Acid, "Acid stings eyes and its vapour irritates: open a window, keep it off marble, limestone and bare metal, and away from children and pets.")
        .caution(Hazard::NeverMix, "Only this agent and water. Never bleach.")
        .act("It is mixed", Doing::Once)
        .machine(Inside::Bath, false)
        .shows(Picture::Pour, figure);
    if mixed.warnings.contains(&crate::bath::Warning::Strong) {
        draft = draft.caution(Hazard::Acid, "Gloves and goggles at this strength.");
    }
    draft
}

/// The bath of a brewer that is pressed cup by cup.
fn pressed_bath(facts: &Facts, chosen: &Chosen, dispensing: &Dispensing) -> Vec<Draft> {
    let hot = "Bath and steam come out near boiling. Keep hands and face away.";
    let each = &dispensing.each.text;
    let press = facts.circuit.operation.press_line();
    let first_line = format!(
        "Plug in, {}, {} ({each}), and empty the mug.",
        match facts.circuit.outlet {
            Outlet::Capsule => "keep the empty capsule in place",
            _ => "close the lid without a pod",
        },
        if facts.circuit.operation.enter.is_empty() {
            "choose the largest size and press"
        } else {
            "enter the cleaning mode and run the first cup"
        }
    );
    let filled = match facts.circuit.heater {
        Heater::Tank => "Now the hot tank holds bath.",
        _ => "Now the tubes and the heater hold bath.",
    };
    // Where an earlier count left no more than one, another try is what may correct it.
    let least = u32::from(!facts.today.measured.bath.is_empty());
    let rest = dispensing.count.saturating_sub(1).max(least);
    let mut drafts = vec![
        Draft::new(
            "first",
            "Run the first dispense",
            PER_DISPENSE,
            &[&first_line, filled],
        )
        .check(
            "The mug is empty and back on the tray.",
            "A full mug left for the next dispense overflows.",
        )
        .caution(Hazard::Hot, hot)
        .told(facts.circuit.operation.enter_line())
        .told(press.clone())
        .act("First mug emptied", Doing::Once)
        .at(&[Place::Tank, Place::Mug])
        .machine(Inside::Bath, true)
        .signals(facts),
        soak(
            chosen,
            "Switch off if it will not stay on by itself, and leave the bath where it is.",
        ),
    ];
    if rest > 0 {
        let line = format!(
            "Press the largest size again and again; empty the mug every time. About {} is left at the end: pour it away.",
            dispensing.remainder.text
        );
        drafts.push(
            Draft::new(
                RUN,
                "Run the bath through",
                PER_DISPENSE * f64::from(rest),
                &[&line],
            )
            .check(
                &end_of_phase(facts, "The brewer asks for water, or shows its end signal"),
                "Losing count when called away: every press of the button here is kept.",
            )
            .caution(Hazard::Hot, hot)
            .told(press)
            .told(
                facts
                    .brewer
                    .hot_water
                    .then(|| "Run one cup of it through the hot-water outlet as well.".to_owned()),
            )
            .act("Mug emptied", Doing::Count { target: rest })
            .machine(Inside::Bath, true)
            .signals(facts)
            .shows(Picture::Bore, text::count(rest, "dispense", "dispenses")),
        );
    }
    drafts
}

/// The bath of a brewer that takes one cup at a time.
fn cup_bath(facts: &Facts, chosen: &Chosen) -> Vec<Draft> {
    let hot = "Bath and steam come out near boiling. Keep hands and face away.";
    vec![
        Draft::new(
            "first",
            "Start it and pause",
            1.5,
            &[
                "Plug in, close the lid without a pod, start a brew.",
                "At the first drops switch off: now tank and tubing hold bath. Switched off earlier, only the tank does.",
            ],
        )
        .told(facts.circuit.operation.press_line())
        .check(
            "A few drops fell, then it stopped.",
            "Letting the cup run through: acid that only passes does little.",
        )
        .caution(Hazard::Hot, hot)
        .act("Paused at the first drops", Doing::Once)
        .at(&[Place::Tank])
        .machine(Inside::Bath, true)
        .signals(facts),
        soak(chosen, "Leave it switched off, lid closed."),
        Draft::new(
            RUN,
            "Run it empty",
            2.0,
            &["Switch on and let the rest run through; pour it away."],
        )
        .told((!facts.circuit.operation.purge.is_empty()).then(|| format!("{}.", facts.circuit.operation.purge)))
        .check(
            "No more comes.",
            "Running the pump dry: let go as soon as it only spits.",
        )
        .caution(Hazard::Hot, hot)
        .act("It is empty", Doing::Once)
        .machine(Inside::Bath, true)
        .signals(facts),
    ]
}

/// The bath of a brewer whose own programme runs it.
fn programme_bath(facts: &Facts) -> Vec<Draft> {
    let (minutes, known) = facts.programme_minutes();
    let carafe = facts.is_drip();
    let mut drafts = Vec::new();
    if facts.brewer.family == Family::CodedCapsule {
        let disc = facts.brewer.reader.map_or(
            "Lift the capsule tray and look for the reader window: beside the slot for the finger tab, or at a right angle to it? Take the disc whose code lies likewise.".to_owned(),
            |reader| format!("Take {}.", reader.disc()),
        );
        let place = &facts.brewer.places.disc;
        drafts.push(
            Draft::new("disc", "Put the service disc in", 1.0, &[&disc, "Lay it over the reader window. The vessel on the tray must hold the whole bath: it does not stop in between."])
                .told((!place.is_empty()).then(|| format!("The disc is kept here: {place}.")))
                .check("The disc lies flat, and the lid closes on it.", "The wrong disc, or one turned round: the programme then does not start.")
                .caution(Hazard::Sharp, "Mind the needle in the lid.")
                .pictured(Picture::Disc)
                .act("Disc is in", Doing::Once)
                .machine(Inside::Bath, false),
        );
    }
    let start = match (carafe, facts.circuit.outlet) {
        (true, _) => "Plug in, carafe in place, start the cleaning programme.",
        (_, Outlet::Pod) => {
            "Plug in, adapter fitted, carafe or large jug in place, choose the pod side and start the cleaning programme."
        }
        _ => "Plug in, jug in place, start the cleaning programme.",
    };
    drafts.push(
        Draft::new(PROGRAMME, "Run the cleaning programme", 1.0, &[start])
            .told(facts.circuit.operation.enter_line())
            .told(Some(
                if facts.circuit.outlet == Outlet::Capsule {
                    "It runs, pauses and runs again, and ends when the tank is empty."
                } else {
                    "It brews, pauses and brews again. The pauses are part of it."
                }
                .to_owned(),
            ))
            .told(
                (!facts.brewer.places.adapter.is_empty() && facts.circuit.outlet == Outlet::Pod)
                    .then(|| format!("The adapter is kept here: {}.", facts.brewer.places.adapter)),
            )
            .check(
                &end_of_phase(
                    facts,
                    "It signals the end by itself; some only let the light go out",
                ),
                "Taking a pausing programme for a broken machine.",
            )
            .caution(
                Hazard::Hot,
                "The bath comes out near boiling. Never pull the vessel while it runs.",
            )
            .act("Programme has ended", Doing::Wait { minutes })
            .machine(Inside::Bath, true)
            .signals(facts)
            .shows(
                Picture::Bore,
                format!("about {}, {known}", text::minutes(minutes)),
            )
            .hands_free(minutes),
    );
    drafts
}

/// How the brewer shows the end, in its own signals where they were written down.
fn end_of_phase(facts: &Facts, otherwise: &str) -> String {
    let ends = |s: &&Signal| matches!(s.means, Meaning::Done | Meaning::WantsWater);
    let signals = facts.circuit.operation.signals.iter().filter(ends);
    let own: Vec<_> = signals.map(|s| format!("\"{}\"", s.seen)).collect();
    let shown = match own.as_slice() {
        [] => otherwise.to_owned(),
        own => format!("It shows {}", own.join(" or ")),
    };
    format!("{shown}: that ends the phase, whatever the count or the clock says.")
}

fn drip_bath(facts: &Facts, chosen: &Chosen) -> Vec<Draft> {
    let brew = facts.brewer.brew_minutes.unwrap_or(NORMAL_BREW);
    let hot = "The bath comes out near boiling. Never pull the carafe while it runs.";
    vec![
        Draft::new(
            "half",
            "Brew half of it",
            1.0,
            &[
                "Plug in, carafe in place, start a brew.",
                "When the carafe is half full, switch off and leave everything as it is.",
            ],
        )
        .check(
            "About half the bath is still in the reservoir.",
            "Letting it all run through: acid that only passes does little.",
        )
        .caution(Hazard::Hot, hot)
        .act("Half is through, switched off", Doing::Once)
        .at(&[Place::Riser, Place::Carafe])
        .machine(Inside::Bath, true)
        .hands_free(brew / 2.0),
        soak(
            chosen,
            "Leave it switched off and hot, with the carafe in place.",
        ),
        Draft::new(
            RUN,
            "Brew the rest",
            1.0,
            &["Switch on again and let the rest run through."],
        )
        .check(
            "The reservoir is empty and it has stopped dripping.",
            "Pulling the carafe while it still drips.",
        )
        .caution(Hazard::Hot, hot)
        .act("It has run through", Doing::Once)
        .machine(Inside::Bath, true)
        .hands_free(brew / 2.0),
    ]
}

fn soak(chosen: &Chosen, line: &str) -> Draft {
    let minutes = chosen.soak_minutes;
    Draft::new(SOAK, "Let it soak", 0.5, &[line])
        .check(
            "The timer has ended.",
            "No soak at all: the acid leaves before it has worked.",
        )
        .caution(Hazard::Acid, "Acid is in the machine: keep the note on it.")
        .act("Soak is over", Doing::Wait { minutes })
        .machine(Inside::Bath, true)
        .shows(Picture::Bore, text::minutes(minutes))
        .hands_free(minutes)
}

fn wash(facts: &Facts, rinse: &Rinse) -> Draft {
    let mistake = format!(
        "Leaving bath in the reservoir: more than about {} is noticed in the whole rinse.",
        drops(rinse.carry_over_ml)
    );
    let glass = facts.is_drip();
    let lines: &[&str] = if glass {
        &[
            "Pour the used bath away. Let the carafe cool some minutes.",
            "Wash reservoir, lid and carafe with soap and rinse them.",
        ]
    } else {
        &[
            "Pour what is left in the reservoir away.",
            "Wash the reservoir and its lid with soap and rinse them.",
        ]
    };
    let mut draft = Draft::new("wash", "Wash between", 3.0, lines)
        .check("Reservoir and lid smell of nothing.", &mistake)
        .act("Reservoir is washed", Doing::Once)
        .at(if glass {
            &[Place::Reservoir, Place::Carafe]
        } else {
            &[Place::Reservoir]
        })
        .machine(Inside::Traces, false);
    if glass {
        draft = draft
            .caution(
                Hazard::Glass,
                "Hot glass cracks in cold water: wait until you can hold it.",
            )
            .hands_free(GLASS_COOLS);
    }
    draft.caution(Hazard::Unplug, "Pull the plug before you handle wet parts.")
}

/// A small volume by what people picture: drops, teaspoons, tablespoons.
fn drops(ml: f64) -> String {
    let (unit_ml, one, many) = match ml {
        ml if ml < 2.5 => (0.05, "drop", "drops"),
        ml if ml < 15.0 => (5.0, "teaspoon", "teaspoons"),
        _ => (15.0, "tablespoon", "tablespoons"),
    };
    text::count((ml / unit_ml).round().max(1.0) as u32, one, many)
}

fn rinse_step(facts: &Facts, rinse: &Rinse) -> Draft {
    let n = f64::from(rinse.portions);
    let portion = &rinse.portion.text;
    let draft = if facts.is_drip() {
        let brew = facts.brewer.brew_minutes.unwrap_or(NORMAL_BREW);
        Draft::new(
            RINSE,
            "Rinse",
            n,
            &[
                "Fill with fresh water to the top mark and run a normal brew. Pour it away.",
                "Count each full carafe.",
            ],
        )
        .act(
            "Carafe poured away",
            Doing::Count {
                target: rinse.portions,
            },
        )
        .hands_free(n * brew)
    } else {
        let line = if facts.way() == Way::CupAtATime {
            format!("Pour in a cup of fresh water ({portion}), run it through, empty the mug.")
        } else {
            format!(
                "Fill with fresh water to the top, press the largest size ({portion}), empty the mug. One reservoir gives {}.",
                rinse.per_fill
            )
        };
        let operation = &facts.circuit.operation;
        Draft::new(
            RINSE,
            "Rinse",
            n * PER_DISPENSE,
            &[&line, "Count each mug."],
        )
        .told(operation.press_line())
        .refill(match (operation.reenter, operation.enter_line()) {
            (false, _) => "Fill the reservoir with fresh water.".to_owned(),
            (true, None) => {
                "Fill the reservoir with fresh water and enter the cleaning mode again.".to_owned()
            }
            (true, Some(enter)) => {
                format!(
                    "Fill the reservoir with fresh water and enter the cleaning mode again: {enter}"
                )
            }
        })
        .told(
            facts
                .brewer
                .hot_water
                .then(|| "One cup of each fill goes through the hot-water outlet.".to_owned()),
        )
        .told(
            (facts.brewer.family == Family::CodedCapsule)
                .then(|| "The disc stays in; close the lid again for each cup.".to_owned()),
        )
        .signals(facts)
        .act(
            "Mug emptied",
            Doing::Count {
                target: rinse.portions,
            },
        )
    };
    let figure = text::count(
        rinse.portions,
        if facts.is_drip() { "carafe" } else { "mug" },
        if facts.is_drip() { "carafes" } else { "mugs" },
    );
    draft
        .check(
            "The count is reached and the last one smells of nothing.",
            "Stopping early because the nose has tired.",
        )
        .caution(Hazard::Hot, "Still near boiling.")
        .machine(Inside::Traces, true)
        .shows(Picture::Ladder, figure)
}

/// What is asked at the end; the first five must be answered.
fn questions(facts: &Facts) -> Vec<Question> {
    use answers::{
        BAD, BESIDE, CHALK, CLEAR, FLAKES, FRESH, GOOD, HEAT, LIGHT, NOSE, NOTHING, SECOND, SHOWED,
        SMELL, SOME, SOUND, TIRED, UNSEEN,
    };
    let asked = |id: &str, text: &str, how: &str, answers: &[(&str, &str)]| Question {
        id: id.to_owned(),
        text: text.to_owned(),
        how: how.to_owned(),
        answers: answers
            .iter()
            .map(|(id, text)| Answer {
                id: (*id).to_owned(),
                text: (*text).to_owned(),
            })
            .collect(),
        optional: [FLAKES, HEAT, SOUND].contains(&id),
    };
    vec![
        asked(
            SMELL,
            "Does anybody smell or taste acid?",
            "Your own nose is tired by now: fresh air first.",
            &[(GOOD, "No, nobody"), (BAD, "Yes, still")],
        ),
        asked(
            NOSE,
            "How was it smelled?",
            "It is written down with the result.",
            &[
                (FRESH, "After fresh air"),
                (BESIDE, "Beside plain water"),
                (SECOND, "By a second person"),
                (TIRED, "Just now, here"),
            ],
        ),
        asked(
            CLEAR,
            "Is the water as clear as the tap water?",
            "Hold both glasses against something white.",
            &[(GOOD, "As clear"), (BAD, "Not yet")],
        ),
        asked(
            LIGHT,
            "Does the brewer still ask for descaling?",
            "If it has no such light, the answer is no.",
            &[(GOOD, "No"), (BAD, "Yes, still")],
        ),
        asked(
            SHOWED,
            "How much chalk came out with the bath?",
            "White bits, cloudy water, or colour in the first glass. Murlo learns from it how fast chalk grows here.",
            &[
                (CHALK, "A lot"),
                (SOME, "A little"),
                (NOTHING, "Nothing to see"),
                (UNSEEN, "Did not look"),
            ],
        ),
        asked(
            FLAKES,
            "Do white or grey chips still come?",
            if facts.is_drip() {
                "A paper filter in the basket catches them."
            } else {
                "Let the last mug stand a moment and look at its bottom."
            },
            &[(GOOD, "None"), (BAD, "Some")],
        ),
        asked(
            HEAT,
            "Is the cup as hot as it should be?",
            "Feel it, or measure.",
            &[(GOOD, "Hot"), (BAD, "Cooler")],
        ),
        asked(
            SOUND,
            "How does it sound?",
            "Less rattle is a good sign.",
            &[(GOOD, "Quiet"), (BAD, "It still rattles")],
        ),
    ]
}

fn verify(facts: &Facts) -> Draft {
    Draft::new(
        VERIFY,
        "Is it done?",
        2.0,
        &["Run one more into a clean glass and compare."],
    )
    .check(
        "Nobody notices acid, the water is clear, and no light asks.",
        "Trusting one sniff after half an hour over acid.",
    )
    .caution(Hazard::Hot, "Let the glass cool before tasting.")
    .act(
        "That is how it is",
        Doing::Ask {
            questions: questions(facts),
        },
    )
    .machine(Inside::Traces, true)
    .pictured(Picture::Glasses)
}

fn put_back(facts: &Facts) -> Draft {
    let mut what = vec!["Wash reservoir and carafe or mug once more; dry the outside."];
    if facts.brewer.filter.is_some() {
        what.push(if facts.today.filter_due {
            "Flush the new filter under the tap for a minute, let it drain, and fit it, tapered end down. Write the day down."
        } else {
            "Rinse the filter under the tap, let it drain, and refit it, tapered end down."
        });
    }
    if facts.today.beside {
        what.push(
            "The other side may still be running: leave its carafe and reservoir as they are.",
        );
    }
    what.push("Fill with fresh water, run one hot cup and throw it away. Take the note off.");
    let leave = &facts.circuit.operation.leave;
    Draft::new("put_back", "Put everything back", 4.0, &what)
        .told((!leave.is_empty()).then(|| format!("Leave the cleaning mode: {leave}.")))
        .check(
            "Parts are flush, marks meet, fresh water in the reservoir.",
            "Refitting the filter before the acid is out.",
        )
        .act("All in place", Doing::Once)
        .at(&[Place::Reservoir])
        .machine(Inside::Water, true)
}
