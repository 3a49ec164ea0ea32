//! Shapes of requests and answers that are not the core's own.

mod away;
mod devices;
mod over_days;
mod rounds;
mod shapes;
mod ways;

pub use away::{EraseLook, ErasedView, PutAway, PutAwayKind};
pub use devices::{
    DeviceDraft, DeviceView, DevicesView, Invite, InviteKind, Invited, LookView, LookedAt,
    LookedDone, Pairing, WayIn,
};
pub use over_days::{MovedParts, SpreadClean, SpreadPart, SpreadView};
pub use rounds::*;
pub use shapes::{
    AgentChoice, AheadView, AwayDraft, BackupsView, BrewerView, ChoicesView, Choosable, CleanView,
    CounterView, CountsDraft, CountsTaken, CupboardView, FamilyChoice, FamilyView, FirstAnswers,
    FirstBrewer, FirstQuestions, FirstView, HomeDraft, HouseholdView, InsideView, JournalLine,
    LogLine, LogView, MovementDraft, PastCleanDraft, PracticeDraft, SentEvent, SignView,
    StartClean, SupplyChoice, TaughtButtons, TroubleDraft, TroubleNote, TroubleView, WaterView,
    WatersView, WithEachWater,
};
pub use ways::{ChangedWay, NewWay, WayFrom};
