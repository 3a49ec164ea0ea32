//! In which order one pair of hands does a visit, what that comes to, and what is next.

use super::jobs::{FINISH, last_of};
use super::{Order, RoomStop, Task};
use jiff::{SignedDuration, Timestamp};
use murlo_base::text;
use murlo_visit::{self as visit, At, Chore, Doing, Found, Job, NODES};
use serde::Serialize;
use std::collections::HashMap;

/// From one brewer to the next in one home, seconds: drying hands, looking where one was.
const SWITCH_S: i32 = 12;
/// Another instruction is given only where all ends so much sooner, seconds. Judged.
const WORTH_IT_S: i32 = 60;
/// Orders tried to see what leaving something out would save.
const SAVING_NODES: usize = 10_000;

/// What a schedule is made under.
#[derive(Debug, Clone)]
pub struct Terms<'a> {
    /// Which order.
    pub order: Order,
    /// Now, or when the visit begins.
    pub now: Timestamp,
    /// When one must be out again.
    pub leave_by: Option<Timestamp>,
    /// From one home to another, minutes.
    pub travel_min: u32,
    /// The home one is at.
    pub place_now: Option<&'a str>,
    /// The stop or room whose instruction is being followed.
    pub following: Option<&'a str>,
    /// When the hands were done with what they did before.
    pub hands_since: Option<Timestamp>,
    /// Names of homes by id.
    pub homes: &'a HashMap<String, String>,
}

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

/// What leaving something out would save.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Saving {
    /// The stop or room.
    pub id: String,
    /// Minutes.
    pub minutes: f64,
    /// "without it 24 min less".
    pub text: String,
}

fn minutes(seconds: i32) -> f64 {
    f64::from(seconds) / 60.0
}

pub(super) struct Model {
    pub visit: visit::Visit,
    /// The task of each job.
    of_job: Vec<usize>,
    zero: Timestamp,
}

fn seconds(from: Timestamp, to: Timestamp) -> i32 {
    i32::try_from(to.duration_since(from).as_secs()).unwrap_or(0)
}

pub(super) fn model(tasks: &[Task], rooms: &[&RoomStop], terms: &Terms) -> Model {
    // What runs began before now.
    let zero = tasks
        .iter()
        .filter_map(|task| task.begun.as_ref())
        .filter_map(|begun| {
            begun
                .state
                .steps
                .iter()
                .filter_map(|s| s.timer.as_ref())
                .map(|t| t.started_at)
                .chain([begun.last_at])
                .min()
        })
        .chain(terms.hands_since)
        .fold(terms.now, Timestamp::min);
    let mut jobs: Vec<Job> = Vec::new();
    let mut of_job = Vec::new();
    let mut ends: HashMap<String, Vec<String>> = HashMap::new();
    for (n, task) in tasks.iter().enumerate() {
        let of_task = task.jobs(terms.order, zero);
        let ids = of_task.iter().map(|job| job.id.clone()).collect();
        ends.insert(last_of(&task.stop.id), ids);
        of_job.extend(of_task.iter().map(|_| n));
        jobs.extend(of_task);
    }
    for job in &mut jobs {
        let after = std::mem::take(&mut job.after);
        job.after = after
            .into_iter()
            .flat_map(|id| ends.get(&id).cloned().unwrap_or_else(|| vec![id]))
            .collect();
    }
    let chores = rooms.iter().map(|room| Chore {
        id: room.id.clone(),
        place: Some(room.home_id.clone()),
        seconds: i32::try_from(room.minutes * 60).unwrap_or(i32::MAX),
        at: None,
        weight: Some(f64::from(room.minutes) / 60.0),
    });
    Model {
        visit: visit::Visit {
            jobs,
            chores: chores.collect(),
            travel: i32::try_from(terms.travel_min * 60).unwrap_or(0),
            switch: SWITCH_S,
            now: seconds(zero, terms.now),
            place_now: terms.place_now.map(str::to_owned),
            leave_by: terms.leave_by.map(|by| seconds(zero, by)),
        },
        of_job,
        zero,
    }
}

fn solve(visit: &visit::Visit, nodes: usize) -> Found {
    // Jobs made here hang together; what could not be solved has no end and no order.
    visit::solve(visit, nodes).unwrap_or(Found {
        end: visit.now,
        bound: visit.now,
        schedule: Vec::new(),
        left_out: Vec::new(),
        lifted: 0,
    })
}

/// The visit in the order that was asked for.
#[must_use]
pub fn schedule(tasks: &[Task], rooms: &[&RoomStop], terms: &Terms) -> Ordered {
    let model = model(tasks, rooms, terms);
    let mut found = solve(&model.visit, NODES);
    if let Some(kept) = keep_on(&model, tasks, rooms, terms)
        && kept.left_out.len() <= found.left_out.len()
        && kept.end <= found.end + WORTH_IT_S
    {
        found = kept;
    }
    Shown {
        tasks,
        rooms,
        terms,
        model: &model,
        found: &found,
    }
    .ordered()
}

/// The best order that goes on with the instruction being followed.
fn keep_on(model: &Model, tasks: &[Task], rooms: &[&RoomStop], terms: &Terms) -> Option<Found> {
    let following = terms.following?;
    let mut visit = model.visit.clone();
    let since = terms
        .hands_since
        .map_or(visit.now, |at| seconds(model.zero, at).min(visit.now));
    // Nobody follows what is done elsewhere before being there.
    let here = |at: &str| terms.place_now.is_none_or(|place| place == at);
    if let Some(n) = rooms.iter().position(|room| room.id == following) {
        if !here(&rooms[n].home_id) {
            return None;
        }
        visit.chores[n].at = Some(At::Segment(0, Some(since)));
    } else {
        let task = tasks.iter().position(|task| task.stop.id == following)?;
        if !here(&tasks[task].home_id) {
            return None;
        }
        let first = model.of_job.iter().position(|of| *of == task)?;
        let job = &mut visit.jobs[first];
        if job.segments.first()?.doing != Doing::Hands
            || matches!(job.at, Some(At::Segment(_, Some(_))))
        {
            return None;
        }
        job.at = Some(At::Segment(0, Some(since)));
    }
    Some(solve(&visit, NODES))
}

/// What a visit that has not begun comes to.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Outlook {
    /// Over soonest.
    pub shortest: Ordered,
    /// One brewer's presses together.
    pub calm: Ordered,
    /// Minutes of one brewer after the other, then the rooms; without what there is no time for.
    pub in_turn_min: f64,
    /// "1 h 12 min less than one after the other".
    pub saved: String,
    /// What leaving each out would save, in the order that was asked for.
    pub savings: Vec<Saving>,
}

/// Both orders of a visit, and what each brewer or room adds to it.
#[must_use]
pub fn outlook(tasks: &[Task], rooms: &[&RoomStop], terms: &Terms) -> Outlook {
    let by = |order| {
        let terms = terms.clone();
        schedule(tasks, rooms, &Terms { order, ..terms })
    };
    let (shortest, calm) = (by(Order::Shortest), by(Order::Calm));
    let open = Terms {
        leave_by: None,
        ..terms.clone()
    };
    let asked = match terms.order {
        Order::Shortest => &shortest,
        Order::Calm => &calm,
    };
    let whole = match terms.leave_by {
        None => asked.minutes,
        Some(_) => schedule(tasks, rooms, &open).minutes,
    };
    // What there is no time for does not count as saved.
    let stays = |id: &String| !shortest.left_out.contains(id);
    let kept: Vec<_> = tasks.iter().filter(|task| stays(&task.stop.id)).collect();
    let kept_rooms: Vec<_> = rooms.iter().filter(|r| stays(&r.id)).copied().collect();
    let in_turn_min = in_turn(&kept, &kept_rooms, terms.travel_min);
    Outlook {
        savings: savings(tasks, rooms, &open, whole),
        saved: match in_turn_min - shortest.minutes {
            less if less >= 1.0 => format!("{} less than one after the other", text::minutes(less)),
            _ => "no less than one after the other".to_owned(),
        },
        in_turn_min,
        shortest,
        calm,
    }
}

/// What leaving each brewer or room out would save, those that have not begun.
pub(super) fn savings(
    tasks: &[Task],
    rooms: &[&RoomStop],
    terms: &Terms,
    all_min: f64,
) -> Vec<Saving> {
    let model = model(tasks, rooms, terms);
    let end_without = |jobs: &dyn Fn(usize) -> bool, chores: &dyn Fn(usize) -> bool| {
        let mut visit = model.visit.clone();
        for (n, job) in visit.jobs.iter_mut().enumerate() {
            if jobs(n) {
                job.at = Some(At::Done);
            }
        }
        for (n, chore) in visit.chores.iter_mut().enumerate() {
            if chores(n) {
                chore.at = Some(At::Done);
            }
        }
        minutes(solve(&visit, SAVING_NODES).end - visit.now)
    };
    let saving = |id: &str, without: f64| {
        let saved = (all_min - without).max(0.0).round();
        Saving {
            id: id.to_owned(),
            minutes: saved,
            text: match saved {
                s if s < 1.0 => "fits in without taking longer".to_owned(),
                s => format!("without it {} less", text::minutes(s)),
            },
        }
    };
    let open = tasks
        .iter()
        .enumerate()
        .filter(|(_, task)| task.begun.is_none());
    let of_tasks = open.map(|(n, task)| {
        let without = end_without(&|job| model.of_job[job] == n, &|_| false);
        saving(&task.stop.id, without)
    });
    let of_rooms = rooms
        .iter()
        .enumerate()
        .map(|(n, room)| saving(&room.id, end_without(&|_| false, &|chore| chore == n)));
    of_tasks.chain(of_rooms).collect()
}

/// Minutes of a visit that does one brewer after the other, then the rooms.
pub(super) fn in_turn(tasks: &[&Task], rooms: &[&RoomStop], travel_min: u32) -> f64 {
    let brewers: f64 = tasks.iter().map(|task| task.plan.ribbon.elapsed_min).sum();
    let rooms_min: f64 = rooms.iter().map(|room| f64::from(room.minutes)).sum();
    let mut homes: Vec<&str> = tasks
        .iter()
        .map(|t| t.home_id.as_str())
        .chain(rooms.iter().map(|r| r.home_id.as_str()))
        .collect();
    homes.sort_unstable();
    homes.dedup();
    brewers + rooms_min + f64::from(travel_min) * homes.len().saturating_sub(1) as f64
}

struct Shown<'a> {
    tasks: &'a [Task],
    rooms: &'a [&'a RoomStop],
    terms: &'a Terms<'a>,
    model: &'a Model,
    found: &'a Found,
}

impl Shown<'_> {
    fn ordered(&self) -> Ordered {
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
        let leaves = visit.leave_by.filter(|by| found.end > *by);
        let late = leaves.map(|by| {
            format!(
                "This is {} longer than you have, and nothing that could be left out is enough.",
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
    fn told(&self, stretch: &visit::Stretch) -> (String, Does) {
        if stretch.is_chore {
            return (self.rooms[stretch.job].name.clone(), Does::Hands);
        }
        let segment = &self.model.visit.jobs[stretch.job].segments[stretch.segment];
        let task = &self.tasks[self.model.of_job[stretch.job]];
        let step = task.plan.steps.iter().find(|step| step.id == segment.id);
        let does = match segment.doing {
            Doing::Hands => Does::Hands,
            Doing::Near => Does::Near,
            Doing::Free => Does::Free,
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
    fn place(&self, stretch: &visit::Stretch) -> &str {
        match stretch.is_chore {
            true => &self.rooms[stretch.job].home_id,
            false => &self.tasks[self.model.of_job[stretch.job]].home_id,
        }
    }

    /// What the hands do, in order; presses of one step that follow each other are one.
    fn acts(&self) -> Vec<Next> {
        let mut hands: Vec<&visit::Stretch> = self
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
