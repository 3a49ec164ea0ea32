//! The short form: two households with a brewer of each family. `make lived` lives a hundred years.

use murlo_lived::{Cleaner, Lived, LivedRound, World};
use std::collections::BTreeMap;

/// Cleans of a household with six brewers in a year, and in two months.
const A_YEAR: u32 = 36;
const TWO_MONTHS: u32 = 8;

/// As many as there are cores.
fn two_at_a_time<T: Send>(seeds: &[u64], live: impl Fn(u64) -> T + Sync) -> Vec<T> {
    let pairs = seeds.chunks(2).flat_map(|pair| {
        std::thread::scope(|scope| {
            let live = &live;
            let lives = pair.iter().map(|seed| scope.spawn(move || live(*seed)));
            let lives: Vec<_> = lives.collect();
            let lived = lives.into_iter().map(|life| life.join().expect("a life"));
            lived.collect::<Vec<_>>()
        })
    });
    pairs.collect()
}

#[test]
fn what_is_said_holds_in_lives_that_go_otherwise() {
    let years = std::env::var("MURLO_LIVED_YEARS").ok();
    let years: Option<u64> = years.and_then(|n| n.parse().ok());
    let households = years.unwrap_or(2);
    let cleans = years.map_or(TWO_MONTHS, |_| A_YEAR);
    let seeds: Vec<u64> = (1..=households).collect();
    let lived: Vec<Lived> = two_at_a_time(&seeds, |seed| World::new(seed).live(cleans));
    let sum = |of: fn(&Lived) -> u32| lived.iter().map(of).sum::<u32>();
    println!(
        "{households} households: {} cleans, {} acts, {} given up, {} works held, {} presses that were one, {} baths poured otherwise, {} steps left out, {} ways kept, {} cleans in them, {} begun already, {} spread over days, {} parts of them",
        sum(|l| l.cleans),
        sum(|l| l.acts),
        sum(|l| l.given_up),
        sum(|l| l.held),
        sum(|l| l.same_press),
        sum(|l| l.poured_otherwise),
        sum(|l| l.left_out),
        sum(|l| l.kept),
        sum(|l| l.in_their_way),
        sum(|l| l.begun_already),
        sum(|l| l.spread),
        sum(|l| l.parts)
    );
    let mut harms: BTreeMap<&str, u32> = BTreeMap::new();
    for (harm, n) in lived.iter().flat_map(|lived| &lived.harms) {
        *harms.entry(harm).or_default() += n;
    }
    println!("harms to brewers that are otherwise than was told: {harms:?}");
    let faults: Vec<_> = seeds
        .iter()
        .zip(&lived)
        .flat_map(|(seed, lived)| {
            lived
                .faults
                .iter()
                .map(move |fault| format!("household {seed}: {fault}"))
        })
        .collect();
    assert!(
        faults.is_empty(),
        "{} faults:\n{}",
        faults.len(),
        faults.join("\n")
    );
    let is_lively = sum(|l| l.given_up) > 0
        && sum(|l| l.held) > 0
        && sum(|l| l.same_press) > 0
        && sum(|l| l.poured_otherwise) > 0
        && sum(|l| l.left_out) > 0
        && sum(|l| l.kept) > 0;
    assert!(is_lively, "the world is too tame to hold anything to");
}

/// Weeks of a cleaner's year, and of the short form.
const A_CLEANERS_YEAR: u32 = 46;
const A_WEEK: u32 = 1;

#[test]
fn a_cleaners_weeks_leave_nothing_behind() {
    let years = std::env::var("MURLO_LIVED_CLEANERS").ok();
    let years: Option<u64> = years.and_then(|n| n.parse().ok());
    let (homes, weeks) = years.map_or((6, A_WEEK), |_| (9, A_CLEANERS_YEAR));
    let seeds: Vec<u64> = (1..=years.unwrap_or(1)).collect();
    let rounds: Vec<LivedRound> =
        two_at_a_time(&seeds, |seed| Cleaner::new(seed, homes).live(weeks));
    let sum = |of: fn(&LivedRound) -> u32| rounds.iter().map(of).sum::<u32>();
    println!(
        "{} cleaners: {} visits, {} works, {} acts, {} clients home early, {} visits held by a bath, {} moved or left, {} times without a line, {} bottles with less",
        rounds.len(),
        sum(|r| r.visits),
        sum(|r| r.works),
        sum(|r| r.acts),
        sum(|r| r.early),
        sum(|r| r.held),
        sum(|r| r.left),
        sum(|r| r.alone),
        sum(|r| r.empty)
    );
    let faults: Vec<&str> = rounds
        .iter()
        .flat_map(|round| round.faults.iter().map(String::as_str))
        .collect();
    assert!(
        faults.is_empty(),
        "{} faults:\n{}",
        faults.len(),
        faults.join("\n")
    );
    let is_lively = sum(|r| r.visits) > 4
        && sum(|r| r.works) > 4
        && sum(|r| r.early) > 0
        && sum(|r| r.alone) > 0
        && sum(|r| r.empty) > 0;
    assert!(is_lively, "hardly anybody came");
}
