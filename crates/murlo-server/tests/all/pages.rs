//! Pages as they are sent: what a view first asks comes along, to whoever may have it; files come as short as they can.

use crate::kit::{Server, json};
use murlo_server::File;
use serde_json::Value;
use tokio::io::{AsyncReadExt, AsyncWriteExt};
use tokio::net::TcpStream;

/// A front end of a few words.
fn shell(name: &str) -> Option<File> {
    let (kind, data) = match name {
        "index.html" => ("text/html", "<html><head></head><body></body></html>"),
        "views.json" => (
            "application/json",
            r#"{"everywhere": ["/api/session", "/api/counter"], "views": [
                {"at": "/brewers/new", "files": [], "asks": ["/api/first"]},
                {"at": "/brewers/:id", "files": ["/assets/brewer.js"], "asks": ["/api/brewers/:id"]},
                {"at": "/owed", "files": [], "asks": ["/api/owed"]}]}"#,
        ),
        "assets/brewer.js" => ("text/javascript", "long"),
        "assets/brewer.js.br" => ("application/octet-stream", "b"),
        "assets/brewer.js.gz" => ("application/octet-stream", "gz"),
        "mark.svg" => ("image/svg+xml", "<svg/>"),
        _ => return None,
    };
    Some(File {
        kind: kind.to_owned(),
        tag: format!("tag-of-{data}"),
        data: data.as_bytes().into(),
    })
}

/// What comes with the page at `path`.
async fn told(server: &Server, path: &str) -> Option<Value> {
    let (status, page) = server.text(path).await;
    assert_eq!(status, 200, "{page}");
    let (_, rest) = page.split_once(r#"<script type="application/json" id="told">"#)?;
    let (told, _) = rest.split_once("</script>").unwrap();
    Some(serde_json::from_str(told).unwrap())
}

/// Which questions are answered along with the page at `path`.
async fn asks(server: &Server, path: &str) -> Vec<String> {
    let told = told(server, path).await.unwrap();
    let answers = told["answers"].as_object().unwrap();
    answers.keys().cloned().collect()
}

#[tokio::test]
async fn a_page_brings_what_its_view_first_asks() {
    let server = Server::serving(false, |state| state.with_shell(shell)).await;
    let brewer = crate::kit::with_brewer(&server).await;
    let path = format!("/brewers/{brewer}");
    let page = told(&server, &path).await.unwrap();
    let api = format!("/api/brewers/{brewer}");
    for ask in ["/api/session", "/api/counter", &api] {
        let asked = server.ask("GET", ask, Value::Null).await;
        assert_eq!(page["answers"][ask], asked.body, "{ask}");
    }
    let sent = server
        .raw("GET", &path, &format!("host: {}\r\n", server.host), "")
        .await;
    assert!(
        sent.head.contains("cache-control: no-store"),
        "{}",
        sent.head
    );
    let (_, text) = server.text(&path).await;
    assert!(text.contains(r#"<link rel="modulepreload" crossorigin href="/assets/brewer.js">"#));
    // Of a brewer that is not there nothing is told; the view asks and says so.
    assert_eq!(
        asks(&server, "/brewers/none").await,
        ["/api/counter", "/api/session"]
    );
    assert!(
        asks(&server, "/brewers/new")
            .await
            .contains(&"/api/first".to_owned())
    );
    assert_eq!(
        asks(&server, "/nowhere/at/all").await,
        ["/api/counter", "/api/session"]
    );
    // As a file it is the same for everybody: a worker keeps it.
    assert_eq!(told(&server, "/index.html").await, None);
}

#[tokio::test]
async fn who_is_not_signed_in_is_told_only_that() {
    let server = Server::serving(true, |state| state.with_shell(shell)).await;
    assert_eq!(asks(&server, "/owed").await, ["/api/session"]);
    let passcode = json!({"passcode": "chalk and water"});
    let full = server.as_taken_in(&server.ask("POST", "/api/session", passcode).await);
    assert_eq!(
        asks(&full, "/owed").await,
        ["/api/counter", "/api/owed", "/api/session"]
    );
    let code = full
        .ask("POST", "/api/invitations", json!({"may": "helper"}))
        .await;
    let pairing = json!({"code": code.body["code"], "name": "Hall phone", "person": "Ola"});
    let helper = server.as_taken_in(&server.ask("POST", "/api/pair", pairing).await);
    assert_eq!(
        asks(&helper, "/owed").await,
        ["/api/counter", "/api/session"]
    );
}

/// Hears of changes from then on.
async fn listen(server: &Server, since: u64) -> TcpStream {
    let mut stream = TcpStream::connect(&server.host).await.unwrap();
    let host = &server.host;
    let request = format!("GET /api/changes?since={since} HTTP/1.1\r\nhost: {host}\r\n\r\n");
    stream.write_all(request.as_bytes()).await.unwrap();
    stream
}

/// What comes until it holds `end`.
async fn heard(stream: &mut TcpStream, end: &str) -> String {
    let mut text = String::new();
    while !text.contains(end) {
        let mut more = [0; 1024];
        let n = stream.read(&mut more).await.unwrap();
        assert!(n > 0, "ended after {text}");
        text += std::str::from_utf8(&more[..n]).unwrap();
    }
    text
}

#[tokio::test]
async fn what_changed_since_the_page_was_made_is_heard_of() {
    let server = Server::serving(false, |state| state.with_shell(shell)).await;
    let before = told(&server, "/").await.unwrap()["changes"]
        .as_u64()
        .unwrap();
    let mut listener = listen(&server, before).await;
    let first = heard(&mut listener, "retry: 1000").await;
    assert!(!first.contains("data: facts"), "{first}");
    server
        .ask("POST", "/api/homes", json!({"name": "Pier"}))
        .await;
    let after = told(&server, "/").await.unwrap()["changes"]
        .as_u64()
        .unwrap();
    assert!(after > before);
    let then = heard(&mut listener, "data: facts").await;
    assert!(!then.contains("data: clean"), "{then}");
    let late = heard(&mut listen(&server, before).await, "data: clean").await;
    assert!(late.contains("data: facts"), "{late}");
    let wrong = server
        .ask("GET", "/api/changes?since=lately", Value::Null)
        .await;
    assert_eq!(wrong.status, 400);
}

#[tokio::test]
async fn a_file_comes_as_short_as_the_browser_reads() {
    let server = Server::serving(false, |state| state.with_shell(shell)).await;
    let path = "/assets/brewer.js";
    for (reads, coding, tag) in [
        ("gzip, deflate, br", Some("br"), "tag-of-b"),
        ("gzip", Some("gzip"), "tag-of-gz"),
        ("identity", None, "tag-of-long"),
        ("br;q=0, gzip", Some("gzip"), "tag-of-gz"),
    ] {
        let head = format!("host: {}\r\naccept-encoding: {reads}\r\n", server.host);
        let sent = server.raw("GET", path, &head, "").await;
        let coded = sent
            .head
            .lines()
            .find_map(|line| line.strip_prefix("content-encoding: "));
        assert_eq!(
            (sent.status, coded),
            (200, coding),
            "{reads}: {}",
            sent.head
        );
        for line in [
            "content-type: text/javascript",
            "vary: accept-encoding",
            &format!("etag: \"{tag}\""),
        ] {
            assert!(sent.head.contains(line), "{line}: {}", sent.head);
        }
        let known = format!("{head}if-none-match: W/\"{tag}\"\r\n");
        let again = server.raw("GET", path, &known, "").await;
        assert_eq!(again.status, 304, "{}", again.head);
        assert!(!again.head.contains("content-encoding"), "{}", again.head);
    }
    let head = format!("host: {}\r\naccept-encoding: gzip\r\n", server.host);
    let plain = server.raw("GET", "/mark.svg", &head, "").await;
    assert!(
        !plain.head.contains("content-encoding: br"),
        "{}",
        plain.head
    );
}
