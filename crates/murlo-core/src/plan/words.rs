//! A plan in words: why it is so, what to lay out, and the working behind its figures.

use super::steps::holder_bath;
use super::worked::Worked;
use super::{Facts, Kind, Plan, Work};
use crate::bath::{self, Agent, Warning};
use crate::brewer::{Outlet, Way};
use crate::text;
use crate::working::Working;

impl Facts<'_> {
    pub(super) fn reasons(&self, agent: &Agent, plan: &Plan, cleared: f64) -> Vec<String> {
        let all: &[&str] = match plan.work {
            Work::Needles => &[
                "Only the needles: no bath, so nothing to rinse.",
                "A cup is timed before and after; the difference shows what it brought.",
            ],
            Work::Rehearsal => &[
                "Plain water in place of the bath: nothing to rinse, nothing to smell.",
                "It stays out of the cleaning history; the due date does not move.",
            ],
            Work::Descale => &[],
        };
        if plan.work != Work::Descale {
            return all.iter().map(|line| (*line).to_owned()).collect();
        }
        let mut reasons = Vec::new();
        if self.brewer.forbids.contains(&agent.id) {
            reasons.push(format!(
                "The maker of this brewer forbids {}: you chose it against that.",
                agent.name.to_lowercase()
            ));
        }
        reasons.extend(self.reasons_of_the_bath(plan));
        reasons.push(self.reason_of_the_soak(plan, cleared));
        reasons.push(format!("Rinse: {}.", plan.rinse.reason));
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

    fn reasons_of_the_bath(&self, plan: &Plan) -> [String; 3] {
        let chalk = &self.forecast.chalk;
        let mixed = &plan.bath;
        let baths = plan.likely_baths.max(plan.chosen.baths);
        let enough = match mixed.useful_mg * f64::from(baths) >= chalk.high_mg {
            true => "enough even for the high estimate of",
            false => "less than the high estimate of",
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
                "{each} {}, {enough} {:.1} g.",
                mixed.useful_text,
                chalk.high_mg / 1000.0
            ),
            volume.to_owned(),
        ]
    }

    fn reason_of_the_soak(&self, plan: &Plan, cleared: f64) -> String {
        if self.way() != Way::Programme {
            return format!("Soak: {}.", plan.soak.reason);
        }
        let (minutes, known) = self.programme_minutes();
        format!(
            "The programme soaks by itself: about {}, {known}. That clears about {:.0} % of the chalk; the rest counts on. By hand the soak would be {}.",
            text::minutes(minutes),
            100.0 * cleared,
            text::minutes(plan.soak.minutes)
        )
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
        let (work, mixed, chosen, vessel) = (plan.work, &plan.bath, &plan.chosen, &plan.vessel);
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
            kit.push("Measuring cup or jug, spoon".to_owned());
        }
        if work != Work::Rehearsal {
            kit.push("Bowl for parts, dish soap, soft cloth, paper towel".to_owned());
            kit.push("Small brush kept for the kitchen only".to_owned());
            kit.push("Two clear clean glasses".to_owned());
        }
        let stands = plan.steps.iter().any(|s| s.is(Kind::HolderSoak));
        if let Some(into) =
            holder_bath(agent).filter(|_| stands && !self.brewer.forbids.contains(&agent.id))
        {
            kit.push(format!("A cup for the pod holder, with {into}"));
        }
        match self.circuit.outlet {
            Outlet::Pod => kit.push("Straightened paper clip for the needles".to_owned()),
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
        if self.today.filter_due && self.brewer.filter.is_some() {
            kit.push("A new water filter".to_owned());
        }
        if !self.brewer.places.guide.is_empty() {
            kit.push(kept("The maker's guide", "", &self.brewer.places.guide));
        }
        if work == Work::Descale && mixed.warnings.contains(&Warning::Strong) {
            kit.push("Gloves and goggles".to_owned());
        }
        kit
    }

    pub(super) fn working(&self, worked: &Worked) -> Vec<Working> {
        let Worked {
            agent,
            mixed,
            soaking,
            soak,
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
        all.push(Working::new(
            "soak",
            "t = V/A ∫ dy/F(y), half as long again for an uneven film",
            &[
                (
                    "strength at the chalk",
                    format!("{:.2} % w/v", soaking.g_per_l / 10.0),
                ),
                ("volume at the chalk", self.units.volume(soaking.bath_ml)),
                ("area", format!("{:.0} cm²", soaking.area_cm2)),
                ("chalk", g(soaking.chalk_mg.0)),
                (
                    "temperature",
                    format!("{} °C, hot and cooling", bath::SOAK_C),
                ),
            ],
            format!(
                "{} ({} to {})",
                text::minutes(soak.minutes),
                text::minutes(soak.low),
                text::minutes(soak.high)
            ),
            crate::chem::dissolve::SOURCE,
        ));
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
            crate::chem::washout::SOURCE,
        ));
        all
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
