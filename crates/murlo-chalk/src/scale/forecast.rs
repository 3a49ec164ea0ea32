//! What is said of one circuit: its chalk, when it is due, how sure that is.

use jiff::civil::Date;
use murlo_base::text;
use murlo_base::working::Working;
use murlo_brewer::Circuit;
use murlo_chemistry::film_um;
use serde::{Deserialize, Serialize};

/// No brewer goes longer than this without a clean, scale or not: oils and standing water.
pub const HYGIENE_DAYS: i32 = 183;

/// A brewer is not cleaned more often than once a week, however fast chalk grows. Judged.
const LEAST_DAYS: f64 = 7.0;

/// Days before the due date in which a brewer is announced as due soon.
const SOON_DAYS: i32 = 14;

/// Chalk in a circuit today.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Chalk {
    /// Median, mg.
    pub mg: f64,
    /// P10, mg.
    pub low_mg: f64,
    /// P90, mg.
    pub high_mg: f64,
    /// Median thickness, µm.
    pub um: f64,
    /// Share of the budget used: 1 is the limit.
    pub used: f64,
    /// P10 of that share.
    pub used_low: f64,
    /// P90 of that share.
    pub used_high: f64,
    /// "63 % of the limit", "4 times the limit"; empty in plans frozen before it was kept.
    #[serde(default)]
    pub of_limit: String,
    /// "about 0.42 g, between 0.21 and 0.85 g".
    pub text: String,
}

/// Less than this of the limit is not worth a figure.
const HARDLY_ANY: f64 = 0.01;

impl Chalk {
    /// What a clean leaves: "about 6 % of the limit", "hardly any chalk".
    #[must_use]
    pub fn left_words(&self) -> String {
        match self.used {
            used if used < HARDLY_ANY => "hardly any chalk".to_owned(),
            used if used < text::MANY_TIMES => format!("about {}", self.of_limit),
            _ => self.of_limit.clone(),
        }
    }

    /// So much in a circuit: P10, median, P90, mg.
    #[must_use]
    pub fn of(mg: [f64; 3], circuit: &Circuit) -> Self {
        let limit = circuit.limit_mg();
        let [low_mg, mg, high_mg] = mg.map(|mg| mg.max(0.0));
        Self {
            mg,
            low_mg,
            high_mg,
            um: film_um(mg, circuit.area_cm2),
            used: mg / limit,
            used_low: low_mg / limit,
            used_high: high_mg / limit,
            of_limit: text::of_limit(mg / limit),
            text: in_grams(low_mg, mg, high_mg),
        }
    }
}

/// What rounds to less than a hundredth of a gram is not told in hundredths, mg.
const TOLD_MG: f64 = 5.0;

/// "about 0.29 g, between 0.05 and 0.76 g"; nobody is told of 0.00 g.
fn in_grams(low_mg: f64, mg: f64, high_mg: f64) -> String {
    let [low, about, high] = [low_mg, mg, high_mg].map(|mg| mg / 1000.0);
    match (low_mg < TOLD_MG, mg < TOLD_MG, high_mg < TOLD_MG) {
        (_, _, true) => "none to speak of".to_owned(),
        (_, true, false) if high_mg < 3.0 * TOLD_MG => "hardly 0.01 g".to_owned(),
        (_, true, false) => format!("less than 0.01 g, hardly more than {high:.2} g"),
        (true, false, false) => format!("about {about:.2} g, hardly more than {high:.2} g"),
        (false, false, false) => format!("about {about:.2} g, between {low:.2} and {high:.2} g"),
    }
}

/// How urgent a circuit is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Urgency {
    /// Past due for two weeks or more.
    Overdue,
    /// The due date has come.
    Due,
    /// Due within two weeks.
    Soon,
    /// Not due yet.
    Fresh,
}

impl Urgency {
    /// So many days before it is due; negative when it was.
    pub(super) const fn of(days: i32) -> Self {
        match days {
            d if d <= -SOON_DAYS => Self::Overdue,
            d if d <= 0 => Self::Due,
            d if d <= SOON_DAYS => Self::Soon,
            _ => Self::Fresh,
        }
    }
}

/// What sets the due date.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum DueBy {
    /// Chalk reaches its limit.
    Chalk,
    /// The brewer's light asked for it.
    Light,
    /// The chosen number of days has passed.
    Days,
    /// The chosen number of brews has been made.
    Brews,
    /// Half a year has passed.
    Hygiene,
}

/// When a circuit is due, with its window.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Due {
    /// The day.
    pub date: Date,
    /// One in ten circuits like this has its chalk limit by this day.
    pub earliest: Date,
    /// Nine in ten have; ten years ahead at most.
    pub latest: Date,
    /// Between which days chalk reaches its limit, as far as they can be foreseen: "between 3 and 24 Dec", "not before 3 Dec".
    pub window: Option<String>,
    /// When chalk alone would ask for it: "chalk about 12 Dec, 1 in 5 that it is due already".
    pub chalk_text: String,
    /// Days from today; negative when past.
    pub days: i32,
    /// What sets it.
    pub by: DueBy,
    /// How urgent it is.
    pub urgency: Urgency,
    /// "about 12 Dec, 1 in 5 that it is due already".
    pub text: String,
}

/// An observation that would sharpen the estimate.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Sharpen {
    /// Which, and how much surer it makes.
    pub text: String,
    /// Where it is told.
    pub told_in: ToldIn,
}

/// Something that is worth a look today, once from clean to clean.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct WorthALook {
    /// At what.
    pub at: LookAt,
    /// "Time the largest cup: it took 30 s when all was well".
    pub text: String,
    /// What it would change: "Due about 20 Dec as it stands; about 3 Jan if it is as quick as ever, about 5 Dec if a third slower".
    pub why: String,
}

/// What is looked at.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum LookAt {
    /// The seconds of a cup.
    Cup,
    /// Signs of chalk.
    Signs,
}

/// Where an observation is told.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum ToldIn {
    /// Written down about the brewer.
    Journal,
    /// In the clean itself.
    Clean,
    /// With the water.
    Water,
}

/// One circuit's estimate: chalk today, due date, the reason, and the working.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Forecast {
    /// Chalk today.
    pub chalk: Chalk,
    /// When due.
    pub due: Due,
    /// "68 L of very hard water since 2 Sep".
    pub reason: String,
    /// Litres since the last clean.
    pub litres: f64,
    /// Litres × potential since the last clean, mg.
    pub potential_mg: f64,
    /// Whether nobody knows when it was last cleaned.
    pub is_past_open: bool,
    /// True growth over reckoned growth, as far as was learned.
    pub growth: f64,
    /// Share of the limit that a day adds from now on, as a mean of the weeks ahead.
    pub used_a_day: f64,
    /// What was learned so far, in one sentence.
    pub learned: String,
    /// What would sharpen the estimate most, in one sentence; nothing where nothing would, and in a list only once it is due.
    pub sharpen: Option<Sharpen>,
    /// What is worth a look today.
    pub look: Option<WorthALook>,
    /// What its light seems to go by, in one sentence; nothing where that cannot be told.
    pub light: Option<String>,
    /// Each observation with what it changed.
    pub lessons: Vec<Lesson>,
    /// Formula, inputs, source.
    pub working: Vec<Working>,
}

impl Forecast {
    /// Days from one clean to the next, at the pace of the weeks ahead.
    #[must_use]
    pub fn between_cleans(&self) -> i32 {
        between_cleans(self.used_a_day)
    }
}

/// Days from one clean to the next where a day adds such a share of the limit: whatever the water, not more than a household goes
/// without one.
fn between_cleans(used_a_day: f64) -> i32 {
    let by_chalk = 1.0 / used_a_day.max(1e-9);
    by_chalk.clamp(LEAST_DAYS, f64::from(HYGIENE_DAYS)).round() as i32
}

/// Chalk on one day.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Point {
    /// The day.
    pub day: Date,
    /// Median, mg.
    pub mg: f64,
    /// P10, mg.
    pub low_mg: f64,
    /// P90, mg.
    pub high_mg: f64,
}

/// One lesson.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Lesson {
    /// The entry it comes from, or the name by which a clean's lesson is left out.
    pub entry_id: String,
    /// The clean it comes from, if it does.
    pub clean_id: Option<String>,
    /// The day.
    pub day: Date,
    /// What was seen and what it changed.
    pub text: String,
    /// How much faster chalk is taken to grow since, %; negative for slower.
    pub percent: f64,
    /// The day on which chalk was due as reckoned before; absent for none in years.
    pub due_before: Option<Date>,
    /// And after.
    pub due_after: Option<Date>,
    /// The entry that leaves it out, if one does.
    pub left_out_by: Option<String>,
}

#[cfg(test)]
mod tests {
    use super::{between_cleans, in_grams};

    #[test]
    fn cleans_are_a_week_to_half_a_year_apart() {
        for (used_a_day, days) in [
            (1.0, 7),
            (1.0 / 6.0, 7),
            (1.0 / 7.4, 7),
            (1.0 / 7.6, 8),
            (1.0 / 100.0, 100),
            (1.0 / 183.0, 183),
            (1.0 / 184.0, 183),
            (0.0, 183),
        ] {
            assert_eq!(between_cleans(used_a_day), days, "{used_a_day}");
        }
    }

    #[test]
    fn nobody_is_told_of_nought_grams() {
        for (mg, told) in [
            ([0.0, 1.0, 4.9], "none to speak of"),
            ([0.0, 4.9, 5.0], "hardly 0.01 g"),
            ([0.0, 4.9, 9.9], "hardly 0.01 g"),
            ([0.0, 4.9, 14.9], "hardly 0.01 g"),
            (
                [0.0, 4.9, 15.1],
                "less than 0.01 g, hardly more than 0.02 g",
            ),
            (
                [0.0, 4.0, 120.0],
                "less than 0.01 g, hardly more than 0.12 g",
            ),
            ([4.9, 45.0, 400.0], "about 0.04 g, hardly more than 0.40 g"),
            ([5.1, 45.0, 400.0], "about 0.04 g, between 0.01 and 0.40 g"),
        ] {
            let [low, median, high] = mg;
            assert_eq!(in_grams(low, median, high), told, "{mg:?}");
        }
    }
}
