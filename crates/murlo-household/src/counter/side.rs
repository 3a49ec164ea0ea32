//! Which side of a brewer is cleaned next, and what else its plan needs to know.

use crate::counter::{CoffeeAsked, CounterFacts, PartDay, PartShown};
use murlo_base::problem::Problem;
use murlo_base::text;
use murlo_brewer::home::Bottle;
use murlo_brewer::journal::What;
use murlo_brewer::{Brewer, Circuit, Outlet};
use murlo_chalk::belief::Told;
use murlo_chalk::upkeep::Upkeep;
use murlo_plan::pace::Pace;
use murlo_plan::{KeptWay, NextPart, OverDays, PlanOptions, Today};

impl CounterFacts<'_> {
    /// The side whose turn it is, with the reason where there are several: one that is not being cleaned now, and was not
    /// cleaned last; the most used one when none ever was.
    ///
    /// # Errors
    /// `UnknownId` when the options name no side of this brewer.
    pub fn side<'b>(
        &self,
        brewer: &'b Brewer,
        options: &PlanOptions,
    ) -> Result<(&'b Circuit, Option<String>), Problem> {
        if let Some(id) = &options.circuit_id {
            return Ok((brewer.circuit("circuit_id", id)?, None));
        }
        if let Some(outlet) = options.outlet() {
            let other = |c: &&Circuit| (c.outlet == Outlet::Grounds) == (outlet == Outlet::Grounds);
            if let Some(circuit) = brewer.circuits.iter().find(other) {
                return Ok((circuit, None));
            }
        }
        let last = |c: &Circuit| {
            let key = brewer.key_of(c);
            self.cleans
                .get(&key)
                .and_then(|all| all.last())
                .map(|c| c.day)
        };
        let turn = brewer
            .circuits
            .iter()
            .min_by(|a, b| {
                let key = |c: &Circuit| (self.running_clean(brewer, c).is_some(), last(c));
                key(a).cmp(&key(b)).then(b.share.total_cmp(&a.share))
            })
            .expect("a brewer always has a circuit");
        let latest = brewer
            .circuits
            .iter()
            .filter_map(|c| Some((last(c)?, c)))
            .max_by_key(|(day, _)| *day);
        let why = (brewer.circuits.len() > 1).then(|| match latest {
            Some((day, other)) if other.id != turn.id => format!(
                "The {} was cleaned last, {}: now the {}.",
                other.name(),
                text::day(day, self.today),
                turn.name()
            ),
            _ if turn.share > 0.5 => {
                format!("The {} is used most: it comes first.", turn.name())
            }
            _ => format!("Now the {}: no side of it was cleaned yet.", turn.name()),
        });
        Ok((turn, why))
    }

    /// What else a plan needs to know of `circuit` today.
    #[must_use]
    pub fn today_of(&self, brewer: &Brewer, circuit: &Circuit, why_side: Option<String>) -> Today {
        let upkeep = self.upkeep(brewer);
        Today {
            filter_due: Upkeep::is_filter_worn(&upkeep, self.today),
            filter_unknown: Upkeep::is_filter_unknown(&upkeep),
            beside: brewer
                .circuits
                .iter()
                .any(|c| c.id != circuit.id && self.running_clean(brewer, c).is_some()),
            measured: self
                .measured
                .get(&brewer.key_of(circuit))
                .cloned()
                .unwrap_or_default(),
            why_side,
            noses: self.noses.to_vec(),
            bottle: self.bottle(brewer),
            last: self
                .cleans
                .get(&brewer.key_of(circuit))
                .and_then(|all| all.iter().rev().find_map(|clean| clean.taken.clone())),
            pace: Pace::learn(self.paces, brewer.family, self.pace_after),
            day: Some(self.today),
            brought: self.brought(brewer, circuit),
            ways: self.ways_of(brewer, circuit),
            part: self.next_part(brewer, circuit),
        }
    }

    /// The part of a clean over days that comes next on a side.
    #[must_use]
    pub fn next_part(&self, brewer: &Brewer, circuit: &Circuit) -> Option<NextPart> {
        let cleans = self.cleans.get(&brewer.key_of(circuit));
        let is_done = |id: &str| {
            let mut own = cleans.into_iter().flatten();
            own.any(|clean| clean.clean_id.as_deref() == Some(id) && !clean.given_up)
        };
        let is_its =
            |over: &&OverDays| over.brewer_id == brewer.id && over.circuit_id == circuit.id;
        let mut own = self.over_days.iter().filter(is_its);
        own.find_map(|over| over.next(is_done))
    }

    /// The same as it is shown.
    pub(crate) fn part(&self, brewer: &Brewer, circuit: &Circuit) -> Option<PartShown> {
        let next = self.next_part(brewer, circuit)?;
        let days = next.over.parts.iter().enumerate();
        Some(PartShown {
            over_id: next.over.id.clone(),
            day: next.day(),
            text: format!(
                "{}, on {}",
                next.part().words(),
                text::day(next.day(), self.today)
            ),
            is_due: next.day() <= self.today,
            days: days
                .map(|(i, part)| PartDay {
                    day: part.day,
                    is_done: i < next.at,
                })
                .collect(),
        })
    }

    /// The last clean whose first coffee nobody has told of, while it can be remembered.
    pub(crate) fn first_coffee(&self, brewer: &Brewer) -> Option<CoffeeAsked> {
        let last = brewer.circuits.iter().filter_map(|circuit| {
            let clean = self.cleans.get(&brewer.key_of(circuit))?.last()?;
            let id = clean.clean_id.as_ref().filter(|_| !clean.given_up)?;
            let is_fresh = (self.today - clean.day).get_days() <= REMEMBERED_DAYS;
            let is_ready = self.running_clean(brewer, circuit).is_none()
                && !self.acid.contains_key(&brewer.key_of(circuit));
            (is_fresh && is_ready).then_some((clean.day, id, circuit))
        });
        let (day, clean_id, circuit) = last.max_by_key(|(day, ..)| *day)?;
        let entries = self.journals.get(&brewer.id).map_or(&[][..], Vec::as_slice);
        let is_told = entries.iter().any(|entry| {
            matches!(&entry.what, What::FirstCoffee { clean_id: told, .. } if told == clean_id)
        });
        (!is_told).then(|| CoffeeAsked {
            clean_id: clean_id.clone(),
            circuit_id: circuit.id.clone(),
            text: format!(
                "How was the first coffee after the clean of {}?",
                text::day(day, self.today)
            ),
        })
    }

    /// What its last clean brought out.
    fn brought(&self, brewer: &Brewer, circuit: &Circuit) -> Option<Told> {
        let cleans = self.cleans.get(&brewer.key_of(circuit))?;
        cleans.last()?.evidence.brought
    }

    /// Ways that are kept for this side, the one that was kept last first.
    fn ways_of(&self, brewer: &Brewer, circuit: &Circuit) -> Vec<KeptWay> {
        let all = self.ways.iter();
        let own = all.filter(|way| way.brewer_id == brewer.id && way.circuit_id == circuit.id);
        let mut ways: Vec<_> = own.cloned().collect();
        ways.sort_by(|a, b| {
            b.latest()
                .since
                .cmp(&a.latest().since)
                .then(a.id.cmp(&b.id))
        });
        ways
    }

    /// Whose agent goes into its baths.
    #[must_use]
    pub fn bottle(&self, brewer: &Brewer) -> Bottle {
        let home = self.homes.get(&brewer.home_id);
        home.map_or_else(Bottle::default, |home| home.bottle)
    }
}

/// After so many days nobody remembers the first coffee. Judged.
const REMEMBERED_DAYS: i32 = 4;
