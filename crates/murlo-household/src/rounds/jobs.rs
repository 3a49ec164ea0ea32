//! Plans and running cleans as jobs for one pair of hands.

use super::{Begun, Order, Task};
use jiff::Timestamp;
use murlo_brewer::bath::Warning;
use murlo_clean::Standing;
use murlo_plan::{Doing, Inside, Kind, Step, Work};
use murlo_visit::{At, Presence, Segment, VisitJob};

/// A bath that must not stand longer than planned is given so many minutes of grace. Judged.
const GRACE_MIN: f64 = 10.0;

/// Any other may stand so many minutes longer for the sake of a room: more is another soak than was planned. Judged.
const STRETCH_MIN: f64 = 20.0;

/// The last press of a clean, which no step stands for.
pub(super) struct Finish {
    pub id: &'static str,
    seconds: i32,
}

pub(super) const FINISH: Finish = Finish {
    id: "finish",
    seconds: 12,
};

impl Finish {
    fn segment(&self) -> Segment {
        Segment {
            id: self.id.to_owned(),
            doing: Presence::Hands,
            seconds: self.seconds,
            max: None,
        }
    }
}

/// Which baths count.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Baths {
    /// Those that are planned.
    Planned,
    /// The further ones that will likely be needed too.
    Likely,
}

impl Task {
    /// Its jobs, in the order in which they follow each other; times count in seconds from `zero`.
    pub(super) fn jobs(&self, order: Order, zero: Timestamp, baths: Baths) -> Vec<VisitJob> {
        if self.is_over() {
            return Vec::new();
        }
        let mut parts = Parts::new(self);
        if self.begun.is_some() && (0..self.plan.steps.len()).all(|i| self.is_done(i)) {
            // It is not over before it is written down.
            parts.add(vec![FINISH.segment()], None);
            return parts.into_jobs();
        }
        for (i, step) in self.plan.steps.iter().enumerate() {
            if self.is_done(i) || self.waits_beside(step) {
                continue;
            }
            let at = self.under_way(i, zero);
            let mut segments = self.segments(i, step, order, at.is_some());
            let beside: Vec<&Step> = self.beside(step).collect();
            // What is done beside a wait needs its start, not its end.
            let splits = !beside.is_empty();
            if splits && at.is_none() {
                let wait = segments.split_off(1.min(segments.len()));
                parts.add(segments, None);
                parts.split();
                segments = wait;
            }
            if splits {
                for step in beside {
                    parts.beside(step, hands(step, step.hands_on_min));
                }
            }
            parts.add(segments, at);
            if baths == Baths::Likely && self.looks_to_come().last() == Some(i) {
                for _ in 0..self.further_likely() {
                    let bath = self.plan.bath_steps();
                    parts.add(
                        bath.flat_map(|step| self.as_planned(step, order)).collect(),
                        None,
                    );
                }
            }
        }
        // What a machine does last is over once somebody has seen it: until then nothing else is begun on that brewer.
        if let Some(last) = self.plan.steps.last().filter(|_| !parts.ends_with_hands()) {
            let seen = Segment {
                id: last.id.clone(),
                ..FINISH.segment()
            };
            parts.add(vec![seen], None);
        }
        parts.into_jobs()
    }

    /// Looks that are still to come, by the places of their steps.
    fn looks_to_come(&self) -> impl Iterator<Item = usize> {
        let steps = self.plan.steps.iter().enumerate();
        let open = steps.filter(|(i, step)| step.is(Kind::Look) && !self.is_done(*i));
        open.map(|(i, _)| i)
    }

    /// Baths that are likely beyond those that its steps have.
    pub(super) fn further_likely(&self) -> u32 {
        let round = self.begun.as_ref().map_or(1, |begun| begun.state.round);
        match self.is_over() {
            true => 0,
            false => self
                .plan
                .further_likely(round, self.looks_to_come().count() as u32),
        }
    }

    fn is_done(&self, i: usize) -> bool {
        let state = |begun: &Begun| begun.state.steps.get(i).map(|s| s.standing);
        self.begun.as_ref().and_then(state) == Some(Standing::Done)
    }

    /// The wait beside which `step` may be done, while that is still to come.
    fn host(&self, step: &Step) -> Option<usize> {
        let host = step.during.as_ref()?;
        let place = self.plan.steps.iter().position(|s| s.id == *host)?;
        (!self.is_done(place) && self.plan.steps[place].hands_free_min > 0.0).then_some(place)
    }

    fn waits_beside(&self, step: &Step) -> bool {
        self.host(step).is_some()
    }

    fn beside<'s>(&'s self, wait: &'s Step) -> impl Iterator<Item = &'s Step> {
        let open = move |(i, step): &(usize, &'s Step)| {
            step.during.as_ref() == Some(&wait.id) && !self.is_done(*i) && self.host(step).is_some()
        };
        self.plan
            .steps
            .iter()
            .enumerate()
            .filter(open)
            .map(|(_, step)| step)
    }

    /// Since when the step runs by itself: a timer, or a press since the last one was counted.
    fn under_way(&self, i: usize, zero: Timestamp) -> Option<i32> {
        let begun = self.begun.as_ref()?;
        if begun.state.current != Some(i) {
            return None;
        }
        let step = &begun.state.steps[i];
        let since = match &self.plan.steps[i].doing {
            Doing::Wait { .. } => step.timer.as_ref()?.started_at,
            Doing::Count { .. } if step.count > 0 => begun.last_at,
            Doing::Once
            | Doing::Count { .. }
            | Doing::Ask { .. }
            | Doing::Clear { .. }
            | Doing::Measure { .. } => return None,
        };
        i32::try_from(since.duration_since(zero).as_secs()).ok()
    }

    /// What is still to be done of a step: hands, then what the machine does, as often as it is counted. What runs already
    /// begins with what it does alone.
    fn segments(&self, i: usize, step: &Step, order: Order, runs: bool) -> Vec<Segment> {
        let (count, target) = self.counted(i, step);
        let left = target.saturating_sub(count).max(u32::from(count == 0));
        // Of the needles only what is not clear yet.
        let share = self.still_blocked(i, step);
        let mut all = self.presses(step, order, (left, target), share, runs);
        let is_count = matches!(step.doing, Doing::Count { .. });
        if is_count && all.iter().all(|one| one.doing != Presence::Hands) {
            // The last of a count is emptied, and said, by hand.
            all.push(Segment {
                id: step.id.clone(),
                ..FINISH.segment()
            });
        }
        all
    }

    /// The same for a step that is done once more from its beginning.
    fn as_planned(&self, step: &Step, order: Order) -> Vec<Segment> {
        let target = planned_count(step);
        self.presses(step, order, (target, target), 1.0, false)
    }

    fn presses(
        &self,
        step: &Step,
        order: Order,
        (left, target): (u32, u32),
        share: f64,
        runs: bool,
    ) -> Vec<Segment> {
        let each = f64::from(target.max(1));
        let (on, near, free) = (
            step.hands_on_min / each,
            step.near_min / each,
            step.hands_free_min / each,
        );
        if order == Order::Calm && step.near_min > 0.0 {
            // One brewer's presses together, from the first to the last.
            return vec![segment(
                step,
                Presence::Hands,
                (on + near) * f64::from(left),
                None,
            )];
        }
        let on = on * share;
        let limit = self.limit(step).map(|grace| free + grace);
        let mut all = Vec::new();
        for n in 0..left {
            if !(runs && n == 0) {
                all.push(segment(step, Presence::Hands, on, None));
            }
            if near > 0.0 {
                all.push(segment(step, Presence::Near, near, None));
            }
            if free > 0.0 {
                all.push(segment(step, Presence::Free, free, limit));
            }
        }
        all
    }

    /// Share of a step's places that are not clear yet.
    fn still_blocked(&self, i: usize, step: &Step) -> f64 {
        let (Doing::Clear { needles }, Some(begun)) = (&step.doing, &self.begun) else {
            return 1.0;
        };
        let spots: usize = needles.iter().map(|needle| needle.spots().count()).sum();
        if begun.state.current != Some(i) || spots == 0 {
            return 1.0;
        }
        1.0 - begun.state.clear.len().min(spots) as f64 / spots as f64
    }

    fn counted(&self, i: usize, step: &Step) -> (u32, u32) {
        let planned = planned_count(step);
        let begun = self.begun.as_ref();
        match (begun.and_then(|b| b.state.steps.get(i)), &step.doing) {
            (Some(state), Doing::Count { .. }) => (state.count, state.target.max(1)),
            _ => (0, planned),
        }
    }

    /// Minutes that a bath may stand on after its time.
    fn limit(&self, step: &Step) -> Option<f64> {
        let must_not = [
            Warning::Strong,
            Warning::CitrateMayDrop,
            Warning::CitrateSludge,
        ];
        let bath = &self.plan.bath;
        let stands =
            step.is_wait() && step.inside == Inside::Bath && self.plan.work == Work::Descale;
        let grace = if bath.warnings.iter().any(|w| must_not.contains(w)) {
            GRACE_MIN
        } else if step.is(Kind::Soak) {
            STRETCH_MIN
        } else {
            return None;
        };
        stands.then_some(grace)
    }
}

fn planned_count(step: &Step) -> u32 {
    match step.doing {
        Doing::Count { target } => target,
        Doing::Once
        | Doing::Wait { .. }
        | Doing::Ask { .. }
        | Doing::Clear { .. }
        | Doing::Measure { .. } => 1,
    }
}

fn segment(step: &Step, doing: Presence, minutes: f64, max: Option<f64>) -> Segment {
    let seconds = |minutes: f64| (minutes * 60.0).round() as i32;
    Segment {
        id: step.id.clone(),
        doing,
        seconds: seconds(minutes),
        max: max.map(seconds),
    }
}

fn hands(step: &Step, minutes: f64) -> Segment {
    segment(step, Presence::Hands, minutes, None)
}

/// The jobs of one task while they are gathered.
struct Parts<'a> {
    task: &'a Task,
    main: Vec<VisitJob>,
    beside: Vec<VisitJob>,
}

impl<'a> Parts<'a> {
    /// Whether hands are what it ends with.
    fn ends_with_hands(&self) -> bool {
        let mut segments = self.main.iter().flat_map(|job| &job.segments);
        segments
            .next_back()
            .is_some_and(|segment| segment.doing == Presence::Hands)
    }

    fn new(task: &'a Task) -> Self {
        let mut parts = Self {
            task,
            main: Vec::new(),
            beside: Vec::new(),
        };
        let first = parts.job(
            "0".to_owned(),
            task.after.iter().map(|id| last_of(id)).collect(),
        );
        parts.main.push(VisitJob {
            at: task.begun.as_ref().map(|_| At::Segment(0, None)),
            weight: task.weight.filter(|_| task.begun.is_none()),
            part_of: None,
            ..first
        });
        parts
    }

    fn job(&self, part: String, after: Vec<String>) -> VisitJob {
        VisitJob {
            id: format!("{}/{part}", self.task.stop.id),
            place: Some(self.task.home_id.clone()),
            after,
            at: None,
            weight: None,
            part_of: Some(format!("{}/0", self.task.stop.id)),
            segments: Vec::new(),
        }
    }

    /// Goes on in a part of its own after the one before.
    fn split(&mut self) {
        let before = self.main[self.main.len() - 1].id.clone();
        let next = self.job(self.main.len().to_string(), vec![before]);
        self.main.push(next);
    }

    fn beside(&mut self, step: &Step, segment: Segment) {
        // Where the wait runs already there is nothing to wait for.
        let before = self
            .main
            .len()
            .checked_sub(2)
            .map(|i| self.main[i].id.clone());
        let job = self.job(step.id.clone(), before.into_iter().collect());
        let segments = vec![segment];
        self.beside.push(VisitJob { segments, ..job });
    }

    fn add(&mut self, segments: Vec<Segment>, since: Option<i32>) {
        let last = self.main.len() - 1;
        let job = &mut self.main[last];
        // What hands do is not under way before they do it.
        let by_hand = segments
            .first()
            .is_some_and(|first| first.doing == Presence::Hands);
        if let Some(since) = since.filter(|_| job.segments.is_empty() && !by_hand) {
            job.at = Some(At::Segment(0, Some(since)));
        }
        job.segments.extend(segments);
    }

    fn into_jobs(self) -> Vec<VisitJob> {
        let mut jobs = self.main;
        jobs.extend(self.beside);
        jobs.retain(|job| !job.segments.is_empty());
        let ids: Vec<String> = jobs.iter().map(|job| job.id.clone()).collect();
        for job in &mut jobs {
            job.after.retain(|id| {
                ids.contains(id) || !id.starts_with(&format!("{}/", self.task.stop.id))
            });
        }
        jobs
    }
}

/// How the end of another stop is named until its jobs are known.
pub(super) fn last_of(stop: &str) -> String {
    format!("{stop}/end")
}
