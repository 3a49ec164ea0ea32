//! Colour difference of two glasses, as CIEDE2000 on 8-bit sRGB with an optional white background as neutral.

/// The source shown with every figure of this module.
pub const SOURCE: &str =
    "CIEDE2000: Sharma, Wu & Dalal 2005, Color Res. Appl. 30:21; sRGB IEC 61966-2-1, D65";

/// CIEDE2000 between two sRGB colours; `white` is the background that ought to be neutral.
///
/// # Example
/// ```
/// use murlo_chemistry::colour::delta_e;
/// assert!((delta_e([210.0, 199.0, 205.0], [150.0, 189.0, 205.0], None) - 21.6301).abs() < 0.05);
/// ```
#[must_use]
pub fn delta_e(reference: [f64; 3], sample: [f64; 3], white: Option<[f64; 3]>) -> f64 {
    ciede2000(lab(reference, white), lab(sample, white))
}

/// What a difference means for two glasses side by side: below 1 nobody sees it, below 2.3 hardly anybody.
#[must_use]
pub fn verdict(delta_e: f64) -> &'static str {
    match delta_e {
        d if d < 1.0 => "the same",
        d if d < 2.3 => "hardly different",
        d if d < 5.0 => "slightly different",
        _ => "different",
    }
}

fn linear(channel: f64) -> f64 {
    let c = channel / 255.0;
    if c <= 0.040_45 {
        c / 12.92
    } else {
        ((c + 0.055) / 1.055).powf(2.4)
    }
}

fn lab(rgb: [f64; 3], white: Option<[f64; 3]>) -> [f64; 3] {
    let mut c = rgb.map(linear);
    if let Some(white) = white {
        for (channel, neutral) in c.iter_mut().zip(white.map(linear)) {
            *channel = (*channel / neutral.max(1e-6)).min(1.0);
        }
    }
    let [r, g, b] = c;
    let xyz = [
        (0.412_456_4 * r + 0.357_576_1 * g + 0.180_437_5 * b) / 0.950_47,
        0.212_672_9 * r + 0.715_152_2 * g + 0.072_175_0 * b,
        (0.019_333_9 * r + 0.119_192_0 * g + 0.950_304_1 * b) / 1.088_83,
    ];
    let [x, y, z] = xyz.map(|t| {
        if t > 216.0 / 24_389.0 {
            t.cbrt()
        } else {
            (24_389.0 / 27.0 * t + 16.0) / 116.0
        }
    });
    [116.0 * y - 16.0, 500.0 * (x - y), 200.0 * (y - z)]
}

fn ciede2000([l1, a1, b1]: [f64; 3], [l2, a2, b2]: [f64; 3]) -> f64 {
    let pow7 = |x: f64| x.powi(7);
    let chroma = (a1.hypot(b1) + a2.hypot(b2)) / 2.0;
    let g = 0.5 * (1.0 - (pow7(chroma) / (pow7(chroma) + pow7(25.0))).sqrt());
    let (a1, a2) = (a1 * (1.0 + g), a2 * (1.0 + g));
    let (c1, c2) = (a1.hypot(b1), a2.hypot(b2));
    let hue = |a: f64, b: f64| {
        if a == 0.0 && b == 0.0 {
            0.0
        } else {
            b.atan2(a).to_degrees().rem_euclid(360.0)
        }
    };
    let (h1, h2) = (hue(a1, b1), hue(a2, b2));

    let (dl, dc) = (l2 - l1, c2 - c1);
    let grey = c1 * c2 == 0.0;
    let mut dh = if grey { 0.0 } else { h2 - h1 };
    if dh > 180.0 {
        dh -= 360.0;
    } else if dh < -180.0 {
        dh += 360.0;
    }
    let dh_big = 2.0 * (c1 * c2).sqrt() * (dh / 2.0).to_radians().sin();

    let (l, c) = ((l1 + l2) / 2.0, (c1 + c2) / 2.0);
    let h = if grey {
        h1 + h2
    } else if (h1 - h2).abs() <= 180.0 {
        (h1 + h2) / 2.0
    } else if h1 + h2 < 360.0 {
        (h1 + h2 + 360.0) / 2.0
    } else {
        (h1 + h2 - 360.0) / 2.0
    };
    let cos = |degrees: f64| degrees.to_radians().cos();
    let t = 1.0 - 0.17 * cos(h - 30.0) + 0.24 * cos(2.0 * h) + 0.32 * cos(3.0 * h + 6.0)
        - 0.20 * cos(4.0 * h - 63.0);
    let rotation = 30.0 * (-((h - 275.0) / 25.0).powi(2)).exp();
    let rc = 2.0 * (pow7(c) / (pow7(c) + pow7(25.0))).sqrt();
    let l50 = (l - 50.0).powi(2);
    let sl = 1.0 + 0.015 * l50 / (20.0 + l50).sqrt();
    let sc = 1.0 + 0.045 * c;
    let sh = 1.0 + 0.015 * c * t;
    let rt = -(2.0 * rotation).to_radians().sin() * rc;
    let (dl, dc, dh) = (dl / sl, dc / sc, dh_big / sh);
    (dl * dl + dc * dc + dh * dh + rt * dc * dh).max(0.0).sqrt()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn agrees_with_published_pairs_of_lab_colours() {
        for (one, two, expected) in [
            ([50.0, 2.6772, -79.7751], [50.0, 0.0, -82.7485], 2.0425),
            ([50.0, -1.3802, -84.2814], [50.0, 0.0, -82.7485], 1.0000),
            ([50.0, 2.49, -0.001], [50.0, -2.49, 0.0009], 7.1792),
            ([50.0, 2.5, 0.0], [58.0, 24.0, 15.0], 19.4535),
            (
                [2.0776, 0.0795, -1.1350],
                [0.9033, -0.0636, -0.5514],
                0.9082,
            ),
        ] {
            let got = ciede2000(one, two);
            assert!((got - expected).abs() < 1e-4, "{got} against {expected}");
        }
    }
}
