//! The connections themselves: how many, how slow a client may be, and HTTPS where the program speaks it.

use std::io;
use std::net::{SocketAddr, TcpListener};
use std::pin::Pin;
use std::sync::Arc;
use std::task::{Context, Poll};
use std::time::Duration;

use axum_server::Handle;
use axum_server::accept::{Accept, DefaultAcceptor};
use axum_server::tls_rustls::{RustlsAcceptor, RustlsConfig};
use futures::future::BoxFuture;
use hyper_util::rt::TokioTimer;
use tokio::io::{AsyncRead, AsyncWrite, ReadBuf};
use tokio::sync::{OwnedSemaphorePermit, Semaphore};
use tokio_util::sync::CancellationToken;

use super::app::App;
use super::router::router;

/// How long open streams may take to end.
const FAREWELL: Duration = Duration::from_secs(2);

/// Serves until `stop`, then lets open requests end.
///
/// # Errors
/// Where the listener fails, or certificate and key cannot be read.
pub async fn serve(listener: TcpListener, app: App, stop: CancellationToken) -> io::Result<()> {
    listener.set_nonblocking(true)?;
    // A request's head, or the next one on an open connection, comes within this time.
    let head = Duration::from_secs(app.settings.patience_s);
    let permits = Arc::new(Semaphore::new(app.settings.most_connections));
    let tls = match (&app.settings.tls_certificate, &app.settings.tls_key) {
        (Some(certificate), Some(key)) => Some(RustlsConfig::from_pem_file(certificate, key).await?),
        _ => None,
    };
    let handle = Handle::new();
    let ending = handle.clone();
    tokio::spawn(async move {
        stop.cancelled().await;
        // Streams end on the same token; whatever else hangs is not waited for.
        ending.graceful_shutdown(Some(FAREWELL));
    });
    let service = router(app).into_make_service_with_connect_info::<SocketAddr>();
    let mut server = axum_server::from_tcp(listener)?.handle(handle);
    server.http_builder().http1().timer(TokioTimer::new()).header_read_timeout(head);
    server
        .http_builder()
        .http2()
        .timer(TokioTimer::new())
        .keep_alive_interval(head)
        .max_concurrent_streams(64);
    match tls {
        Some(tls) => {
            let acceptor = Limited { inner: RustlsAcceptor::new(tls), permits };
            server.acceptor(acceptor).serve(service).await
        }
        None => server.acceptor(Limited { inner: DefaultAcceptor::new(), permits }).serve(service).await,
    }
}

/// Accepts no more connections at a time than there are permits; one too many is closed at once.
#[derive(Clone)]
struct Limited<A> {
    inner: A,
    permits: Arc<Semaphore>,
}

impl<A, I, S> Accept<I, S> for Limited<A>
where
    A: Accept<I, S>,
    A::Future: Send + 'static,
    A::Stream: Send,
    A::Service: Send,
    I: Send + 'static,
    S: Send + 'static,
{
    type Stream = Held<A::Stream>;
    type Service = A::Service;
    type Future = BoxFuture<'static, io::Result<(Self::Stream, Self::Service)>>;

    fn accept(&self, stream: I, service: S) -> Self::Future {
        match self.permits.clone().try_acquire_owned() {
            Ok(permit) => {
                let accepting = self.inner.accept(stream, service);
                Box::pin(async move {
                    let (stream, service) = accepting.await?;
                    Ok((Held { stream, _permit: permit }, service))
                })
            }
            Err(_) => Box::pin(async { Err(io::Error::other("more connections than are served at a time")) }),
        }
    }
}

/// A connection that gives its permit back when it ends.
struct Held<S> {
    stream: S,
    _permit: OwnedSemaphorePermit,
}

impl<S: AsyncRead + Unpin> AsyncRead for Held<S> {
    fn poll_read(mut self: Pin<&mut Self>, cx: &mut Context, buf: &mut ReadBuf) -> Poll<io::Result<()>> {
        Pin::new(&mut self.stream).poll_read(cx, buf)
    }
}

impl<S: AsyncWrite + Unpin> AsyncWrite for Held<S> {
    fn poll_write(mut self: Pin<&mut Self>, cx: &mut Context, buf: &[u8]) -> Poll<io::Result<usize>> {
        Pin::new(&mut self.stream).poll_write(cx, buf)
    }

    fn poll_flush(mut self: Pin<&mut Self>, cx: &mut Context) -> Poll<io::Result<()>> {
        Pin::new(&mut self.stream).poll_flush(cx)
    }

    fn poll_shutdown(mut self: Pin<&mut Self>, cx: &mut Context) -> Poll<io::Result<()>> {
        Pin::new(&mut self.stream).poll_shutdown(cx)
    }
}
