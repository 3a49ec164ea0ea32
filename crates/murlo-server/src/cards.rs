//! Cards to leave behind at the brewers of a visit.

use crate::api::CardView;
use crate::error::ApiError;
use jiff::civil::Date;
use murlo_clean::{Closed, State as CleanState};
use murlo_household::counter::BrewerCard;
use murlo_household::rounds::{Begun, Card, CardFacts, Task};
use murlo_plan::{Inside, Plan, Work};
use qrcode::QrCode;
use qrcode::render::svg;

/// A card for each side that was cleaned; small works stand on it, or on one of their own.
pub(super) fn cards_of(
    tasks: &[Task],
    cards: &[BrewerCard],
    today: Date,
    base: &str,
) -> Result<Vec<CardView>, ApiError> {
    let begun = tasks
        .iter()
        .filter_map(|one| Some((one, one.begun.as_ref()?)));
    let is_small = |one: &Task, begun: &Begun| {
        one.plan.work == Work::Upkeep && begun.state.acid_left.is_none()
    };
    let (small, whole): (Vec<_>, Vec<_>) = begun.partition(|(one, begun)| is_small(one, begun));
    let mut all: Vec<Card> = Vec::new();
    for (one, begun) in whole.into_iter().chain(small) {
        // Nothing is left for a clean that was given up with plain water inside.
        let Ok(card) = made(cards, &one.plan, &begun.state, today) else {
            continue;
        };
        let card = card.by(begun.last_by.as_deref());
        let mut known = all.iter_mut().filter(|known| known.acid.is_none());
        let same = known.find(|known| known.brewer_id == card.brewer_id);
        match same.filter(|_| is_small(one, begun)) {
            Some(known) => known.add(&card),
            None => all.push(card),
        }
    }
    all.into_iter()
        .map(|card| with_code(card, cards, base))
        .collect()
}

/// The card of one clean.
pub(super) fn card_of(
    cards: &[BrewerCard],
    plan: &Plan,
    clean: &CleanState,
    by: Option<&str>,
    today: Date,
    base: &str,
) -> Result<CardView, ApiError> {
    with_code(made(cards, plan, clean, today)?.by(by), cards, base)
}

fn made(
    cards: &[BrewerCard],
    plan: &Plan,
    clean: &CleanState,
    today: Date,
) -> Result<Card, ApiError> {
    let gone = || ApiError::NotFound("this brewer was put away: bring it back first".to_owned());
    let card = cards.iter().find(|card| card.id == plan.brewer_id);
    let card = card.ok_or_else(gone)?;
    let side = card
        .circuits
        .iter()
        .find(|c| c.circuit_id == plan.circuit_id);
    let is_bath = clean.closed.is_none() && clean.inside == Inside::Bath;
    let made = Card::of(&CardFacts {
        card,
        circuit: side.ok_or_else(gone)?,
        outcome: clean
            .outcome
            .as_ref()
            .filter(|_| clean.closed == Some(Closed::Finished)),
        acid: clean
            .acid_left
            .as_deref()
            .or(is_bath.then_some(clean.inside_text.as_str())),
        today,
    });
    made.map_err(ApiError::Conflict)
}

fn with_code(card: Card, cards: &[BrewerCard], base: &str) -> Result<CardView, ApiError> {
    let brewer = cards.iter().find(|one| one.id == card.brewer_id);
    Ok(CardView {
        home_id: brewer.map_or_else(String::new, |one| one.home_id.clone()),
        letter: card.letter(),
        code: code(&format!("{base}/brewers/{}", card.brewer_id))?,
        card,
    })
}

/// An address as a picture of squares.
pub(super) fn code(address: &str) -> Result<String, ApiError> {
    let code = QrCode::new(address).map_err(|e| ApiError::Internal(e.to_string()))?;
    let picture = code
        .render::<svg::Color<'_>>()
        .min_dimensions(160, 160)
        .build();
    // As part of a page it has no head of its own.
    let start = picture.find("<svg").unwrap_or(0);
    Ok(picture[start..].to_owned())
}
