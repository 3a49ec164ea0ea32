//! Shapes of requests and answers about devices.

use jiff::civil::Date;
use murlo_household::devices::DeviceKind;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// The devices of the household.
#[derive(Serialize, ToSchema)]
pub struct DevicesView {
    /// Whether devices have to sign in at all; else everything here is for later.
    pub guarded: bool,
    /// The last seen first.
    pub devices: Vec<DeviceView>,
    /// Everybody whose they are.
    pub people: Vec<String>,
}

/// One device.
#[derive(Serialize, ToSchema)]
pub struct DeviceView {
    /// Identity.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// Whose it is.
    pub person: Option<String>,
    /// What it may do.
    pub kind: DeviceKind,
    /// The same in words: "Looks at Pier cottage, until 31 Dec".
    pub may: String,
    /// "today 10:30", "12 Nov".
    pub seen: String,
    /// Whether it is the one that asks.
    pub is_this: bool,
}

/// What a device is to be called.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct DeviceDraft {
    /// "Phone in the hall".
    pub name: String,
    /// Whose it is.
    #[serde(default)]
    pub person: Option<String>,
}

/// What is to be let in.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Invite {
    /// What it may do.
    pub may: InviteKind,
    /// For a look: the home.
    #[serde(default)]
    pub home_id: Option<String>,
    /// For a look: the last day on which it may.
    #[serde(default)]
    pub until: Option<Date>,
    /// For a thing that counts: the brewer.
    #[serde(default)]
    pub brewer_id: Option<String>,
    /// For a look: who gets it.
    #[serde(default)]
    pub person: Option<String>,
}

/// What somebody who is let in may do.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum InviteKind {
    /// Everything.
    Full,
    /// Plan, do and log.
    Helper,
    /// Look at one home.
    Look,
    /// Tell how much one brewer brewed.
    Counts,
}

/// How it comes in.
#[derive(Serialize, ToSchema)]
pub struct Invited {
    /// To be typed where nothing can be scanned; absent for a look, which comes in by its address alone.
    pub code: Option<String>,
    /// How long it holds from now on, seconds; absent where it holds until it is cut off.
    pub holds_s: Option<i64>,
    /// For a thing that counts: a command that tells of one brew now.
    pub command: Option<String>,
    /// Addresses to open, the best first.
    pub ways: Vec<WayIn>,
}

/// An address to open.
#[derive(Serialize, ToSchema)]
pub struct WayIn {
    /// The address.
    pub address: String,
    /// The same as a picture of squares, as SVG.
    pub picture: String,
}

/// A device that comes in.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Pairing {
    /// The code that was scanned or typed.
    pub code: String,
    /// What the device is called.
    pub name: String,
    /// Whose it is.
    #[serde(default)]
    pub person: Option<String>,
}

/// What somebody who only looks sees of a home.
#[derive(Serialize, ToSchema)]
pub struct LookView {
    /// The home.
    pub home: String,
    /// The household's day.
    pub today: Date,
    /// "until 31 Dec".
    pub until: String,
    /// Its brewers.
    pub brewers: Vec<LookedAt>,
}

/// One brewer of it.
#[derive(Serialize, ToSchema)]
pub struct LookedAt {
    /// What it is called.
    pub nickname: String,
    /// What is in it, where nobody may drink from it.
    pub inside: Option<String>,
    /// "Next about 12 Dec", a line for each side.
    pub next: Vec<String>,
    /// What was done, the latest first: the day, and what.
    pub done: Vec<LookedDone>,
}

/// Something that was done.
#[derive(Serialize, ToSchema)]
pub struct LookedDone {
    /// "12 Nov".
    pub day: String,
    /// "Descaled: vinegar".
    pub what: String,
    /// Who did it, where that is known.
    pub by: Option<String>,
}
