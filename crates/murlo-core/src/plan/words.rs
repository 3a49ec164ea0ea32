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
        let (mixed, chosen, soak, rinse) = (&plan.bath, &plan.chosen, &plan.soak, &plan.rinse);
        match plan.work {
            Work::Needles => {
                return vec![
                    "Only the needles: no bath, so nothing to rinse.".to_owned(),
                    "A cup is timed before and after; the difference shows what it brought."
                        .to_owned(),
                ];
            }
            Work::Rehearsal => {
                return vec![
                    "Plain water in place of the bath: nothing to rinse, nothing to smell."
                        .to_owned(),
                    "It stays out of the cleaning history; the due date does not move.".to_owned(),
                ];
            }
            Work::Descale => {}
        }
        let g = |mg: f64| format!("{:.1} g", mg / 1000.0);
        let baths = plan.likely_baths.max(chosen.baths);
        let useful_mg = mixed.useful_mg * f64::from(baths);
        let enough = if useful_mg >= self.forecast.chalk.high_mg {
            "enough even for the high estimate of"
        } else {
            "less than the high estimate of"
        };
        let volume = if self.way() == Way::CupAtATime {
            "One cup of bath fills tank and tubing; more does not go in."
        } else if self.is_drip() && mixed.total.ml > 0.9 * self.reservoir_ml() {
            "The bath fills the reservoir, so that all of the riser is wetted."
        } else {
            "The bath stops at its dose: more would only be more to rinse."
        };
        let mut reasons = vec![
            format!(
                "Chalk (scale): {}, from {}.",
                self.forecast.chalk.text, self.forecast.reason
            ),
            format!(
                "{} {}, {enough} {}.",
                match baths {
                    1 => "The bath".to_owned(),
                    n => format!("Each of {n} fresh baths"),
                },
                mixed.useful_text,
                g(self.forecast.chalk.high_mg)
            ),
            volume.to_owned(),
            match self.way() {
                Way::Programme => {
                    let (minutes, known) = self.programme_minutes();
                    format!(
                        "The programme soaks by itself: about {}, {known}. That clears about {:.0} % of the chalk; the rest counts on. By hand the soak would be {}.",
                        text::minutes(minutes),
                        100.0 * cleared,
                        text::minutes(soak.minutes)
                    )
                }
                _ => format!("Soak: {}.", soak.reason),
            },
            format!("Rinse: {}.", rinse.reason),
        ];
        if plan.likely_baths > chosen.baths {
            reasons.push(format!(
                "This much chalk likely takes {} fresh baths. The first is planned; a look at what it brought decides whether another follows.",
                plan.likely_baths
            ));
        }
        let corrected = [
            ("a bath", self.bath_dispense_ml()),
            ("rinse water", self.rinse_dispense_ml()),
        ];
        for (what, ml) in corrected {
            if self.is_pressed() && ml != self.circuit.dispense_ml {
                reasons.push(format!(
                    "Earlier cleans counted otherwise than reckoned: a dispense of {what} is taken as {}, not {}.",
                    self.units.volume(ml),
                    self.units.volume(self.circuit.dispense_ml)
                ));
            }
        }
        reasons.extend(self.today.why_side.clone());
        if self.brewer.circuits.len() > 1 && !self.today.beside {
            reasons.push(
                if self.brewer.has_own_reservoirs() {
                    "Each side has a reservoir of its own: start the other one too, and both run side by side."
                } else {
                    "Both sides share one reservoir: the other side has its turn next time."
                }
                .to_owned(),
            );
        }
        if self.today.filter_due && self.brewer.filter.is_some() {
            reasons.push("The water filter is worn out: a new one goes in at the end.".to_owned());
        }
        if self.brewer.forbids.contains(&agent.id) {
            reasons.insert(
                0,
                format!(
                    "The maker of this brewer forbids {}: you chose it against that.",
                    agent.name.to_lowercase()
                ),
            );
        }
        reasons
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
