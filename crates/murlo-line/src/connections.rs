//! ConnectionPlaces taken, served and ended: whoever says nothing for a while makes room.

use crate::places::{ConnectionPlaces, HeldPlace};
use axum::Router;
use axum::extract::ConnectInfo;
use hyper::body::Incoming;
use hyper::server::conn::http1;
use hyper_util::rt::{TokioIo, TokioTimer};
use hyper_util::server::graceful::{GracefulShutdown, Watcher};
use rustls::ServerConfig;
use std::future::Future;
use std::io;
use std::net::SocketAddr;
use std::sync::Arc;
use std::time::Duration;
use tokio::io::{AsyncRead, AsyncWrite};
use tokio::net::{TcpListener, TcpStream};
use tokio::time::{sleep, timeout};
use tokio_rustls::TlsAcceptor;
use tower::ServiceExt;

/// A request's head, or a handshake, is here within this time; a connection on which nothing is asked is closed after it.
const HEAD: Duration = Duration::from_secs(10);

/// Requests that are still under way when the server is told to stop have this long.
const DRAIN: Duration = Duration::from_secs(3);

/// What a TLS connection begins with: a handshake record.
const HANDSHAKE: u8 = 0x16;

/// No more can be taken for now (too many files are open): it is tried again after this.
const BREATHER: Duration = Duration::from_millis(50);

/// How a request came.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Arrived {
    /// From where.
    pub from: SocketAddr,
    /// Whether nobody on the way could read it.
    pub secure: bool,
}

/// Serves `app` until `stop` resolves; then drains requests, but waits for none that does not end. With `tls` whoever begins
/// a handshake gets one, and whoever asks in plain text is answered in plain text: what that may be is for the application.
///
/// # Errors
/// When the listener fails.
pub async fn serve(
    listener: TcpListener,
    app: Router,
    tls: Option<Arc<ServerConfig>>,
    places: ConnectionPlaces,
    stop: impl Future<Output = ()> + Send,
) -> io::Result<()> {
    let tls = tls.map(TlsAcceptor::from);
    let open = GracefulShutdown::new();
    let mut stop = std::pin::pin!(stop);
    loop {
        let (stream, from) = tokio::select! {
            accepted = listener.accept() => match accepted {
                Ok(accepted) => accepted,
                Err(error) => {
                    tracing::warn!(%error, "a connection could not be taken");
                    sleep(BREATHER).await;
                    continue;
                }
            },
            () = &mut stop => break,
        };
        // Without a place the connection is closed at once.
        if let Some(place) = places.take(from.ip()) {
            let (app, tls, watcher) = (app.clone(), tls.clone(), open.watcher());
            tokio::spawn(connection(stream, from, app, tls, watcher, place));
        }
    }
    drop(listener);
    tokio::select! {
        () = open.shutdown() => {}
        () = sleep(DRAIN) => {}
    }
    Ok(())
}

/// One connection from its first byte to its last; its place is held as long.
async fn connection(
    stream: TcpStream,
    from: SocketAddr,
    app: Router,
    tls: Option<TlsAcceptor>,
    watcher: Watcher,
    _place: HeldPlace,
) {
    let _ = stream.set_nodelay(true);
    let arrived = |secure| Arrived { from, secure };
    // Without a certificate nobody is asked what it begins with.
    let mut first = [0];
    let tls = match tls {
        None => None,
        Some(tls) => match timeout(HEAD, stream.peek(&mut first)).await {
            Ok(Ok(1)) => Some(tls).filter(|_| first == [HANDSHAKE]),
            _ => return,
        },
    };
    match tls {
        None => requests(stream, arrived(false), app, watcher).await,
        Some(tls) => {
            if let Ok(Ok(stream)) = timeout(HEAD, tls.accept(stream)).await {
                requests(stream, arrived(true), app, watcher).await;
            }
        }
    }
}

async fn requests(
    stream: impl AsyncRead + AsyncWrite + Unpin + Send + 'static,
    arrived: Arrived,
    app: Router,
    watcher: Watcher,
) {
    let service = hyper::service::service_fn(move |mut request: hyper::Request<Incoming>| {
        request.extensions_mut().insert(arrived);
        request.extensions_mut().insert(ConnectInfo(arrived.from));
        app.clone().oneshot(request)
    });
    let served = http1::Builder::new()
        .timer(TokioTimer::new())
        .header_read_timeout(HEAD)
        .serve_connection(TokioIo::new(stream), service);
    // What goes wrong on a line is the other side's to notice.
    let _ = watcher.watch(served).await;
}
