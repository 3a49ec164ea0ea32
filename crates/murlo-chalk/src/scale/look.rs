//! The cheapest thing that would tell more of when it is due, asked once from clean to clean.

use super::Growth;
use super::walk::{day_of, number};
use crate::belief::{Belief, Witnessed, Witnessing};
use crate::scale::forecast::{LookAt, WorthALook};
use murlo_base::text;
use murlo_brewer::journal::Sign;

/// So far through the time from clean to clean a look tells most for its seconds: earlier it is as well as new, later it is
/// cleaned anyway. Judged.
const FROM: f64 = 2.0 / 3.0;

/// A day that moves by less is not worth anybody's seconds. Judged.
const WORTH_DAYS: i32 = 7;

/// Seconds of a cup by those of the healthy brewer, when it comes a third slower.
const SLOWER: f64 = 4.0 / 3.0;

impl Growth<'_> {
    /// What is worth a look today, where chalk is due on `due`.
    pub(crate) fn worth_a_look(&self, due: i32) -> Option<WorthALook> {
        let cleaned = self.since - self.before_days;
        let gone = f64::from(self.today - cleaned) / f64::from((due - cleaned).max(1));
        if gone < FROM || due <= self.today || self.was_looked_at() {
            return None;
        }
        let when = |day: Option<i32>| match day {
            Some(day) if day <= self.today => "now".to_owned(),
            Some(day) => format!("about {}", text::day(day_of(day), day_of(self.today))),
            None => "not for years".to_owned(),
        };
        let far = |one: Option<i32>, other: Option<i32>| match (one, other) {
            (Some(one), Some(other)) => (one - other).abs() >= WORTH_DAYS,
            (Some(_), None) | (None, Some(_)) => true,
            (None, None) => false,
        };
        let stands = format!("Due {} as it stands", when(Some(due)));
        if let Some(healthy) = self.circuit.operation.healthy {
            let [quick, slower] =
                [1.0, SLOWER].map(|ratio| self.due_with(&self.belief.if_timed(ratio)));
            return far(quick, slower).then(|| WorthALook {
                at: LookAt::Cup,
                text: format!(
                    "Time the largest cup: it took {:.0} s when all was well",
                    healthy.seconds
                ),
                why: format!(
                    "{stands}; {} if it is as quick as ever, {} if a third slower",
                    when(quick),
                    when(slower)
                ),
            });
        }
        let noticed = self.due_with(&self.if_noticed());
        far(noticed, Some(due)).then(|| WorthALook {
            at: LookAt::Signs,
            text: "Has it got cooler, slower or louder?".to_owned(),
            why: format!("{stands}; {} if so", when(noticed)),
        })
    }

    /// Whether anybody has told how it is since it was last cleaned.
    fn was_looked_at(&self) -> bool {
        self.entries.iter().any(|entry| {
            entry.what.seen_of() == Some(&self.circuit.id) && number(entry.day) > self.since
        })
    }

    /// What would be believed if a sign were told today. What people do not notice has counted until now, so all is walked anew.
    fn if_noticed(&self) -> Belief {
        let until = |day| self.passed.until(day).potential_mg;
        let last = self.seen.last().map_or(self.start, |seen| seen.day);
        let mut events = self.events.clone();
        events.push(Witnessing {
            potential_mg: until(self.today) - until(last.max(self.start)),
            what: Witnessed::Sign {
                sign: Sign::Cooler,
                dated: false,
                told: true,
            },
        });
        Belief::from(self.prior, &events, 0.0)
    }

    /// The day on which chalk would be due by that.
    fn due_with(&self, belief: &Belief) -> Option<i32> {
        self.day_of_mg(self.today, self.since, belief.to_go_mg().median)
    }
}
