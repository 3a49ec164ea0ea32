//! A bath by amounts that somebody said: it is what they come to, and is spoken of in their words.

use crate::poured_so::{ByEye, PouredSo};
use crate::worked::BathChoice;
use crate::{Facts, PlanOptions};
use murlo_base::bounds;
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::units::{Marks, Tool, parse_volume, trim};
use murlo_brewer::bath::{Agent, AgentForm, MixOrder, Mixed, Recipe};

/// What was said, in figures.
pub(crate) struct SaidBath {
    pub recipe: Recipe,
    /// Agent, mL; of what is dissolved, g.
    pub agent: f64,
    pub water_ml: f64,
    pub total_ml: f64,
}

impl Facts<'_> {
    /// The volume that was typed, mL; marks and lines of this brewer count, and the agent's own bottle.
    fn volume_of(&self, field: &str, typed: &str, agent: &Agent) -> Result<f64, Problem> {
        if let Some(bottle) = agent.bottle_ml().filter(|_| typed.contains("bottle")) {
            let in_marks = typed.replace("bottle", "mark");
            return parse_volume(field, &in_marks, &bounds::VOLUME, Some(bottle));
        }
        let mark = self.brewer.carafe.map(|c| c.mark_ml);
        let mark = mark.or(self.brewer.reservoir_line_ml);
        let mut named = self.circuit.mechanics.marks.iter();
        match named.find(|m| m.name.eq_ignore_ascii_case(typed.trim())) {
            Some(named) => Ok(named.ml),
            None => parse_volume(field, typed, &bounds::VOLUME, mark),
        }
    }

    /// The amounts that were said, in figures; `place` is where they stand.
    pub(crate) fn said_bath(
        &self,
        agent: &Agent,
        so: &PouredSo,
        place: &str,
    ) -> Result<SaidBath, Problem> {
        let (field, of_water) = (format!("{place}.amount"), format!("{place}.water"));
        let water_ml = match so.water.trim() {
            "" | "0" => 0.0,
            typed => self.volume_of(&of_water, typed, agent)?,
        };
        let solid = |g_each: f64, what: &str| -> Result<SaidBath, Problem> {
            let typed = so.amount.trim();
            let number = typed.trim_end_matches(|c: char| c.is_alphabetic() || c == ' ');
            let many = number.replace(',', ".").parse::<f64>().map_err(|_| {
                let message = format!("\"{typed}\" is no amount here: {what}");
                Problem::new(Code::NotANumber, &field, message)
            })?;
            if water_ml <= 0.0 {
                let message = "it was dissolved in water: say in how much";
                return Err(Problem::new(Code::Missing, &of_water, message));
            }
            Ok(SaidBath {
                recipe: Recipe::Dose {
                    g_per_l: 1000.0 * many * g_each / water_ml,
                },
                agent: many * g_each,
                water_ml,
                total_ml: water_ml,
            })
        };
        match agent.form {
            AgentForm::Powder { .. } => solid(1.0, "give grams, such as 40 g"),
            AgentForm::Tablet { grams, .. } => solid(grams, "give how many tablets, such as 2"),
            AgentForm::Liquid { .. } | AgentForm::Bottle { .. } => {
                let ml = self.volume_of(&field, &so.amount, agent)?;
                let part = if water_ml > 0.0 { ml.min(water_ml) } else { ml };
                Ok(SaidBath {
                    recipe: Recipe::Ratio {
                        agent: ml / part,
                        water: water_ml / part,
                    },
                    agent: ml,
                    water_ml,
                    total_ml: ml + water_ml,
                })
            }
        }
    }

    /// The same amounts where another brewer's marks, lines or bottles cannot be meant.
    ///
    /// # Errors
    /// What cannot be read.
    pub fn in_plain_amounts(&self, agent: &Agent, so: &PouredSo) -> Result<PouredSo, Problem> {
        let said = self.said_bath(agent, so, "poured")?;
        let is_plain = |typed: &str| {
            let own = typed.contains("mark") || typed.contains("line") || typed.contains("bottle");
            let mut named = self.circuit.mechanics.marks.iter();
            !own && named.all(|m| !m.name.eq_ignore_ascii_case(typed.trim()))
        };
        let plain = |typed: &str, ml: f64| match is_plain(typed) {
            true => typed.trim().to_owned(),
            false => self.units.volume(ml),
        };
        let is_solid = matches!(
            agent.form,
            AgentForm::Powder { .. } | AgentForm::Tablet { .. }
        );
        Ok(PouredSo {
            agent_id: so.agent_id.clone(),
            amount: match is_solid {
                true => so.amount.trim().to_owned(),
                false => plain(&so.amount, said.agent),
            },
            water: plain(&so.water, said.water_ml),
        })
    }

    /// The choices of `options` with the bath that was said, as it was said and not in whole marks.
    pub(crate) fn choose_said(
        &self,
        options: &PlanOptions,
        agent: &Agent,
        so: &PouredSo,
        place: &str,
    ) -> Result<BathChoice, Problems> {
        let said = self.said_bath(agent, so, place)?;
        let most = self.reservoir_ml();
        if said.total_ml > most * 1.01 {
            let most = self.units.volume(most);
            return Err(Problem::new(
                Code::TooMuch,
                format!("{place}.water"),
                format!("all of it is more than the {most} that go in: what ran over is not in"),
            )
            .into());
        }
        let options = PlanOptions {
            agent_id: Some(so.agent_id.clone()),
            recipe: Some(said.recipe),
            agent_amount: None,
            ..options.clone()
        };
        let mut choice = self.choose(&options, Some(said.total_ml))?;
        choice.marks = Marks {
            tool: Tool::Ml,
            step_ml: 0.1,
        };
        choice.said = Some(so.clone());
        Ok(choice)
    }

    /// The choices of `options` with a bath that stands as high as it is seen to.
    pub(crate) fn choose_by_eye(
        &self,
        options: &PlanOptions,
        eye: &ByEye,
        place: &str,
    ) -> Result<BathChoice, Problems> {
        let level = bounds::SHARE.check(&format!("{place}.level"), eye.level)?;
        let options = PlanOptions {
            recipe: eye.recipe,
            ..options.clone()
        };
        let total_ml = (level * self.reservoir_ml()).max(self.least_bath_ml());
        self.choose_unmeasured(&options, total_ml.min(self.reservoir_ml()), place)
    }

    /// The same of so much that nobody measured. A strength that nobody knows is rinsed out as if it were neat.
    pub(crate) fn choose_unmeasured(
        &self,
        options: &PlanOptions,
        total_ml: f64,
        place: &str,
    ) -> Result<BathChoice, Problems> {
        let choice = self.choose(options, Some(total_ml));
        let mut choice = choice.map_err(|p| p.within(place))?;
        choice.marks = Marks {
            tool: Tool::Ml,
            step_ml: 0.1,
        };
        choice.said = Some(self.unmeasured_words(&choice));
        choice.starts_percent = match options.recipe {
            None => choice.agent.percent(),
            Some(_) => None,
        };
        Ok(choice)
    }

    /// Its amounts in this household's words.
    fn unmeasured_words(&self, choice: &BathChoice) -> PouredSo {
        let mixed: Mixed = MixOrder {
            agent: &choice.agent,
            recipe: choice.recipe,
            total_ml: choice.total_ml,
            marks: choice.marks,
            load_mg: 0.0,
        }
        .mix();
        let amount = match (&choice.agent.form, mixed.powder_g, &mixed.agent) {
            (AgentForm::Powder { .. }, Some(grams), _) => format!("{} g", trim(grams, 0)),
            (_, _, Some(agent)) => self.units.volume(agent.ml),
            _ => mixed.agent_text.clone(),
        };
        PouredSo {
            agent_id: choice.agent.id.clone(),
            amount,
            water: match mixed.water.ml < 1.0 {
                true => String::new(),
                false => self.units.volume(mixed.water.ml),
            },
        }
    }
}
