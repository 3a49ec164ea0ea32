//! Volumes and hardness: one base unit inside (mL, mg/L as CaCO3), a household's own units and words at the edges.
//!
//! What a person types is read here, and every amount a person sees is worded here, so that nothing else converts.

mod amount;
mod hardness;
mod measure;
mod read;
mod tools;

pub use amount::Amount;
pub use hardness::{HardnessRead, HardnessUnit, hardness, read_hardness};
pub use measure::{CUP_ML, FL_OZ_ML, Measure, TABLESPOON_ML, Units, trim};
pub use read::parse_volume;
pub use tools::{Marks, Sizes, Tool};

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn amounts_are_worded_for_the_tool_at_hand() {
        let carafe = Marks::of(
            Tool::CarafeMarks,
            Sizes {
                carafe_mark: Some(147.87),
                ..Sizes::default()
            },
        )
        .unwrap();
        assert_eq!(carafe.measure(5.0 * 147.87).text, "5 carafe marks");
        let cups = Marks::of(Tool::Cups, Sizes::default()).unwrap();
        assert_eq!(cups.measure(2.25 * CUP_ML).text, "2¼ cups");
        assert_eq!(cups.measure(0.5 * CUP_ML).text, "½ cup");
        assert_eq!(
            Marks::of(
                Tool::Bottle,
                Sizes {
                    bottle: Some(473.0),
                    ..Sizes::default()
                },
            )
            .unwrap()
            .measure(473.0)
            .text,
            "1 bottle"
        );
        assert_eq!(Units::Metric.volume(1400.0), "1.4 L");
        assert_eq!(Units::Us.volume(355.0), "12 fl oz");
        assert_eq!(Units::Us.volume(4.0 * CUP_ML), "4 cups");
    }

    proptest! {
        #[test]
        fn hardness_survives_a_round_trip_through_every_unit(mg in 0.0..2900.0f64, unit in 0usize..7) {
            let unit = HardnessUnit::ALL[unit];
            let back = hardness("h", mg / unit.mg_per_l(), unit).unwrap();
            prop_assert!((back - mg).abs() <= 1e-9 * mg.max(1.0));
        }

        #[test]
        fn rounding_down_to_marks_never_exceeds(ml in 1.0..5000.0f64, tool in 0usize..3) {
            let marks = Marks::of([Tool::Cups, Tool::FlOz, Tool::Ml][tool], Sizes::default()).unwrap();
            prop_assert!(marks.floor(ml) <= ml * 1.000_01 + 1e-3);
        }
    }
}
