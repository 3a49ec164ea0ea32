//! What a calendar shows: due windows, small works, visits.

use super::Visit;
use crate::counter::BrewerCard;
use jiff::civil::Date;
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};
use murlo_base::days::days_after;
use murlo_base::document::Kept;

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
    /// Called off.
    pub is_cancelled: bool,
}

/// Everything a calendar shows of these brewers and visits.
#[must_use]
pub fn occasions(
    cards: &[BrewerCard],
    visits: &[Kept<Visit>],
    names: impl Fn(&Visit) -> (String, String),
    zone: &TimeZone,
    today: Date,
) -> Vec<Occasion> {
    let mut all = Vec::new();
    for card in cards {
        for circuit in &card.circuits {
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
                is_cancelled: false,
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
                is_cancelled: false,
            });
        }
    }
    let horizon = days_after(today, -400);
    for kept in visits.iter().filter(|kept| kept.fact.day >= horizon) {
        let visit = &kept.fact;
        let (begins, ends) = visit.instants(&visit.course().unwrap_or_default(), zone);
        let open = begins.checked_add(OPEN).unwrap_or(begins);
        let (summary, location) = names(visit);
        all.push(Occasion {
            uid: format!("visit-{}", visit.id),
            summary,
            description: visit.note.clone(),
            location,
            span: Span::Time(begins, ends.unwrap_or(open)),
            is_cancelled: kept.archived,
        });
    }
    all
}
