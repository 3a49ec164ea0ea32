//! What a person tells of the time before Murlo knew a brewer, in the rough words people have for it.

use serde::{Deserialize, Serialize};

/// When it was last descaled, as remembered.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum LastClean {
    /// Nobody knows.
    #[default]
    Unknown,
    /// Never.
    Never,
    /// More than a year ago.
    OverAYear,
    /// About half a year ago.
    HalfAYear,
    /// About three months ago.
    ThreeMonths,
    /// In the last weeks.
    Lately,
}

/// How long it has been in use.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum InUse {
    /// Nobody knows.
    #[default]
    Unknown,
    /// It is new.
    New,
    /// For some months.
    Months,
    /// For one to three years.
    Years,
    /// For longer.
    Longer,
}

/// What is told of the time before the first day that Murlo knows.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Beforehand {
    /// When it was last descaled.
    pub last_clean: LastClean,
    /// How long it has been in use.
    pub in_use: InUse,
}

/// The time in which chalk has grown before the first known day.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Grown {
    /// Nine in ten such brewers have grown longer than this, days.
    pub least_days: f64,
    /// One in ten has grown longer than this, days.
    pub most_days: f64,
    /// Whether it began with a clean, and not with a new brewer.
    pub cleaned: bool,
}

impl Grown {
    /// Half of such brewers have grown longer.
    #[must_use]
    pub fn days(&self) -> f64 {
        (self.least_days * self.most_days).sqrt()
    }
}

impl InUse {
    /// Shortest and longest, days. Judged.
    const fn days(self) -> (f64, f64) {
        match self {
            Self::Unknown => (60.0, 2200.0),
            Self::New => (0.0, 0.0),
            Self::Months => (30.0, 365.0),
            Self::Years => (365.0, 1100.0),
            Self::Longer => (1100.0, 2900.0),
        }
    }
}

impl Beforehand {
    /// The time in which chalk has grown; nothing for a new brewer. The ends of what people call half a year are judged.
    ///
    /// # Example
    /// ```
    /// use murlo_brewer::{Beforehand, InUse, LastClean};
    /// let told = Beforehand { last_clean: LastClean::Never, in_use: InUse::New };
    /// assert!(told.grown().is_none());
    /// ```
    #[must_use]
    pub fn grown(self) -> Option<Grown> {
        let (shortest, longest) = self.in_use.days();
        if longest <= 0.0 {
            return None;
        }
        let (least, most) = match self.last_clean {
            LastClean::Never => (shortest, longest),
            // It may have been cleaned at any time since it was new.
            LastClean::Unknown => (30.0, longest),
            LastClean::OverAYear => (370.0, 1100.0),
            LastClean::HalfAYear => (120.0, 270.0),
            LastClean::ThreeMonths => (60.0, 130.0),
            LastClean::Lately => (3.0, 40.0),
        };
        Some(Grown {
            // A brewer that is younger than its last clean was misremembered; the younger word is taken.
            least_days: least.min(longest / 2.0),
            most_days: most.min(longest),
            cleaned: self.last_clean != LastClean::Never,
        })
    }

    /// "you said it was never descaled", as it stands under an estimate.
    #[must_use]
    pub const fn words(self) -> &'static str {
        match self.last_clean {
            LastClean::Unknown => "nobody knows when it was last descaled",
            LastClean::Never => "it was never descaled",
            LastClean::OverAYear => "it was last descaled over a year before",
            LastClean::HalfAYear => "it was last descaled about half a year before",
            LastClean::ThreeMonths => "it was last descaled about three months before",
            LastClean::Lately => "it was descaled in the weeks before",
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn each_answer_has_its_time_and_none_is_longer_than_the_brewer_is_old() {
        use InUse as U;
        use LastClean as L;
        // (last clean, in use) to (least days, most days, cleaned)
        for (last_clean, in_use, least, most, cleaned) in [
            (L::Never, U::Months, 30.0, 365.0, false),
            (L::Never, U::Years, 365.0, 1100.0, false),
            (L::Never, U::Longer, 1100.0, 2900.0, false),
            (L::Never, U::Unknown, 60.0, 2200.0, false),
            (L::Unknown, U::Unknown, 30.0, 2200.0, true),
            (L::Unknown, U::Months, 30.0, 365.0, true),
            (L::OverAYear, U::Unknown, 370.0, 1100.0, true),
            (L::OverAYear, U::Months, 182.5, 365.0, true),
            (L::HalfAYear, U::Unknown, 120.0, 270.0, true),
            (L::ThreeMonths, U::Years, 60.0, 130.0, true),
            (L::Lately, U::Longer, 3.0, 40.0, true),
        ] {
            let told = Beforehand { last_clean, in_use };
            let grown = told.grown().expect("not new");
            assert_eq!(
                (grown.least_days, grown.most_days, grown.cleaned),
                (least, most, cleaned),
                "{told:?}"
            );
            assert!(grown.days() > least && grown.days() < most);
        }
        for last_clean in [L::Never, L::Unknown, L::Lately] {
            let in_use = U::New;
            assert_eq!(Beforehand { last_clean, in_use }.grown(), None);
        }
    }
}
