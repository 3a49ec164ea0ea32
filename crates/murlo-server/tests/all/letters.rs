//! Letters: into a folder where no mail server is named, to one where it is, and never twice.

use crate::kit::{Server, json};
use crate::rounds::get;
use murlo_server::{MailServer, Post};
use serde_json::Value;
use std::path::Path;
use std::sync::atomic::{AtomicUsize, Ordering};
use std::sync::{Arc, Mutex};
use tokio::io::{AsyncBufReadExt, AsyncWriteExt, BufReader};
use tokio::net::TcpListener;

fn letter() -> Value {
    json!({"to": "ola@harbour.example", "subject": "März: Together $40.00", "text": "3 Mar, 45 min there: $40.00\nThank you – Ida"})
}

async fn with_outbox(folder: &Path, server: Option<MailServer>) -> Server {
    let post = Post::new(folder.join("outbox"), server);
    Server::serving(false, |state| state.with_post(post)).await
}

fn files(folder: &Path) -> Vec<String> {
    let Ok(entries) = std::fs::read_dir(folder.join("outbox")) else {
        return Vec::new();
    };
    let names = entries.map(|entry| entry.unwrap().file_name().into_string().unwrap());
    let mut names: Vec<String> = names.filter(|name| name.ends_with(".eml")).collect();
    names.sort();
    names
}

#[tokio::test]
async fn without_a_mail_server_a_letter_waits_as_a_file_that_is_taken_out_and_laid_back() {
    let folder = tempfile::tempdir().unwrap();
    let server = with_outbox(folder.path(), None).await;
    let empty = get(&server, "/api/letters").await;
    assert_eq!(
        (&empty["sends"], &empty["letters"]),
        (&json!(false), &json!([]))
    );
    for _ in 0..2 {
        let kept = server.ask("PUT", "/api/letters/l1", letter()).await;
        assert_eq!(
            (kept.status, &kept.body["is_sent"]),
            (200, &json!(false)),
            "{}",
            kept.body
        );
    }
    let all = get(&server, "/api/letters").await;
    assert_eq!(all["letters"].as_array().unwrap().len(), 1);
    assert_eq!(all["letters"][0]["letter"], letter());
    assert_eq!(files(folder.path()), ["l1.eml"]);
    let (status, file) = server.text("/api/letters/l1/file").await;
    assert!(
        status == 200 && file.contains("To: ola@harbour.example"),
        "{file}"
    );
    // Somebody else's file there is not shown, and does no harm.
    std::fs::write(folder.path().join("outbox/notes.txt"), "mine").unwrap();
    std::fs::write(folder.path().join("outbox/torn.eml"), [0xff, 0x00]).unwrap();
    for (method, path, status, left) in [
        ("DELETE", "/api/letters/l1", 204, 0),
        ("DELETE", "/api/letters/l1", 404, 0),
        ("POST", "/api/letters/l1/restore", 204, 1),
        ("POST", "/api/letters/l1/restore", 404, 1),
    ] {
        let answer = server.ask(method, path, Value::Null).await;
        assert_eq!(answer.status, status, "{method} {path}");
        let all = get(&server, "/api/letters").await;
        assert_eq!(all["letters"].as_array().unwrap().len(), left);
    }
}

#[tokio::test]
async fn what_no_mail_can_carry_is_refused_by_name_and_nothing_is_written() {
    let folder = tempfile::tempdir().unwrap();
    let server = with_outbox(folder.path(), None).await;
    for (field, value) in [
        ("to", json!("Ola")),
        (
            "to",
            json!("ola@harbour.example\r\nBcc: all@harbour.example"),
        ),
        ("to", json!("a@b.example, c@d.example")),
        ("subject", json!("")),
        ("text", json!(" ")),
    ] {
        let mut wrong = letter();
        wrong[field] = value;
        let refused = server.ask("PUT", "/api/letters/l1", wrong).await;
        assert_eq!(
            (refused.status, &refused.body["errors"][0]["field"]),
            (422, &json!(field))
        );
    }
    for path in ["/api/letters/..%2Fl1", "/api/letters/a%20b"] {
        assert_eq!(
            server.ask("PUT", path, letter()).await.status,
            422,
            "{path}"
        );
        assert_eq!(
            server.ask("DELETE", path, Value::Null).await.status,
            422,
            "{path}"
        );
    }
    assert!(files(folder.path()).is_empty());
    // A household that lies in no file has none.
    let server = Server::start().await;
    assert_eq!(
        server.ask("PUT", "/api/letters/l1", letter()).await.status,
        503
    );
}

/// A mail server on this machine that refuses as often as it is told, then takes everything.
async fn mail_server(refusals: usize) -> (MailServer, Arc<Mutex<Vec<String>>>) {
    let listener = TcpListener::bind("127.0.0.1:0").await.unwrap();
    let address = format!("smtp://{}", listener.local_addr().unwrap());
    let taken: Arc<Mutex<Vec<String>>> = Arc::default();
    let (kept, left) = (Arc::clone(&taken), Arc::new(AtomicUsize::new(refusals)));
    tokio::spawn(async move {
        while let Ok((stream, _)) = listener.accept().await {
            let (kept, left) = (Arc::clone(&kept), Arc::clone(&left));
            tokio::spawn(async move {
                let (read, mut write) = stream.into_split();
                let mut lines = BufReader::new(read).lines();
                write.write_all(b"220 here\r\n").await.unwrap();
                let (mut text, mut is_data) = (String::new(), false);
                while let Ok(Some(line)) = lines.next_line().await {
                    let answer = match (is_data, line.as_str()) {
                        (true, ".") => {
                            is_data = false;
                            kept.lock().unwrap().push(std::mem::take(&mut text));
                            "250 taken"
                        }
                        (true, line) => {
                            text += line;
                            text += "\n";
                            continue;
                        }
                        (false, "DATA") => {
                            is_data = true;
                            "354 go on"
                        }
                        (false, line) if line.starts_with("RCPT") => {
                            let refuses =
                                left.fetch_update(Ordering::SeqCst, Ordering::SeqCst, |n| {
                                    n.checked_sub(1)
                                });
                            if refuses.is_ok() {
                                "450 not now"
                            } else {
                                "250 well"
                            }
                        }
                        (false, _) => "250 well",
                    };
                    write
                        .write_all(format!("{answer}\r\n").as_bytes())
                        .await
                        .unwrap();
                }
            });
        }
    });
    let server = MailServer::named(&address, "Ida <ida@quay.example>").unwrap();
    (server, taken)
}

#[tokio::test]
async fn a_letter_that_was_not_taken_waits_and_is_mailed_once() {
    let folder = tempfile::tempdir().unwrap();
    let (mail, taken) = mail_server(1).await;
    let server = with_outbox(folder.path(), Some(mail)).await;
    let first = server.ask("PUT", "/api/letters/l1", letter()).await;
    let trouble = first.body["trouble"].as_str().unwrap_or_default();
    assert!(
        first.status == 200 && trouble.contains("not now"),
        "{}",
        first.body
    );
    assert_eq!(files(folder.path()), ["l1.eml"]);
    for _ in 0..2 {
        let sent = server.ask("PUT", "/api/letters/l1", letter()).await;
        assert_eq!(
            (sent.status, &sent.body["is_sent"]),
            (200, &json!(true)),
            "{}",
            sent.body
        );
    }
    let taken = taken.lock().unwrap().clone();
    assert_eq!(taken.len(), 1);
    assert!(
        taken[0].contains("From: Ida <ida@quay.example>") && taken[0].contains("Thank you"),
        "{taken:?}"
    );
    let all = get(&server, "/api/letters").await;
    assert_eq!(
        (&all["sends"], &all["letters"][0]["is_sent"]),
        (&json!(true), &json!(true))
    );
    // What was mailed is not taken out.
    assert_eq!(
        server
            .ask("DELETE", "/api/letters/l1", Value::Null)
            .await
            .status,
        404
    );
}
