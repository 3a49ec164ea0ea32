use super::*;

const TANK: Prior = Prior {
    limit_mg: 569.1,
    plating: 0.15,
    sigma_plating: 0.5,
    sigma_use: 0.15,
    sigma_water: 0.34,
    start: Left::NOTHING,
};
/// Potential that takes it to its limit.
const LIMIT: f64 = 3794.0;

#[test]
fn what_would_sharpen_most_half_way_to_the_first_limit() {
    let belief = Belief::from(TANK, &[], LIMIT / 2.0);
    let all = belief.would_sharpen(Some(0.12));
    let of = |what: Sharper| all.iter().find(|(w, _)| *w == what).unwrap().1;
    for (what, share) in [
        (Sharper::CupWhenDue, 0.82),
        (Sharper::BathWhenDue, 0.84),
        (Sharper::WaterReport, 0.86),
        (Sharper::FirstSign, 0.88),
        (Sharper::CupToday, 0.91),
    ] {
        assert!((of(what) - share).abs() < 0.015, "{what:?} {}", of(what));
    }
    assert_eq!(all[0].0, Sharper::CupWhenDue);
}
