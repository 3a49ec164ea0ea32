//! Shapes of the round of homes.

use jiff::Timestamp;
use jiff::civil::{Date, Time};
use murlo_brewer::home::Home;
use murlo_household::rounds::{
    Bill, Card, Hours, KitLine, Lanes, Order, Ordered, Outlook, Proposed, RoomStop, Spent,
    ThisWeek, Visit, VisitStage, VisitWhat,
};
use murlo_household::{Letter, PhotoBrief};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// The weeks ahead.
#[derive(Serialize, ToSchema)]
pub struct RoundView {
    /// The household's day.
    pub today: Date,
    /// Homes.
    pub lanes: Lanes,
    /// Visits that are planned or run, the next one first, and after them the last ones that are over.
    pub visits: Vec<VisitBrief>,
    /// What was moved to another day and stands in no visit yet.
    pub moved: Vec<MovedView>,
    /// Where a calendar may read, from the address of this household on; absent while nobody asked for it.
    pub feed: Option<String>,
}

/// Something that was moved to another day.
#[derive(Serialize, ToSchema)]
pub struct MovedView {
    /// "Kiln drip, descale", "Bath".
    pub name: String,
    /// The home's id.
    pub home_id: String,
    /// Its name.
    pub home: String,
    /// The day.
    pub day: Date,
}

/// A visit in short.
#[derive(Serialize, ToSchema)]
pub struct VisitBrief {
    /// Identity.
    pub id: String,
    /// The day.
    pub day: Date,
    /// When it begins.
    #[schema(value_type = String)]
    pub from: Time,
    /// "Lamp keeper's cottage, Own kitchen".
    pub homes: String,
    /// "3 brewers, 2 rooms".
    pub text: String,
    /// Where it stands.
    pub stage: VisitStage,
}

/// What one asks when planning a visit.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct VisitWish {
    /// Homes.
    pub homes: Vec<String>,
    /// The day.
    pub day: Date,
    /// The visit that is planned anew, where it is kept already.
    #[serde(default)]
    pub visit_id: Option<String>,
}

/// A week of visits, with what is carried and bought for all of them.
#[derive(Serialize, ToSchema)]
pub struct WeekView {
    /// Days, homes, visits.
    #[serde(flatten)]
    pub week: ThisWeek,
    /// What to carry.
    pub kit: Vec<KitLine>,
    /// What to buy first.
    pub shopping: Vec<String>,
    /// Whether any home has a rhythm.
    pub has_rhythm: bool,
}

/// A draft that is confirmed.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ConfirmedDraft {
    /// Of the visit it becomes; made by the device.
    pub id: String,
    /// The home.
    pub home_id: String,
    /// The day of its rhythm.
    pub rhythm_day: Date,
}

/// The visit that a draft became.
#[derive(Serialize, ToSchema)]
pub struct ConfirmedView {
    /// Its id.
    pub id: String,
}

/// When a home paid for a visit.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Payment {
    /// The home.
    pub home_id: String,
    /// The day; absent where it has not paid after all.
    #[serde(default)]
    pub on: Option<Date>,
}

/// A draft that is moved or left out.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct MovedDraft {
    /// The home.
    pub home_id: String,
    /// The day of its rhythm.
    pub rhythm_day: Date,
    /// When one comes instead; absent where one does not come at all.
    #[serde(default)]
    pub to: Option<Date>,
}

/// Another day for a visit.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct OtherDay {
    /// The day.
    pub day: Date,
}

/// What a visit could do.
#[derive(Serialize, ToSchema)]
pub struct ProposalView {
    /// About when one comes again.
    pub next: Date,
    /// What to do, the most needed first.
    pub stops: Vec<Proposed>,
    /// The homes' rooms.
    pub rooms: Vec<RoomStop>,
    /// What stands against the day: away, guests.
    pub minds: Vec<String>,
    /// The hours that guests leave.
    pub hours: Hours,
}

/// What a planned visit comes to.
#[derive(Serialize, ToSchema)]
pub struct OutlookView {
    /// Everything that is part of it.
    pub stops: Vec<StopView>,
    /// Both orders, and what each part adds.
    #[serde(flatten)]
    pub outlook: Outlook,
    /// What to carry.
    pub kit: Vec<KitLine>,
    /// Homes in it, with how one gets in.
    pub homes: Vec<Home>,
    /// What stands against it.
    pub minds: Vec<String>,
}

/// A timer of a clean that runs in a visit.
#[derive(Serialize, ToSchema)]
pub struct VisitTimer {
    /// The clean.
    pub clean_id: String,
    /// The brewer.
    pub name: String,
    /// The step.
    pub title: String,
    /// When it ends.
    pub ends_at: Timestamp,
}

/// A brewer with a bath inside, or not rinsed.
#[derive(Serialize, ToSchema)]
pub struct UnrinsedView {
    /// The stop.
    pub id: String,
    /// Its clean.
    pub clean_id: String,
    /// Its name.
    pub name: String,
    /// Whether a bath is inside.
    pub is_bath: bool,
    /// "Kiln drip still has a bath inside: rinse it out first, about 12 min".
    pub text: String,
    /// "12 min", to rinse it out and put it back.
    pub takes: String,
}

/// A visit that runs.
#[derive(Serialize, ToSchema)]
pub struct RunView {
    /// When this was worked out.
    pub now: Timestamp,
    /// The same by the household's clock, in whole minutes.
    #[schema(value_type = String)]
    pub clock: Time,
    /// When it began.
    pub started_at: Timestamp,
    /// What is left, in order.
    pub left: Ordered,
    /// What runs by the clock.
    pub timers: Vec<VisitTimer>,
    /// When one must be out again, as it was planned or changed on the way.
    #[schema(value_type = Option<String>)]
    pub until: Option<Time>,
    /// Which order is followed.
    pub order: Order,
    /// The home where one is; absent before anything was done.
    pub place: Option<String>,
    /// "Begun 25 min late"; absent while it keeps to what it was.
    pub pace: Option<String>,
    /// Brewers that are not to be left: a bath is inside, or they are not rinsed.
    pub inside: Vec<UnrinsedView>,
    /// Whether all is done.
    pub is_done: bool,
}

/// What a visit took and is worth.
#[derive(Serialize, ToSchema)]
pub struct WorthView {
    /// What it took.
    pub spent: Spent,
    /// The same in words.
    pub text: String,
    /// What is suggested, or was kept.
    pub bill: Bill,
    /// Its sum.
    pub total: f64,
    /// "$36.20".
    pub total_text: String,
    /// "Work, 1 h 30 min: $30.00", one for each line.
    pub lines: Vec<String>,
    /// Written before amounts, or after them.
    pub currency: String,
}

/// What became of one stop or room.
#[derive(Serialize, ToSchema)]
pub struct StopView {
    /// The stop or room.
    pub id: String,
    /// Its name.
    pub name: String,
    /// "descale", "Drip tray and rim", "12 min".
    pub what: String,
    /// The home.
    pub home: String,
    /// Whether it is a room.
    pub is_room: bool,
    /// Its clean, once begun.
    pub clean_id: Option<String>,
    /// "not begun", "under way: acid is inside", "done", "given up".
    pub state: String,
    /// Whether it is over.
    pub is_over: bool,
    /// Whether it is left for another time.
    pub is_left: bool,
}

/// A visit with all that comes of it.
#[derive(Serialize, ToSchema)]
pub struct VisitView {
    /// Photos of what it found and left, the oldest first.
    pub photos: Vec<PhotoBrief>,
    /// As it is kept.
    pub visit: Visit,
    /// Where it stands.
    pub stage: VisitStage,
    /// Everything that is part of it.
    pub stops: Vec<StopView>,
    /// What it comes to; only while it is planned.
    pub outlook: Option<OutlookView>,
    /// What is next; only while it runs.
    pub run: Option<RunView>,
    /// What it took and is worth; from its start on.
    pub worth: Option<WorthView>,
    /// The homes in it.
    pub homes: Vec<Home>,
    /// The act that undo takes back.
    pub undo: Option<String>,
}

/// An act of a visit.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct VisitAct {
    /// Made by the device.
    pub id: String,
    /// What.
    pub what: VisitWhat,
    /// When, by the device's clock.
    #[serde(default)]
    pub device_at: Option<Timestamp>,
    /// When it was sent, by the same clock.
    #[serde(default)]
    pub sent_at: Option<Timestamp>,
}

/// A card to leave behind.
#[derive(Serialize, ToSchema)]
pub struct CardView {
    /// The card.
    pub card: Card,
    /// Where it stands.
    pub home_id: String,
    /// The same in plain words, to be sent.
    pub letter: String,
    /// Opens the brewer in Murlo; a picture of squares, as SVG.
    pub code: String,
}

/// Letters that wait or were sent.
#[derive(Serialize, ToSchema)]
pub struct OutboxView {
    /// Whether a mail server takes them; else they wait in the folder until somebody sends them.
    pub sends: bool,
    /// Where they lie on the household's machine.
    pub folder: String,
    /// Letters, the newest first.
    pub letters: Vec<LetterView>,
}

/// A letter.
#[derive(Serialize, ToSchema)]
pub struct LetterView {
    /// Identity.
    pub id: String,
    /// What it says, and to whom.
    pub letter: Letter,
    /// When it was written.
    #[schema(value_type = Option<String>)]
    pub at: Option<Timestamp>,
    /// Whether a mail server took it.
    pub is_sent: bool,
    /// Why it could not be sent.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(nullable = false)]
    pub trouble: Option<String>,
}

/// A calendar file, as text.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CalendarFile {
    /// iCalendar.
    pub calendar: String,
}

/// Where a calendar may read.
#[derive(Serialize, ToSchema)]
pub struct FeedView {
    /// From the address of this household on.
    pub path: String,
}
