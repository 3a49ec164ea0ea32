//! A thousand made-up complaints: how many looks they take, and how often what is said is right.

use super::seen;
use crate::trouble::diagnose::{MOST_QUESTIONS, RESEATED, SLIP, WRONG, scaled};
use crate::trouble::signs::{CAUSES, STRENGTH};
use crate::trouble::{Cause, Context, Remedy, SIGNS, diagnose};

/// Numbers that only look drawn.
fn drawn(state: &mut u64) -> f64 {
    *state = state.wrapping_add(0x9E37_79B9_7F4A_7C15);
    let mut z = *state;
    z = (z ^ (z >> 30)).wrapping_mul(0xBF58_476D_1CE4_E5B9);
    z = (z ^ (z >> 27)).wrapping_mul(0x94D0_49BB_1331_11EB);
    ((z ^ (z >> 31)) >> 11) as f64 / (1u64 << 53) as f64
}

/// How many looks into a thousand cases go.
#[derive(Debug, Default)]
struct Played {
    clear: f64,
    right_when_clear: f64,
    /// Right with the first thing that is done, or with the one named after it.
    right_by_two: f64,
    /// The first thing that is done costs nothing, or no more than minutes.
    harmless: f64,
    most_questions: usize,
}

/// How a world differs from the one that is reckoned with.
struct World {
    /// How far its signs are on the way to the next weaker class.
    weaker: f64,
    /// Wrong answers after the first.
    wrong: f64,
    /// Every cause as often as any other.
    even: bool,
}

fn played(world: &World) -> Played {
    const RUNS: u32 = 1000;
    let context = Context::default();
    let mut state = 7u64;
    let mut all = Played::default();
    for _ in 0..RUNS {
        let priors = scaled(match world.even {
            true => [1.0; CAUSES],
            false => Cause::ALL.map(|c| context.prior(c)),
        });
        let mut place = drawn(&mut state);
        let found = priors.iter().position(|p| {
            place -= p;
            place < 0.0
        });
        let cause = found.unwrap_or(CAUSES - 1);
        let there: Vec<bool> = SIGNS
            .iter()
            .map(|sign| {
                let class = sign.strengths.get(cause).map_or(2, |s| usize::from(*s));
                let weakest = STRENGTH[if class < 2 { class + 1 } else { class }];
                let strength = STRENGTH[class] + world.weaker * (weakest - STRENGTH[class]);
                drawn(&mut state) < strength
            })
            .collect();
        // A person comes with one thing that is there, and hardly ever with one that is not.
        let slips = drawn(&mut state) < SLIP;
        let may: Vec<usize> = (0..SIGNS.len()).filter(|n| there[*n] != slips).collect();
        let Some(opening) = may.get((drawn(&mut state) * may.len() as f64) as usize) else {
            continue;
        };
        let mut told = seen(&[(SIGNS[*opening].id, true)]);
        let context = Context {
            opening: Some(SIGNS[*opening].id),
            ..context
        };
        let (mut questions, mut first) = (0, None);
        let last = loop {
            let mut now = diagnose(&told, &context).unwrap();
            let Some(next) = now.next_test.take() else {
                break now;
            };
            questions += 1;
            let answer = if next.sign == RESEATED {
                first = Some(Remedy::Reseat);
                Cause::ALL[cause] == Cause::PumpAir && drawn(&mut state) < 0.6
            } else {
                let n = SIGNS.iter().position(|s| s.id == next.sign).unwrap();
                there[n] != (drawn(&mut state) < world.wrong)
            };
            told.insert(next.sign, answer);
        };
        all.most_questions = all.most_questions.max(questions);
        let is = |one: Cause| one == Cause::ALL[cause];
        let solved = told.get(RESEATED) == Some(&true);
        let begin = last.begin_with;
        let then = last.causes.iter().find(|one| Some(one.cause) != begin);
        let by_two = solved || begin.is_some_and(is) || then.is_some_and(|then| is(then.cause));
        all.right_by_two += f64::from(u8::from(by_two));
        if !solved && last.text.starts_with("Clear") {
            all.clear += 1.0;
            all.right_when_clear += f64::from(u8::from(is(last.causes[0].cause)));
        }
        let remedy = last.causes.iter().find(|one| Some(one.cause) == begin);
        let first = first.or(remedy.map(|one| one.remedy)).unwrap();
        all.harmless += f64::from(u8::from(
            first != Remedy::Descale && first != Remedy::Filter,
        ));
    }
    let runs = f64::from(RUNS);
    Played {
        clear: all.clear / runs,
        right_when_clear: all.right_when_clear / all.clear,
        right_by_two: all.right_by_two / runs,
        harmless: all.harmless / runs,
        ..all
    }
}

#[test]
fn a_thousand_complaints_come_to_something_to_do_in_six_questions_that_is_mostly_right() {
    for (name, weaker, wrong, even) in [
        ("as reckoned", 0.0, WRONG, false),
        ("weaker signs", 0.5, WRONG, false),
        ("one answer in five is wrong", 0.0, 0.2, false),
        ("every cause as often", 0.0, WRONG, true),
    ] {
        let all = played(&World {
            weaker,
            wrong,
            even,
        });
        println!("{name}: {all:.2?}");
        assert!(all.most_questions <= MOST_QUESTIONS, "{name}: {all:?}");
        assert!(all.right_when_clear >= 0.85, "{name}: {all:?}");
        assert!(all.harmless >= 0.9, "{name}: {all:?}");
        assert!(all.clear >= 0.15, "{name}: {all:?}");
    }
}
