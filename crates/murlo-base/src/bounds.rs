//! The range of every quantity a person may give, declared once: parsing, refusals, help texts and generated tests read it here.

use crate::problem::{Code, Problem};
use jiff::Timestamp;
use jiff::civil::{Date, date};

/// A quantity's words and range; both ends are allowed unless `above` says the lower is not.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Bound {
    /// What the number is, for a person.
    pub what: &'static str,
    /// Its unit.
    pub unit: &'static str,
    /// Smallest value.
    pub min: f64,
    /// Largest value.
    pub max: f64,
    /// The smallest value itself is refused.
    pub above: bool,
}

const fn from(what: &'static str, unit: &'static str, min: f64, max: f64) -> Bound {
    Bound {
        what,
        unit,
        min,
        max,
        above: false,
    }
}

const fn above(what: &'static str, unit: &'static str, min: f64, max: f64) -> Bound {
    Bound {
        what,
        unit,
        min,
        max,
        above: true,
    }
}

/// Total or calcium hardness. Sea water holds about 6,300; the hardest drinking waters stay well below this end.
pub const HARDNESS: Bound = from("hardness", "mg/L", 0.0, 3000.0);
/// Alkalinity as CaCO3.
pub const ALKALINITY: Bound = from("alkalinity", "mg/L", 0.0, 4500.0);
/// An ion on a label.
pub const ION: Bound = from("mineral content", "mg/L", 0.0, 6000.0);
/// Total dissolved solids.
pub const TDS: Bound = from("dissolved solids", "mg/L", 0.0, 10_000.0);
/// pH of a drinking water.
pub const PH: Bound = from("pH", "", 4.0, 11.0);
/// Temperature of water or bath; the constants are published for 0 to 100 °C.
pub const TEMPERATURE: Bound = from("temperature", "°C", 0.0, 100.0);
/// A share of a whole.
pub const SHARE: Bound = from("share", "", 0.0, 1.0);
/// A share of a whole that is not nothing.
pub const SOME: Bound = above("share", "", 0.0, 1.0);
/// A share in per cent.
pub const PER_CENT: Bound = from("share", "%", 0.0, 100.0);
/// Strength in per cent w/v.
pub const PERCENT: Bound = above("strength", "%", 0.0, 100.0);
/// Strength of an agent as bought, % w/v; what is weaker is water.
pub const AGENT_PERCENT: Bound = from("strength", "%", 0.1, 100.0);
/// pH on the label of an acid.
pub const ACID_PH: Bound = from("pH", "", 0.5, 4.5);
/// Strength in grams a litre.
pub const G_PER_L: Bound = above("strength", "g/L", 0.0, 1000.0);
/// Acid in rinse water.
pub const MG_PER_L: Bound = from("concentration", "mg/L", 0.0, 1_000_000.0);
/// A concentration that must be something.
pub const TARGET: Bound = above("concentration", "mg/L", 0.0, 1_000_000.0);
/// Scale that a litre can leave.
pub const POTENTIAL: Bound = from("scale potential", "mg/L", 0.0, 3000.0);
/// Chalk in a circuit.
pub const CHALK: Bound = from("chalk", "mg", 0.0, 1_000_000.0);
/// Litres × potential that passed.
pub const CHALK_PASSED: Bound = from("scale potential that passed", "mg", 0.0, 1e9);
/// A limit of chalk.
pub const LIMIT: Bound = above("limit of chalk", "mg", 0.0, 1_000_000.0);
/// A wetted area.
pub const AREA: Bound = above("area", "cm²", 0.0, 10_000.0);
/// Roughness of a chalk surface against a flat one.
pub const ROUGHNESS: Bound = from("roughness", "", 1.0, 4.0);
/// Litres through a brewer in a day.
pub const LITRES_A_DAY: Bound = from("use", "L a day", 0.0, 200.0);
/// Cups in a day.
pub const CUPS: Bound = from("cups a day", "", 0.0, 200.0);
/// One cup.
pub const CUP: Bound = from("cup", "mL", 20.0, 1000.0);
/// Water in a heater.
pub const HEATER: Bound = from("heater temperature", "°C", 60.0, 100.0);
/// A crust of chalk.
pub const CRUST: Bound = above("crust", "µm", 0.0, 5_000.0);
/// Share of the scale potential that sticks.
pub const STICKS: Bound = above("share that sticks", "%", 0.0, 100.0);
/// Standard deviation of a logarithm.
pub const SIGMA: Bound = above("spread (log)", "", 0.0, 5.0);
/// Any volume a person handles in one go.
pub const VOLUME: Bound = above("volume", "mL", 0.0, 100_000.0);
/// A volume that may be nothing.
pub const SPARE_VOLUME: Bound = from("volume", "mL", 0.0, 100_000.0);
/// A count of portions.
pub const COUNT: Bound = from("count", "", 0.0, 10_000.0);
/// A mark on a vessel.
pub const MARK: Bound = above("mark", "mL", 0.0, 5000.0);
/// One part of a ratio.
pub const PART: Bound = from("part", "", 0.0, 1000.0);
/// The agent's part of a ratio.
pub const AGENT_PART: Bound = above("part", "", 0.0, 1000.0);
/// One colour channel.
pub const CHANNEL: Bound = from("colour channel", "", 0.0, 255.0);
/// How often something is done.
pub const TIMES: Bound = from("number", "", 1.0, 100.0);
/// A time that must be something.
pub const SOME_MINUTES: Bound = above("time", "min", 0.0, 2880.0);
/// Standard deviation of a logarithm that may be nothing.
pub const SPREAD: Bound = from("spread (log)", "", 0.0, 5.0);
/// A share of a limit, which may be passed many times over.
pub const SHARES: Bound = from("share of the limit", "", 0.0, 1000.0);
/// A time by the healthy one.
pub const RATIO: Bound = above("ratio", "", 0.0, 1000.0);
/// Minutes of a soak or programme.
pub const MINUTES: Bound = from("time", "min", 0.0, 1440.0);
/// A bath mixed on the bench.
pub const BENCH: Bound = from("bath", "mL", 20.0, 20_000.0);
/// A brewer's reservoir.
pub const RESERVOIR: Bound = from("reservoir", "mL", 100.0, 5000.0);
/// One dispense of a brewer, or a full carafe.
pub const DISPENSE: Bound = from("dispense", "mL", 20.0, 3000.0);
/// Water that stays behind in the heater and tubes.
pub const HOLD_UP: Bound = from("hold-up", "mL", 1.0, 1500.0);
/// Water a level sensor leaves in the reservoir.
pub const DEAD_VOLUME: Bound = from("dead volume", "mL", 0.0, 500.0);
/// One mark of a carafe.
pub const CARAFE_MARK: Bound = from("carafe mark", "mL", 50.0, 300.0);
/// One line of a reservoir.
pub const RESERVOIR_LINE: Bound = from("reservoir line", "mL", 20.0, 1000.0);
/// How many marks a carafe has.
pub const CARAFE_MARKS: Bound = from("carafe marks", "", 1.0, 30.0);

/// Money, in the household's currency.
pub const PRICE: Bound = from("price", "", 0.0, 100_000.0);
/// Acid in one tablet.
pub const TABLET: Bound = from("acid in a tablet", "g", 0.01, 100.0);
/// Water for one tablet.
pub const TABLET_WATER: Bound = from("water for a tablet", "mL", 50.0, 5000.0);
/// A pack of an agent, mL or g.
pub const PACK: Bound = from("pack", "mL or g", 0.1, 100_000.0);
/// What is counted in the cupboard, mL, g or pieces.
pub const COUNTED_STOCK: Bound = from("amount", "mL, g or pieces", 0.0, 100_000.0);
/// Days between two acts that recur.
pub const EVERY_DAYS: Bound = from("days", "", 1.0, 1000.0);
/// Brews between two cleans, or fills of a filter.
pub const EVERY_BREWS: Bound = from("number", "", 1.0, 100_000.0);
/// A reading of a brew counter.
pub const COUNTER: Bound = from("counter", "", 0.0, 1_000_000.0);
/// Minutes a person has for a clean.
pub const SPARE_MINUTES: Bound = from("time", "min", 10.0, 2880.0);
/// Seconds a button is held.
pub const HOLD_SECONDS: Bound = from("time to hold", "s", 1.0, 60.0);
/// Minutes of a cleaning programme.
pub const PROGRAMME: Bound = from("programme", "min", 1.0, 240.0);
/// Seconds a cup takes.
pub const SECONDS: Bound = from("time of a cup", "s", 1.0, 1800.0);
/// Any figure of a document, whatever it stands for.
pub(crate) const FIGURE: Bound = from("figure", "", -1e9, 1e9);
/// Dispenses, rinses or fills that a plan foresees.
pub const PLANNED: Bound = from("count", "", 0.0, 2000.0);
/// Minutes of one step of a plan; a day of soaking is the longest.
pub const STEP_MINUTES: Bound = from("time of a step", "min", 0.0, 2880.0);
/// Bytes of a photo that is kept.
pub const PHOTO_BYTES: usize = 4 << 20;
/// Things counted in one step.
pub const COUNTED: Bound = from("count", "", 0.0, 99.0);
/// Streams that fall from a brewer.
pub const STREAMS: Bound = from("streams", "", 1.0, 12.0);
/// Streams that fall today; none when it is blocked.
pub const STREAMS_SEEN: Bound = from("streams", "", 0.0, 12.0);

impl Bound {
    /// `value`, when it is a number within this range.
    ///
    /// # Errors
    /// `NotANumber` for NaN and infinities, `OutOfRange` outside the range; both name `field` and the range.
    ///
    /// # Example
    /// ```
    /// use murlo_base::bounds::MINUTES;
    /// assert_eq!(MINUTES.check("soak", 15.0), Ok(15.0));
    /// let wrong = MINUTES.check("soak", 2000.0).unwrap_err();
    /// assert_eq!(wrong.field, "soak");
    /// ```
    pub fn check(&self, field: &str, value: f64) -> Result<f64, Problem> {
        if !value.is_finite() {
            return Err(Problem::new(
                Code::NotANumber,
                field,
                format!("{} must be a number {}", self.what, self.range()),
            ));
        }
        let low = if self.above {
            value <= self.min
        } else {
            value < self.min
        };
        if low || value > self.max {
            return Err(Problem::new(
                Code::OutOfRange,
                field,
                format!(
                    "{} {} is outside what is possible: give a number {}",
                    self.what,
                    plain(value, self.unit),
                    self.range()
                ),
            ));
        }
        Ok(value)
    }

    /// The range in words: "from 0 to 3000 mg/L".
    #[must_use]
    pub fn range(&self) -> String {
        let lower = if self.above { "above" } else { "from" };
        format!("{lower} {} to {}", self.min, plain(self.max, self.unit))
    }
}

/// Days that a household may speak of; a small computer without a clock of its own starts on the first of them.
const DAYS: (Date, Date) = (date(1970, 1, 1), date(2199, 12, 31));

/// Whether `given` is a day that a household may speak of.
///
/// # Errors
/// `OutOfRange` with the days that may be.
pub fn day(field: &str, given: Date) -> Result<(), Problem> {
    let (first, last) = DAYS;
    if given < first || given > last {
        let message =
            format!("{given} is outside what is possible: give a day from {first} to {last}");
        return Err(Problem::new(Code::OutOfRange, field, message));
    }
    Ok(())
}

/// Whether `given` is an instant that a household may speak of: on one of its days, in UTC.
///
/// # Errors
/// `OutOfRange` with the days that may be.
pub fn instant(field: &str, given: Timestamp) -> Result<(), Problem> {
    day(field, jiff::tz::TimeZone::UTC.to_datetime(given).date())
}

fn plain(value: f64, unit: &str) -> String {
    let number = if value.abs() < 1e9 {
        (value * 1000.0).round() / 1000.0
    } else {
        return format!("{value:e} {unit}").trim_end().to_owned();
    };
    if unit.is_empty() {
        format!("{number}")
    } else {
        format!("{number} {unit}")
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_photo_has_four_mebibytes() {
        assert_eq!(PHOTO_BYTES, 4 * 1024 * 1024);
    }
    use proptest::prelude::*;

    const ALL: [Bound; 40] = [
        HOLD_SECONDS,
        PROGRAMME,
        SECONDS,
        STREAMS,
        STREAMS_SEEN,
        HARDNESS,
        ALKALINITY,
        ION,
        TDS,
        PH,
        TEMPERATURE,
        SHARE,
        SOME,
        PERCENT,
        G_PER_L,
        MG_PER_L,
        TARGET,
        POTENTIAL,
        CHALK,
        LIMIT,
        AREA,
        ROUGHNESS,
        LITRES_A_DAY,
        CUPS,
        CUP,
        SIGMA,
        SPREAD,
        SHARES,
        RATIO,
        TIMES,
        SOME_MINUTES,
        VOLUME,
        COUNT,
        MARK,
        PART,
        MINUTES,
        RESERVOIR,
        DISPENSE,
        HOLD_UP,
        CARAFE_MARK,
    ];

    #[test]
    fn ends_are_taken_and_what_lies_beyond_is_refused_with_the_range() {
        for bound in ALL {
            assert_eq!(
                bound.check("x", bound.max).unwrap(),
                bound.max,
                "{}",
                bound.what
            );
            assert_eq!(
                bound.check("x", bound.min).is_err(),
                bound.above,
                "{}",
                bound.what
            );
            let problem = bound.check("x", bound.max * 1.01 + 1.0).unwrap_err();
            assert_eq!(problem.code, Code::OutOfRange);
            assert!(
                problem.message.contains(&bound.range()) && problem.message.starts_with(bound.what),
                "{}",
                problem.message
            );
            for odd in [f64::NAN, f64::INFINITY, f64::NEG_INFINITY] {
                assert_eq!(bound.check("x", odd).unwrap_err().code, Code::NotANumber);
            }
        }
    }

    #[test]
    fn a_refusal_names_value_unit_and_range() {
        let problem = HARDNESS.check("reading.value", 4000.0).unwrap_err();
        let expected =
            "hardness 4000 mg/L is outside what is possible: give a number from 0 to 3000 mg/L";
        assert_eq!(
            (problem.field.as_str(), problem.message.as_str()),
            ("reading.value", expected)
        );
        assert_eq!(
            PERCENT.check("p", 0.0).unwrap_err().message,
            "strength 0 % is outside what is possible: give a number above 0 to 100 %"
        );
    }

    proptest! {
        #[test]
        fn whatever_is_taken_lies_within(bound in 0usize..ALL.len(), value in -1e7..1e7f64) {
            let bound = ALL[bound];
            if let Ok(taken) = bound.check("x", value) {
                prop_assert!(taken >= bound.min && taken <= bound.max);
            }
        }
    }
}
