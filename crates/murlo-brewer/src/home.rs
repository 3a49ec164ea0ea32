//! A place where brewers stand, what somebody who goes there must know, and when somebody comes.

mod coming;
mod guests;
mod place;

pub use coming::{Coming, DayOfWeek, DaysOff, MovedDay, Occurrence, Rhythm};
pub use guests::{Changeover, Guests, Stay};
pub use place::{Bottle, Home, Pay, Room, Warmth};
