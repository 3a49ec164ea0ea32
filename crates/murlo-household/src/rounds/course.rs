//! Where a visit stands after what happened in it, and whether it may be left or closed.

use super::{LeftStop, Visit, VisitCourse, VisitEvent, VisitWhat};
use crate::rounds::task::Task;
use jiff::civil::Date;
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::{bounds, text};

/// So many acts are kept of one visit.
const ACTS: usize = 1000;

fn unfit(message: impl Into<String>) -> Problem {
    Problem::new(Code::DoesNotFit, "what", message)
}

impl Visit {
    /// Where it stands after its acts.
    ///
    /// # Errors
    /// `DoesNotFit` for the first act that does not follow from those before it.
    pub fn course(&self) -> Result<VisitCourse, Problem> {
        let mut effective: Vec<&VisitEvent> = Vec::with_capacity(self.events.len());
        for event in &self.events {
            let VisitWhat::Undone { event: target } = &event.what else {
                effective.push(event);
                continue;
            };
            match effective.last() {
                Some(last) if last.id == *target => effective.pop(),
                _ => {
                    return Err(unfit(
                        "something else happened since: look again, then undo that",
                    ));
                }
            };
        }
        let mut course = VisitCourse::default();
        for event in &effective {
            self.step(&mut course, event)?;
        }
        course.undo = effective.last().map(|event| event.id.clone());
        Ok(course)
    }

    fn step(&self, course: &mut VisitCourse, event: &VisitEvent) -> Result<(), Problem> {
        let runs = course.started_at.is_some() && course.closed_at.is_none();
        match &event.what {
            VisitWhat::Started if course.started_at.is_none() => course.started_at = Some(event.at),
            VisitWhat::Reopened if course.closed_at.is_some() => {
                course.closed_at = None;
                for id in std::mem::take(&mut course.left_at_close) {
                    course.dropped.remove(&id);
                }
            }
            _ if !runs => {
                let message = match course.closed_at {
                    Some(_) => "this visit is over: open it again first",
                    None => "this visit has not begun: start it first",
                };
                return Err(unfit(message));
            }
            VisitWhat::RoomDone { room } => {
                let is_open = self.rooms.iter().any(|r| r.id == *room)
                    && !course.rooms_done.contains_key(room)
                    && !course.dropped.contains_key(room);
                if !is_open {
                    return Err(unfit(
                        "this room is done already, or not part of this visit",
                    ));
                }
                course.rooms_done.insert(room.clone(), event.at);
            }
            VisitWhat::Dropped { id, day } => {
                self.leave(course, id, *day)
                    .map_err(|problem| problem.within("what"))?;
            }
            VisitWhat::Arrived { home, .. } => {
                course.arrived = Some((home.clone(), event.at));
                course.arrivals.push((home.clone(), event.at));
            }
            VisitWhat::Changed { until, order } => course.changed = Some((*until, *order)),
            VisitWhat::Added { stop } => {
                let mut stops = self.stops.iter().chain(&course.added);
                if stops.any(|other| other.id == stop.id) {
                    return Err(unfit("this is part of the visit already"));
                }
                course.added.push(stop.clone());
            }
            VisitWhat::Closed { bill, left } => {
                for (n, one) in left.iter().enumerate().filter(|(_, one)| !one.inside) {
                    let place = format!("what.left.{n}");
                    self.leave(course, &one.id, one.day)
                        .map_err(|problem| problem.within(&place))?;
                    course.left_at_close.push(one.id.clone());
                }
                course.closed_at = Some(event.at);
                course.bill = bill.clone();
            }
            VisitWhat::Started | VisitWhat::Reopened | VisitWhat::Undone { .. } => {
                return Err(unfit("this visit runs already"));
            }
        }
        Ok(())
    }

    /// Something that is not done is left for another time.
    fn leave(&self, course: &mut VisitCourse, id: &str, day: Option<Date>) -> Result<(), Problem> {
        let mut stops = self.stops.iter().chain(&course.added);
        let is_known = self.rooms.iter().any(|r| r.id == *id) || stops.any(|s| s.id == *id);
        if !is_known || course.rooms_done.contains_key(id) || course.dropped.contains_key(id) {
            let message = "this is left out already, done, or not part of this visit";
            return Err(Problem::new(Code::DoesNotFit, "id", message));
        }
        if day.is_some_and(|day| day <= self.day) {
            let message = "give a later day than that of the visit";
            return Err(Problem::new(Code::Contradiction, "day", message));
        }
        course.dropped.insert(id.to_owned(), day);
        Ok(())
    }

    /// With one act more.
    ///
    /// # Errors
    /// `DoesNotFit` when it does not follow, a field of a bill or stop that is wrong.
    pub fn admit(&self, mut event: VisitEvent) -> Result<Self, Problems> {
        text::id("id", &event.id)?;
        if let Some(by) = &event.by {
            text::name("by", by)?;
        }
        if let VisitWhat::Closed {
            bill: Some(bill), ..
        } = &event.what
        {
            bill.check().map_err(|p| p.within("what.bill"))?;
        }
        if let VisitWhat::Dropped { day: Some(day), .. } = &event.what {
            bounds::day("what.day", *day)?;
        }
        if let VisitWhat::Closed { left, .. } = &event.what {
            for (n, day) in left
                .iter()
                .enumerate()
                .filter_map(|(n, one)| Some((n, one.day?)))
            {
                bounds::day(&format!("what.left.{n}.day"), day)?;
            }
        }
        if self.events.len() >= ACTS {
            return Err(Problem::new(
                Code::TooMuch,
                "what",
                "too much happened in this visit: close it",
            )
            .into());
        }
        // A device whose clock jumped back does not turn the order round.
        event.at = self
            .events
            .last()
            .map_or(event.at, |last| event.at.max(last.at));
        let mut next = self.clone();
        next.events.push(event);
        next.course()?;
        Ok(next)
    }

    /// Whether it may be closed: everything is done, moved to a day or named as left, and what has a bath inside or is not
    /// rinsed only where somebody says so.
    ///
    /// # Errors
    /// `DoesNotFit` with what is open, and what is done first.
    pub fn may_close(
        &self,
        course: &VisitCourse,
        tasks: &[Task],
        left: &[LeftStop],
    ) -> Result<(), Problem> {
        let named = |id: &str| left.iter().find(|one| one.id == id);
        let is_meant = |task: &Task| named(&task.stop.id).is_some_and(|one| one.inside);
        let mut inside = tasks.iter().filter(|task| task.is_unrinsed());
        if let Some(task) = inside.find(|task| !is_meant(task)) {
            return Err(unfit(task.way_out()));
        }
        let open = tasks
            .iter()
            .filter(|task| !task.is_over() && !task.is_unrinsed());
        let open = open.map(|task| (&task.stop.id, format!("{}, {}", task.name, task.what())));
        let rooms = self.open_rooms(course);
        let rooms = rooms.iter().map(|room| (&room.id, room.name.clone()));
        // What has nothing inside is not named as if it had.
        let is_named = |id: &str| named(id).is_some_and(|one| !one.inside);
        match open.chain(rooms).find(|(id, _)| !is_named(id)) {
            Some((_, name)) => Err(unfit(format!(
                "{name} is not done: do it, move it to a day, or leave it"
            ))),
            None => Ok(()),
        }
    }

    /// Whether something may be left for another time: not while a bath stands in it.
    ///
    /// # Errors
    /// `DoesNotFit` with the short way out.
    pub fn may_drop(tasks: &[Task], id: &str) -> Result<(), Problem> {
        let mut inside = tasks.iter().filter(|task| task.is_unrinsed());
        match inside.find(|task| task.stop.id == id) {
            Some(task) => Err(unfit(task.way_out())),
            None => Ok(()),
        }
    }

    /// Whether one may go on to `home`: nothing stands inside elsewhere, or somebody leaves it so.
    ///
    /// # Errors
    /// `DoesNotFit` with what is inside and the short way out.
    pub fn may_arrive(tasks: &[Task], home: &str, leaves: &[String]) -> Result<(), Problem> {
        let mut elsewhere = tasks
            .iter()
            .filter(|task| task.home_id != home && task.is_unrinsed());
        match elsewhere.find(|task| !leaves.contains(&task.stop.id)) {
            Some(task) => Err(unfit(task.way_out())),
            None => Ok(()),
        }
    }
}
