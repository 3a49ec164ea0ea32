//! Steps of a plan that can be left out.

use crate::{Kind, Step};

/// What is left out with step `i`: without a cup, nothing was heated that has to cool.
#[must_use]
pub fn left_out_with(steps: &[Step], i: usize) -> Vec<usize> {
    let heats = steps[i].is(Kind::Before) || steps[i].is(Kind::Baseline);
    let mut next = i + 1..steps.len();
    let cools = next.find(|n| !steps[*n].is(Kind::Ready));
    let cools = cools.filter(|n| heats && steps[*n].is(Kind::Cool));
    [i].into_iter().chain(cools).collect()
}
