//! How a household cleans one side of a brewer, as it is kept and done again.

use crate::kind::Kind;
use crate::options::MOST_BATHS;
use crate::pace;
use crate::poured_so::PouredSo;
use crate::spared::left_out_with;
use crate::step::Step;
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::{bounds, text};
use murlo_brewer::bath::Agent;
use murlo_brewer::rinse::Taste;
use murlo_brewer::{Brewer, Circuit, Outlet};
use murlo_chemistry::heater::Way;
use serde::{Deserialize, Serialize};

/// What is done each time, in the household's own amounts.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Habits {
    /// The agent, with the amounts of one bath as they are measured.
    pub poured: PouredSo,
    /// Strength of its bottle, % w/v, where that is not the one of the cupboard.
    #[serde(default)]
    pub percent: Option<f64>,
    /// Minutes of soaking; a programme soaks by itself.
    pub soak_minutes: f64,
    /// Fresh baths, one after the other.
    pub baths: u32,
    /// Mugs or carafes of rinse water.
    pub rinses: u32,
    /// Whose taste decides when it is rinsed enough.
    pub taste: Taste,
    /// By hand although it has a programme.
    #[serde(default)]
    pub by_hand: bool,
    /// Steps that are not done.
    #[serde(default)]
    pub left_out: Vec<Kind>,
    /// Steps beside the bath in the order in which they are done.
    #[serde(default)]
    pub order: Vec<Kind>,
}

impl Habits {
    /// Checks what can be checked without the brewer.
    ///
    /// # Errors
    /// One problem per figure out of range, and per step that nobody may leave out.
    pub fn check(&self) -> Result<(), Problems> {
        let mut problems = Problems::default();
        let so = &self.poured;
        problems.note(text::id("poured.agent_id", &so.agent_id));
        problems.note(text::line("poured.amount", &so.amount));
        if !so.water.trim().is_empty() {
            problems.note(text::line("poured.water", &so.water));
        }
        if let Some(percent) = self.percent {
            problems.note(bounds::AGENT_PERCENT.check("percent", percent));
        }
        problems.note(bounds::MINUTES.check("soak_minutes", self.soak_minutes));
        problems.note(bounds::PLANNED.check("rinses", f64::from(self.rinses)));
        if !(1..=MOST_BATHS).contains(&self.baths) {
            let message = format!("give 1 to {} baths", MOST_BATHS);
            problems
                .0
                .push(Problem::new(Code::OutOfRange, "baths", message));
        }
        for kind in self.left_out.iter().filter(|kind| !kind.is_spared()) {
            let message = format!(
                "{} cannot be left out: take it from the list",
                pace::name(*kind)
            );
            problems
                .0
                .push(Problem::new(Code::NotAChoice, "left_out", message));
        }
        problems.or(Some(()))
    }

    /// Takes out what is not done, and puts what lies beside the bath in its order.
    pub(crate) fn arrange(&self, steps: &mut Vec<Step>) {
        for kind in &self.left_out {
            let Some(i) = steps.iter().position(|step| step.is(*kind)) else {
                continue;
            };
            let mut gone = left_out_with(steps, i);
            gone.sort_unstable();
            for i in gone.into_iter().rev() {
                let gone = steps.remove(i);
                // What was to be done while it waited is done by itself.
                let beside = |step: &&mut Step| step.during.as_ref() == Some(&gone.id);
                steps
                    .iter_mut()
                    .filter(beside)
                    .for_each(|step| step.during = None);
            }
        }
        let place = |step: &Step| {
            let kind = step.kind()?;
            self.order.iter().position(|known| *known == kind)
        };
        let is_free = |step: &Step| {
            step.kind().is_some_and(Kind::is_spared)
                && step.during.is_none()
                && place(step).is_some()
        };
        for run in steps.chunk_by_mut(|one, next| is_free(one) && is_free(next)) {
            run.sort_by_key(place);
        }
    }

    /// What is done, a line each: "2 cups of white vinegar and 2 cups of water", "soak 20 min".
    #[must_use]
    pub fn lines(&self, agents: &[Agent], brewer: &Brewer, circuit: &Circuit) -> Vec<String> {
        let so = &self.poured;
        let agent = agents.iter().find(|agent| agent.id == so.agent_id);
        let amount = so.amount.trim();
        let agent = agent.map_or_else(
            || format!("{amount} of an agent that is gone"),
            |agent| agent.poured(amount),
        );
        let bath = match so.water.trim() {
            "" | "0" => format!("{agent}, neat"),
            water => format!("{agent} and {water} of water"),
        };
        let mut lines = vec![match self.baths {
            1 => text::capital(&bath),
            n => format!("{n} baths, each {bath}"),
        }];
        let has_programme = brewer.way(circuit) == Way::Programme;
        if has_programme && self.by_hand {
            lines.push("By hand, not by its programme".to_owned());
        }
        lines.push(match self.soak_minutes {
            _ if has_programme && !self.by_hand => {
                "By its programme, which soaks by itself".to_owned()
            }
            minutes if minutes < 1.0 => "No soak".to_owned(),
            minutes => format!("Soak {}", text::minutes(minutes)),
        });
        let (one, many) = match circuit.outlet {
            Outlet::Grounds => ("carafe", "carafes"),
            Outlet::Pod | Outlet::Capsule => ("mug", "mugs"),
        };
        let taste = match self.taste {
            Taste::Usual => "",
            Taste::Strict => ", for a keen nose",
        };
        lines.push(format!(
            "Rinse {}{taste}",
            text::count(self.rinses, one, many)
        ));
        if !self.left_out.is_empty() {
            let names: Vec<_> = self.left_out.iter().map(|kind| pace::name(*kind)).collect();
            lines.push(format!("Left out: {}", names.join(", ")));
        }
        lines
    }
}
