//! Erasing for good over HTTP: said before it is done, then nothing of it is answered any more.

use crate::kit::{Server, json, with_brewer};
use serde_json::Value;

#[tokio::test]
async fn a_home_is_looked_at_then_gone() {
    let server = Server::start().await;
    let brewer = with_brewer(&server).await;
    let only = json!({"kind": "home", "id": "home"});
    let refused = server.ask("POST", "/api/erase/look", only.clone()).await;
    assert_eq!(refused.status, 409, "{}", refused.body);
    assert!(
        refused.body.to_string().contains("only home"),
        "{}",
        refused.body
    );
    assert_eq!(
        server.ask("POST", "/api/erase", only.clone()).await.status,
        409
    );
    let pier = server
        .ask("POST", "/api/homes", json!({"name": "Pier"}))
        .await
        .body;
    let looked = server.ask("POST", "/api/erase/look", only.clone()).await;
    assert_eq!(looked.status, 200, "{}", looked.body);
    assert_eq!(looked.body["goes"], "1 home and 1 brewer");
    assert_eq!(
        server
            .ask("GET", &format!("/api/brewers/{brewer}"), Value::Null)
            .await
            .status,
        200
    );

    let erased = server.ask("POST", "/api/erase", only.clone()).await;
    assert_eq!(
        (erased.status, &erased.body["goes"]),
        (200, &json!("1 home and 1 brewer"))
    );
    assert_eq!(
        server
            .ask("GET", &format!("/api/brewers/{brewer}"), Value::Null)
            .await
            .status,
        404
    );
    assert_eq!(
        server
            .ask("POST", "/api/brewers/x/restore", Value::Null)
            .await
            .status,
        404
    );
    let household = server.ask("GET", "/api/household", Value::Null).await.body;
    assert_eq!(household["homes"].as_array().unwrap().len(), 1);
    assert_eq!(household["homes"][0]["id"], pier["id"]);
    assert_eq!(
        server.ask("POST", "/api/erase", only).await.status,
        404,
        "once is all"
    );
    let odd = server
        .ask("POST", "/api/erase", json!({"kind": "everything"}))
        .await;
    assert!([400, 422].contains(&odd.status), "{}", odd.body);
}

#[tokio::test]
async fn what_was_put_away_is_listed_and_a_note_of_a_home_goes() {
    let server = Server::start().await;
    let pier = server
        .ask("POST", "/api/homes", json!({"name": "Pier"}))
        .await
        .body;
    let id = pier["id"].as_str().unwrap();
    let mut told = pier.clone();
    told["access"] = json!("The key is under the pot");
    let changed = server.ask("PUT", &format!("/api/homes/{id}"), told).await;
    assert_eq!(changed.status, 204, "{}", changed.body);
    let note = json!({"kind": "note", "of": {"in": "home", "id": id}});
    let erased = server.ask("POST", "/api/erase", note).await;
    assert_eq!(erased.body["goes"], "1 note", "{}", erased.body);
    let export = server
        .ask("GET", "/api/export", Value::Null)
        .await
        .body
        .to_string();
    assert!(!export.contains("under the pot") && export.contains("Pier"));
    assert_eq!(
        server
            .ask("DELETE", &format!("/api/homes/{id}"), Value::Null)
            .await
            .status,
        204
    );
    let archive = server.ask("GET", "/api/archive", Value::Null).await.body;
    assert_eq!(archive, json!([{"kind": "home", "id": id, "name": "Pier"}]));
    let nobody = json!({"kind": "person", "name": "Ola"});
    assert_eq!(
        server.ask("POST", "/api/erase/look", nobody).await.status,
        404
    );
}
