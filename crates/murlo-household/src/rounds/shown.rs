//! An order of work as it is shown: rows, pieces, and what comes next.

use crate::rounds::jobs::FINISH;
use crate::rounds::model::{Model, ScheduleTerms, minutes, seconds};
use crate::rounds::{Order, RoomStop, Task};
use jiff::{SignedDuration, Timestamp};
use murlo_base::text;
use murlo_visit::{self as visit, Found, Presence};
use serde::Serialize;

/// What somebody does, or what goes on by itself.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Does {
    /// Hands.
    Hands,
    /// Somebody within earshot.
    Near,
    /// Nobody.
    Free,
}

/// A stretch of a line.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Piece {
    /// The step's headline, or the room.
    pub label: String,
    /// What it asks.
    pub does: Does,
    /// Minutes from the schedule's beginning.
    pub start_min: f64,
    /// How long, minutes.
    pub minutes: f64,
}

/// One brewer or room of a schedule.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Row {
    /// The stop or room.
    pub id: String,
    /// Its name.
    pub name: String,
    /// The home.
    pub home: String,
    /// Whether it is a room.
    pub is_room: bool,
    /// Its clean, once begun.
    pub clean_id: Option<String>,
    /// What is still done, in order; one after the other, what is done beside a wait lies over it.
    pub pieces: Vec<Piece>,
    /// When it is over.
    pub ends_at: Timestamp,
}

/// What the hands do.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Next {
    /// The stop or room.
    pub id: String,
    /// Its name.
    pub name: String,
    /// The home.
    pub home: String,
    /// The home's id.
    pub home_id: String,
    /// Whether that is another home than the one where one is: there is a way before it.
    pub is_elsewhere: bool,
    /// Whether it is a room.
    pub is_room: bool,
    /// Its clean, once begun.
    pub clean_id: Option<String>,
    /// The step within it.
    pub step: String,
    /// "Start: get ready", "Empty the mug".
    pub title: String,
    /// When.
    pub at: Timestamp,
    /// At the latest, for the end to hold.
    pub latest: Timestamp,
    /// How long, minutes.
    pub minutes: f64,
    /// Minutes after it in which the hands are free.
    pub free_min: f64,
    /// "about 3 min, then 25 min free".
    pub takes: String,
}

impl Next {
    /// How long it takes, and what is free after it where that is a minute or more.
    fn told(&self) -> String {
        let takes = format!("about {}", text::minutes(self.minutes.max(1.0)));
        match self.free_min.floor() {
            free if free >= 1.0 => format!("{takes}, then {} free", text::minutes(free)),
            _ => takes,
        }
    }
}

/// A visit put in order.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Ordered {
    /// Which order.
    pub order: Order,
    /// From its beginning to the end of everything, minutes.
    pub minutes: f64,
    /// When everything is over.
    pub ends_at: Timestamp,
    /// When it would be over with the further baths that are likely, where any is.
    pub or_ends_at: Option<Timestamp>,
    /// How often one goes from one brewer or room to another.
    pub changes: u32,
    /// "1 h 50 min, 24 changes".
    pub in_short: String,
    /// "1 h 50 min, 24 changes; no order is shorter".
    pub text: String,
    /// Each brewer and room.
    pub lines: Vec<Row>,
    /// What the hands do, in order.
    pub acts: Vec<Next>,
    /// What had to be left out, by its id.
    pub left_out: Vec<String>,
    /// "Kiln drip cannot be out in time", where a time could not be held.
    pub late: Option<String>,
}

pub(crate) struct Showing<'a> {
    pub(crate) tasks: &'a [Task],
    pub(crate) rooms: &'a [&'a RoomStop],
    pub(crate) terms: &'a ScheduleTerms<'a>,
    pub(crate) model: &'a Model,
    pub(crate) found: &'a Found,
    /// With the further baths that are likely it is over so many seconds from now.
    pub(crate) likely_s: Option<i32>,
}

impl Showing<'_> {
    pub(crate) fn ordered(&self) -> Ordered {
        let (found, visit) = (self.found, &self.model.visit);
        let acts = self.acts();
        let changes = acts.windows(2).filter(|two| two[0].id != two[1].id).count();
        let whole = minutes(found.end - visit.now);
        let gap = ((found.end - found.bound).max(0) + 59) / 60;
        let sure = match gap {
            0 => "no order is shorter".to_owned(),
            n => format!("at most {n} min from the shortest"),
        };
        let changes_text = text::count(changes as u32, "change", "changes");
        let text = match self.terms.order {
            Order::Shortest => format!(
                "{}, {changes_text} of brewer or room; {sure}",
                text::minutes(whole)
            ),
            Order::Calm => format!("{}, {changes_text} of brewer or room", text::minutes(whole)),
        };
        let leaves = visit
            .leave_by
            .filter(|by| found.end > *by && !acts.is_empty());
        let late = leaves.map(|by| {
            format!(
                "This is {} longer than you have: nothing is left with a bath inside or not rinsed.",
                text::minutes(minutes(found.end - by).max(1.0))
            )
        });
        let waits = (found.lifted > 0).then(|| {
            "A strong bath cannot be run out in time: start it later, or leave something out."
                .to_owned()
        });
        Ordered {
            order: self.terms.order,
            minutes: whole,
            ends_at: self.instant(found.end),
            or_ends_at: self
                .likely_s
                .map(|end| visit.now + end)
                .filter(|end| *end > found.end)
                .map(|end| self.instant(end)),
            changes: changes as u32,
            in_short: format!("{}, {changes_text}", text::minutes(whole)),
            text,
            lines: self.lines(),
            acts,
            left_out: self.left_out(),
            late: late.or(waits),
        }
    }

    fn instant(&self, at: i32) -> Timestamp {
        let at = self
            .model
            .zero
            .checked_add(SignedDuration::from_secs(i64::from(at)));
        at.unwrap_or(self.terms.now)
    }

    fn home(&self, id: &str) -> String {
        self.terms.homes.get(id).cloned().unwrap_or_default()
    }

    fn left_out(&self) -> Vec<String> {
        let mut ids: Vec<String> = Vec::new();
        for id in &self.found.left_out {
            let job = self.model.visit.jobs.iter().position(|job| job.id == *id);
            let id = job.map_or_else(
                || id.clone(),
                |job| self.tasks[self.model.of_job[job]].stop.id.clone(),
            );
            if !ids.contains(&id) {
                ids.push(id);
            }
        }
        ids
    }

    /// The name of a line; what is done stands behind it where the same brewer has several.
    fn apart(&self, name: &str, n: usize) -> String {
        let same = self.tasks.iter().filter(|task| task.name == name);
        match self.tasks.get(n) {
            Some(task) if same.count() > 1 => format!("{name}: {}", task.what()),
            _ => name.to_owned(),
        }
    }

    fn lines(&self) -> Vec<Row> {
        let now = self.model.visit.now;
        let mut lines: Vec<Row> = Vec::new();
        let tasks = self.tasks.iter().map(|task| {
            (
                task.stop.id.as_str(),
                task.name.as_str(),
                task.home_id.as_str(),
                false,
            )
        });
        let rooms = self
            .rooms
            .iter()
            .map(|r| (r.id.as_str(), r.name.as_str(), r.home_id.as_str(), true));
        for (n, (id, name, home_id, is_room)) in tasks.chain(rooms).enumerate() {
            let mine = self.found.schedule.iter().filter(|s| match s.is_chore {
                true => is_room && s.job + self.tasks.len() == n,
                false => !is_room && self.model.of_job[s.job] == n,
            });
            let mut pieces: Vec<Piece> = Vec::new();
            let mut end = now;
            for stretch in mine {
                end = end.max(stretch.end);
                let (label, does) = self.told(stretch);
                // What began before now is shown from now on.
                let start = stretch.start.max(now);
                if stretch.end > start {
                    pieces.push(Piece {
                        label,
                        does,
                        start_min: minutes(start - now),
                        minutes: minutes(stretch.end - start),
                    });
                }
            }
            if !pieces.is_empty() {
                lines.push(Row {
                    id: id.to_owned(),
                    name: self.apart(name, n),
                    home: self.home(home_id),
                    is_room,
                    clean_id: self
                        .tasks
                        .get(n)
                        .and_then(|t| t.begun.as_ref())
                        .map(|b| b.clean_id.to_owned()),
                    pieces,
                    ends_at: self.instant(end),
                });
            }
        }
        lines
    }

    /// The headline and kind of a stretch.
    fn told(&self, stretch: &visit::ScheduledStretch) -> (String, Does) {
        if stretch.is_chore {
            return (self.rooms[stretch.job].name.clone(), Does::Hands);
        }
        let segment = &self.model.visit.jobs[stretch.job].segments[stretch.segment];
        let task = &self.tasks[self.model.of_job[stretch.job]];
        let step = task.plan.steps.iter().find(|step| step.id == segment.id);
        let does = match segment.doing {
            Presence::Hands => Does::Hands,
            Presence::Near => Does::Near,
            Presence::Free => Does::Free,
        };
        let last = task
            .begun
            .as_ref()
            .and_then(|begun| begun.state.next.as_ref());
        let last = last
            .filter(|_| segment.id == FINISH.id)
            .map(|next| next.label.clone());
        let title = step.map(|step| step.title.clone()).or(last);
        (title.unwrap_or_default(), does)
    }

    /// The first act of a clean that runs is its current step, which may only want its last mug emptied; or what may be done
    /// beside it.
    fn as_the_clean_has_it(&self, act: &mut Next, before: &[Next]) {
        let task = self.tasks.iter().find(|task| task.stop.id == act.id);
        let Some(begun) = task.and_then(|task| task.begun.as_ref()) else {
            return;
        };
        let Some(current) = &begun.state.step else {
            return;
        };
        let is_first = before.iter().all(|other| other.id != act.id);
        if is_first && !begun.state.meanwhile.contains(&act.step) {
            act.step.clone_from(&current.id);
            act.title.clone_from(&current.title);
        }
    }

    /// The home of a stretch.
    fn place(&self, stretch: &visit::ScheduledStretch) -> &str {
        match stretch.is_chore {
            true => &self.rooms[stretch.job].home_id,
            false => &self.tasks[self.model.of_job[stretch.job]].home_id,
        }
    }

    /// What the hands do, in order; presses of one step that follow each other are one.
    fn acts(&self) -> Vec<Next> {
        let mut hands: Vec<&visit::ScheduledStretch> = self
            .found
            .schedule
            .iter()
            .filter(|stretch| stretch.latest.is_some())
            .collect();
        hands.sort_by_key(|stretch| (stretch.start, stretch.end));
        let mut acts: Vec<Next> = Vec::new();
        for (n, stretch) in hands.iter().enumerate() {
            let next = hands.get(n + 1);
            // On the way to another home the hands are not free.
            let way = match next {
                Some(next) if self.place(next) != self.place(stretch) => self.model.visit.travel,
                _ => 0,
            };
            let next = next.map_or(self.found.end, |next| next.start) - way;
            let (label, _) = self.told(stretch);
            let mut one = Next {
                id: String::new(),
                name: String::new(),
                home: String::new(),
                home_id: self.place(stretch).to_owned(),
                is_elsewhere: self
                    .terms
                    .place_now
                    .is_some_and(|at| at != self.place(stretch)),
                is_room: stretch.is_chore,
                clean_id: None,
                step: String::new(),
                title: label,
                at: self.instant(stretch.start),
                latest: self.instant(stretch.latest.unwrap_or(stretch.start)),
                minutes: minutes(stretch.end - stretch.start),
                free_min: minutes((next - stretch.end).max(0)),
                takes: String::new(),
            };
            if stretch.is_chore {
                let room = self.rooms[stretch.job];
                one.id.clone_from(&room.id);
                one.name.clone_from(&room.name);
                one.home = self.home(&room.home_id);
            } else {
                let task = &self.tasks[self.model.of_job[stretch.job]];
                let job = &self.model.visit.jobs[stretch.job];
                one.id.clone_from(&task.stop.id);
                one.name.clone_from(&task.name);
                one.home = self.home(&task.home_id);
                one.step.clone_from(&job.segments[stretch.segment].id);
                one.clean_id = task.begun.as_ref().map(|b| b.clean_id.clone());
            }
            self.as_the_clean_has_it(&mut one, &acts);
            match acts.last_mut() {
                Some(last) if last.id == one.id && last.step == one.step => {
                    last.minutes =
                        minutes(stretch.end) - minutes(seconds(self.model.zero, last.at));
                    last.free_min = one.free_min;
                }
                _ => acts.push(one),
            }
        }
        for act in &mut acts {
            act.takes = act.told();
        }
        acts
    }
}
