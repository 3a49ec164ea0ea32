//! A made-up plug beside a brewer: it draws a household's coffee, sees each brew by the power it takes, and posts it. What the
//! household was not there to hear waits, and is posted once it is.

use anyhow::{Context, Result, bail};
use jiff::{SignedDuration, Timestamp};
use serde_json::{Value, json};
use std::io::{Read, Write};
use std::net::TcpStream;
use std::time::Duration;

/// The plug looks so often.
const LOOK: SignedDuration = SignedDuration::from_secs(10);
/// A heater that works takes more than this, W; what stands by takes a few.
const HEATS: f64 = 600.0;
/// So many looks in a row with its heater on are a brew.
const LOOKS: u32 = 3;
/// So many brews are posted at once.
const AT_ONCE: usize = 200;
/// The household is asked again after this.
const AGAIN: Duration = Duration::from_secs(5);

/// What the plug is told.
#[derive(clap::Args)]
pub struct Meter {
    /// The household, such as http://127.0.0.1:7676.
    #[arg(long)]
    at: String,
    /// The brewer's id, as in the address of its page.
    #[arg(long)]
    brewer: String,
    /// The token that Household gives; not needed where no device signs in.
    #[arg(long, env = "MURLO_METER_TOKEN", hide_env_values = true)]
    token: Option<String>,
    /// Cups a day that are drawn.
    #[arg(long, default_value_t = 4)]
    cups: u32,
    /// How many days back it begins.
    #[arg(long, default_value_t = 7)]
    days: u32,
    /// Which made-up household it is.
    #[arg(long, default_value_t = 1)]
    seed: u64,
    /// The last instant that it draws; now unless said.
    #[arg(long)]
    until: Option<Timestamp>,
}

/// What a made-up household does of a day: numbers that look like chance, the same for the same seed.
struct MadeUpDay(u64);

impl MadeUpDay {
    fn next(&mut self, below: i64) -> i64 {
        self.0 = self
            .0
            .wrapping_mul(6_364_136_223_846_793_005)
            .wrapping_add(1_442_695_040_888_963_407);
        ((self.0 >> 33) as i64) % below
    }
}

/// When somebody brews between two instants: cups of a day in the hours in which people are awake.
fn drawn(from: Timestamp, until: Timestamp, cups: u32, seed: u64) -> Vec<Timestamp> {
    let mut chance = MadeUpDay(seed.wrapping_mul(0x9e37_79b9_7f4a_7c15) | 1);
    let mut all = Vec::new();
    let mut day = from;
    while day < until {
        let mut at: Vec<_> = (0..cups)
            .map(|_| day + SignedDuration::from_secs(6 * 3600 + chance.next(14 * 3600)))
            .collect();
        at.sort_unstable();
        // One brewer brews one cup after the other.
        at.dedup_by(|later, earlier| later.duration_since(*earlier) < SignedDuration::from_mins(3));
        all.extend(at.into_iter().filter(|at| *at < until));
        day += SignedDuration::from_hours(24);
    }
    all
}

/// What the plug reads at an instant, W: a heater that works for a minute after each brew began, else what stands by.
fn watts(brews: &[Timestamp], at: Timestamp) -> f64 {
    let last = brews.partition_point(|brew| *brew <= at).checked_sub(1);
    let since = last.map(|n| at.duration_since(brews[n]).as_secs());
    match since {
        Some(seconds) if seconds < 60 => 1_380.0,
        _ => 2.4,
    }
}

/// Brews as the plug sees them: when its reading rose and stayed.
fn seen(brews: &[Timestamp], from: Timestamp, until: Timestamp) -> Vec<Timestamp> {
    let mut found = Vec::new();
    let (mut at, mut looks) = (from, 0);
    while at < until {
        looks = if watts(brews, at) > HEATS {
            looks + 1
        } else {
            0
        };
        if looks == LOOKS {
            found.push(at - LOOK * (LOOKS as i32 - 1));
        }
        at += LOOK;
    }
    found
}

fn as_posted(brew: &Timestamp) -> Value {
    // Known by its second, so that the same brew has the same id however often the plug begins again.
    json!({"id": format!("plug-{}", brew.as_second()), "at": brew, "cups": 1})
}

/// Draws, sees and posts; gives how many brews were posted.
pub fn run(meter: &Meter, now: Timestamp) -> Result<usize> {
    let until = meter.until.unwrap_or(now);
    let from = until - SignedDuration::from_hours(24 * i64::from(meter.days));
    let brews = drawn(from, until, meter.cups, meter.seed);
    let found = seen(&brews, from, until);
    for waiting in found.chunks(AT_ONCE) {
        let body = json!({"brews": waiting.iter().map(as_posted).collect::<Value>()}).to_string();
        while let Err(error) = post(meter, &body)? {
            eprintln!(
                "no line to the household ({error}): {} brews wait",
                waiting.len()
            );
            std::thread::sleep(AGAIN);
        }
    }
    Ok(found.len())
}

/// Posts once; the inner error is a line that was not there, the outer one a household that refused.
fn post(meter: &Meter, body: &str) -> Result<std::io::Result<()>> {
    let host = meter
        .at
        .strip_prefix("http://")
        .context("--at begins with http://; over https let your own automation post")?;
    let token = meter.token.as_ref().map_or(String::new(), |token| {
        format!("authorization: Bearer {token}\r\n")
    });
    let request = format!(
        "POST /api/brewers/{}/counts HTTP/1.1\r\nhost: {host}\r\nconnection: close\r\n{token}content-type: application/json\r\ncontent-length: {}\r\n\r\n{body}",
        meter.brewer,
        body.len()
    );
    let asked = || {
        let mut stream = TcpStream::connect(host)?;
        stream.write_all(request.as_bytes())?;
        let mut answer = String::new();
        stream.read_to_string(&mut answer)?;
        Ok(answer)
    };
    let answer: String = match asked() {
        Ok(answer) => answer,
        Err(error) => return Ok(Err(error)),
    };
    match answer.get(9..12) {
        Some("200") => Ok(Ok(())),
        _ => bail!(
            "the household refused: {}",
            answer.rsplit("\r\n\r\n").next().unwrap_or_default()
        ),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_plug_sees_every_brew_that_was_drawn_once() {
        let from: Timestamp = "2026-11-01T00:00:00Z".parse().unwrap();
        for seed in 0..20 {
            let until = from + SignedDuration::from_hours(24 * 7);
            let brews = drawn(from, until, 5, seed);
            assert!((28..=35).contains(&brews.len()), "{}", brews.len());
            let found = seen(&brews, from, until + SignedDuration::from_hours(1));
            assert_eq!(found.len(), brews.len(), "seed {seed}");
            for (found, brew) in found.iter().zip(&brews) {
                let late = found.duration_since(*brew).as_secs();
                assert!((0..10).contains(&late), "{late} s");
            }
            assert_eq!(
                drawn(from, until, 5, seed),
                brews,
                "the same household again"
            );
        }
        assert_eq!(seen(&[], from, from + SignedDuration::from_hours(24)), []);
    }
}
