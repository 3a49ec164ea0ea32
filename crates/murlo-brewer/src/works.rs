//! Which small works a brewer has, how often they are done on it, and who is asked for them.

use crate::job::{Asks, Cadence, Job};
use crate::{Brewer, Family, Outlet};
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::{bounds, text};

impl Job {
    /// Whether `brewer` has what it is about.
    #[must_use]
    pub fn fits(self, brewer: &Brewer) -> bool {
        let has = |outlet| brewer.circuits.iter().any(|c| c.outlet == outlet);
        match self {
            Self::Filter => brewer.filter.is_some(),
            Self::Needles | Self::RinsePod | Self::Hollow | Self::Holder => has(Outlet::Pod),
            Self::Tray => brewer.family != Family::Drip,
            // Grounds go into a basket, or into a pod of one's own.
            Self::Reusable => has(Outlet::Grounds) || has(Outlet::Pod),
            Self::LightBath => brewer.takes_a_cup_at_a_time(),
            Self::Empty => !brewer.takes_a_cup_at_a_time(),
            Self::Wash | Self::Slime | Self::Stains | Self::Back => true,
        }
    }

    /// Whether a whole clean does it anyway.
    #[must_use]
    pub const fn is_within_a_clean(self) -> bool {
        match self {
            Self::Tray
            | Self::Wash
            | Self::Filter
            | Self::Needles
            | Self::LightBath
            | Self::Holder => true,
            Self::RinsePod
            | Self::Hollow
            | Self::Reusable
            | Self::Slime
            | Self::Stains
            | Self::Empty
            | Self::Back => false,
        }
    }

    /// Days from one time to the next, as practised; none where it goes by what is seen, or by each use.
    const fn usual_days(self) -> Option<u32> {
        match self {
            Self::Tray => Some(7),
            Self::RinsePod => Some(14),
            Self::Wash => Some(60),
            Self::Needles => Some(90),
            Self::Hollow => Some(120),
            Self::Filter
            | Self::Holder
            | Self::Reusable
            | Self::LightBath
            | Self::Slime
            | Self::Stains
            | Self::Empty
            | Self::Back => None,
        }
    }

    fn usual_text(self, brewer: &Brewer, hardness: Option<f64>) -> String {
        match (self, self.usual_days()) {
            (_, Some(days)) => format!("every {}", text::count(days, "day", "days")),
            (Self::Filter, _) => brewer.filter.map_or_else(String::new, |filter| {
                let usual = format!("every {:.0} days or {:.0} fills", filter.days, filter.fills);
                let lasts = filter_lasts(hardness);
                if lasts < 1.0 {
                    return format!("{usual}; {:.0} % of that on this hard water", 100.0 * lasts);
                }
                usual
            }),
            (Self::Reusable, _) => "after every use".to_owned(),
            (Self::LightBath, _) => "every 1 to 2 weeks, by those who do it".to_owned(),
            (Self::Holder, _) => "with hard water, now and then".to_owned(),
            (Self::Empty | Self::Back, _) => "around days away".to_owned(),
            _ => "when it is seen".to_owned(),
        }
    }
}

impl Asks {
    /// The least that a household must want to be asked for `job`.
    #[must_use]
    pub const fn least_for(job: Job) -> Self {
        match job {
            Job::Empty | Job::Back | Job::Filter | Job::Needles => Self::Needed,
            Job::Tray | Job::RinsePod | Job::Wash => Self::Usual,
            Job::Hollow
            | Job::Holder
            | Job::Reusable
            | Job::LightBath
            | Job::Slime
            | Job::Stains => Self::All,
        }
    }

    /// Whether `job` is asked for. How often somebody set it for this brewer is wanted by that.
    pub fn wants(self, job: Job, brewer: &Brewer) -> bool {
        let least = Self::least_for(job);
        let own = brewer.cadences.iter().any(|c| c.job == job && !c.off);
        self >= least || (own && self == Self::Usual)
    }
}

/// Up to this hardness a water filter lasts its days and fills, mg/L. Judged: it makes about six
/// weeks of sixty days where water is very hard.
const FILTER_HARDNESS: f64 = 150.0;

/// However hard, it lasts this share of them. Judged.
const LEAST_FILTER: f64 = 0.5;

/// Share of its days and fills that a water filter lasts with such water.
fn filter_lasts(hardness: Option<f64>) -> f64 {
    hardness.map_or(1.0, |hardness| {
        (FILTER_HARDNESS / hardness.max(1.0)).clamp(LEAST_FILTER, 1.0)
    })
}

impl Cadence {
    const fn usual(job: Job) -> Self {
        Self {
            job,
            days: None,
            brews: None,
            off: false,
        }
    }

    /// Days at home from one time to the next: the sooner of days and brews; none where it is done when it is seen.
    pub fn days(self, job: Job, brewer: &Brewer, hardness: Option<f64>) -> Option<i32> {
        let cups = brewer.habit().mean_cups();
        let by_brews = self
            .brews
            .filter(|_| cups > 0.0)
            .map(|brews| (f64::from(brews) / cups).round().clamp(1.0, 3650.0) as u32);
        let own = [self.days, by_brews].into_iter().flatten().min();
        let filter = brewer.filter.filter(|_| job == Job::Filter);
        let usual = match filter {
            Some(filter) => {
                let days = filter.life_days(brewer) * filter_lasts(hardness);
                Some(days.round().max(1.0) as u32)
            }
            None => job.usual_days(),
        };
        own.or(usual).map(|days| days as i32)
    }

    /// "every 7 days", "when it is seen".
    pub fn text(self, job: Job, brewer: &Brewer, hardness: Option<f64>) -> String {
        if self.off {
            return "never asked for".to_owned();
        }
        let brews = self.brews.map(|n| text::count(n, "brew", "brews"));
        let days = self.days.map(|n| text::count(n, "day", "days"));
        match (days, brews) {
            (Some(days), Some(brews)) => format!("every {days} or {brews}, whichever is sooner"),
            (Some(one), None) | (None, Some(one)) => format!("every {one}"),
            (None, None) => job.usual_text(brewer, hardness),
        }
    }

    /// Checks what somebody typed.
    ///
    /// # Errors
    /// `OutOfRange` for fewer than one day or brew or more than ten years of them; `Contradiction` for a work this brewer has not.
    pub fn check(self, brewer: &Brewer) -> Result<(), Problems> {
        let mut problems = Problems::default();
        if !self.job.fits(brewer) {
            let message = format!("this brewer has no such work: {}", self.job.name());
            problems
                .0
                .push(Problem::new(Code::Contradiction, "job", message));
        }
        let days = self
            .days
            .map(|n| bounds::EVERY_DAYS.check("days", f64::from(n)));
        problems.note(days.unwrap_or(Ok(1.0)));
        let brews = self
            .brews
            .map(|n| bounds::EVERY_BREWS.check("brews", f64::from(n)));
        problems.note(brews.unwrap_or(Ok(1.0)));
        problems.or(Some(()))
    }
}

impl Brewer {
    /// How often `job` is done on it.
    #[must_use]
    pub fn cadence(&self, job: Job) -> Cadence {
        let own = self.cadences.iter().find(|c| c.job == job);
        own.copied().unwrap_or_else(|| Cadence::usual(job))
    }
}

impl Brewer {
    /// The same with the cadences of how it was `before`; a work that no longer fits takes its own along.
    #[must_use]
    pub(crate) fn with_cadences_of(mut self, before: Option<&Self>) -> Self {
        let kept = before.map_or(&[][..], |b| &b.cadences).iter();
        let kept: Vec<_> = kept.filter(|c| c.job.fits(&self)).copied().collect();
        self.cadences = kept;
        self
    }

    /// The same with `cadence`; the usual one need not be kept.
    ///
    /// # Errors
    /// Those of [`Cadence::check`].
    pub fn with_cadence(mut self, cadence: Cadence) -> Result<Self, Problems> {
        cadence.check(&self)?;
        self.cadences.retain(|c| c.job != cadence.job);
        if cadence != Cadence::usual(cadence.job) {
            self.cadences.push(cadence);
        }
        Ok(self)
    }
}
