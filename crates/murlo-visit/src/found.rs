//! What a search found.

/// Orders that are tried by default; about a tenth of a second at most.
pub const NODES: usize = 100_000;

/// A stretch of a schedule, seconds.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct ScheduledStretch {
    /// Its job, or its chore.
    pub job: usize,
    /// Whether that is a chore.
    pub is_chore: bool,
    /// The segment within its job.
    pub segment: usize,
    /// Where it begins.
    pub start: i32,
    /// Where it ends.
    pub end: i32,
    /// When it must have begun for the end to hold, where somebody must be there.
    pub latest: Option<i32>,
}

/// What was found.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Found {
    /// When everything is over, seconds.
    pub end: i32,
    /// No order ends before this.
    pub bound: i32,
    /// Everything that is still done, in order of its beginning.
    pub schedule: Vec<ScheduledStretch>,
    /// Jobs and chores that are left out, by their ids.
    pub left_out: Vec<String>,
    /// 0: every greatest wait holds; 1: those that ran already do not; 2: none was asked for.
    pub lifted: u8,
}
