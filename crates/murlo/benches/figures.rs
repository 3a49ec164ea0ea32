//! The figures to hold, as one table. Each time stands beside its limit and beside a baseline measured in the same run:
//! one set of carbonate constants, the smallest piece of the chemistry, so that tables of different machines compare.

use jiff::civil::date;
use jiff::{SignedDuration, Timestamp};
use murlo_base::days::days_after;
use murlo_base::units::{HardnessUnit, Units};
use murlo_brewer::bath::Agent;
use murlo_brewer::journal::{Entry, What};
use murlo_brewer::water::{Chemistry, Reading, Waters};
use murlo_brewer::{BrewerDraft, Family};
use murlo_chalk::belief::{Checks, Told};
use murlo_chalk::money::Terms;
use murlo_chalk::scale::{Cleaned, Evidence, Growth, Known, Start};
use murlo_chemistry::acid::Acid;
use murlo_chemistry::carbonate::{Heat, WaterSample, constants, potential};
use murlo_chemistry::cleaning::{Bath, Bathed, How, Pass};
use murlo_clean::{Act, Event, replay};
use murlo_plan::answers::{AnswerId, QuestionId};
use murlo_plan::{Facts, Kind, Plan, PlanOptions, RINSE, Today};
use rayon::prelude::*;
use std::hint::black_box;
use std::io::{BufRead, BufReader, Read, Write};
use std::net::TcpStream;
use std::process::{Child, Command, Stdio};
use std::time::{Duration, Instant};

/// Median of `runs` timings of `work`, each of `inner` calls.
fn time<T>(runs: usize, inner: u32, mut work: impl FnMut() -> T) -> Duration {
    let mut times: Vec<_> = (0..runs)
        .map(|_| {
            let start = Instant::now();
            for _ in 0..inner {
                black_box(work());
            }
            start.elapsed() / inner
        })
        .collect();
    times.sort();
    times[runs / 2]
}

struct Table {
    baseline: Duration,
}

impl Table {
    fn row(&self, name: &str, took: Duration, limit: Duration) {
        let ratio = took.as_secs_f64() / self.baseline.as_secs_f64();
        let verdict = if took <= limit { "held" } else { "NOT HELD" };
        println!("{name:<52} {took:>12.2?} {limit:>10.2?} {ratio:>14.0} {verdict}");
    }
}

struct Demo(Child);

impl Drop for Demo {
    fn drop(&mut self) {
        let _ = self.0.kill();
        let _ = self.0.wait();
    }
}

fn demo(crowd: u32, years: u32) -> (Demo, String) {
    let mut command = Command::new(env!("CARGO_BIN_EXE_murlo"));
    command
        .args([
            "demo",
            "--listen",
            "127.0.0.1:0",
            "--crowd",
            &crowd.to_string(),
            "--years",
            &years.to_string(),
            // What is due, and with it how heavy a week is, hangs on the day.
            "--now",
            "2026-11-25T10:30:00Z",
        ])
        .stdout(Stdio::piped());
    let mut demo = Demo(command.spawn().expect("the demo starts"));
    let mut line = String::new();
    BufReader::new(demo.0.stdout.take().expect("piped"))
        .read_line(&mut line)
        .expect("it prints its address");
    (demo, line.trim().replace("LISTENING http://", ""))
}

fn get(host: &str, path: &str) -> usize {
    ask(host, &format!("GET {path} HTTP/1.1"), "")
}

fn ask(host: &str, start: &str, body: &str) -> usize {
    answer(host, start, body).len()
}

fn answer(host: &str, start: &str, body: &str) -> Vec<u8> {
    let mut stream = TcpStream::connect(host).expect("it answers");
    write!(
        stream,
        "{start}\r\nhost: {host}\r\nconnection: close\r\n\r\n{body}"
    )
    .expect("it listens");
    let mut answer = Vec::new();
    stream.read_to_end(&mut answer).expect("it answers whole");
    assert!(answer.starts_with(b"HTTP/1.1 200"));
    answer
}

/// Three presses of vinegar with a soak of a quarter of an hour after the first.
fn soaked_clean() -> Bathed {
    let press = |stood_min| Pass {
        how: How::Press,
        ml: 296.0,
        minutes: 1.0,
        stood_min,
        heated: true,
    };
    Bathed {
        acid: Acid::Acetic,
        baths: vec![Bath {
            g_per_l: Some(25.0),
            passes: vec![press(15.0), press(2.0), press(5.0)],
        }],
    }
}

fn main() {
    let ms = Duration::from_millis;
    let baseline = time(51, 10_000, || constants(black_box(92.0)));
    let table = Table { baseline };
    println!(
        "{:<52} {:>12} {:>10} {:>14}",
        "figure", "median", "limit", "× constants"
    );
    println!(
        "{:<52} {:>12.2?} {:>10} {:>14}",
        "baseline: one set of carbonate constants", baseline, "", 1
    );

    let water = WaterSample {
        calcium: 150.0,
        alkalinity: 120.0,
        ph: 7.6,
        tds: 230.0,
        source_c: 20.0,
    };
    let heat = Heat {
        temp_c: 92.0,
        co2_retained: 0.15,
    };
    table.row(
        "potential of one water",
        time(51, 1000, || potential(black_box(&water), &heat)),
        Duration::from_micros(10),
    );

    let start = date(2021, 11, 1);
    let draft = BrewerDraft {
        nickname: "b".into(),
        ..BrewerDraft::template(Family::PodReservoir, Units::Us, "h", "w", start)
    };
    let brewer = draft
        .check("b".into(), None, start)
        .expect("the template is a brewer");
    let reading = Reading::Strip {
        value: 250.0,
        unit: HardnessUnit::MgPerL,
    };
    let strip = Chemistry::of(&reading, &Waters::new()).expect("a fair strip");
    let circuit = &brewer.circuits[0];
    let logs: Vec<_> = (0..1825)
        .map(|day| Entry {
            id: format!("e{day}"),
            brewer_id: "b".to_owned(),
            day: days_after(start, day),
            at: None,
            what: What::Brewed {
                cups: f64::from(day % 5),
            },
        })
        .collect();
    // A clean every hundred days, each with what it did, brought out and came to.
    let cleans: Vec<_> = (1..=18)
        .map(|i| {
            let mut clean = Cleaned::told(days_after(start, 100 * i));
            clean.bathed = Some(soaked_clean());
            clean.evidence = Evidence {
                brought: Some(Told::Some),
                checks: Checks {
                    flow: Some(true),
                    clear: Some(true),
                    ..Checks::default()
                },
                ..Evidence::default()
            };
            clean
        })
        .collect();
    let waters = [strip];
    let growth = |days, cleans: &[Cleaned], entries: &[Entry]| {
        let growth = Growth::new(Known {
            brewer: &brewer,
            circuit,
            waters: &waters,
            start: Start::new(start),
            cleans,
            entries,
            logged: None,
            recall: None,
            today: days_after(start, days),
        });
        growth.in_brief(Units::Us)
    };
    let forecast = |days, entries: &[Entry]| growth(days, &[], entries);
    let known = forecast(60, &[]);
    let agents = Agent::starters();
    let facts = Facts {
        brewer: &brewer,
        circuit,
        forecast: &known,
        agents: &agents,
        units: Units::Us,
        terms: &Terms::default(),
        today: Today::default(),
    };
    table.row(
        "plan for a brewer",
        time(51, 20, || facts.plan(&PlanOptions::default())),
        ms(1),
    );
    table.row(
        "all agents and recipes side by side (eight)",
        time(51, 5, || facts.compare(&PlanOptions::default())),
        ms(5),
    );
    let cases: Vec<serde_json::Value> =
        serde_json::from_str(include_str!("../../murlo-calc/testdata/visit2.json"))
            .expect("reference visits");
    let visit = murlo_calc::topic("visit").expect("a topic");
    let slowest = cases
        .iter()
        .map(|case| time(3, 1, || visit.answer(black_box(&case["input"]))))
        .max();
    table.row(
        "the slowest reference visit, up to seven brewers",
        slowest.unwrap_or_default(),
        ms(100),
    );
    // Side by side, as the Counter asks.
    let thousand = |cleans: &[Cleaned], entries: &[Entry]| {
        (0..1000)
            .into_par_iter()
            .map(|i| growth(1825 - i % 20, cleans, entries).chalk.mg)
            .sum::<f64>()
    };
    table.row(
        "1,000 circuits, five years of cleans, believed",
        time(11, 1, || thousand(&cleans, &[])),
        ms(50),
    );
    let alone = time(51, 20, || growth(1825, &cleans, &[]));
    println!("one such circuit, alone on one core: {alone:.1?}");
    table.row(
        "1,000 circuits, besides a log line a day",
        time(11, 1, || thousand(&cleans, &logs)),
        ms(100),
    );

    let plan = facts.plan(&PlanOptions::default()).expect("a plan");
    let long = long_clean(&plan, 2000);
    table.row(
        "a clean of 2,000 events, replayed",
        time(51, 5, || {
            replay(&plan, &long).map(|state| state.levels_mg_l.len())
        }),
        ms(5),
    );

    let first = Instant::now();
    let (small, host) = demo(0, 5);
    get(&host, "/api/counter");
    table.row(
        "start to first answer (ten demo brewers)",
        first.elapsed(),
        ms(300),
    );
    drop(small);

    let (crowd, host) = demo(194, 5);
    let size = get(&host, "/api/counter");
    table.row(
        "Counter, 200 brewers with five years of logs",
        time(31, 1, || get(&host, "/api/counter")),
        ms(20),
    );
    table.row(
        "Round, 200 brewers in 60 homes",
        time(11, 1, || get(&host, "/api/round")),
        ms(30),
    );
    let week = week_ahead(&host);
    table.row(
        "a week of 20 visits or more, drafts among them",
        time(5, 1, || get(&host, &week)),
        ms(300),
    );
    table.row(
        "a planned visit: both orders, what each left out saves",
        time(5, 1, || get(&host, "/api/visits/demo-tomorrow")),
        ms(300),
    );
    let status =
        std::fs::read_to_string(format!("/proc/{}/status", crowd.0.id())).unwrap_or_default();
    let resident = status
        .lines()
        .find(|l| l.starts_with("VmRSS"))
        .unwrap_or("VmRSS: not known here");
    println!(
        "with 200 brewers: {} (limit 60 MB); the answer is {size} bytes",
        resident.replace('\t', " ")
    );
    drop(crowd);

    let (decade, host) = demo(194, 10);
    let mut sent = 0;
    let acts = time(31, 1, || {
        sent += 1;
        act(&host, sent)
    });
    table.row(
        "an act, beside 200 brewers with ten years of logs",
        acts,
        ms(3),
    );
    // Its floor: what it takes besides is reading the household and replaying the clean.
    let bare = bare_commit();
    let times = acts.as_secs_f64() / bare.as_secs_f64();
    println!("that is {times:.1} × a bare commit to the disk, {bare:.2?}");
    drop(decade);
}

/// Where the coming week is read, which has twenty visits.
fn week_ahead(host: &str) -> String {
    let read = |path: &str| {
        let answer = answer(host, &format!("GET {path} HTTP/1.1"), "");
        String::from_utf8(answer).expect("text")
    };
    let now = read("/api/week");
    let after = now.split("\"after\":\"").nth(1).expect("the week after");
    let path = format!("/api/week?day={}", &after[..10]);
    let next = read(&path);
    let visits = next.matches("\"rhythm_day\":").count();
    assert!(visits >= 20, "only {visits} visits");
    path
}

/// A line written to a file of its own and on the disk before it returns.
fn bare_commit() -> Duration {
    let folder = tempfile::tempdir().expect("a folder");
    let file = rusqlite::Connection::open(folder.path().join("bare.db")).expect("a file");
    file.execute_batch(
        "PRAGMA journal_mode = WAL; PRAGMA synchronous = FULL; CREATE TABLE t (body TEXT) STRICT;",
    )
    .expect("a table");
    time(31, 1, || {
        file.execute("INSERT INTO t VALUES ('note')", [])
            .expect("it is written")
    })
}

/// A clean followed to its rinse, where every third count is taken back.
fn long_clean(plan: &Plan, events: i64) -> Vec<Event> {
    let mut all: Vec<Event> = Vec::new();
    for n in 0..events {
        let counted = all
            .last()
            .is_some_and(|e| matches!(e.act, Act::Counted { .. }));
        let act = if n > 100 && n % 3 == 0 && counted {
            let event = all[all.len() - 1].id.clone();
            Act::Undone { event }
        } else if n > 100 {
            let step = RINSE.to_owned();
            Act::Counted { step }
        } else {
            let state = replay(plan, &all).expect("it was offered");
            let at_rinse = state.step.is_some_and(|s| s.id == RINSE);
            let look = state.kind == Some(Kind::Look);
            let showed = [(QuestionId::Showed, AnswerId::Nothing)];
            match state.next {
                Some(next) if !at_rinse => next.act,
                None if look => Act::Answered {
                    step: Kind::Look.id().to_owned(),
                    answers: showed.into(),
                },
                _ => Act::Counted {
                    step: RINSE.to_owned(),
                },
            }
        };
        all.push(Event {
            id: format!("e{n}"),
            at: Timestamp::UNIX_EPOCH + SignedDuration::from_secs(n),
            device_at: None,
            by: None,
            act,
        });
    }
    all
}

/// One act on the half-done clean; gives the size of the answer.
fn act(host: &str, n: u32) -> usize {
    let body = format!(r#"{{"id": "bench-{n}", "act": {{"kind": "noted", "text": "note {n}"}}}}"#);
    let path = "/api/cleans/demo-half-done/events";
    let length = body.len();
    ask(
        host,
        &format!(
            "POST {path} HTTP/1.1\r\ncontent-type: application/json\r\ncontent-length: {length}"
        ),
        &body,
    )
}
