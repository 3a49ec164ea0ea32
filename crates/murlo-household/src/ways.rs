//! Ways that are kept, as they are shown, and as a file that another household opens.

use jiff::civil::Date;
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::{document, text};
use murlo_brewer::bath::{Agent, AgentForm};
use murlo_brewer::{Brewer, Circuit, Outlet};
use murlo_plan::{Habits, KeptWay, WayOrigin, WayRevision};
use serde::{Deserialize, Serialize};

/// Name of the format, the first thing a reader checks.
pub const WAY_FORMAT: &str = "murlo-way";

/// Its version.
const WAY_VERSION: u32 = 1;

/// Labels that differ by less are the same agent: it is poured the same way.
const SAME_STRENGTH: f64 = 1.25;

/// A way as it is shown on its brewer's page.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct WayShown {
    /// Identity.
    pub id: String,
    /// Its name.
    pub name: String,
    /// The side.
    pub circuit_id: String,
    /// "pod side", where the brewer has several.
    pub side: Option<String>,
    /// What is done now.
    pub habits: Habits,
    /// As it was kept each time, the latest first.
    pub revisions: Vec<RevisionShown>,
}

/// A way as it was kept one day.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RevisionShown {
    /// "3 Nov, from a clean".
    pub text: String,
    /// What is done, a line each.
    pub lines: Vec<String>,
}

impl WayShown {
    /// A way of `brewer`; nothing where its side is gone.
    #[must_use]
    pub fn of(way: &KeptWay, brewer: &Brewer, agents: &[Agent], today: Date) -> Option<Self> {
        let circuit = brewer.circuits.iter().find(|c| c.id == way.circuit_id)?;
        let shown = |revision: &WayRevision| RevisionShown {
            text: format!(
                "{}, {}",
                text::day(revision.since, today),
                from_words(&revision.from)
            ),
            lines: revision.habits.lines(agents, brewer, circuit),
        };
        Some(Self {
            id: way.id.clone(),
            name: way.name.clone(),
            circuit_id: way.circuit_id.clone(),
            side: (brewer.circuits.len() > 1).then(|| circuit.name().to_owned()),
            habits: way.latest().habits.clone(),
            revisions: way.revisions.iter().rev().map(shown).collect(),
        })
    }
}

fn from_words(from: &WayOrigin) -> String {
    match from {
        WayOrigin::Clean { .. } => "from a clean".to_owned(),
        WayOrigin::Plan => "from a plan".to_owned(),
        WayOrigin::Copied { from } => format!("copied from {from}"),
        WayOrigin::File => "from a file".to_owned(),
        WayOrigin::Proposed => "as was proposed".to_owned(),
    }
}

/// A way in the form in which it goes to another household.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct WayFile {
    /// Always "murlo-way".
    pub format: String,
    /// Its version.
    pub version: u32,
    /// What it is called.
    pub name: String,
    /// Where the water comes out on the side that it is for.
    pub outlet: Outlet,
    /// The agent's name.
    pub agent_name: String,
    /// What that is.
    pub agent: AgentForm,
    /// What is done, in amounts that need no marks of a brewer.
    pub habits: Habits,
}

impl WayFile {
    /// `way` with its amounts said so that any household can measure them.
    #[must_use]
    pub fn of(way: &KeptWay, circuit: &Circuit, agent: &Agent, habits: Habits) -> Self {
        Self {
            format: WAY_FORMAT.to_owned(),
            version: WAY_VERSION,
            name: way.name.clone(),
            outlet: circuit.outlet,
            agent_name: agent.name.clone(),
            agent: agent.form,
            habits,
        }
    }

    /// Checks a file that comes from elsewhere.
    ///
    /// # Errors
    /// `NotTheFormat`; one problem per wrong field.
    pub fn check(&self) -> Result<(), Problems> {
        if self.format != WAY_FORMAT || self.version != WAY_VERSION {
            let message = format!(
                "not a way that Murlo wrote: its \"format\" must be \"{WAY_FORMAT}\" and its \"version\" {WAY_VERSION}"
            );
            return Err(Problem::new(Code::NotTheFormat, "file", message).into());
        }
        let mut problems = Problems::default();
        let value = serde_json::to_value(self);
        problems.note(value.map_or(Ok(()), |value| document::check(&value)));
        problems.note(text::name("name", &self.name));
        problems.note(text::name("agent_name", &self.agent_name));
        problems.note(self.habits.check().map_err(|p| p.within("habits")));
        problems.or(Some(())).map_err(|p| p.within("file"))
    }

    /// What would be done with this household's agents on one side of a brewer of its own.
    ///
    /// # Errors
    /// `DoesNotFit` for another kind of side, `UnknownId` where no agent is like it.
    pub fn habits_for(&self, circuit: &Circuit, agents: &[Agent]) -> Result<Habits, Problem> {
        if (self.outlet == Outlet::Grounds) != (circuit.outlet == Outlet::Grounds) {
            let message = match self.outlet {
                Outlet::Grounds => "this way is for a carafe side: take it to one",
                Outlet::Pod | Outlet::Capsule => {
                    "this way is for a pod or capsule side: take it to one"
                }
            };
            return Err(Problem::new(Code::DoesNotFit, "file.outlet", message));
        }
        let like = agents
            .iter()
            .find(|agent| is_like(&agent.form, &self.agent));
        let agent = like.ok_or_else(|| {
            let message = format!(
                "nothing like {} is in the cupboard: add it there first",
                self.agent_name
            );
            Problem::new(Code::UnknownId, "file.agent", message)
        })?;
        let mut habits = self.habits.clone();
        habits.poured.agent_id.clone_from(&agent.id);
        habits.percent = None;
        Ok(habits)
    }
}

/// Whether one is poured like the other.
fn is_like(one: &AgentForm, other: &AgentForm) -> bool {
    let near = |a: f64, b: f64| a.max(b) <= SAME_STRENGTH * a.min(b);
    match (one, other) {
        (
            AgentForm::Liquid {
                acid: a,
                percent: p,
            },
            AgentForm::Liquid {
                acid: b,
                percent: q,
            },
        ) => a == b && near(*p, *q),
        (AgentForm::Powder { acid: a }, AgentForm::Powder { acid: b }) => a == b,
        (
            AgentForm::Bottle {
                acid: a,
                percent: p,
                bottle_ml: m,
            },
            AgentForm::Bottle {
                acid: b,
                percent: q,
                bottle_ml: n,
            },
        ) => a == b && near(*p, *q) && near(*m, *n),
        (
            AgentForm::Tablet {
                acid: a, grams: g, ..
            },
            AgentForm::Tablet {
                acid: b, grams: h, ..
            },
        ) => a == b && near(*g, *h),
        (
            AgentForm::Liquid { .. }
            | AgentForm::Powder { .. }
            | AgentForm::Bottle { .. }
            | AgentForm::Tablet { .. },
            _,
        ) => false,
    }
}

#[cfg(test)]
mod tests;
