//! Waters as they are shown, with what each is known from.

use crate::api::WaterView;
use crate::error::ApiError;
use murlo_brewer::water::{Chemistry, Water, Waters};
use murlo_store::Store;

pub(crate) fn by_id(store: &Store) -> Result<Waters, ApiError> {
    Ok(store
        .current::<Water>()?
        .into_iter()
        .map(|w| (w.id.clone(), w))
        .collect())
}

/// The household's waters as screens show them, by name.
pub(crate) fn water_views(store: &Store) -> Result<Vec<WaterView>, ApiError> {
    let waters = by_id(store)?;
    let mut views: Vec<_> = waters
        .values()
        .map(|water| {
            let portrait = Chemistry::of(&water.reading, &waters).map(|c| c.portrait());
            WaterView {
                water: water.clone(),
                text: match &portrait {
                    Ok(portrait) => portrait.text.clone(),
                    Err(problem) => problem.message.clone(),
                },
                portrait: portrait.ok(),
            }
        })
        .collect();
    views.sort_by(|a, b| (&a.water.name, &a.water.id).cmp(&(&b.water.name, &b.water.id)));
    Ok(views)
}
