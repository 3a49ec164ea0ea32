//! What a water filter leaves of the scale potential, from day to day.

use super::Known;
use super::walk::{Held, number};
use murlo_brewer::Since;
use murlo_brewer::journal::What;
use murlo_brewer::water::{Chemistry, Potential};
use murlo_chemistry::carbonate::Heat;

/// The filter's share is taken to fall in this many equal steps over its life.
const FILTER_STEPS: i32 = 8;

/// Potential from day to day: waters as they changed, each thinned by what the filter still takes out.
pub(super) fn potentials(known: &Known<'_>, heat: &Heat, end: i32) -> Vec<(i32, Potential)> {
    let waters: Vec<(i32, Chemistry)> = known
        .brewer
        .waters
        .iter()
        .zip(known.waters)
        .map(|(since, water): (&Since<String>, _)| (number(since.from), *water))
        .collect();
    let start = number(known.start.day);
    let shares = filter_shares(known, start, end);
    let mut days: Vec<i32> = waters.iter().map(|(day, _)| *day).collect();
    days.extend(shares.iter().map(|(day, _)| *day));
    days.sort_unstable();
    days.dedup();
    // What ended before the start does not matter any more.
    let first = days.partition_point(|day| *day <= start).saturating_sub(1);
    let (mut water, mut share) = (Held { rest: &waters }, Held { rest: &shares });
    // Every filter declines in the same steps, so most days repeat an earlier one.
    let mut reckoned: Vec<(&Chemistry, f64, Potential)> = Vec::new();
    days[first..]
        .iter()
        .map(|day| {
            let (water, share) = (water.on(*day), *share.on(*day));
            let same =
                |(w, s, _): &&(&Chemistry, f64, Potential)| std::ptr::eq(*w, water) && *s == share;
            if let Some((_, _, potential)) = reckoned.iter().find(same) {
                return (*day, *potential);
            }
            let behind = if share > 0.0 {
                water.filtered(share)
            } else {
                *water
            };
            let potential = behind.potential(heat);
            reckoned.push((water, share, potential));
            (*day, potential)
        })
        .collect()
}

/// The water that reaches the heater on a day.
pub(super) fn on(known: &Known<'_>, day: i32) -> Chemistry {
    let waters = known.brewer.waters.iter().zip(known.waters);
    let held = waters
        .take_while(|(since, _)| number(since.from) <= day)
        .last();
    let water = held.map(|(_, water)| water).or(known.waters.last());
    let water = *water.expect("a brewer always has a water");
    let shares = filter_shares(known, number(known.start.day), day);
    let share = *Held { rest: &shares }.on(day);
    if share > 0.0 {
        water.filtered(share)
    } else {
        water
    }
}

/// Share of carbonate hardness the filter takes out, from day to day. A filter that is within its life today is taken to
/// be renewed on time from now on; one whose first day nobody logged, always to have been.
fn filter_shares(known: &Known, start: i32, end: i32) -> Vec<(i32, f64)> {
    let mut shares = vec![(i32::MIN, 0.0)];
    let Some(filter) = known.brewer.filter.filter(|f| f.takes_out > 0.0) else {
        return shares;
    };
    let life = filter.life_days(known.brewer).round().max(1.0) as i32;
    let mut fitted: Vec<i32> = known
        .entries
        .iter()
        .filter(|e| e.what == What::FilterFitted)
        .map(|e| number(e.day))
        .collect();
    fitted.sort_unstable();
    let renewed = match fitted.last() {
        None => Some(number(known.brewer.in_use_since)),
        Some(last) => Some(last + life).filter(|due| *due >= number(known.today)),
    };
    if let Some(mut day) = renewed {
        // Renewals long before the start are not worth listing.
        day += ((start - day) / life - 1).max(0) * life;
        while day <= end {
            fitted.push(day);
            day += life;
        }
    }
    for (i, day) in fitted.iter().enumerate() {
        let next = fitted.get(i + 1).copied().unwrap_or(i32::MAX);
        if day + life < start && next < start {
            continue;
        }
        for step in 0..=FILTER_STEPS {
            let from = day + step * life / FILTER_STEPS;
            if from < next {
                shares.push((
                    from,
                    filter.share_at((f64::from(step) + 0.5) / f64::from(FILTER_STEPS)),
                ));
            }
        }
    }
    shares
}
