//! The first minute: a brewer from a handful of touches. What nobody said has the usual figure of its kind, or is not known.

use jiff::Timestamp;
use jiff::civil::Date;
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::text;
use murlo_base::units::Units;
use murlo_brewer::bath::{Agent, AgentForm};
use murlo_brewer::home::Home;
use murlo_brewer::journal::{Entry, Sign, What};
use murlo_brewer::water::{Reading, TapChalk, Through, Water, Waters};
use murlo_brewer::{Beforehand, Brewer, BrewerDraft, Circuit, Family, Outlet, Policy};
use murlo_chemistry::acid::Acid;
use serde::{Deserialize, Serialize};

/// What goes in, as told by touch.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "by", rename_all = "snake_case", deny_unknown_fields)]
pub enum FilledWith {
    /// Water from a tap on which so much chalk shows.
    Tap {
        /// What is seen.
        chalk: TapChalk,
    },
    /// Water that goes through something before, or bottled water.
    Through {
        /// What it goes through.
        through: Through,
        /// What is seen on taps, where somebody looked.
        #[serde(default)]
        chalk: Option<TapChalk>,
    },
    /// A water of the household.
    Known {
        /// Which.
        water_id: String,
    },
}

/// How much comes out.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Comes {
    /// A whole cup.
    Whole,
    /// Half a cup, or less than it should be.
    Half,
    /// Nothing.
    Nothing,
}

/// The answers so far. What is left out is not known.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Answers {
    /// Its kind.
    pub family: Option<Family>,
    /// What goes in.
    pub filled: Option<FilledWith>,
    /// How much comes out.
    pub comes: Option<Comes>,
    /// Cups a day.
    pub cups: Option<f64>,
    /// When it was last descaled, and how long it is in use.
    pub beforehand: Beforehand,
    /// The day on which it was last descaled, where that is known.
    pub last_descaled: Option<Date>,
    /// What is noticed of it now.
    pub signs: Vec<Sign>,
    /// The side whose light asks, where it has several.
    pub light_of: Option<Outlet>,
    /// Whether it has a button or a setting for cleaning, where a carafe stands in it.
    pub clean_button: Option<bool>,
    /// The agents that are in the house.
    pub have: Option<Vec<String>>,
    /// The strength on the vinegar's label, %.
    pub vinegar_percent: Option<f64>,
    /// What it is to be called.
    pub nickname: Option<String>,
    /// Where it stands.
    pub home_id: Option<String>,
}

/// What of a household the answers are held against.
pub struct Beginning<'a> {
    /// Its units.
    pub units: Units,
    /// Its homes.
    pub homes: &'a [Home],
    /// Its waters.
    pub waters: &'a Waters,
    /// Its agents.
    pub agents: &'a [Agent],
    /// Nicknames that are taken.
    pub nicknames: Vec<&'a str>,
    /// Its day.
    pub today: Date,
    /// Now.
    pub now: Timestamp,
}

/// Facts that answers come to.
#[derive(Debug, Clone, PartialEq)]
pub struct Settled {
    /// The brewer.
    pub brewer: Brewer,
    /// Its water, where the household has none like it.
    pub water: Option<Water>,
    /// Agents that are now known to be in the house, or not to be.
    pub agents: Vec<Agent>,
    /// What was noticed.
    pub entries: Vec<Entry>,
}

impl Settled {
    /// `agents` as they are with these answers.
    #[must_use]
    pub fn with_agents(&self, mut agents: Vec<Agent>) -> Vec<Agent> {
        for changed in &self.agents {
            match agents.iter_mut().find(|a| a.id == changed.id) {
                Some(agent) => *agent = changed.clone(),
                None => agents.push(changed.clone()),
            }
        }
        agents
    }
}

/// A question that tells kinds of brewers apart, for somebody who cannot tell by the pictures.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Look {
    /// What is seen.
    pub seen: &'static str,
    /// Then it is this one.
    pub family: Family,
}

/// What each kind can be told by, the surest first: the first that is seen decides.
pub const LOOKS: [Look; 6] = [
    Look {
        seen: "A carafe stands in it, and beside it a pod or capsule goes in",
        family: Family::Combination,
    },
    Look {
        seen: "A carafe stands in it",
        family: Family::Drip,
    },
    Look {
        seen: "A cup of water is poured in for each cup",
        family: Family::OneCupPod,
    },
    Look {
        seen: "The capsule has a printed code, and is spun or read",
        family: Family::CodedCapsule,
    },
    Look {
        seen: "A loud pump presses small cups from capsules",
        family: Family::PumpCapsule,
    },
    Look {
        seen: "A tank feeds many cups, and a needle comes down into a pod",
        family: Family::PodReservoir,
    },
];

/// By what each kind is told on its picture.
#[must_use]
pub const fn told_by(family: Family) -> &'static str {
    match family {
        Family::PodReservoir => "a tank at its side, a pod under the lid",
        Family::OneCupPod => "you pour in one cup at a time",
        Family::CodedCapsule => "capsules with a printed code",
        Family::PumpCapsule => "small capsules, a loud pump",
        Family::Drip => "a carafe and a basket of grounds",
        Family::Combination => "a carafe, and a pod side too",
    }
}

impl Answers {
    /// The brewer's form with the answers in it: the same sheet that can be filled in by hand.
    ///
    /// # Errors
    /// `Missing` while its kind is not known.
    pub fn draft(&self, house: &Beginning, water_id: &str) -> Result<BrewerDraft, Problem> {
        let family = self.family.ok_or_else(|| {
            Problem::new(
                Code::Missing,
                "family",
                "touch the brewer that is like yours",
            )
        })?;
        let home = self.home_id.as_deref();
        let home = home.or_else(|| Some(house.homes.first()?.id.as_str()));
        let template = BrewerDraft::template(
            family,
            house.units,
            home.unwrap_or_default(),
            water_id,
            house.today,
        );
        Ok(BrewerDraft {
            nickname: self
                .nickname
                .clone()
                .filter(|name| !name.trim().is_empty())
                .unwrap_or_else(|| house.free_name(family)),
            weekday_cups: self.cups.unwrap_or(template.weekday_cups),
            weekend_cups: self.cups.unwrap_or(template.weekend_cups),
            beforehand: Some(self.beforehand),
            last_descaled: self.last_descaled,
            in_use_since: self.last_descaled.unwrap_or(house.today).min(house.today),
            self_clean: match (self.clean_button, template.carafe_marks) {
                (Some(has), Some(_)) => has,
                // A carafe brewer whose light asks has something to answer it with.
                (None, Some(_)) => template.self_clean || self.light_asks(),
                (_, None) => template.self_clean,
            },
            // Who goes by its light has told so by naming it.
            policy: Policy {
                light: self.light_asks(),
                ..template.policy
            },
            ..template
        })
    }

    fn light_asks(&self) -> bool {
        self.signs.contains(&Sign::Light)
    }

    /// Everything the answers come to, with ids the device made.
    ///
    /// # Errors
    /// One problem per answer that is missing or cannot be.
    pub fn settle(
        &self,
        house: &Beginning,
        brewer_id: &str,
        water_id: &str,
    ) -> Result<Settled, Problems> {
        let mut problems = Problems::default();
        problems.note(text::id("brewer_id", brewer_id));
        problems.note(text::id("water_id", water_id));
        let (water, filled_with) = self.water(house, water_id);
        if let Some(home) = &self.home_id
            && !house.homes.iter().any(|h| h.id == *home)
        {
            let message = "that home is not there: choose one of the list";
            problems
                .0
                .push(Problem::new(Code::UnknownId, "home_id", message));
        }
        if let Some(FilledWith::Known { water_id }) = &self.filled
            && !house.waters.contains_key(water_id)
        {
            let message = "that water is not there: choose one of the list";
            problems
                .0
                .push(Problem::new(Code::UnknownId, "filled.water_id", message));
        }
        let agents = problems.note(self.agents(house)).unwrap_or_default();
        let brewer = problems
            .note(self.draft(house, &filled_with))
            .and_then(|draft| problems.note(draft.check(brewer_id.to_owned(), None, house.today)));
        let settled = brewer.map(|brewer| Settled {
            entries: self.entries(&brewer, house),
            brewer,
            water,
            agents,
        });
        problems.or(settled)
    }

    /// Its water: one of the household's that is known likewise, or a new one.
    fn water(&self, house: &Beginning, new_id: &str) -> (Option<Water>, String) {
        let (reading, name) = match &self.filled {
            Some(FilledWith::Known { water_id }) => return (None, water_id.clone()),
            Some(FilledWith::Tap { chalk }) => (Reading::Taps { chalk: *chalk }, "Tap water"),
            Some(FilledWith::Through { through, chalk }) => (
                Reading::Through {
                    through: *through,
                    chalk: *chalk,
                },
                through.name(),
            ),
            None => (Reading::Unknown {}, "Water, not looked at yet"),
        };
        let mut same: Vec<_> = house
            .waters
            .values()
            .filter(|w| w.reading == reading)
            .collect();
        same.sort_by(|a, b| a.id.cmp(&b.id));
        if let Some(water) = same.first() {
            return (None, water.id.clone());
        }
        let water = Water {
            id: new_id.to_owned(),
            name: free(name, house.waters.values().map(|w| w.name.as_str())),
            reading,
            price_a_litre: None,
        };
        (Some(water), new_id.to_owned())
    }

    /// Agents whose place in the house the answers change.
    fn agents(&self, house: &Beginning) -> Result<Vec<Agent>, Problems> {
        let Some(have) = &self.have else {
            return Ok(Vec::new());
        };
        let mut problems = Problems::default();
        let mut all = house.agents.to_vec();
        let tablets = Agent::tablets();
        if have.contains(&tablets.id) && !all.iter().any(|a| a.id == tablets.id) {
            all.push(tablets);
        }
        for id in have.iter().filter(|id| !all.iter().any(|a| a.id == **id)) {
            let message =
                format!("\"{id}\" is none of the household's agents: take one of the list");
            problems
                .0
                .push(Problem::new(Code::UnknownId, "have", message));
        }
        for agent in &mut all {
            let is_here = have.contains(&agent.id);
            agent.on_hand = match agent.on_hand {
                // Somebody counted: a touch says no more than that.
                Some(left) if left > 0.0 && is_here => Some(left),
                _ => (!is_here).then_some(0.0),
            };
            let is_vinegar = matches!(
                agent.form,
                AgentForm::Liquid {
                    acid: Acid::Acetic,
                    ..
                }
            );
            if is_here && is_vinegar {
                problems.note(agent.set_percent("vinegar_percent", self.vinegar_percent));
            }
        }
        all.retain(|agent| !house.agents.contains(agent));
        problems.or(Some(all))
    }

    /// What is noticed now began some time ago, nobody knows on which day.
    fn entries(&self, brewer: &Brewer, house: &Beginning) -> Vec<Entry> {
        let mut signs = self.signs.clone();
        if self.comes == Some(Comes::Half) && !signs.contains(&Sign::Slow) {
            signs.push(Sign::Slow);
        }
        let circuit = brewer.circuits.iter().find(|c| c.outlet != Outlet::Grounds);
        let usual = circuit.unwrap_or(&brewer.circuits[0]);
        // A light of which nobody knows the side asks for both.
        let asks = |circuit: &&Circuit| self.light_of.is_none_or(|side| circuit.outlet == side);
        let sides = |sign: Sign| -> Vec<(Sign, &str)> {
            let all = brewer.circuits.iter().filter(asks);
            let lit: Vec<_> = all.map(|circuit| (sign, circuit.id.as_str())).collect();
            match sign == Sign::Light && !lit.is_empty() {
                true => lit,
                false => vec![(sign, usual.id.as_str())],
            }
        };
        let entry = |(i, (sign, circuit_id)): (usize, (Sign, &str))| Entry {
            id: format!("{}-first-{i}", brewer.id),
            brewer_id: brewer.id.clone(),
            day: house.today,
            at: Some(house.now),
            what: What::Sign {
                circuit_id: circuit_id.to_owned(),
                sign,
                dated: false,
                potential_mg: None,
            },
        };
        let all = signs.into_iter().flat_map(sides);
        all.enumerate().map(entry).collect()
    }
}

impl Beginning<'_> {
    /// "Drip brewer", or "Drip brewer 2" where that is taken.
    fn free_name(&self, family: Family) -> String {
        free(family.label(), self.nicknames.iter().copied())
    }
}

/// `name`, with the first number that makes it different from all that are taken.
fn free<'a>(name: &str, taken: impl Iterator<Item = &'a str>) -> String {
    let taken: Vec<_> = taken.collect();
    let numbered = (2..).map(|n| format!("{name} {n}"));
    let mut all = std::iter::once(name.to_owned()).chain(numbered);
    all.find(|name| !taken.contains(&name.as_str()))
        .unwrap_or_default()
}

#[cfg(test)]
mod tests;
