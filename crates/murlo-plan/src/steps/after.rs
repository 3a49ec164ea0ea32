//! Steps after the bath: washing, rinsing, judging, putting back.

use super::draft::GLASS_COOLS;
use crate::amounts::NORMAL_BREW;
use crate::answers::{AnswerId, QuestionId};
use crate::facts::Facts;
use crate::step::{Doing, Hazard, Inside, Picture, Place};
use crate::steps::before::water_for;
use crate::steps::draft::Draft;
use crate::{Answer, Kind, Question};
use murlo_base::text;
use murlo_brewer::Outlet;
use murlo_brewer::instruction::{Instruction, Thing, Washed};
use murlo_brewer::rinse::Rinse;

/// Water for a glass of a brewer that brews all it is given, mL.
const GLASS_ML: f64 = 250.0;

pub(super) fn wash(facts: &Facts, rinse: &Rinse) -> Draft {
    let mistake = format!(
        "Leaving bath in the reservoir: more than about {} is noticed in the whole rinse.",
        drops(rinse.carry_over_ml)
    );
    let mode = facts.mode();
    let stays_on = mode.lives_on_power;
    let is_glass = facts.is_drip();
    let mut acts = match stays_on {
        true => vec![Instruction::mind(
            "It stays plugged in, or it loses its cleaning mode: dry hands, and only the reservoir is touched.",
        )],
        false => facts.unplug(),
    };
    acts.push(Instruction::EmptyVessel);
    if is_glass {
        acts.extend([
            Instruction::TakeOut {
                thing: Thing::PaperFilter,
            },
            Instruction::Cool {
                minutes: GLASS_COOLS,
            },
        ]);
    }
    acts.extend([
        Instruction::EmptyReservoir,
        Instruction::Wash(Washed::Reservoir),
    ]);
    if is_glass {
        acts.push(Instruction::Wash(Washed::Carafe));
    }
    let mut draft = Draft::new(Kind::Wash, "Wash between")
        .does(acts)
        .check("Reservoir and lid smell of nothing.", &mistake)
        .act("Reservoir is washed", Doing::Once)
        .at(if is_glass {
            &[Place::Reservoir, Place::Carafe]
        } else {
            &[Place::Reservoir]
        })
        .machine(Inside::Traces);
    if is_glass {
        draft = draft
            .caution(
                Hazard::Glass,
                "Hot glass cracks in cold water: wait until you can hold it.",
            )
            .hands_free(GLASS_COOLS);
    }
    match stays_on {
        true => draft.caution(
            Hazard::Unplug,
            "It is plugged in: dry hands, nothing but the reservoir.",
        ),
        false => draft.caution(Hazard::Unplug, "Pull the plug before you handle wet parts."),
    }
}

/// A small volume by what people picture: drops as far as they are counted, teaspoons, tablespoons.
fn drops(ml: f64) -> String {
    let (unit_ml, one, many) = match ml {
        ml if ml < 1.0 => (0.05, "drop", "drops"),
        ml if ml < 1.9 => return "a quarter of a teaspoon".to_owned(),
        ml if ml < 3.7 => return "half a teaspoon".to_owned(),
        ml if ml < 15.0 => (5.0, "teaspoon", "teaspoons"),
        _ => (15.0, "tablespoon", "tablespoons"),
    };
    text::count((ml / unit_ml).round().max(1.0) as u32, one, many)
}

pub(super) fn rinse_step(facts: &Facts, rinse: &Rinse) -> Draft {
    let n = f64::from(rinse.portions);
    let vessel = if facts.is_drip() {
        ("carafe", "carafes")
    } else {
        ("mug", "mugs")
    };
    let figure = text::count(rinse.portions, vessel.0, vessel.1);
    let target = rinse.portions;
    let draft = if facts.is_drip() {
        carafes(facts, n).act("Carafe poured away", Doing::Count { target })
    } else if facts.brewer.takes_a_cup_at_a_time() {
        Draft::new(Kind::Rinse, "Rinse")
            .does(ready_to_rinse(facts, rinse.portion.ml))
            .at_fill(
                [Instruction::FillUp {
                    ml: Some(rinse.portion.ml),
                }],
                1,
            )
            .each(facts.press(rinse.portion.ml, false))
            .act("Mug emptied", Doing::Count { target })
    } else {
        mugs(facts, rinse).act("Mug emptied", Doing::Count { target })
    };
    draft
        .signals(facts)
        .check(
            "The count is reached and the last one smells of nothing.",
            "Stopping early because the nose has tired.",
        )
        .caution(Hazard::Hot, "Still near boiling.")
        .machine(Inside::Traces)
        .shows(Picture::Ladder, figure)
}

/// A cup of fresh water through the usual way, poured away; the reservoir holds enough for it, or is filled for its people.
fn one_cup(facts: &Facts, is_last: bool) -> Vec<Instruction> {
    let ml = facts.circuit.dispense_ml;
    if facts.circuit.outlet == Outlet::Grounds {
        return vec![
            Instruction::FillUp { ml: Some(GLASS_ML) },
            Instruction::Brew { minutes: 2.0 },
            Instruction::EmptyVessel,
        ];
    }
    let fills = is_last && !facts.brewer.takes_a_cup_at_a_time();
    let mut acts = vec![match fills {
        true => Instruction::FillUp { ml: None },
        false => water_for(facts, 1, ml),
    }];
    acts.extend(facts.press(ml, false));
    acts
}

/// A cup of fresh water through the hot-water outlet, where it is used.
fn hot_cup(facts: &Facts) -> Vec<Instruction> {
    if !facts.has_hot_water() {
        return Vec::new();
    }
    let ml = facts.cup_ml();
    // A brewer that brews all it is given keeps nothing for another cup.
    let fill = (facts.circuit.outlet == Outlet::Grounds).then_some(ml);
    vec![
        Instruction::FillUp { ml: fill },
        Instruction::PressHotWater { ml },
        Instruction::EmptyVessel,
    ]
}

/// A rinse in whole carafes: normal brews.
fn carafes(facts: &Facts, n: f64) -> Draft {
    let minutes = facts.brewer.brew_minutes.unwrap_or(NORMAL_BREW);
    let mut fill = hot_cup(facts);
    fill.push(Instruction::FillUp { ml: None });
    Draft::new(Kind::Rinse, "Rinse")
        .does(ready_to_rinse(facts, facts.reservoir_ml()))
        .at_fill(fill, 1)
        .each([Instruction::Brew { minutes }, Instruction::EmptyVessel])
        .told(Some(
            "Fill it from a jug: cold water never goes into the hot carafe.".to_owned(),
        ))
        .caution(
            Hazard::Glass,
            "Hot glass cracks in cold water: cold comes from a jug.",
        )
        .hands_free(n * minutes)
}

/// A rinse mug by mug, several from one fill.
fn mugs(facts: &Facts, rinse: &Rinse) -> Draft {
    let ml = rinse.portion.ml;
    let mode = facts.mode();
    let mechanics = &facts.circuit.mechanics;
    let mut fill = vec![Instruction::FillUp { ml: None }];
    let mut per_fill = rinse.per_fill;
    if facts.has_hot_water() {
        // One cup of each fill goes that way; what it took is filled up again where a fill gives no more.
        let cup = facts.cup_ml();
        fill.extend([
            Instruction::PressHotWater { ml: cup },
            Instruction::EmptyVessel,
        ]);
        match per_fill {
            0 | 1 => fill.push(Instruction::FillUp { ml: None }),
            _ => per_fill -= 1,
        }
    }
    let reenters = mode.is_there && facts.circuit.operation.reenter;
    let plain = mode.is_there && !reenters && mechanics.one_fill();
    Draft::new(Kind::Rinse, "Rinse")
        .does(ready_to_rinse(facts, ml))
        .at_fill(fill, per_fill)
        .at_refill(reenters.then_some(Instruction::EnterMode))
        .each(facts.press(ml, false))
        .told(plain.then(|| {
            "Its mode ends with the first fill: what is still to rinse then are plain brews."
                .to_owned()
        }))
        .told(
            facts
                .brewer
                .is_coded()
                .then(|| "Close the lid again for each cup.".to_owned()),
        )
}

/// Plugged in and switched on, or still in the mode in which the bath ran.
fn ready_to_rinse(facts: &Facts, ml: f64) -> Vec<Instruction> {
    let mode = facts.mode();
    let vessel = Instruction::PlaceVessel { holds_ml: ml };
    // The vessel stands before anything can come.
    match mode.lives_on_power {
        true => vec![Instruction::StillInMode, vessel],
        false => vec![
            vessel,
            Instruction::CloseLid,
            Instruction::PlugIn,
            Instruction::SwitchOn,
        ],
    }
}

/// A question with its answers.
pub(super) fn asked(
    id: QuestionId,
    text: &str,
    how: &str,
    answers: &[(AnswerId, &str)],
) -> Question {
    Question {
        id,
        text: text.to_owned(),
        how: how.to_owned(),
        answers: answers
            .iter()
            .map(|(id, text)| Answer {
                id: *id,
                text: (*text).to_owned(),
            })
            .collect(),
        optional: id.is_optional(),
    }
}

/// Whether chips still come, in the bath or after the rinse.
pub(super) fn chips(facts: &Facts) -> Question {
    asked(
        QuestionId::Flakes,
        "Do white or grey chips still come?",
        if facts.is_drip() {
            "A paper filter in the basket catches them."
        } else {
            "Let the last mug stand a moment and look at its bottom."
        },
        &[(AnswerId::Good, "None"), (AnswerId::Bad, "Some")],
    )
}

/// What is asked at the end; the first four must be answered.
fn questions(facts: &Facts) -> Vec<Question> {
    let noses = &facts.today.noses;
    let how = match noses.is_empty() {
        true => "Your own nose is tired by now: fresh air first.".to_owned(),
        false => format!(
            "Best asked of {}. A nose that was beside it is tired by now.",
            text::any_of(noses)
        ),
    };
    vec![
        asked(
            QuestionId::Smell,
            "Does anybody smell or taste acid?",
            &how,
            &[
                (AnswerId::Good, "No, nobody"),
                (AnswerId::Bad, "Yes, still"),
            ],
        ),
        asked(
            QuestionId::Nose,
            "How was it smelled?",
            "It is written down with the result.",
            &[
                (AnswerId::Fresh, "After fresh air"),
                (AnswerId::Beside, "Beside plain water"),
                (AnswerId::Second, "By a second person"),
                (AnswerId::Tired, "Just now, here"),
            ],
        ),
        asked(
            QuestionId::Clear,
            "Is the water as clear as the tap water?",
            "Hold both glasses against something white.",
            &[(AnswerId::Good, "As clear"), (AnswerId::Bad, "Not yet")],
        ),
        asked(
            QuestionId::Light,
            "Does the brewer still ask for descaling?",
            "If it has no such light, the answer is no.",
            &[(AnswerId::Good, "No"), (AnswerId::Bad, "Yes, still")],
        ),
        chips(facts),
        asked(
            QuestionId::Heat,
            "Is the cup as hot as it should be?",
            "Feel it, or measure.",
            &[(AnswerId::Good, "Hot"), (AnswerId::Bad, "Cooler")],
        ),
        asked(
            QuestionId::Sound,
            "How does it sound?",
            "Less rattle is a good sign.",
            &[
                (AnswerId::Good, "Quiet"),
                (AnswerId::Bad, "It still rattles"),
            ],
        ),
    ]
}

pub(super) fn verify(facts: &Facts) -> Draft {
    let mut acts = vec![Instruction::mind(
        "Run one more into a clean glass and compare.",
    )];
    acts.extend(one_cup(facts, false));
    acts.extend(hot_cup(facts));
    Draft::new(Kind::Verify, "Is it done?")
        .does(acts)
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
        .machine(Inside::Traces)
        .pictured(Picture::Glasses)
}

pub(super) fn put_back(facts: &Facts, left_in: &[Thing]) -> Draft {
    let mut acts = Vec::new();
    if facts.mode().is_there {
        acts.push(Instruction::LeaveMode);
    }
    acts.extend(facts.unplug());
    acts.extend([
        Instruction::EmptyReservoir,
        Instruction::Wash(Washed::Reservoir),
    ]);
    if facts.today.beside {
        acts.push(Instruction::mind(
            "The other side may still be running: leave its carafe and reservoir as they are. The filter goes back with that side.",
        ));
    } else if facts.brewer.filter.is_some() {
        acts.push(Instruction::PutIn {
            thing: Thing::Filter,
            new: facts.today.filter_due,
        });
    }
    acts.extend([
        Instruction::CloseLid,
        Instruction::PlugIn,
        Instruction::SwitchOn,
    ]);
    acts.push(Instruction::mind(
        "Run one hot cup of fresh water and throw it away.",
    ));
    acts.extend(one_cup(facts, true));
    acts.extend(take_out(left_in));
    acts.push(Instruction::NoteOff);
    Draft::new(Kind::PutBack, "Put everything back")
        .does(acts)
        .check(
            "Parts are flush, marks meet, fresh water in the reservoir.",
            "Refitting the filter before the acid is out.",
        )
        .act("All in place", Doing::Once)
        .at(&[Place::Reservoir])
        .machine(Inside::Water)
}

/// Adapter, disc or empty capsule, whichever is still in, comes out again.
fn take_out(things: &[Thing]) -> Vec<Instruction> {
    if things.is_empty() {
        return Vec::new();
    }
    let out = things
        .iter()
        .map(|thing| Instruction::TakeOut { thing: *thing });
    [Instruction::OpenLid]
        .into_iter()
        .chain(out)
        .chain([Instruction::CloseLid])
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_small_volume_is_told_as_people_picture_it() {
        for (ml, told) in [
            (0.01, "1 drop"),
            (0.35, "7 drops"),
            (0.99, "20 drops"),
            (1.0, "a quarter of a teaspoon"),
            (1.89, "a quarter of a teaspoon"),
            (1.9, "half a teaspoon"),
            (3.69, "half a teaspoon"),
            (3.7, "1 teaspoon"),
            (14.9, "3 teaspoons"),
            (15.0, "1 tablespoon"),
            (45.0, "3 tablespoons"),
        ] {
            assert_eq!(drops(ml), told, "{ml}");
        }
    }
}
