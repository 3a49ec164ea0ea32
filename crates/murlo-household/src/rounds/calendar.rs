//! What a calendar shows: due windows, small works, visits.

use super::Visit;
use crate::counter::{BrewerCard, PartDay, PartShown};
use jiff::civil::Date;
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};
use murlo_brewer::home::Home;

/// A visit that is left open is shown as long as this.
const OPEN: SignedDuration = SignedDuration::from_hours(2);

/// When something is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Span {
    /// On a day.
    Day(Date),
    /// From one instant to another.
    Time(Timestamp, Timestamp),
}

/// Something in a calendar.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Occasion {
    /// The same for the same thing, however often it moves.
    pub uid: String,
    /// "Descale: Lamp-room pod".
    pub summary: String,
    /// What there is to say.
    pub description: String,
    /// Where.
    pub location: String,
    /// When.
    pub span: Span,
    /// How sure it is.
    pub state: OccasionState,
}

/// How sure something in a calendar is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum OccasionState {
    /// It stands.
    Certain,
    /// Nobody confirmed it yet.
    Tentative,
    /// It was called off.
    CalledOff,
}

/// A visit with what a calendar says of it.
pub struct CalendarVisit<'a> {
    /// The visit, or what a draft would be.
    pub visit: &'a Visit,
    /// Its homes, in the order in which they are gone to.
    pub homes: &'a [&'a Home],
    /// "Descale: Kiln drip".
    pub works: Vec<String>,
    /// When its work is over, where that was worked out.
    pub ends_at: Option<Timestamp>,
    /// Whether nobody confirmed it.
    pub is_draft: bool,
    /// Whether it was put away.
    pub is_archived: bool,
}

/// What a calendar shows of these brewers.
#[must_use]
pub fn occasions(cards: &[BrewerCard], today: Date) -> Vec<Occasion> {
    let mut all = Vec::new();
    for card in cards {
        for circuit in &card.circuits {
            if let Some(part) = &circuit.part {
                all.extend(part_occasions(card, part, today));
                continue;
            }
            let due = &circuit.forecast.due;
            let side = match card.circuits.len() {
                1 => String::new(),
                _ => format!(", {}", circuit.name),
            };
            all.push(Occasion {
                uid: format!("due-{}-{}", card.id, circuit.circuit_id),
                summary: format!("Descale: {}{side}", card.nickname),
                description: format!("Due {}", due.text),
                location: card.home.clone(),
                // What is overdue stays on today's page instead of in the past.
                span: Span::Day(due.date.max(today)),
                state: OccasionState::Certain,
            });
        }
        for work in card
            .upkeep
            .iter()
            .filter(|work| work.is_due || work.keeps_running)
        {
            let Some(day) = work.due else { continue };
            all.push(Occasion {
                uid: format!("work-{}-{}", card.id, work.job.key()),
                summary: format!("{}: {}", work.name, card.nickname),
                description: work.text.clone(),
                location: card.home.clone(),
                span: Span::Day(day.max(today)),
                state: OccasionState::Certain,
            });
        }
    }
    all
}

/// What is to come of a clean over days.
fn part_occasions(card: &BrewerCard, part: &PartShown, today: Date) -> Vec<Occasion> {
    let of = part.days.len();
    let to_come = part.days.iter().enumerate().filter(|(_, day)| !day.is_done);
    let occasion = |(i, day): (usize, &PartDay)| Occasion {
        uid: format!("part-{}-{}", part.over_id, i + 1),
        summary: format!("Descale: {}, part {} of {of}", card.nickname, i + 1),
        description: "One bath, rinsed and drinkable afterwards".to_owned(),
        location: card.home.clone(),
        span: Span::Day(day.day.max(today)),
        state: OccasionState::Certain,
    };
    to_come.map(occasion).collect()
}

/// A visit as a calendar shows it: the homes in its title, the works and, where a home allows it, how one gets in.
#[must_use]
pub fn visit_occasion(seen: &CalendarVisit, zone: &TimeZone) -> Occasion {
    let visit = seen.visit;
    let course = visit.course().unwrap_or_default();
    let (planned, leave_by) = visit.instants(&course, zone);
    let begins = course.started_at.unwrap_or(planned);
    let open = begins.checked_add(OPEN).unwrap_or(begins);
    let ends = course.closed_at.or(seen.ends_at).or(leave_by);
    let names: Vec<&str> = seen.homes.iter().map(|home| home.name.as_str()).collect();
    let mut told = seen.works.clone();
    if !visit.note.is_empty() {
        told.push(visit.note.clone());
    }
    let ways = seen.homes.iter().filter(|home| home.calendar_has_way_in);
    told.extend(
        ways.filter(|home| !home.access.is_empty())
            .map(|home| format!("{}: {}", home.name, home.access)),
    );
    Occasion {
        uid: match (seen.is_draft, visit.rhythm_day) {
            (true, Some(day)) => {
                let home = visit.homes.first().map_or("", String::as_str);
                format!("draft-{home}-{day}")
            }
            _ => format!("visit-{}", visit.id),
        },
        summary: match names.is_empty() {
            true => format!("Visit: {}", visit.in_short(&course)),
            false => format!("{}: {}", names.join(", "), visit.in_short(&course)),
        },
        description: told.join("\n"),
        location: names.join(", "),
        span: Span::Time(begins, ends.unwrap_or(open).max(begins)),
        state: match (seen.is_archived, seen.is_draft) {
            (true, _) => OccasionState::CalledOff,
            (false, true) => OccasionState::Tentative,
            (false, false) => OccasionState::Certain,
        },
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::rounds::tests::{NINE, later, room, visit};
    use jiff::civil::date;

    #[test]
    fn a_visit_is_called_by_its_homes_lasts_as_long_as_it_takes_and_tells_the_way_in_only_where_it_may()
     {
        let told = |may| Home {
            access: "Key under the pot".into(),
            calendar_has_way_in: may,
            ..Home::named("h", "Quay")
        };
        let whole = Visit {
            note: "Mind the step".into(),
            homes: vec!["h".into()],
            ..visit(&["pod"], vec![room("bath", "h", 12)])
        };
        let of = |visit: &Visit, may, ends_at, is_draft, is_archived| {
            let home = told(may);
            let seen = CalendarVisit {
                visit,
                homes: &[&home],
                works: vec!["Descale: pod".into()],
                ends_at,
                is_draft,
                is_archived,
            };
            visit_occasion(&seen, &TimeZone::UTC)
        };
        let plain = of(&whole, false, Some(later(75.0)), false, false);
        assert_eq!(plain.summary, "Quay: 1 brewer, 1 room");
        assert_eq!(plain.description, "Descale: pod\nMind the step");
        assert_eq!(plain.span, Span::Time(NINE, later(75.0)));
        assert_eq!(
            (plain.uid.as_str(), plain.state),
            ("visit-v", OccasionState::Certain)
        );
        let open = of(&whole, true, None, false, true);
        assert_eq!(
            open.span,
            Span::Time(NINE, later(120.0)),
            "two hours where nobody knows"
        );
        assert!(
            open.description.ends_with("Quay: Key under the pot"),
            "{}",
            open.description
        );
        assert_eq!(open.state, OccasionState::CalledOff);
        let draft = Visit {
            rhythm_day: Some(date(2026, 1, 8)),
            until: Some(jiff::civil::time(12, 0, 0, 0)),
            ..whole
        };
        let draft = of(&draft, false, None, true, false);
        assert_eq!(draft.span, Span::Time(NINE, later(180.0)));
        assert_eq!(
            (draft.uid.as_str(), draft.state),
            ("draft-h-2026-01-08", OccasionState::Tentative)
        );
    }
}
