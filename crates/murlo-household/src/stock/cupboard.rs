//! The cupboard as it is shown: levels, what the next months will use, by when to buy, and where that is cheapest.

use super::{Drawn, Moved, Movement, Supply, SupplyKind, level};
use crate::counter::BrewerCard;
use jiff::civil::Date;
use murlo_base::days::days_after;
use murlo_base::text;
use murlo_base::units::Units;
use murlo_brewer::bath::{Agent, AgentForm};
use murlo_brewer::job::Job;
use murlo_brewer::offer::Offer;
use murlo_chalk::money::Terms;
use serde::Serialize;
use std::collections::HashMap;

/// So far it looks ahead, days.
pub const AHEAD_DAYS: i32 = 91;
const DAYS_A_MONTH: f64 = 30.4;
/// Nobody plans further ahead than this.
const MOST_MONTHS: f64 = 24.0;
/// A thing that has never been full is drawn against this many cleans' worth. Judged.
const FULL_CLEANS: f64 = 6.0;

/// What is known when the cupboard is opened.
pub struct Cupboard<'a> {
    /// The household's agents.
    pub agents: &'a [Agent],
    /// What is counted by the piece.
    pub supplies: &'a [Supply],
    /// What happened to levels.
    pub movements: &'a [Movement],
    /// What was drawn by what was done.
    pub drawn: &'a [Drawn],
    /// What the next clean of each other side would take.
    pub foreseen: &'a [Drawn],
    /// The brewers, with every small work.
    pub cards: &'a [BrewerCard],
    /// Names of brewers, those put away included.
    pub names: &'a HashMap<String, String>,
    /// Money.
    pub terms: &'a Terms,
    /// Units to read.
    pub units: Units,
    /// The household's day.
    pub today: Date,
}

/// What happened to a level, in words.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Line {
    /// The movement, where a person made it and may take it back.
    pub movement_id: Option<String>,
    /// "Bought 1 L on 3 Nov".
    pub text: String,
}

/// One thing of the cupboard.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Shown {
    /// The agent or supply.
    pub id: String,
    /// Its name.
    pub name: String,
    /// What it is for; nothing for an agent.
    pub kind: Option<SupplyKind>,
    /// What amounts are typed in: "mL", "g", "pieces".
    pub unit: String,
    /// What is there; nothing where nobody counted.
    pub level: Option<f64>,
    /// How full its vessel is drawn, 0 to 1; nothing where nobody counted.
    pub fill: Option<f64>,
    /// "1.2 L, enough for about 3 cleans".
    pub level_text: String,
    /// "The next three months: about 2 cleans, 710 mL (1 to 4 cleans)".
    pub need_text: String,
    /// "Buy 500 mL or more by 12 Jan"; nothing where what is there lasts.
    pub buy: Option<String>,
    /// "Corner shop, 0.42 a clean"; nothing without a price.
    pub cheapest: Option<String>,
    /// Where it can be bought.
    pub offers: Vec<Offer>,
    /// What happened to it, latest first.
    pub lines: Vec<Line>,
}

/// When something is used, and how much: as it likely is, at the least and at the most.
#[derive(Default)]
struct Needs {
    days: Vec<(Date, f64)>,
    times: [u32; 3],
}

impl Cupboard<'_> {
    /// Everything in it, what runs short first.
    #[must_use]
    pub fn shown(&self) -> Vec<Shown> {
        let mut needs: HashMap<&str, Needs> = HashMap::new();
        self.cleans_ahead(&mut needs);
        self.works_ahead(&mut needs);
        let none = Needs::default();
        let agents = self.agents.iter().map(|agent| {
            let needs = needs.get(agent.id.as_str()).unwrap_or(&none);
            self.agent(agent, needs)
        });
        let supplies = self.supplies.iter().map(|supply| {
            let needs = needs.get(supply.id.as_str()).unwrap_or(&none);
            self.supply(supply, needs)
        });
        let mut all: Vec<_> = supplies.chain(agents).collect();
        all.sort_by_key(|shown| (shown.buy.is_none(), shown.level.is_none()));
        all
    }

    /// Cleans of the coming months, with what the last clean of the same side took.
    fn cleans_ahead<'s>(&'s self, needs: &mut HashMap<&'s str, Needs>) {
        for card in self.cards {
            for circuit in &card.circuits {
                let mine = |d: &&Drawn| {
                    d.brewer_id == card.id && d.circuit_id.as_deref() == Some(&circuit.circuit_id)
                };
                let last = self.drawn.iter().filter(mine).max_by_key(|d| d.day);
                let Some(last) = last.or_else(|| self.foreseen.iter().find(mine)) else {
                    continue;
                };
                let forecast = &circuit.forecast;
                let interval = forecast.between_cleans();
                let days = |first: Date| {
                    let first = first.max(self.today);
                    let until = days_after(self.today, AHEAD_DAYS);
                    let next = move |day: &Date| Some(days_after(*day, interval));
                    std::iter::successors(Some(first), next).take_while(move |day| *day <= until)
                };
                let entry = needs.entry(last.item_id.as_str()).or_default();
                let due = &forecast.due;
                entry.times[1] += days(due.date).count() as u32;
                entry.times[0] += days(due.latest.max(due.date)).count() as u32;
                entry.times[2] += days(due.earliest.min(due.date)).count() as u32;
                entry
                    .days
                    .extend(days(due.date).map(|day| (day, last.amount)));
            }
        }
    }

    /// What goes by the piece in the coming months.
    fn works_ahead<'s>(&'s self, needs: &mut HashMap<&'s str, Needs>) {
        for job in Job::ALL {
            let kind = SupplyKind::of(*job);
            let supply = self.supplies.iter().find(|s| kind == Some(s.kind));
            let Some(supply) = supply else { continue };
            let entry = needs.entry(supply.id.as_str()).or_default();
            for card in self.cards {
                let work = card.upkeep.iter().find(|work| work.job == *job);
                let Some((due, every)) = work.and_then(|w| Some((w.due?, w.days?))) else {
                    continue;
                };
                let mut day = due.max(self.today);
                while day <= days_after(self.today, AHEAD_DAYS) {
                    entry.days.push((day, 1.0));
                    entry.times.iter_mut().for_each(|n| *n += 1);
                    day = days_after(day, every.max(1) as i32);
                }
            }
        }
    }

    /// Every movement and draw, the oldest first, as lines of RFC 4180 with units in the header.
    #[must_use]
    pub fn csv(&self) -> String {
        let agents = self
            .agents
            .iter()
            .map(|agent| (&agent.id, (&agent.name, unit(agent))));
        let supplies = self.supplies.iter().map(|s| (&s.id, (&s.name, "pieces")));
        let things: HashMap<_, _> = agents.chain(supplies).collect();
        let moved = self.movements.iter().map(|m| {
            let (what, amount) = match m.what {
                Moved::Bought { amount } => ("bought", amount),
                Moved::Counted { amount } => ("counted", amount),
                Moved::PouredAway { amount } => ("poured away", -amount),
            };
            (m.day, &m.item_id, what, amount, "")
        });
        let drawn = self.drawn.iter().map(|d| {
            let brewer = self.names.get(&d.brewer_id).map_or("", String::as_str);
            (d.day, &d.item_id, "used", -d.amount, brewer)
        });
        let mut all: Vec<_> = moved.chain(drawn).collect();
        all.sort_by_key(|(day, ..)| *day);
        let mut table = text::csv_line(&[
            "day (YYYY-MM-DD)",
            "thing",
            "what happened",
            "amount (in the unit)",
            "unit",
            "brewer",
        ]);
        for (day, item_id, what, amount, brewer) in all {
            let Some((name, unit)) = things.get(item_id) else {
                continue;
            };
            let (day, amount) = (day.to_string(), murlo_base::units::trim(amount, 1));
            table += &text::csv_line(&[&day, name, what, &amount, unit, brewer]);
        }
        table
    }

    fn agent(&self, agent: &Agent, needs: &Needs) -> Shown {
        let amount = |amount: f64| match amount > 0.0 {
            true => agent.amount_text(agent.amount(amount), self.units),
            false => "none".to_owned(),
        };
        let mine = |d: &&Drawn| d.item_id == agent.id;
        let a_clean = self.drawn.iter().filter(mine).max_by_key(|d| d.day);
        let a_clean = a_clean.or_else(|| self.foreseen.iter().find(mine));
        let a_clean = a_clean.map(|d| d.amount);
        let shown = self.thing(
            &agent.id,
            &agent.name,
            agent.on_hand,
            needs,
            a_clean,
            &amount,
        );
        Shown {
            unit: unit(agent).to_owned(),
            cheapest: self.cheapest(&agent.offers, a_clean, "clean"),
            offers: agent.offers.clone(),
            ..shown
        }
    }

    fn supply(&self, supply: &Supply, needs: &Needs) -> Shown {
        let pieces = |amount: f64| match amount > 0.0 {
            true => text::count(amount.round() as u32, "piece", "pieces"),
            false => "none".to_owned(),
        };
        let shown = self.thing(&supply.id, &supply.name, None, needs, Some(1.0), &pieces);
        Shown {
            kind: Some(supply.kind),
            unit: "pieces".to_owned(),
            cheapest: self.cheapest(&supply.offers, Some(1.0), "piece"),
            offers: supply.offers.clone(),
            ..shown
        }
    }

    fn thing(
        &self,
        id: &str,
        name: &str,
        opening: Option<f64>,
        needs: &Needs,
        a_time: Option<f64>,
        amount: &dyn Fn(f64) -> String,
    ) -> Shown {
        let there = level(id, opening, self.movements, self.drawn);
        let is_clean = self.agents.iter().any(|agent| agent.id == id);
        let (one, several) = if is_clean {
            ("clean", "cleans")
        } else {
            ("time", "times")
        };
        let level_text = match (there, a_time) {
            (None, _) => "Nobody has counted it yet".to_owned(),
            (Some(left), _) if left < 0.0 => {
                format!(
                    "More was used than was there, by {}: count it",
                    amount(-left)
                )
            }
            (Some(left), Some(each)) if each > 0.0 && is_clean && left > 0.0 => {
                let cleans = text::count((left / each + 1e-6).floor() as u32, one, several);
                format!("{}, enough for {cleans}", amount(left))
            }
            (Some(left), _) => match self.months(left, needs) {
                Some(months) => format!("{} there, {months}", capital(&amount(left))),
                None => format!("{} there", capital(&amount(left))),
            },
        };
        let fullest = self
            .fullest(id)
            .max(opening.unwrap_or(0.0))
            .max(a_time.unwrap_or(0.0) * FULL_CLEANS);
        Shown {
            id: id.to_owned(),
            name: name.to_owned(),
            kind: None,
            unit: String::new(),
            level: there,
            fill: there.map(|left| {
                if fullest > 0.0 {
                    (left / fullest).clamp(0.0, 1.0)
                } else {
                    0.0
                }
            }),
            level_text,
            need_text: need_text(needs, amount, (one, several)),
            buy: self.buy(there, needs, amount),
            cheapest: None,
            offers: Vec::new(),
            lines: self.lines(id, amount),
        }
    }

    /// "enough for about 5 months", as far as what is foreseen goes on like that.
    fn months(&self, left: f64, needs: &Needs) -> Option<String> {
        let a_day =
            needs.days.iter().map(|(_, amount)| amount).sum::<f64>() / f64::from(AHEAD_DAYS);
        if a_day <= 0.0 || left <= 0.0 {
            return None;
        }
        let months = (left / a_day / DAYS_A_MONTH).floor().min(MOST_MONTHS);
        Some(match months as u32 {
            0 => "not enough for a month".to_owned(),
            n if months >= MOST_MONTHS => {
                format!("enough for more than {}", text::count(n, "month", "months"))
            }
            n => format!("enough for about {}", text::count(n, "month", "months")),
        })
    }

    /// The most that was ever counted or bought at once.
    fn fullest(&self, id: &str) -> f64 {
        let mine = self.movements.iter().filter(|m| m.item_id == id);
        let amounts = mine.map(|m| match m.what {
            Moved::Bought { amount } | Moved::Counted { amount } => amount,
            Moved::PouredAway { .. } => 0.0,
        });
        amounts.fold(0.0, f64::max)
    }

    /// By when it runs short, and by how much over the months ahead.
    fn buy(
        &self,
        there: Option<f64>,
        needs: &Needs,
        amount: &dyn Fn(f64) -> String,
    ) -> Option<String> {
        let there = there?.max(0.0);
        let all: f64 = needs.days.iter().map(|(_, amount)| amount).sum();
        if all <= there + 1e-6 {
            return None;
        }
        let mut days = needs.days.clone();
        days.sort_by_key(|(day, _)| *day);
        let mut left = there;
        let short = days.iter().find(|(_, amount)| {
            left -= amount;
            left < -1e-6
        });
        let by = short.map_or(self.today, |(day, _)| *day);
        let when = match by <= self.today {
            true => "now".to_owned(),
            false => format!("by {}", text::day(by, self.today)),
        };
        Some(format!("Buy {} or more {when}", amount(all - there)))
    }

    fn cheapest(&self, offers: &[Offer], a_time: Option<f64>, what: &str) -> Option<String> {
        let best = offers.iter().min_by(|a, b| a.each().total_cmp(&b.each()))?;
        let each = a_time.map(|amount| best.each() * amount)?;
        Some(format!(
            "Cheapest at {}: {} a {what}",
            best.source,
            self.terms.amount(each)
        ))
    }

    fn lines(&self, id: &str, amount: &dyn Fn(f64) -> String) -> Vec<Line> {
        let on = |day: Date| text::day(day, self.today);
        let moved = self.movements.iter().filter(|m| m.item_id == id);
        let moved = moved.map(|m| {
            let text = match m.what {
                Moved::Bought { amount: n } => format!("Bought {} on {}", amount(n), on(m.day)),
                Moved::Counted { amount: n } => format!("Counted on {}: {}", on(m.day), amount(n)),
                Moved::PouredAway { amount: n } => {
                    format!("Poured away {} on {}", amount(n), on(m.day))
                }
            };
            let movement_id = Some(m.id.clone());
            ((m.day, Some(m.at)), Line { movement_id, text })
        });
        let drawn = self.drawn.iter().filter(|d| d.item_id == id).map(|d| {
            let name = self
                .names
                .get(&d.brewer_id)
                .map_or("a brewer", String::as_str);
            let text = format!("{} for {name} on {}", capital(&amount(d.amount)), on(d.day));
            let movement_id = None;
            ((d.day, d.at), Line { movement_id, text })
        });
        let mut all: Vec<_> = moved.chain(drawn).collect();
        all.sort_by(|(a, _), (b, _)| b.cmp(a));
        all.into_iter().map(|(_, line)| line).collect()
    }
}

const fn unit(agent: &Agent) -> &'static str {
    match agent.form {
        AgentForm::Powder { .. } | AgentForm::Tablet { .. } => "g",
        AgentForm::Liquid { .. } | AgentForm::Bottle { .. } => "mL",
    }
}

fn capital(text: &str) -> String {
    let mut letters = text.chars();
    letters.next().map_or_else(String::new, |first| {
        first.to_uppercase().chain(letters).collect()
    })
}

fn need_text(needs: &Needs, amount: &dyn Fn(f64) -> String, words: (&str, &str)) -> String {
    let [least, likely, most] = needs.times;
    if most == 0 {
        return "Nothing of it is foreseen for the next three months".to_owned();
    }
    let all: f64 = needs.days.iter().map(|(_, amount)| amount).sum();
    let times = text::count(likely, words.0, words.1);
    let band = match least == most {
        true => String::new(),
        false => format!(" ({least} to {most})"),
    };
    match likely {
        // Each is one piece: saying it twice tells nothing.
        _ if words.0 == "time" => format!("The next three months: about {}{band}", amount(all)),
        0 => format!("The next three months: likely none{band}"),
        _ => format!(
            "The next three months: about {times}{band}, {}",
            amount(all)
        ),
    }
}
