//! Shapes of requests and answers: brewers, cleans, the log, the cupboard.

use crate::api::rounds::*;
use jiff::Timestamp;
use jiff::civil::Date;
use murlo_base::units::Tool;
use murlo_brewer::bath::Agent;
use murlo_brewer::home::Home;
use murlo_brewer::journal::Entry;
use murlo_brewer::metered::MeteredBrew;
use murlo_brewer::panel::{Panel, TaughtPart};
use murlo_brewer::report::Report;
use murlo_brewer::trouble::{Diagnosis, SignsSeen};
use murlo_brewer::water::{Portrait, RulerClass, RulerScale, Through, Water};
use murlo_brewer::{BrewerDraft, Family, Needle, NeedleDraft, ReaderWindow, Signal};
use murlo_chalk::money::YearSum;
use murlo_chemistry::acid::Acid;
use murlo_clean::{Act, Ahead, Outcome, State, Timer};
use murlo_household::counter::BrewerCard;
use murlo_household::counter::course::ChalkCourse;
use murlo_household::counter::weeks::ComingWeek;
use murlo_household::first::{Answers, Look};
use murlo_household::history::{YearLine, YearOfLog};
use murlo_household::stock::{Moved, Shown, SupplyKind};
use murlo_household::what_if::Interval;
use murlo_household::{LearnedHere, PhotoBrief, Settings, ToldBath, WayShown};
use murlo_plan::figures::Figure;
use murlo_plan::pace::PaceLine;
use murlo_plan::practice::{Pressed, Setup};
use murlo_plan::{BegunAlready, ButtonsHere, Plan, PlanOptions, Purchase};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// The Counter.
#[derive(Serialize, ToSchema)]
pub struct CounterView {
    /// The household's day.
    pub today: Date,
    /// The server's time, against which timers count.
    pub now: Timestamp,
    /// Brewers, most urgent first.
    pub brewers: Vec<BrewerCard>,
    /// What is in the machines of cleans that are running or stopped.
    pub inside: Vec<InsideView>,
    /// Visits that run, and those planned for today.
    pub visits: Vec<VisitBrief>,
    /// What falls due in the coming weeks.
    pub weeks: Vec<ComingWeek>,
}

/// What is in the machine of a clean that has not ended.
#[derive(Serialize, ToSchema)]
pub struct InsideView {
    /// The clean.
    pub clean_id: String,
    /// "ACID INSIDE. Do not brew. Unplugged."
    pub text: String,
    /// Whether it was stopped for now.
    pub paused: bool,
    /// Its brewer.
    pub nickname: String,
    /// What it is at: "Soak".
    pub title: Option<String>,
    /// Its timer, once started.
    pub timer: Option<Timer>,
}

/// What forms choose from.
#[derive(Serialize, ToSchema)]
pub struct HouseholdView {
    /// Settings.
    pub settings: Settings,
    /// The household's day.
    pub today: Date,
    /// Homes.
    pub homes: Vec<Home>,
    /// Waters with their class.
    pub waters: Vec<WaterView>,
    /// Agents.
    pub agents: Vec<Agent>,
    /// What it measures with.
    pub tools: Vec<Tool>,
    /// Whether nobody has told anything yet.
    pub empty: bool,
    /// What it has shown of its own pace.
    pub pace: Vec<PaceLine>,
    /// The copies that are made by themselves; none of a household that is not kept in a file.
    pub backups: Option<BackupsView>,
}

/// The copies beside the household.
#[derive(Serialize, ToSchema)]
pub struct BackupsView {
    /// "The newest was made today; 9 are kept."
    pub text: String,
    /// Where they are, on the machine that serves.
    pub folder: String,
    /// Whether the newest is so old that something stands in the way.
    pub is_stale: bool,
}

/// A water in words.
#[derive(Serialize, ToSchema)]
pub struct WaterView {
    /// The water.
    pub water: Water,
    /// "about 320 mg/L, very hard, from a strip".
    pub text: String,
    /// Its hardness on the ruler and in parts; absent when a blend lost a part.
    pub portrait: Option<Portrait>,
}

/// A home as typed.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct HomeDraft {
    /// Its name.
    pub name: String,
}

/// A family with its starting figures.
#[derive(Serialize, ToSchema)]
pub struct FamilyView {
    /// The family.
    pub family: Family,
    /// Its name.
    pub label: String,
    /// The form, filled with starting figures.
    pub draft: BrewerDraft,
    /// The needles such brewers usually have.
    pub needles: Vec<NeedleDraft>,
    /// Whether they are cleaned press by press.
    pub is_pressed: bool,
    /// Whether a service disc belongs to them.
    pub has_disc: bool,
    /// Whether an adapter for pods belongs to them.
    pub has_adapter: bool,
}

/// One thing that can be chosen.
#[derive(Serialize, ToSchema)]
pub struct Choosable<T> {
    /// Its name in data.
    pub id: T,
    /// What it is for people.
    pub words: String,
}

/// A kind of thing for the cupboard.
#[derive(Serialize, ToSchema)]
pub struct SupplyChoice {
    /// The kind.
    pub id: SupplyKind,
    /// What it is for people.
    pub words: String,
    /// What one of it is called until somebody names it.
    pub usual_name: String,
}

/// What there is to choose from where something is typed.
#[derive(Serialize, ToSchema)]
pub struct ChoicesView {
    /// Forms of agents.
    pub forms: Vec<Choosable<String>>,
    /// Acids they are made of.
    pub acids: Vec<Choosable<Acid>>,
    /// Kinds of things for the cupboard.
    pub supplies: Vec<SupplyChoice>,
    /// What water goes through before it is filled in.
    pub throughs: Vec<Choosable<Through>>,
    /// Ways in which a reader window lies.
    pub readers: Vec<Choosable<ReaderWindow>>,
}

/// One brewer.
#[derive(Serialize, ToSchema)]
pub struct BrewerView {
    /// The household's day.
    pub today: Date,
    /// Its card.
    pub card: BrewerCard,
    /// Its form, to edit.
    pub draft: BrewerDraft,
    /// Its figures, with where each is from.
    pub figures: Vec<Figure>,
    /// Its needles.
    pub needles: Vec<Needle>,
    /// What was done to it.
    pub log: Vec<LogLine>,
    /// Chalk over time, for each circuit of the card.
    pub courses: Vec<ChalkCourse>,
    /// How often it asks for a clean as things are.
    pub interval: Interval,
    /// What was written down about it, latest first.
    pub journal: Vec<JournalLine>,
    /// What it has taught, each with where that is from.
    pub learned: Vec<LearnedHere>,
    /// Photos of its guide and labels, the oldest first.
    pub photos: Vec<PhotoBrief>,
    /// Ways of cleaning it that are kept, by name.
    pub ways: Vec<WayShown>,
}

/// An entry in words.
#[derive(Serialize, ToSchema)]
pub struct JournalLine {
    /// The entry.
    pub entry: Entry,
    /// "3 cups on 23 Nov".
    pub text: String,
    /// Whether something counted it, all of that day together; else somebody wrote it down.
    pub is_counted: bool,
}

/// Cups of many days, or brews one by one: one of them.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CountsDraft {
    /// One line per day: "2026-11-23,3".
    #[serde(default)]
    pub csv: Option<String>,
    /// Brews as something saw them.
    #[serde(default)]
    pub brews: Option<Vec<MeteredBrew>>,
}

/// What was brought in.
#[derive(Serialize, ToSchema)]
pub struct CountsTaken {
    /// Days taken in.
    pub days: usize,
}

/// What was seen of a brewer in trouble.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TroubleDraft {
    /// The brewer, if it is one of the household's.
    #[serde(default)]
    pub brewer_id: Option<String>,
    /// Sign or danger to whether it is there; what is left out is not known.
    #[serde(default)]
    pub signs: SignsSeen,
    /// The sign that somebody came with, which is hardly ever a slip.
    #[serde(default)]
    pub opening: Option<String>,
}

/// What can be looked for.
#[derive(Serialize, ToSchema)]
pub struct SignView {
    /// Name in data.
    pub id: &'static str,
    /// As a question, or as words for a danger.
    pub question: &'static str,
    /// How to find out.
    pub how: &'static str,
}

/// Likely causes, and what else can be looked for.
#[derive(Serialize, ToSchema)]
pub struct TroubleView {
    /// Causes and the next test.
    pub diagnosis: Diagnosis,
    /// Every sign that makes sense for this brewer.
    pub signs: Vec<SignView>,
    /// Signs that end all cleaning.
    pub dangers: Vec<SignView>,
}

/// Every water, and what it means for every brewer.
#[derive(Serialize, ToSchema)]
pub struct WatersView {
    /// The classes of the hardness ruler.
    pub ruler: Vec<RulerClass>,
    /// Its scales, one for each unit.
    pub scales: Vec<RulerScale>,
    /// The waters, by name.
    pub waters: Vec<WaterView>,
    /// Water reports to look up.
    pub reports: Vec<Report>,
    /// The brewers, by nickname.
    pub brewers: Vec<WithEachWater>,
}

/// One brewer with each water.
#[derive(Serialize, ToSchema)]
pub struct WithEachWater {
    /// The brewer.
    pub brewer_id: String,
    /// Its nickname.
    pub nickname: String,
    /// The water it is filled with now.
    pub water_id: String,
    /// How often it would ask for a clean, in the order of the waters; empty for a blend that lost a part.
    pub intervals: Vec<Option<Interval>>,
}

/// Starts a clean.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct StartClean {
    /// Made by the device.
    pub id: String,
    /// What was chosen.
    #[serde(default)]
    pub options: PlanOptions,
    /// The journal entry of the trouble that led to it.
    #[serde(default)]
    pub trouble: Option<String>,
    /// What has happened already, where somebody began before asking.
    #[serde(default)]
    pub begun: Option<BegunAlready>,
}

/// Signs to be written down with the cause they point to.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TroubleNote {
    /// Made by the device, so that sending twice is harmless.
    pub id: String,
    /// Sign to whether it is there.
    pub signs: SignsSeen,
    /// The sign that somebody came with.
    #[serde(default)]
    pub opening: Option<String>,
}

/// Practice on a made-up brewer.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PracticeDraft {
    /// What is practised on, and how.
    pub setup: Setup,
    /// A brewer of the household that it is to be like.
    #[serde(default)]
    pub brewer_id: Option<String>,
    /// Everything done so far, in order.
    pub pressed: Vec<Pressed>,
    /// Minutes since the start.
    pub now_min: f64,
}

/// An act as a device sends it.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SentEvent {
    /// Made by the device, so that sending twice is harmless.
    pub id: String,
    /// When it happened, by the device's clock.
    pub device_at: Option<Timestamp>,
    /// When it was sent, by the same clock: how long it waited for the line.
    #[serde(default)]
    pub sent_at: Option<Timestamp>,
    /// How many acts of this clean the device knew of when it was done, its own that waited among them; so that two devices do
    /// not count one mug twice.
    #[serde(default)]
    pub seen: Option<usize>,
    /// What was done.
    pub act: Act,
}

/// A clean.
#[derive(Serialize, ToSchema)]
pub struct CleanView {
    /// Identity.
    pub id: String,
    /// The frozen plan, with everything that was added to it.
    pub plan: Plan,
    /// Acts so far, those that were taken back among them.
    pub events: usize,
    /// Where it stands.
    pub state: State,
    /// The server's time, against which timers count.
    pub now: Timestamp,
    /// The tints a glass can be called by, clear first.
    pub tints: [&'static str; 6],
    /// What this side must leave alone now, because the other side of the machine is running on it.
    pub leave_alone: Option<String>,
    /// The buttons of the step, as they are taught by now; absent where it takes none.
    pub buttons: Option<ButtonsHere>,
}

/// Buttons and lamps of one side as somebody teaches them.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TaughtButtons {
    /// Where they are.
    pub panel: Panel,
    /// What is done with them, for each purpose.
    pub taught: Vec<TaughtPart>,
    /// What its lamps and beeps mean.
    pub signals: Vec<Signal>,
}

/// A line of the log.
#[derive(Serialize, ToSchema)]
pub struct LogLine {
    /// The clean; absent when it was told afterwards.
    pub clean_id: Option<String>,
    /// The past clean, when told afterwards.
    pub past_id: Option<String>,
    /// The brewer.
    pub brewer_id: String,
    /// Its nickname.
    pub nickname: String,
    /// The day.
    pub day: Date,
    /// "23 Nov".
    pub day_text: String,
    /// What was done.
    pub text: String,
    /// "about 48 min at the brewer", for a guided clean.
    pub in_short: Option<String>,
    /// What it came to, for a guided clean.
    pub outcome: Option<Outcome>,
    /// Who ended it, where that is known.
    pub by: Option<String>,
}

/// The log, as far as it was asked for.
#[derive(Serialize, ToSchema)]
pub struct LogView {
    /// Latest first.
    pub lines: Vec<LogLine>,
    /// How many more there are.
    pub more: usize,
    /// What each year held, latest first.
    pub years: Vec<YearOfLog>,
    /// The year that was chosen, else the latest, on one line.
    pub line: Option<YearLine>,
}

/// A clean told afterwards.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PastCleanDraft {
    /// The day.
    pub day: Date,
    /// What was done.
    pub note: String,
    /// Its baths, where somebody remembers them.
    #[serde(default)]
    pub bath: Option<ToldBath>,
}

/// What is asked in the first minute.
#[derive(Serialize, ToSchema)]
pub struct FirstQuestions {
    /// Kinds of brewers, as they are offered.
    pub families: Vec<FamilyChoice>,
    /// For somebody who cannot tell by the pictures: the first that is seen decides.
    pub looks: Vec<Look>,
    /// The household's waters.
    pub waters: Vec<WaterView>,
    /// What may be in the house.
    pub agents: Vec<AgentChoice>,
    /// Where it may stand.
    pub homes: Vec<Home>,
}

/// A kind of brewer to choose.
#[derive(Serialize, ToSchema)]
pub struct FamilyChoice {
    /// The kind.
    pub family: Family,
    /// Its name.
    pub label: &'static str,
    /// "a carafe and a basket of grounds".
    pub told_by: &'static str,
    /// Whether a carafe stands in it.
    pub has_carafe: bool,
    /// Whether it has a pod side beside its carafe.
    pub has_pod_side: bool,
}

/// An agent to choose.
#[derive(Serialize, ToSchema)]
pub struct AgentChoice {
    /// The agent.
    pub id: String,
    /// Its name.
    pub name: String,
    /// Its strength, when it is a liquid.
    pub percent: Option<f64>,
    /// Where its kind is usually sold.
    pub sold_at: &'static str,
}

/// What answers come to.
#[derive(Serialize, ToSchema)]
pub struct FirstView {
    /// The brewer as it would stand on the Counter.
    pub card: BrewerCard,
    /// The clean that is recommended.
    pub plan: Plan,
    /// Why.
    pub because: String,
    /// What could be bought for it, where nothing is in the house.
    pub buy: Vec<Purchase>,
}

/// Answers to be kept.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct FirstAnswers {
    /// The answers.
    pub answers: Answers,
    /// Made by the device.
    pub brewer_id: String,
    /// Made by the device, for a water that is new.
    pub water_id: String,
    /// A clean to start at once.
    #[serde(default)]
    pub clean: Option<StartClean>,
}

/// What was kept.
#[derive(Serialize, ToSchema)]
pub struct FirstBrewer {
    /// The brewer.
    pub brewer_id: String,
    /// Its clean, where one was started.
    pub clean_id: Option<String>,
}

/// The planned way ahead of a clean.
#[derive(Serialize, ToSchema)]
pub struct AheadView {
    /// Acts after which it begins.
    pub events: usize,
    /// Each next act with where it leads.
    pub way: Vec<Ahead>,
}

/// Days on which nobody is at a home.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct AwayDraft {
    /// Made by the device, so that sending twice is harmless.
    pub id: String,
    /// The first day.
    pub from: Date,
    /// The last day.
    pub until: Date,
}

/// What is in the cupboard.
#[derive(Serialize, ToSchema)]
pub struct CupboardView {
    /// Everything in it, what runs short first.
    pub things: Vec<Shown>,
    /// What to buy, a line each, as one takes it along.
    pub list: Vec<String>,
    /// What cleaning came to, the latest year first.
    pub years: Vec<YearSum>,
    /// The household's day.
    pub today: Date,
}

/// What happened to a level, as sent.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct MovementDraft {
    /// Made by the device, so that sending twice is harmless.
    pub id: String,
    /// The agent or supply.
    pub item_id: String,
    /// What happened.
    pub what: Moved,
}
