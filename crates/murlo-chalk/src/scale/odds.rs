//! A chance as people say it.

/// Below this nobody has to reckon with it, and beyond the rest of it hardly with anything else. Judged.
const HARDLY: f64 = 1.0 / 30.0;

/// What is said of a chance, and how often it then comes: near enough to what was reckoned, and no surer than that is known.
const SAID: [(&str, f64); 11] = [
    ("1 in 20", 0.05),
    ("1 in 10", 0.1),
    ("1 in 5", 0.2),
    ("1 in 4", 0.25),
    ("1 in 3", 1.0 / 3.0),
    ("1 in 2", 0.5),
    ("2 in 3", 2.0 / 3.0),
    ("3 in 4", 0.75),
    ("4 in 5", 0.8),
    ("9 in 10", 0.9),
    ("19 in 20", 0.95),
];

/// "1 in 5 that it is due already"; nothing where it hardly can be.
pub(super) fn due_already(chance: f64) -> Option<String> {
    let odds = |chance: f64| (chance / (1.0 - chance)).ln();
    let off = |said: f64| (odds(said) - odds(chance)).abs();
    match chance {
        _ if chance < HARDLY => None,
        _ if chance > 1.0 - HARDLY => Some("almost surely due already".to_owned()),
        _ => {
            let nearest = SAID
                .iter()
                .min_by(|one, other| off(one.1).total_cmp(&off(other.1)));
            nearest.map(|(words, _)| format!("{words} that it is due already"))
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_chance_is_said_in_round_odds_and_not_at_all_where_it_hardly_counts() {
        for (chance, said) in [
            (0.0, None),
            (HARDLY - 0.001, None),
            (HARDLY, Some("1 in 20")),
            (0.07, Some("1 in 20")),
            (0.08, Some("1 in 10")),
            (0.2, Some("1 in 5")),
            (0.23, Some("1 in 4")),
            (0.3, Some("1 in 3")),
            (0.41, Some("1 in 3")),
            (0.42, Some("1 in 2")),
            (0.5, Some("1 in 2")),
            (0.66, Some("2 in 3")),
            (0.78, Some("4 in 5")),
            (0.9, Some("9 in 10")),
            (1.0 - HARDLY, Some("19 in 20")),
        ] {
            let words = said.map(|said| format!("{said} that it is due already"));
            assert_eq!(due_already(chance), words, "{chance}");
        }
        for sure in [1.0 - HARDLY + 0.001, 1.0] {
            assert_eq!(due_already(sure).unwrap(), "almost surely due already");
        }
    }
}
