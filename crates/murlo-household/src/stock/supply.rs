//! Supplies, what was bought, counted and drawn, and the level that makes.

use jiff::Timestamp;
use jiff::civil::Date;
use murlo_base::document::Kept;
use murlo_base::problem::{Code, Problem, Problems};
use murlo_base::{bounds, text};
use murlo_brewer::bath::Agent;
use murlo_brewer::job::Job;
use murlo_brewer::journal::Entry;
use murlo_brewer::offer::Offer;
use murlo_chalk::upkeep;
use serde::{Deserialize, Serialize};

/// What a thing in the cupboard is used for; some are drawn from by what is done.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum SupplyKind {
    /// Water filters: one goes with each that is fitted.
    Filter,
    /// Rinse pods: one goes with each that is run.
    RinsePod,
    /// Stain remover, by the tablet or measure: one goes whenever stains are taken off.
    StainRemover,
    /// Paper clips: one is straightened for the needles.
    Clip,
    /// Something else, drawn from by nobody.
    Other,
}

/// A thing in the cupboard that is counted by the piece.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Supply {
    /// Identity.
    pub id: String,
    /// What the household calls it.
    pub name: String,
    /// What it is for.
    pub kind: SupplyKind,
    /// Where it can be bought, by the piece.
    #[serde(default)]
    pub offers: Vec<Offer>,
}

impl Supply {
    /// Checks name and offers.
    ///
    /// # Errors
    /// One problem per wrong field.
    pub fn check(&self) -> Result<(), Problems> {
        let mut problems = Problems::default();
        problems.note(text::id("id", &self.id));
        problems.note(text::name("name", &self.name));
        for (i, offer) in self.offers.iter().enumerate() {
            problems.note(offer.check().map_err(|p| p.within(&format!("offers.{i}"))));
        }
        problems.or(Some(()))
    }
}

/// What a person did to a level.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case", deny_unknown_fields)]
pub enum Moved {
    /// So much came in.
    Bought {
        /// mL, g or pieces.
        amount: f64,
    },
    /// So much was there when somebody looked.
    Counted {
        /// mL, g or pieces.
        amount: f64,
    },
    /// So much went without a clean.
    PouredAway {
        /// mL, g or pieces.
        amount: f64,
    },
}

/// Something that happened to a level.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Movement {
    /// Identity, made by the device.
    pub id: String,
    /// The agent or supply.
    pub item_id: String,
    /// When it was written down: what was done before it and after it is told apart by that.
    pub at: Timestamp,
    /// The household's day.
    pub day: Date,
    /// What happened.
    pub what: Moved,
}

impl Movement {
    /// Checks the amount against what the thing is measured in.
    ///
    /// # Errors
    /// `OutOfRange` for an amount below nothing, or none at all where something must have come or gone; `UnknownId`.
    pub fn check(&self, agents: &[Agent], supplies: &[Supply]) -> Result<(), Problems> {
        let mut problems = Problems::default();
        problems.note(text::id("id", &self.id));
        let is_known = agents.iter().any(|a| a.id == self.item_id)
            || supplies.iter().any(|s| s.id == self.item_id);
        if !is_known {
            let message = "that is not in the cupboard: add it first";
            problems
                .0
                .push(Problem::new(Code::UnknownId, "item_id", message));
        }
        let bound = match self.what {
            Moved::Counted { .. } => &bounds::COUNTED_STOCK,
            Moved::Bought { .. } | Moved::PouredAway { .. } => &bounds::PACK,
        };
        let (Moved::Bought { amount } | Moved::Counted { amount } | Moved::PouredAway { amount }) =
            self.what;
        problems.note(bound.check("what.amount", amount));
        problems.or(Some(()))
    }
}

impl SupplyKind {
    /// Every kind, in the order they are offered.
    pub const ALL: [Self; 5] = [
        Self::Filter,
        Self::RinsePod,
        Self::Clip,
        Self::StainRemover,
        Self::Other,
    ];

    /// What it is for people.
    #[must_use]
    pub const fn words(self) -> &'static str {
        match self {
            Self::Filter => "Water filters",
            Self::RinsePod => "Rinse pods",
            Self::Clip => "Paper clips",
            Self::StainRemover => "Stain remover",
            Self::Other => "Something else",
        }
    }

    /// What one of the kind is called until somebody names it; empty where only they can.
    #[must_use]
    pub const fn usual_name(self) -> &'static str {
        match self {
            Self::Other => "",
            Self::Filter | Self::RinsePod | Self::Clip | Self::StainRemover => self.words(),
        }
    }

    /// What goes, one piece at a time, with a small work.
    #[must_use]
    pub const fn of(job: Job) -> Option<Self> {
        match job {
            Job::Filter => Some(Self::Filter),
            Job::RinsePod => Some(Self::RinsePod),
            Job::Stains => Some(Self::StainRemover),
            Job::Needles => Some(Self::Clip),
            Job::Empty
            | Job::Back
            | Job::Tray
            | Job::Wash
            | Job::Hollow
            | Job::Holder
            | Job::Reusable
            | Job::LightBath
            | Job::Slime => None,
        }
    }
}

/// What something that was done took.
#[derive(Debug, Clone, PartialEq)]
pub struct Drawn {
    /// The agent or supply.
    pub item_id: String,
    /// The day.
    pub day: Date,
    /// When, where that is known.
    pub at: Option<Timestamp>,
    /// mL, g or pieces.
    pub amount: f64,
    /// The brewer it was for.
    pub brewer_id: String,
    /// The circuit, for a clean.
    pub circuit_id: Option<String>,
}

/// Pieces that small works took, by the kind of supply.
pub fn of_works<'a>(
    entries: impl IntoIterator<Item = &'a Entry>,
    supplies: &[Supply],
) -> Vec<Drawn> {
    let first = |kind| supplies.iter().find(|supply| supply.kind == kind);
    let drawn = entries.into_iter().filter_map(|entry| {
        let kind = upkeep::job_of(&entry.what).and_then(SupplyKind::of)?;
        Some(Drawn {
            item_id: first(kind)?.id.clone(),
            day: entry.day,
            at: entry.at,
            amount: 1.0,
            brewer_id: entry.brewer_id.clone(),
            circuit_id: None,
        })
    });
    drawn.collect()
}

/// What is there: nothing where nobody ever counted or bought any. `opening` is what was known before the first movement.
#[must_use]
pub fn level(
    item_id: &str,
    opening: Option<f64>,
    moved: &[Movement],
    drawn: &[Drawn],
) -> Option<f64> {
    let mut moved: Vec<_> = moved.iter().filter(|m| m.item_id == item_id).collect();
    moved.sort_by_key(|m| m.at);
    let Some(first) = moved.first() else {
        return opening;
    };
    // What was done before anybody kept count is in the first count already.
    let counts = |m: &&&Movement| matches!(m.what, Moved::Counted { .. });
    let (from, base) = match moved.iter().rev().find(counts) {
        Some(Movement {
            at,
            day,
            what: Moved::Counted { amount },
            ..
        }) => ((*day, *at), *amount),
        _ => ((first.day, first.at), opening.unwrap_or(0.0)),
    };
    let is_after = |day: Date, at: Option<Timestamp>| match at {
        Some(at) => at > from.1,
        None => day > from.0,
    };
    let came = moved.iter().map(|m| match m.what {
        Moved::Bought { amount } if m.at >= from.1 => amount,
        Moved::PouredAway { amount } if m.at >= from.1 => -amount,
        Moved::Bought { .. } | Moved::Counted { .. } | Moved::PouredAway { .. } => 0.0,
    });
    let went = drawn
        .iter()
        .filter(|d| d.item_id == item_id && is_after(d.day, d.at));
    Some(base + came.sum::<f64>() - went.map(|d| d.amount).sum::<f64>())
}

/// What is there of each thing, where it would be another amount if nobody knew of what is `forgotten`.
pub fn levels_without<'a>(
    items: impl IntoIterator<Item = (&'a str, Option<f64>)>,
    moved: &[Movement],
    drawn: &[Drawn],
    forgotten: impl Fn(&Drawn) -> bool,
) -> Vec<(String, f64)> {
    let known: Vec<Drawn> = drawn
        .iter()
        .filter(|drawn| !forgotten(drawn))
        .cloned()
        .collect();
    let changed = items.into_iter().filter_map(|(id, opening)| {
        let now = level(id, opening, moved, drawn)?.max(0.0);
        let then = level(id, opening, moved, &known)?.max(0.0);
        (now.total_cmp(&then).is_ne()).then(|| (id.to_owned(), now))
    });
    changed.collect()
}

/// The agents with what is there of them now, as advice reads it: never less than nothing.
#[must_use]
pub fn with_levels(agents: Vec<Agent>, moved: &[Movement], drawn: &[Drawn]) -> Vec<Agent> {
    let now = |mut agent: Agent| {
        let level = level(&agent.id, agent.on_hand, moved, drawn);
        agent.on_hand = level.map(|amount| amount.max(0.0));
        agent
    };
    agents.into_iter().map(now).collect()
}

/// Checks what a foreign file can break.
pub(crate) fn check_all(
    agents: &[Kept<Agent>],
    supplies: &[Kept<Supply>],
    movements: &[Kept<Movement>],
) -> Result<(), Problems> {
    let mut problems = Problems::default();
    let agents: Vec<_> = agents.iter().map(|kept| kept.fact.clone()).collect();
    let kept: Vec<_> = supplies.iter().map(|kept| kept.fact.clone()).collect();
    for supply in &kept {
        let place = format!("supplies.{}", supply.id);
        problems.note(supply.check().map_err(|p| p.within(&place)));
    }
    for movement in movements.iter().map(|kept| &kept.fact) {
        let place = format!("movements.{}", movement.id);
        let checked = movement.check(&agents, &kept);
        problems.note(checked.map_err(|p| p.within(&place)));
    }
    problems.or(Some(()))
}
