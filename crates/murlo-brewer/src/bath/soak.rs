//! A soak: how long, in how many parts, in words.

use murlo_base::text;
use serde::{Deserialize, Serialize};

/// How long a bath must stand, as a range with its reason.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Soak {
    /// Minutes to set the timer to.
    pub minutes: f64,
    /// The least that leaves as little as is wanted of the likely chalk, minutes.
    pub low: f64,
    /// The least that does so even of the high estimate, minutes.
    pub high: f64,
    /// Whether this bath leaves as little as is wanted.
    pub clears: bool,
    /// Why.
    pub reason: String,
    /// The dispenses after which it soaks, in equal parts where there are several; none in plans from before it could be
    /// another than the first.
    #[serde(default)]
    pub after: Vec<u32>,
}

/// Standing for less than this is not worth a stop of its own, minutes. Judged.
const LEAST_PART: f64 = 10.0;

impl Soak {
    /// The dispenses after which it soaks, and how long at each when it is `minutes` in all: whole minutes, as a timer has them.
    /// What is too short to be parted is soaked at once, and none is where the first soak always is.
    ///
    /// # Example
    /// ```
    /// use murlo_brewer::bath::Soak;
    /// let soak = |after| Soak { after, ..Soak::default() };
    /// assert_eq!(soak(vec![1, 2]).parts(25.0), [(1, 13.0), (2, 12.0)]);
    /// assert_eq!(soak(vec![1, 2]).parts(19.0), [(1, 19.0)]);
    /// assert_eq!(soak(vec![2]).parts(5.0), [(2, 5.0)]);
    /// assert_eq!(soak(vec![2]).parts(0.0), [(1, 0.0)]);
    /// ```
    #[must_use]
    pub fn parts(&self, minutes: f64) -> Vec<(u32, f64)> {
        let after = match self.after.as_slice() {
            _ if minutes <= 0.0 => &[1],
            [] => &[1],
            [first, _, ..] if minutes < LEAST_PART * self.after.len() as f64 => &[*first],
            after => after,
        };
        let mut left = minutes;
        let mut parts = Vec::new();
        for (i, place) in after.iter().enumerate() {
            let part = match after.len() - i {
                1 => left,
                to_come => (left / to_come as f64).ceil(),
            };
            left -= part;
            parts.push((*place, part));
        }
        parts
    }

    /// "no soak", "soak 20 min", "soak 30 + 30 min".
    #[must_use]
    pub fn words(&self, minutes: f64) -> String {
        let parts = self.parts(minutes);
        match parts.as_slice() {
            [(_, minutes)] if *minutes < 0.5 => "no soak".to_owned(),
            [(_, minutes)] => format!("soak {}", text::minutes(*minutes)),
            parts => {
                let each: Vec<_> = parts.iter().map(|(_, m)| format!("{m:.0}")).collect();
                format!("soak {} min", each.join(" + "))
            }
        }
    }
}
