//! What there is to choose from where something is typed: the screens keep no list of their own.

use crate::api::{ChoicesView, Choosable, SupplyChoice};
use axum::Json;
use murlo_brewer::ReaderWindow;
use murlo_brewer::bath::AgentForm;
use murlo_brewer::water::Through;
use murlo_chemistry::acid::Acid;
use murlo_household::stock::SupplyKind;

/// Forms of agents, acids, kinds of things, what water goes through, ways in which a reader window lies.
#[utoipa::path(get, tag = "shown offline", path = "/api/choices", responses((status = 200, body = ChoicesView)))]
pub async fn choices() -> Json<ChoicesView> {
    Json(ChoicesView {
        forms: AgentForm::KINDS
            .map(|(id, words)| choosable(id.to_owned(), words))
            .into(),
        acids: Acid::ALL.map(|acid| choosable(acid, acid.words())).into(),
        supplies: SupplyKind::ALL
            .map(|kind| SupplyChoice {
                id: kind,
                words: kind.words().to_owned(),
                usual_name: kind.usual_name().to_owned(),
            })
            .into(),
        throughs: Through::ALL
            .map(|through| choosable(through, through.words()))
            .into(),
        readers: ReaderWindow::ALL
            .map(|reader| choosable(reader, reader.words()))
            .into(),
    })
}

fn choosable<T>(id: T, words: &str) -> Choosable<T> {
    Choosable {
        id,
        words: words.to_owned(),
    }
}
