//! The steps of a clean in the order of the work, worded for one brewer.
//!
//! Minutes of hand work are starting values from practice, shown as "about"; the machine's own minutes come from the brewer.

use super::{
    Answer, Caution, Chosen, Dispensing, Doing, Facts, Hazard, Inside, Picture, Question, Step,
};
use crate::bath::Mixed;
use crate::brewer::{Heater, Outlet};
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

/// Minutes of hand work for one dispense: press, wait, empty.
const PER_DISPENSE: f64 = 1.5;
/// Minutes until a glass carafe may meet cold water.
const GLASS_COOLS: f64 = 10.0;
/// A cleaning programme takes about this many normal brews, until it has been timed.
const PROGRAMME_BREWS: f64 = 3.0;

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

    /// Makes it a step of the `n`th bath.
    fn again(&mut self, n: u32) {
        self.step.id = format!("{}-{n}", self.step.id);
        self.step.title = format!("{} – bath {n}", self.step.title);
    }

    fn hands_free(mut self, minutes: f64) -> Self {
        self.step.hands_free_min = minutes;
        self
    }
}

pub(super) fn steps(
    facts: &Facts,
    chosen: &Chosen,
    mixed: &Mixed,
    dispensing: &Dispensing,
    rinse: &Rinse,
) -> Vec<Step> {
    let mut drafts = vec![ready(facts)];
    if facts.brewer.filter.is_some() {
        drafts.push(
            Draft::new("filter", "Take the water filter out", 1.0, &["Lift the filter and its holder out of the reservoir.", "Wash the housing; rinse the cartridge and keep it in a glass of water."])
                .check("Nothing but the reservoir is left for the bath to touch.", "Running acid through the filter: it spoils the filter and the filter weakens the acid.")
                .act("Filter is out", Doing::Once),
        );
    }
    drafts.push(parts(facts));
    drafts.push(
        Draft::new("body", "Wipe the body", 3.0, &["Damp soft cloth outside; a cotton swab with a little vinegar into the crevices where coffee dries on.", "Wipe any household cleaner off completely: acid comes next."])
            .check("No coffee crust and no cleaner is left.", "Leaving a cleaner on a part that acid will reach.")
            .caution(Hazard::NeverMix, "Never let bleach or any other cleaner meet the acid: the gas is dangerous.")
            .caution(Hazard::Unplug, "Keep the plug out and the body out of water.")
            .act("Body is clean", Doing::Once),
    );
    match facts.circuit.outlet {
        Outlet::Pod => drafts.push(needles()),
        Outlet::Capsule => drafts.push(capsule()),
        Outlet::Grounds => {}
    }
    drafts.push(baseline(facts));
    for n in 1..=chosen.baths {
        let mut bath = vec![mix(facts, mixed)];
        if facts.is_drip() {
            bath.extend(drip_bath(facts, chosen));
        } else {
            bath.extend(pressed_bath(facts, chosen, dispensing));
        }
        if n > 1 {
            bath.iter_mut().for_each(|draft| draft.again(n));
        }
        drafts.extend(bath);
    }
    drafts.push(wash(facts, rinse));
    drafts.push(rinse_step(facts, rinse));
    drafts.push(verify());
    drafts.push(put_back(facts));
    drafts.into_iter().map(|draft| draft.step).collect()
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
    Draft::new("ready", "Make ready", 4.0, &what)
        .check(check, "A forgotten pod or filter full of grounds: nothing the water shows afterwards can be trusted.")
        .caution(Hazard::Unplug, "Unplug with dry hands before any hand work.")
        .caution(Hazard::Manual, "Where the maker's manual says otherwise, the manual wins. Do not open the casing; faults belong to a qualified repairer.")
        .act("Unplugged and empty", Doing::Once)
}

fn parts(facts: &Facts) -> Draft {
    let list = match facts.circuit.outlet {
        Outlet::Pod => "lid, reservoir, drip tray, pod holder",
        Outlet::Capsule => "lid, reservoir, drip tray, box for used capsules",
        Outlet::Grounds => "reservoir lid, basket, carafe",
    };
    let first = format!("Empty the reservoir. Soak what comes off ({list}) in hot soapy water.");
    Draft::new("parts", "Wash the loose parts", 6.0, &[&first, "Brush, rinse, dry, and put back."])
        .check("Parts feel smooth, smell of nothing, and sit flush.", "Putting the electric body into water, or a part into the dishwasher that the manual does not allow there.")
        .act("Parts are washed", Doing::Once)
}

fn needles() -> Draft {
    Draft::new(
        "needles",
        "Clear the needles",
        4.0,
        &[
            "Lid needle (entrance): its holes face sideways. Push the rubber seal back and work each hole at an angle with a straightened paper clip.",
            "Cup needle (exit): pull the pod holder out, clear the needle from below and the opening under its seat, rinse, and snap it back flush.",
        ],
    )
    .check("The clip comes out clean. Dark oil on it means: once more.", "Pushing far up: behind the needle is a soft tube that a clip can pierce. Wooden picks snap off inside.")
    .caution(Hazard::Sharp, "The needles are sharp, and hot after a brew.")
    .caution(Hazard::Manual, "A holder that does not come apart is not forced: soak it in a cup of vinegar instead.")
    .act("Clip comes out clean", Doing::Once)
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
    .act("Seen it", Doing::Once)
    .machine(Inside::Water, true)
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
        format!("{agent} + {water} water")
    };
    let note = "Put a note on the brewer: acid inside, do not brew.";
    let mut draft = Draft::new(MIX, "Mix the bath", 3.0, &[&first, note])
        .check(
            &format!("{} in the reservoir, which holds {}.", mixed.total.text, facts.units.volume(facts.brewer.reservoir_ml)),
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
    let first_line = format!(
        "Plug in, {}, choose the largest size ({each}), press, and empty the mug.",
        match facts.circuit.outlet {
            Outlet::Capsule => "keep the empty capsule in place",
            _ => "close the lid without a pod",
        }
    );
    let filled = match facts.circuit.heater {
        Heater::Tank => "Now the hot tank holds bath.",
        _ => "Now the tubes and the heater hold bath.",
    };
    let rest = dispensing.count.saturating_sub(1);
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
        .act("First mug emptied", Doing::Once)
        .machine(Inside::Bath, true),
        soak(
            chosen,
            "Switch off if it will not stay on by itself. Nothing else to do until the timer ends.",
        ),
    ];
    if rest > 0 {
        let line = format!(
            "Press the largest size again and again; empty the mug every time. About {} is left at the end: pour it away.",
            dispensing.remainder.text
        );
        drafts.push(
            Draft::new("run", "Run the bath through", PER_DISPENSE * f64::from(rest), &[&line])
                .check("The brewer asks for water, or shows its end signal: that ends the phase whatever the count says.", "Losing count when called away: every press of the button here is kept.")
                .caution(Hazard::Hot, hot)
                .act("Mug emptied", Doing::Count { target: rest })
                .machine(Inside::Bath, true)
                .shows(Picture::Bore, text::count(rest, "dispense", "dispenses")),
        );
    }
    drafts
}

fn drip_bath(facts: &Facts, chosen: &Chosen) -> Vec<Draft> {
    let brew = facts.brewer.brew_minutes.unwrap_or(10.0);
    let hot = "The bath comes out near boiling. Never pull the carafe while it runs.";
    if facts.brewer.self_clean {
        let minutes = brew * PROGRAMME_BREWS;
        return vec![
            Draft::new(
                "programme",
                "Run the cleaning programme",
                1.0,
                &[
                    "Plug in, carafe in place, start the cleaning programme.",
                    "It brews, pauses and brews again. The pauses are part of it.",
                ],
            )
            .check(
                "It signals the end by itself.",
                "Taking a pausing programme for a broken machine.",
            )
            .caution(Hazard::Hot, hot)
            .act("Programme has ended", Doing::Wait { minutes })
            .machine(Inside::Bath, true)
            .shows(Picture::Bore, format!("about {}", text::minutes(minutes)))
            .hands_free(minutes),
        ];
    }
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
        .machine(Inside::Bath, true)
        .hands_free(brew / 2.0),
        soak(
            chosen,
            "Leave it switched off and hot, with the carafe in place.",
        ),
        Draft::new(
            "run",
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
    Draft::new("soak", "Let it soak", 0.5, &[line])
        .check(
            "The timer has ended. A longer soak does no harm.",
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
        let brew = facts.brewer.brew_minutes.unwrap_or(10.0);
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
        let line = format!(
            "Fill with fresh water to the top, press the largest size ({portion}), empty the mug. One reservoir gives {}.",
            rinse.per_fill
        );
        Draft::new(
            RINSE,
            "Rinse",
            n * PER_DISPENSE,
            &[&line, "Count each mug."],
        )
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

fn verify() -> Draft {
    use answers::{BAD, CHALK, CLEAR, GOOD, LIGHT, NOTHING, SHOWED, SMELL, SOME, UNSEEN};
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
    };
    let question = |id: &str, text: &str, how: &str, good: &str, bad: &str| {
        asked(id, text, how, &[(GOOD, good), (BAD, bad)])
    };
    let questions = vec![
        question(
            SMELL,
            "Does anybody smell or taste acid?",
            "Fresh air first, a glass of plain water beside it, or a second nose: yours is tired by now.",
            "No, nobody",
            "Yes, still",
        ),
        question(
            CLEAR,
            "Is the water as clear as the tap water?",
            "Hold both glasses against something white.",
            "As clear",
            "Not yet",
        ),
        question(
            LIGHT,
            "Does the brewer still ask for descaling?",
            "If it has no such light, the answer is no.",
            "No",
            "Yes, still",
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
    ];
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
    .act("That is how it is", Doing::Ask { questions })
    .machine(Inside::Traces, true)
}

fn put_back(facts: &Facts) -> Draft {
    let mut what = vec!["Wash reservoir and carafe or mug once more; dry the outside."];
    if facts.brewer.filter.is_some() {
        what.push("Rinse the filter under the tap, let it drain, and refit it.");
    }
    what.push("Fill with fresh water, run one hot cup and throw it away. Take the note off.");
    Draft::new("put_back", "Put everything back", 4.0, &what)
        .check(
            "Parts are flush, marks meet, fresh water in the reservoir.",
            "Refitting the filter before the acid is out.",
        )
        .act("All in place", Doing::Once)
        .machine(Inside::Water, true)
}
