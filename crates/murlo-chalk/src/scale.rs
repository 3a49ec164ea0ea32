//! How much chalk has grown in a circuit, when it is due, and how sure that is.
//!
//! What goes through is walked from the log, the waters and the habits of today, in stretches of equal days; what that makes of the
//! circuit is believed as [`crate::belief`] has it. Everything is in whole civil days of the household's time zone.

mod cleaned;
mod evidence;
mod filters;
mod forecast;
mod growth;
mod known;
mod lessons;
mod light;
mod look;
mod odds;
mod passed;
mod recall;
mod walk;
mod working;

pub use cleaned::{Cleaned, Evidence, FailedResult, KnownLeaves, TOLD_CLEAN, Wetted};
pub use forecast::{
    Chalk, Due, DueBy, Forecast, HYGIENE_DAYS, Lesson, LookAt, Point, Sharpen, ToldIn, Urgency,
    WorthALook,
};
pub use growth::{Growth, SteadyPace, pace};
pub use known::{Known, Start, USE_SIGMA};

pub use recall::Recall;
pub use walk::Logged;

#[cfg(test)]
mod tests;
