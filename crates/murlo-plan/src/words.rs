//! A plan in words: why it is so, what to lay out, and the working behind its figures.

use super::steps::holder_bath;
use super::worked::{PRACTICE_SOAK, Worked};
use super::{Facts, Kind, Plan, Step, Work};
use murlo_base::days::days_after;
use murlo_base::text;
use murlo_base::units::trim;
use murlo_base::working::Working;
use murlo_brewer::Outlet;
use murlo_brewer::bath::{self, Agent, Warning};
use murlo_brewer::job::Job;
use murlo_brewer::rinse::Rinse;
use murlo_chalk::scale::HYGIENE_DAYS;
use murlo_chemistry::cleaning::{self, Bathing, Typed};
use murlo_chemistry::heater::Way;

/// A plan that likely leaves more of the limit than this says so.
const MUCH_LEFT: f64 = 0.30;

/// Whether any step is of these kinds.
fn has_any(steps: &[Step], kinds: &[Kind]) -> bool {
    let is = |step: &Step| kinds.iter().any(|kind| step.is(*kind));
    steps.iter().any(is)
}

/// What hands take to wash, wipe and look with.
fn things_to_wash_with(steps: &[Step]) -> Vec<String> {
    let has = |kinds: &[Kind]| has_any(steps, kinds);
    let mut kit = Vec::new();
    if has(&[Kind::Parts, Kind::Others]) {
        kit.push("Bowl for parts, dish soap, soft cloth, towel".to_owned());
        kit.push("Small brush kept for the kitchen only".to_owned());
    } else if has(&[Kind::Needles, Kind::Capsule]) {
        kit.push("Towel for the parts".to_owned());
    }
    if has(&[Kind::Body, Kind::Capsule]) {
        kit.push("Cotton swabs".to_owned());
    }
    if has(&[Kind::Baseline]) {
        kit.push("Two clear clean glasses, one of them heat-proof".to_owned());
    }
    kit
}

impl Facts<'_> {
    pub(super) fn reasons(&self, worked: &Worked, plan: &Plan) -> Vec<String> {
        let agent = &worked.agent;
        let all: &[&str] = match plan.work {
            Work::Needles => &[
                "Only the needles: no bath, so nothing to rinse.",
                "A cup is timed before and after; the difference shows what it brought.",
            ],
            Work::Rehearsal => &[
                "Plain water in place of the bath: nothing to rinse, nothing to smell.",
                "It stays out of the cleaning history; the due date does not move.",
            ],
            Work::Upkeep => {
                &["A small work beside descaling: no bath, so nothing to rinse out of the machine."]
            }
            Work::Descale => &[],
        };
        if plan.work != Work::Descale {
            return all.iter().map(|line| (*line).to_owned()).collect();
        }
        let mut reasons = Vec::new();
        if self.brewer.forbids.contains(&agent.id) {
            reasons.push(format!(
                "The maker of this brewer forbids {}: you chose it against that.",
                agent.in_text()
            ));
        }
        reasons.extend(strength_by_label(agent));
        reasons.extend(self.reasons_of_the_bath(plan));
        reasons.push(self.reason_of_the_soak(plan));
        reasons.extend(self.reason_of_the_rest(plan));
        reasons.extend(self.reason_of_practice(worked));
        reasons.push(format!("Rinse: {}.", plan.rinse.reason));
        reasons.extend(self.reason_of_sour(agent, &plan.rinse));
        if plan.likely_baths > plan.chosen.baths {
            reasons.push(format!(
                "This much chalk likely takes {} fresh baths. The first is planned; a look at what it brought decides whether another follows.",
                plan.likely_baths
            ));
        }
        reasons.extend(self.reasons_of_counts());
        reasons.extend(self.today.why_side.clone());
        reasons.extend(self.reason_of_sides().map(str::to_owned));
        if self.today.filter_due && self.brewer.filter.is_some() {
            reasons.push("The water filter is worn out: a new one goes in at the end.".to_owned());
        }
        reasons
    }

    /// What the first coffee after this agent has added to the rinse here.
    fn reason_of_sour(&self, agent: &Agent, rinse: &Rinse) -> Option<String> {
        let more = self.taught_rinses(rinse, &agent.id);
        (more > 0).then(|| {
            let times = match self.today.measured.sour.get(&agent.id).copied() {
                Some(1) => "once".to_owned(),
                Some(n) => text::count(n, "time", "times"),
                None => String::new(),
            };
            format!(
                "The first coffee after {} was sour here {times}: {} than reckoned.",
                agent.in_text(),
                text::count(more, "more rinse", "more rinses")
            )
        })
    }

    /// "3 more since the first coffee was sour".
    pub(crate) fn note_of_sour(&self, agent: &Agent, rinse: &Rinse) -> Option<String> {
        let more = self.taught_rinses(rinse, &agent.id);
        (more > 0).then(|| format!("{more} more since the first coffee was sour"))
    }

    fn reasons_of_the_bath(&self, plan: &Plan) -> [String; 3] {
        let chalk = &self.forecast.chalk;
        let mixed = &plan.bath;
        let baths = plan.likely_baths.max(plan.chosen.baths);
        let enough = match mixed.useful_mg * f64::from(baths) >= chalk.high_mg {
            true => (
                "acid enough even for the high estimate of",
                ", where it reaches all of it",
            ),
            false => ("less than the high estimate of", ""),
        };
        let volume = if self.way() == Way::CupAtATime {
            "One cup of bath fills tank and tubing; more does not go in."
        } else if self.is_drip() && mixed.total.ml > 0.9 * self.reservoir_ml() {
            "The bath fills the reservoir, so that all of the riser is wetted."
        } else {
            "The bath stops at its dose: more would only be more to rinse."
        };
        let each = match baths {
            1 => "The bath".to_owned(),
            n => format!("Each of {n} fresh baths"),
        };
        [
            format!(
                "Chalk (scale): {}, from {}.",
                chalk.text, self.forecast.reason
            ),
            format!(
                "{each} {}: {} {:.1} g{}.",
                mixed.useful_text,
                enough.0,
                chalk.high_mg / 1000.0,
                enough.1
            ),
            volume.to_owned(),
        ]
    }

    fn reason_of_the_soak(&self, plan: &Plan) -> String {
        if self.way() != Way::Programme {
            let head = match plan.chosen.soak_minutes <= 0.0 {
                true => "No soak",
                false => "Soak",
            };
            return format!("{head}: {}.", plan.soak.reason);
        }
        let (minutes, known) = self.programme_minutes();
        format!(
            "The programme soaks by itself: about {}, {known}.",
            text::minutes(minutes)
        )
    }

    /// What is likely left, with its band.
    fn reason_of_the_rest(&self, plan: &Plan) -> Option<String> {
        let after = plan.after.as_ref()?;
        let band = if after.used_high < text::MANY_TIMES {
            format!(
                "between {:.0} and {:.0} %",
                100.0 * after.used_low,
                100.0 * after.used_high
            )
        } else {
            format!("it may be {}", text::of_limit(after.used_high))
        };
        Some(format!(
            "It likely leaves {}, {band}: {}{}.",
            text::of_limit(after.used),
            after.text,
            self.due_again(after.used)
        ))
    }

    /// When chalk is due again after a clean that leaves so much of the limit: "; due again about 10 Feb".
    fn due_again(&self, left: f64) -> String {
        if left >= 1.0 {
            return "; that is still past its limit".to_owned();
        }
        let due = &self.forecast.due;
        let today = days_after(due.date, -due.days);
        let days = (1.0 - left) / self.forecast.used_a_day.max(1e-9);
        if days > f64::from(HYGIENE_DAYS) {
            return "; chalk is not due again within half a year".to_owned();
        }
        let day = days_after(today, days.max(0.0) as i32);
        format!("; due again about {}", text::day(day, today))
    }

    /// Nothing is silent: a clean that leaves much says so, and what would do better.
    pub(super) fn warning_of_the_rest(&self, plan: &Plan) -> Option<String> {
        let after = plan.after.as_ref().filter(|_| plan.work == Work::Descale)?;
        (after.used > MUCH_LEFT).then(|| {
            let better = if plan.likely_baths > plan.chosen.baths {
                format!(
                    "a second bath after the look, likely {} in all",
                    plan.likely_baths
                )
            } else if self.way() == Way::Programme {
                "a stronger bath, or the work by hand with a soak".to_owned()
            } else {
                "a longer soak or a stronger bath".to_owned()
            };
            format!(
                "This likely leaves {} in place. What would do better: {better}.",
                text::share_of_limit(after.used)
            )
        })
    }

    /// Where the minutes that somebody has are not enough, that is said, with the least that it takes.
    pub(super) fn warning_of_the_minutes(&self, plan: &Plan, least_min: f64, has: f64) -> String {
        let takes = plan.ribbon.elapsed_min;
        let least = match least_min < takes - 1.0 {
            true => format!(
                ", and {} at the least, without a soak",
                text::minutes(least_min)
            ),
            false => ", and no less is possible with this bath".to_owned(),
        };
        format!(
            "This does not fit into the {} you have: it takes about {}{least}.",
            text::minutes(has),
            text::minutes(takes)
        )
    }

    /// What people usually do, beside it, with what that leaves.
    fn reason_of_practice(&self, worked: &Worked) -> Option<String> {
        let Worked { asked, advice, .. } = worked;
        if self.way() != Way::Presses || advice.soaked_min() <= PRACTICE_SOAK {
            return None;
        }
        let usual = asked.weigh(&Typed {
            after: vec![1],
            minutes: PRACTICE_SOAK,
            baths: 1,
        });
        Some(format!(
            "People often soak {PRACTICE_SOAK:.0} min: that leaves {}{}.",
            text::share_of_limit(usual.left),
            self.due_again(usual.left)
        ))
    }

    /// Dispenses that earlier cleans have corrected.
    fn reasons_of_counts(&self) -> Vec<String> {
        let usual = self.circuit.dispense_ml;
        [
            ("a bath", self.bath_dispense_ml()),
            ("rinse water", self.rinse_dispense_ml()),
        ]
        .into_iter()
        .filter(|(_, ml)| self.is_pressed() && *ml != usual)
        .map(|(what, ml)| {
            format!(
                "Earlier cleans counted otherwise than reckoned: a dispense of {what} is taken as {}, not {}.",
                self.units.volume(ml),
                self.units.volume(usual)
            )
        })
        .collect()
    }

    fn reason_of_sides(&self) -> Option<&'static str> {
        let has_other = self.brewer.circuits.len() > 1 && !self.today.beside;
        has_other.then(|| match self.brewer.has_own_reservoirs() {
            true => "Each side has a reservoir of its own: start the other one too, and both run side by side.",
            false => "Both sides share one reservoir: the other side has its turn next time.",
        })
    }

    pub(super) fn kit(&self, agent: &Agent, plan: &Plan) -> Vec<String> {
        if let Some(job) = plan.job {
            return self.kit_of(job, agent);
        }
        let (work, mixed, chosen, vessel) = (plan.work, &plan.bath, &plan.chosen, &plan.vessel);
        let has = |kinds: &[Kind]| has_any(&plan.steps, kinds);
        let times = match chosen.baths {
            1 => String::new(),
            n => format!(", {n} times"),
        };
        let mut kit = Vec::new();
        if work == Work::Descale {
            kit.push(format!("{}: {}{times}", agent.name, mixed.agent_text));
        }
        kit.push(if self.is_drip() {
            format!("The carafe, empty ({})", vessel.text)
        } else {
            format!("Mug or jug for at least {}, on the drip tray", vessel.text)
        });
        if work == Work::Descale {
            kit.push(
                match self.is_drip() {
                    true => "Measuring cup, spoon, a jug for cold water",
                    false => "Measuring cup or jug, spoon",
                }
                .to_owned(),
            );
            kit.push("A note for the brewer: acid inside".to_owned());
        }
        kit.extend(things_to_wash_with(&plan.steps));
        let stands = has(&[Kind::HolderSoak]);
        if let Some(into) =
            holder_bath(agent).filter(|_| stands && !self.brewer.forbids.contains(&agent.id))
        {
            kit.push(format!("A cup for the pod holder, with {into}"));
        }
        match self.circuit.outlet {
            Outlet::Pod => {
                let clip = "Straightened paper clip for the needles".to_owned();
                kit.extend(has(&[Kind::Needles]).then_some(clip));
            }
            Outlet::Capsule if self.way() == Way::Programme => {
                let disc = self.brewer.reader.map_or("the service disc", |r| r.disc());
                kit.push(kept("Service disc", disc, &self.brewer.places.disc));
            }
            Outlet::Capsule => kit.push("A used capsule, emptied, rinsed and closed".to_owned()),
            Outlet::Grounds => {}
        }
        if self.circuit.outlet == Outlet::Pod && self.brewer.carafe.is_some() {
            kit.push(kept("Pod adapter", "", &self.brewer.places.adapter));
        }
        if self.today.filter_due && has(&[Kind::Filter]) {
            kit.push("A new water filter".to_owned());
        } else if let Some(filter) = self
            .brewer
            .filter
            .filter(|_| has(&[Kind::Filter]) && self.today.filter_unknown)
        {
            kit.push(format!(
                "A new water filter, should the one in it be older than about {:.0} days",
                filter.days
            ));
        }
        if !self.brewer.places.guide.is_empty() {
            kit.push(kept("The maker's guide", "", &self.brewer.places.guide));
        }
        if work == Work::Descale && mixed.warnings.contains(&Warning::Strong) {
            kit.push("Gloves and goggles".to_owned());
        }
        kit
    }

    /// What a small work takes.
    fn kit_of(&self, job: Job, agent: &Agent) -> Vec<String> {
        let allowed = !self.brewer.forbids.contains(&agent.id);
        let bath = holder_bath(agent).filter(|_| allowed);
        let mut kit: Vec<String> = match job {
            Job::RinsePod => vec!["A rinse pod".to_owned()],
            Job::Filter => vec![
                "A new water filter".to_owned(),
                "A glass of fresh water".to_owned(),
            ],
            Job::Hollow => vec!["A soft cloth and a blunt blade, or a long swab".to_owned()],
            Job::Holder => bath
                .map(|into| format!("A cup for the pod holder, with {into}"))
                .into_iter()
                .collect(),
            Job::Stains => vec!["Stain remover, undiluted".to_owned()],
            Job::Empty
            | Job::Back
            | Job::Needles
            | Job::Tray
            | Job::Wash
            | Job::Reusable
            | Job::LightBath
            | Job::Slime => Vec::new(),
        };
        if matches!(
            job,
            Job::Tray | Job::Wash | Job::Slime | Job::Stains | Job::Reusable | Job::Holder
        ) {
            kit.push("Dish soap, hot water, a small brush kept for the kitchen only".to_owned());
        }
        if matches!(job, Job::Tray | Job::Wash | Job::Hollow | Job::Empty) {
            kit.push("Soft cloth".to_owned());
        }
        if matches!(
            job,
            Job::RinsePod | Job::Filter | Job::Wash | Job::Holder | Job::Back | Job::Slime
        ) {
            kit.push(if self.is_drip() {
                "The carafe, empty".to_owned()
            } else {
                "A mug on the drip tray".to_owned()
            });
        }
        kit
    }

    pub(super) fn working(&self, worked: &Worked) -> Vec<Working> {
        let Worked {
            agent,
            mixed,
            rinsing,
            rinse,
            ..
        } = worked;
        let g = |mg: f64| format!("{:.2} g", mg / 1000.0);
        let mut all = self.forecast.working.clone();
        all.push(Working::new(
            "strength of the bath",
            "agent rounded up to a mark, total kept; strength × agent / total",
            &[
                (
                    "agent as bought",
                    agent
                        .percent()
                        .map_or("powder".to_owned(), |p| format!("{p} % w/v")),
                ),
                ("agent", mixed.agent_text.clone()),
                ("total", mixed.total.text.clone()),
            ],
            format!("{:.2} % w/v, pH {:.1}", mixed.percent, mixed.ph),
            "C₁V₁ = C₂V₂; label strength as given",
        ));
        all.push(Working::new(
            "chalk the bath can take up",
            "CaCO3 dissolved until the bath reaches pH 4.5",
            &[
                ("strength", format!("{:.2} % w/v", mixed.percent)),
                ("volume", mixed.total.text.clone()),
            ],
            format!(
                "{} usefully, {} at most",
                g(mixed.useful_mg),
                g(mixed.capacity_mg)
            ),
            bath::SOURCE,
        ));
        all.push(self.working_of_the_clean(worked));
        all.push(Working::new(
            "rinse",
            "Cₙ = C₀ · (Vₕ/(Vₕ+v))ⁿ, the first n at or below the target",
            &[
                (
                    "start C₀",
                    format!("{:.0} mg/L, the bath itself", rinsing.start_mg_l),
                ),
                ("hold-up Vₕ", self.units.volume(rinsing.hold_up_ml)),
                ("portion v", rinse.portion.text.clone()),
                ("target", format!("{} mg/L", rinse.target_mg_l)),
            ],
            text::count(rinse.portions, "portion", "portions"),
            murlo_chemistry::washout::SOURCE,
        ));
        all
    }
}

impl Facts<'_> {
    /// The bath phase by phase, as a table of its own.
    fn working_of_the_clean(&self, worked: &Worked) -> Working {
        let Worked { asked, advice, .. } = worked;
        let phases = asked.course.phases(&advice.soaks);
        let bathing = Bathing {
            acid: asked.acid,
            g_per_l: asked.g_per_l,
            start_hold_ml: asked.course.start_hold_ml(),
            phases: &phases,
            baths: 1,
        };
        let states = bathing.states(asked.film_mg, asked.area_cm2, 1.0);
        let um = murlo_chemistry::film_um(asked.film_mg, asked.area_cm2);
        let mut inputs = vec![
            ("chalk", format!("{:.1} mg", asked.film_mg)),
            ("area", format!("{:.0} cm²", asked.area_cm2)),
            ("mean thickness", format!("{um:.2} µm")),
            ("strength of the bath", format!("{:.2} g/L", asked.g_per_l)),
            ("path", format!("{:.0} mL", asked.course.hold_ml)),
        ];
        let rows: Vec<String> = phases
            .iter()
            .zip(&states)
            .map(|(phase, state)| {
                let inflow = phase
                    .inflow
                    .map_or_else(String::new, |i| format!(", {:.0} mL in", i.ml));
                format!(
                    "{:.1} min to {:.0} °C{inflow}: {:.2} g/L acid, {:.4} mol/L dissolved, depth {:.3}, left {:.3}",
                    phase.minutes,
                    state.temp_c,
                    state.g_per_l,
                    state.load,
                    state.depth,
                    cleaning::left_at(state.depth)
                )
            })
            .collect();
        inputs.extend(rows.into_iter().map(|row| ("phase", row)));
        Working::new(
            "what the bath takes off",
            "left = e^(−4D) (1 + 3D + 4D² + 8D³/3), D the depth dissolved in mean thicknesses, phase by phase",
            &inputs,
            format!("{:.0} % of the limit left", 100.0 * advice.left),
            cleaning::SOURCE,
        )
    }
}

/// A caution of the bath in words.
pub(crate) const fn warning(warning: Warning) -> &'static str {
    match warning {
        Warning::CitrateMayDrop => {
            "Calcium citrate may drop out as white sludge if this bath stands: drain it as soon as the soak is over."
        }
        Warning::CitrateSludge => {
            "This much chalk would turn citric acid into white sludge: split the work into two baths, or use vinegar."
        }
        Warning::TooWeak => {
            "This bath may be used up before the chalk is gone: go stronger, or plan a second bath."
        }
        Warning::Strong => "Strong acid: gloves, goggles and an open window while you pour.",
        Warning::KeepCool => "Keep this acid below 60 °C: use it in a cold machine.",
    }
}

/// "Pod adapter (kept in the drawer)".
fn kept(what: &str, which: &str, place: &str) -> String {
    let which = match which {
        "" => String::new(),
        which => format!(": {which}"),
    };
    let place = match place {
        "" => String::new(),
        place => format!(" (kept: {place})"),
    };
    format!("{what}{which}{place}")
}

/// How well the strength of an agent is known whose label gives no more than a pH.
fn strength_by_label(agent: &Agent) -> Option<String> {
    let [likely, least, most] = agent.label_percent()?;
    Some(format!(
        "Its strength is reckoned from pH {} on its label: about {likely:.1} %, between {least:.1} and {most:.1} %. What the first bath brings shows which.",
        trim(agent.label_ph?, 1)
    ))
}
