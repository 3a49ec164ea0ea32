//! Real connections on this machine: who says nothing makes room, and nobody keeps others out.

use axum::routing::get;
use axum::{Extension, Router};
use murlo_line::{Arrived, ConnectionPlaces, serve};
use std::net::SocketAddr;
use tokio::io::{AsyncReadExt, AsyncWriteExt};
use tokio::net::{TcpListener, TcpSocket, TcpStream};
use tokio::sync::oneshot;

const ASKED: &[u8] = b"GET / HTTP/1.1\r\nhost: here\r\n\r\n";

/// A server that tells whoever asks where it asks from.
async fn served() -> (SocketAddr, oneshot::Sender<()>) {
    let told = |Extension(arrived): Extension<Arrived>| async move {
        format!("{} {}", arrived.from.ip(), arrived.secure)
    };
    let app = Router::new().route("/", get(told));
    let listener = TcpListener::bind("127.0.0.1:0").await.unwrap();
    let at = listener.local_addr().unwrap();
    let (stop, stopped) = oneshot::channel();
    let stopped = async { stopped.await.unwrap_or_default() };
    tokio::spawn(serve(
        listener,
        app,
        None,
        ConnectionPlaces::default(),
        stopped,
    ));
    (at, stop)
}

async fn from(here: &str, at: SocketAddr) -> TcpStream {
    let socket = TcpSocket::new_v4().unwrap();
    socket.bind(format!("{here}:0").parse().unwrap()).unwrap();
    socket.connect(at).await.unwrap()
}

/// All of what comes until the other side closes.
async fn rest(stream: &mut TcpStream) -> String {
    let mut text = Vec::new();
    let _ = stream.read_to_end(&mut text).await;
    String::from_utf8_lossy(&text).into_owned()
}

#[tokio::test(start_paused = true)]
async fn whoever_says_nothing_is_closed() {
    let (at, _stop) = served().await;
    for (said, why) in [
        (&b""[..], "nothing"),
        (b"GET / HT", "half of a first line"),
        (
            b"GET / HTTP/1.1\r\nhost: here\r\n",
            "a head without its end",
        ),
    ] {
        let mut stream = TcpStream::connect(at).await.unwrap();
        stream.write_all(said).await.unwrap();
        let begun = tokio::time::Instant::now();
        rest(&mut stream).await;
        assert!(begun.elapsed().as_secs() <= 11, "{why} is held too long");
    }
}

#[tokio::test]
async fn a_request_is_answered_with_where_it_came_from() {
    let (at, _stop) = served().await;
    let mut stream = from("127.0.0.3", at).await;
    stream
        .write_all(b"GET / HTTP/1.1\r\nhost: here\r\nconnection: close\r\n\r\n")
        .await
        .unwrap();
    let answer = rest(&mut stream).await;
    assert!(answer.ends_with("127.0.0.3 false"), "{answer}");
}

#[tokio::test]
async fn a_thousand_half_open_connections_keep_nobody_else_out() {
    let (at, _stop) = served().await;
    let mut half_open = Vec::new();
    for n in 0..1010 {
        let mut stream = from("127.0.0.2", at).await;
        if n % 2 == 0 {
            // One that was closed at once takes nothing.
            let _ = stream.write_all(b"GET / HT").await;
        }
        // Those beyond the limit are let go, as the other side does.
        if half_open.len() < 200 {
            half_open.push(stream);
        }
    }
    let mut honest = from("127.0.0.1", at).await;
    for _ in 0..3 {
        honest.write_all(ASKED).await.unwrap();
        let mut answer = [0; 512];
        let length = honest.read(&mut answer).await.unwrap();
        let answer = String::from_utf8_lossy(&answer[..length]);
        assert!(
            answer.starts_with("HTTP/1.1 200") && answer.ends_with("127.0.0.1 false"),
            "{answer}"
        );
    }
}

#[tokio::test]
async fn a_stop_waits_for_no_idle_connection() {
    let (at, stop) = served().await;
    let mut idle = TcpStream::connect(at).await.unwrap();
    idle.write_all(ASKED).await.unwrap();
    let mut answer = [0; 512];
    assert!(idle.read(&mut answer).await.unwrap() > 0);
    stop.send(()).unwrap();
    assert_eq!(
        rest(&mut idle).await,
        "",
        "it is closed, and says nothing more"
    );
    assert!(
        TcpStream::connect(at).await.is_err(),
        "nobody listens any more"
    );
}
