//! The round of homes: which of them wants what and when, visits planned, run and closed, and what is left behind.
//!
//! A visit is a fact ([`Visit`]) whose acts are its own: begun, a room done, something dropped, closed. What is done to a
//! brewer stands in its clean. `jobs` turns plans and running cleans into what [`murlo_visit`] puts in order, `schedule` says
//! what comes of it, `propose` what a visit should do, `kit`, `card`, `bill` and `calendar` what is carried, left and kept.

mod ahead;
mod bill;
mod calendar;
mod card;
mod course;
mod happened;
mod jobs;
mod kit;
mod lanes;
mod model;
mod moved;
mod owed;
mod places;
mod propose;
mod schedule;
mod shown;
mod task;
mod visited;
mod week;

pub use ahead::{Forthcoming, VisitDraft, VisitsAhead};
pub use bill::{AtHome, MaterialPrices, Spent, at_homes, minutes_there, suggested};
pub use calendar::{CalendarVisit, Occasion, OccasionState, Span, occasions, visit_occasion};
pub use card::{Card, CardFacts};
pub use happened::{
    Bill, BillLine, LeftStop, LineOf, Order, RoomStop, Stop, TimeThere, VisitCourse, VisitEvent,
    VisitWhat,
};
pub use kit::{KitLine, Stock, kit, shopping};
pub use lanes::{Days, Lane, Lanes, Mark, MarkKind, Week, lanes};
pub use model::ScheduleTerms;
pub use moved::{MovedStop, MovedWhat, moved};
pub use owed::{Owed, OwedHome, OwedMonth, OwedVisit, month_of};
pub use places::{Hours, KnownPlaces, Telling, guests_come, hours_in, travel_between};
pub use propose::{Foreseen, Proposed, WantedVisit, next_after, propose};
pub use schedule::{Outlook, Saving, outlook, pace, schedule};
pub use shown::{Does, Next, Ordered, Piece, Row};
pub use task::{Begun, Task};
pub use visited::{Visit, VisitStage, check_all};
pub use week::{Block, BlockStage, Planned, ThisWeek, WeekClock, WeekDay, WeekRow, week_of};

#[cfg(test)]
pub(crate) mod tests;
