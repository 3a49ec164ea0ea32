//! How often the window of eight in ten holds the true day, and how wide it is: circuits are drawn apart from the filter, cleaned in
//! eight ways, and the filter is asked straight after 0, 1, 2, 3 and 5 cleans. Deterministic.

use murlo_brewer::journal::Sign;
use murlo_brewer::water;
use murlo_chalk::belief::{Belief, Brought, Checks, Leaves, Prior, Witnessed, Witnessing};
use murlo_chemistry::carbonate::potential;
use murlo_chemistry::cleaning::Left;
use murlo_chemistry::film_mg;
use murlo_chemistry::heater::Heater;

const CIRCUITS: u64 = 2000;
const CLEANS: usize = 5;
/// Cleans after which the filter is asked.
const ASKED: [usize; 5] = [0, 1, 2, 3, 5];

/// Numbers that only look drawn.
struct Draw(u64);

impl Draw {
    fn next(&mut self) -> f64 {
        self.0 = self.0.wrapping_add(0x9E37_79B9_7F4A_7C15);
        let mut z = self.0;
        z = (z ^ (z >> 30)).wrapping_mul(0xBF58_476D_1CE4_E5B9);
        z = (z ^ (z >> 27)).wrapping_mul(0x94D0_49BB_1331_11EB);
        ((z ^ (z >> 31)) >> 11) as f64 / (1u64 << 53) as f64
    }

    fn normal(&mut self) -> f64 {
        let (a, b) = (self.next().max(1e-12), self.next());
        (-2.0 * a.ln()).sqrt() * (std::f64::consts::TAU * b).cos()
    }

    /// A threshold around `at`, log-logistic.
    fn around(&mut self, at: f64, steep: f64) -> f64 {
        let q = self.next().clamp(1e-9, 1.0 - 1e-9);
        at * (q / (1.0 - q)).powf(1.0 / steep)
    }
}

/// When somebody cleans.
#[derive(Clone, Copy, PartialEq)]
enum CleansWhen {
    Due,
    /// At this share of the due potential.
    Off,
    /// When it shows, or long after.
    Hurts,
}

struct CleanWay {
    name: &'static str,
    heater: Option<Heater>,
    label: bool,
    left: Left,
    when: CleansWhen,
    dated: bool,
    cups: bool,
}

const SOAKED: Left = Left {
    p10: 0.04,
    median: 0.12,
    p90: 0.30,
};
const UNSOAKED: Left = Left {
    p10: 0.26,
    median: 0.55,
    p90: 0.75,
};
const DEEP: Left = Left {
    p10: 0.002,
    median: 0.01,
    p90: 0.06,
};

const USUAL: CleanWay = CleanWay {
    name: "strip, cleans when due",
    heater: None,
    label: false,
    left: SOAKED,
    when: CleansWhen::Due,
    dated: false,
    cups: false,
};

const WAYS: [CleanWay; 8] = [
    USUAL,
    CleanWay {
        name: "label",
        label: true,
        ..USUAL
    },
    CleanWay {
        name: "riser only",
        heater: Some(Heater::DripRiser),
        ..USUAL
    },
    CleanWay {
        name: "no soak",
        left: UNSOAKED,
        ..USUAL
    },
    CleanWay {
        name: "too early or too late",
        when: CleansWhen::Off,
        ..USUAL
    },
    CleanWay {
        name: "only when it hurts",
        when: CleansWhen::Hurts,
        ..USUAL
    },
    CleanWay {
        name: "the same, deep, dated, cups",
        when: CleansWhen::Hurts,
        left: DEEP,
        dated: true,
        cups: true,
        ..USUAL
    },
    CleanWay {
        name: "a cup timed each clean",
        cups: true,
        ..USUAL
    },
];

/// Signs in a cycle that have another cause, and spread of how people call what they see.
const OTHER_CAUSE: f64 = 0.12;
const CALLS: f64 = 0.4;

/// What is really left, for a place among all cleans.
fn really_left(left: &Left, z: f64) -> f64 {
    let spread = if z < 0.0 {
        (left.median / left.p10).ln()
    } else {
        (left.p90 / left.median).ln()
    };
    (left.median * (z * spread / 1.281_55).exp()).min(1.0)
}

fn h(u: f64, at: f64, steep: f64) -> f64 {
    1.0 / (1.0 + (u / at).powf(steep))
}

struct Tally {
    inside: f64,
    width: f64,
    bias: f64,
    count: f64,
}

struct TrueCircuit<'a> {
    way: &'a CleanWay,
    draw: Draw,
    prior: Prior,
    events: Vec<Witnessing>,
    since: f64,
    /// Logarithm of the true growth, and how this circuit and person are.
    x: f64,
    used: f64,
    stubborn: f64,
    notices: Option<f64>,
    /// How much more than there is this person calls it.
    calls: f64,
}

impl<'a> TrueCircuit<'a> {
    fn new(way: &'a CleanWay, seed: u64) -> Self {
        let mut draw = Draw(seed.wrapping_mul(0xA24B_AED4_963E_E407));
        let heater = way
            .heater
            .unwrap_or([Heater::Tank, Heater::Thermoblock, Heater::DripRiser][(seed % 3) as usize]);
        let kind = heater.defaults();
        let hardness = 100.0 + 250.0 * draw.next();
        let mg_l = potential(&water::from_strip(hardness), &kind.heat);
        let sigma_water = if way.label {
            water::label_sigma(mg_l)
        } else {
            water::strip_sigma(mg_l)
        };
        let prior = Prior {
            limit_mg: film_mg(kind.limit_um, kind.area_cm2),
            plating: kind.plating,
            sigma_plating: 0.5,
            sigma_use: 0.15,
            sigma_water,
            start: Left::NOTHING,
            before_mg: [0.0; 3],
        };
        let spread = (0.25 + 0.0225 + sigma_water * sigma_water).sqrt();
        let x = spread * draw.normal();
        let stubborn = draw.normal();
        let calls = (CALLS * draw.normal()).exp();
        let kinds = [(0.195, 1.0), (0.455, 1.35), (0.65, 1.8)];
        let who = draw.next();
        let notices = kinds
            .iter()
            .find(|(below, _)| who < *below)
            .map(|(_, at)| *at);
        Self {
            way,
            draw,
            prior,
            events: Vec::new(),
            since: 0.0,
            x,
            used: 0.0,
            stubborn,
            notices,
            calls,
        }
    }

    fn growth(&self) -> f64 {
        self.x.exp() * self.prior.plating / self.prior.limit_mg
    }

    fn belief(&self) -> Belief {
        Belief::from(self.prior, &self.events, self.since)
    }

    fn pass(&mut self, mg: f64) {
        self.used += self.growth() * mg;
        self.since += mg;
    }

    fn see(&mut self, what: Witnessed) {
        let potential_mg = std::mem::take(&mut self.since);
        self.events.push(Witnessing { potential_mg, what });
    }

    /// One cycle, from straight after a clean to straight after the next.
    fn clean(&mut self) {
        let due_mg = self.belief().to_go_mg().median.max(50.0);
        let shows = self.notices.map(|at| self.draw.around(at, 5.0));
        let until_shows = shows.map(|at| (at - self.used).max(0.0) / self.growth());
        let cleans_at = match self.way.when {
            CleansWhen::Due => due_mg,
            CleansWhen::Off => due_mg * (0.6 + 1.2 * self.draw.next()),
            CleansWhen::Hurts => until_shows
                .map_or(1.8 * due_mg, |mg| mg * 1.05)
                .min(6.0 * due_mg),
        };
        // A needle or a pump can be told for chalk.
        let other = (self.draw.next() < OTHER_CAUSE).then(|| cleans_at * self.draw.next());
        let first = [until_shows, other].into_iter().flatten().reduce(f64::min);
        if let Some(mg) = first.filter(|mg| *mg < cleans_at) {
            self.pass(mg);
            let signs = [Sign::Slow, Sign::Noisy, Sign::Cooler, Sign::Light];
            let sign = signs[(self.draw.next() * 4.0) as usize % 4];
            let dated = self.way.dated || self.draw.next() < 0.5;
            self.see(Witnessed::Sign {
                sign,
                dated,
                told: true,
            });
            self.pass(cleans_at - mg);
        } else {
            self.pass(cleans_at);
        }
        if self.way.cups {
            let likely = [h(self.used, 0.8, 4.0), h(self.used, 1.6, 4.0)];
            let place = self.draw.next();
            let honest = self.draw.next() < 0.8;
            let place = if honest { place } else { self.draw.next() };
            let ends = if honest {
                likely
            } else {
                [1.0 / 3.0, 2.0 / 3.0]
            };
            let ratio = if place < ends[0] {
                1.0
            } else if place < ends[1] {
                1.3
            } else {
                2.0
            };
            self.see(Witnessed::Timed { ratio });
        }
        let z = 0.5f64.sqrt() * (self.stubborn + self.draw.normal());
        let left = really_left(&self.way.left, z);
        let gone = self.used * (1.0 - left) * self.calls;
        let place = self.draw.next();
        let word = if self.draw.next() < 0.1 {
            (3.0 * self.draw.next()) as usize
        } else if place < h(gone, 0.25, 3.0) {
            0
        } else if place < h(gone, 0.9, 3.0) {
            1
        } else {
            2
        };
        self.used *= left;
        let flows = self.draw.next() < 0.15 + 0.7 * h(self.used, 0.6, 4.0);
        let brought = [Brought::None, Brought::Some, Brought::Lot][word.min(2)];
        self.see(Witnessed::Clean {
            failed: None,
            left: Leaves::Same(self.way.left),
            brought: Some(brought),
            checks: Checks {
                flow: Some(flows),
                ..Checks::default()
            },
        });
        self.x += 0.08 * self.draw.normal();
    }

    fn tally(&self, tally: &mut Tally) {
        let window = self.belief().to_go_mg();
        let truth = (1.0 - self.used) / self.growth();
        tally.count += 1.0;
        if window.p10 <= truth && truth <= window.p90 {
            tally.inside += 1.0;
        }
        tally.width += (window.p90 - window.p10) / window.median.max(1.0);
        if truth > 0.0 && window.median > 0.0 {
            tally.bias += (window.median / truth).ln();
        }
    }
}

fn main() {
    println!(
        "share of {CIRCUITS} circuits whose true day lies in the window of eight in ten, %; its mean width over its median; bias of ln"
    );
    println!(
        "{:<30} {:>26}   {:>28}   {:>16}",
        "cleans so far", "0 / 1 / 2 / 3 / 5", "width", "bias"
    );
    let mut worst: f64 = 0.0;
    for way in &WAYS {
        let empty = || Tally {
            inside: 0.0,
            width: 0.0,
            bias: 0.0,
            count: 0.0,
        };
        let mut tallies = ASKED.map(|_| empty());
        for seed in 1..=CIRCUITS {
            let mut circuit = TrueCircuit::new(way, seed);
            for cleans in 0..=CLEANS {
                if let Some(i) = ASKED.iter().position(|n| *n == cleans) {
                    circuit.tally(&mut tallies[i]);
                }
                circuit.clean();
            }
        }
        let all = |of: fn(&Tally) -> f64, places: usize| {
            let each = tallies
                .iter()
                .map(|t| format!("{:.*}", places, of(t) / t.count));
            each.collect::<Vec<_>>().join(" ")
        };
        for tally in &tallies {
            worst = worst.max((100.0 * tally.inside / tally.count - 80.0).abs());
        }
        println!(
            "{:<30} {:>26}   {:>28}   {:>16}",
            way.name,
            all(|t| 100.0 * t.inside, 0),
            all(|t| t.width, 2),
            all(|t| t.bias, 2)
        );
    }
    println!("furthest from 80: {worst:.1}");
}
