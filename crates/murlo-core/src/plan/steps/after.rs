//! Steps after the bath: washing, rinsing, judging, putting back.

use super::answers::{
    BAD, BESIDE, CHALK, CLEAR, FLAKES, FRESH, GOOD, HEAT, LIGHT, NOSE, NOTHING, SECOND, SHOWED,
    SMELL, SOME, SOUND, TIRED, UNSEEN,
};
use super::{
    Doing, Draft, Facts, GLASS_COOLS, Hazard, Inside, PER_DISPENSE, PUT_BACK, Picture, Place,
    RINSE, VERIFY,
};
use crate::brewer::{Family, Way};
use crate::plan::{Answer, NORMAL_BREW, Question};
use crate::rinse::Rinse;
use crate::text;

pub(super) fn wash(facts: &Facts, rinse: &Rinse) -> Draft {
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

pub(super) fn rinse_step(facts: &Facts, rinse: &Rinse) -> Draft {
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

pub(super) fn verify(facts: &Facts) -> Draft {
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

pub(super) fn put_back(facts: &Facts) -> Draft {
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
    Draft::new(PUT_BACK, "Put everything back", 4.0, &what)
        .told((!leave.is_empty()).then(|| format!("Leave the cleaning mode: {leave}.")))
        .check(
            "Parts are flush, marks meet, fresh water in the reservoir.",
            "Refitting the filter before the acid is out.",
        )
        .act("All in place", Doing::Once)
        .at(&[Place::Reservoir])
        .machine(Inside::Water, true)
}
