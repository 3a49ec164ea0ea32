//! Finding where a rising function crosses zero, for the chemistry that has no closed form.

/// Relative width at which the search stops: far below any tolerance of the published constants.
const CLOSE: f64 = 1e-10;

/// The zero of `f` between `low` and `high`, where `f` is negative before it and positive after it.
///
/// Brent's method: as sure as bisection and a tenth of its evaluations, which is what lets a plan with several baths
/// be recomputed while somebody drags a control. If `f` keeps one sign the nearer end is returned.
pub fn rising(mut f: impl FnMut(f64) -> f64, low: f64, high: f64) -> f64 {
    let (mut a, mut b) = (low, high);
    let (mut fa, mut fb) = (f(a), f(b));
    if fa >= 0.0 {
        return a;
    }
    if fb <= 0.0 {
        return b;
    }
    let (mut c, mut fc) = (a, fa);
    let mut step = b - a;
    let mut before = step;
    for _ in 0..100 {
        if fb * fc > 0.0 {
            (c, fc) = (a, fa);
            step = b - a;
            before = step;
        }
        if fc.abs() < fb.abs() {
            (a, fa) = (b, fb);
            (b, fb) = (c, fc);
            (c, fc) = (a, fa);
        }
        let tolerance = CLOSE * b.abs() + f64::MIN_POSITIVE;
        let middle = 0.5 * (c - b);
        if middle.abs() <= tolerance || fb == 0.0 {
            break;
        }
        if before.abs() >= tolerance && fa.abs() > fb.abs() {
            let s = fb / fa;
            let (mut p, mut q) = if a == c {
                (2.0 * middle * s, 1.0 - s)
            } else {
                let (q, r) = (fa / fc, fb / fc);
                (
                    s * (2.0 * middle * q * (q - r) - (b - a) * (r - 1.0)),
                    (q - 1.0) * (r - 1.0) * (s - 1.0),
                )
            };
            if p > 0.0 {
                q = -q;
            }
            p = p.abs();
            let safe = (3.0 * middle * q - (tolerance * q).abs()).min((before * q).abs());
            if 2.0 * p < safe {
                before = step;
                step = p / q;
            } else {
                step = middle;
                before = middle;
            }
        } else {
            step = middle;
            before = middle;
        }
        (a, fa) = (b, fb);
        b += if step.abs() > tolerance {
            step
        } else {
            tolerance.copysign(middle)
        };
        fb = f(b);
    }
    b
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn finds_the_crossing_of_smooth_and_steep_functions() {
        assert!((rising(|x| x * x * x - 2.0, 0.0, 4.0) - 2f64.cbrt()).abs() < 1e-9);
        assert!((rising(|x| (x - 0.3).tanh() * 1e6, -50.0, 50.0) - 0.3).abs() < 1e-9);
        assert!((rising(|x| if x < 1.0 { -1.0 } else { 1e9 }, 0.0, 7.0) - 1.0).abs() < 1e-9);
    }

    #[test]
    fn answers_with_the_end_when_there_is_no_crossing() {
        assert_eq!(rising(|x| x + 1.0, 0.0, 4.0), 0.0);
        assert_eq!(rising(|x| x - 9.0, 0.0, 4.0), 4.0);
    }
}
