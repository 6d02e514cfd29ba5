//! An application of its own for each test, with a clock that the test sets.

use std::sync::Arc;

use axum::Router;
use axum::body::Body;
use axum::http::{Request, StatusCode, header};
use axum::response::Response;
use http_body_util::BodyExt;
use jiff::Zoned;
use reed_core::document::Document;
use reed_store::{Store, documents};
use reed_web::{App, Clock, Reach, router};
use tempfile::TempDir;
use tower::ServiceExt;

/// The application with the reading room's open case, number 1.
pub(crate) struct Client {
    pub(crate) store: Arc<Store>,
    router: Router,
    _folder: TempDir,
}

/// What came back.
pub(crate) struct Answer {
    pub(crate) status: StatusCode,
    pub(crate) location: String,
    pub(crate) headers: axum::http::HeaderMap,
    pub(crate) text: String,
    pub(crate) bytes: Vec<u8>,
}

fn at(moment: &str) -> Zoned {
    format!("{moment}[UTC]").parse().expect("a moment")
}

/// The application, whose pages may take as long as a busy machine needs for them.
fn patient_app(store: Arc<Store>, clock: Clock) -> App {
    App::new(store, clock).patient(std::time::Duration::from_secs(120))
}

impl Client {
    /// It is the morning of the case.
    pub(crate) fn new() -> Self {
        let folder = TempDir::new().expect("a folder");
        let store = Arc::new(Store::open(&folder.path().join("reed.db")).expect("a new file"));
        let document = Document::read(&reed_fixtures::example("reading-room"))
            .expect("an example")
            .document;
        let now = at("2026-03-10T08:30:00");
        let case = document.case(now.datetime()).expect("an example");
        store
            .write(|db| documents::add(db, &case, &document.log, "First entry", now.timestamp()))
            .expect("written");
        let router = router(patient_app(Arc::clone(&store), Clock::Fixed(Box::new(now))));
        Self {
            store,
            router,
            _folder: folder,
        }
    }

    /// Nothing entered, and the reading room as an example to look at.
    pub(crate) fn with_example() -> Self {
        let example = Self::new();
        let folder = TempDir::new().expect("a folder");
        let store = Arc::new(Store::open(&folder.path().join("reed.db")).expect("a new file"));
        let clock = Clock::Fixed(Box::new(at("2026-03-10T08:30:00")));
        let router =
            router(patient_app(Arc::clone(&store), clock).with_example(Arc::clone(&example.store)));
        // The example's folder lives as long as its store is read; a test ends before it matters.
        std::mem::forget(example);
        Self {
            store,
            router,
            _folder: folder,
        }
    }

    /// Another store, at the same moment.
    pub(crate) fn over(folder: TempDir, store: Store) -> Self {
        let store = Arc::new(store);
        let clock = Clock::Fixed(Box::new(at("2026-03-10T08:30:00")));
        Self {
            router: router(patient_app(Arc::clone(&store), clock)),
            store,
            _folder: folder,
        }
    }

    /// Nothing entered.
    pub(crate) fn empty() -> Self {
        let folder = TempDir::new().expect("a folder");
        let store = Store::open(&folder.path().join("reed.db")).expect("a new file");
        Self::over(folder, store)
    }

    /// The same data, reached from there.
    pub(crate) fn set_reach(&mut self, reach: Reach) {
        let clock = Clock::Fixed(Box::new(at("2026-03-10T08:30:00")));
        self.router = router(patient_app(Arc::clone(&self.store), clock).reached(reach));
    }

    /// Asks for something with these headers.
    pub(crate) async fn ask(
        &self,
        method: &str,
        path: &str,
        headers: &[(&str, &str)],
        body: &str,
    ) -> Answer {
        let mut request = Request::builder().method(method).uri(path);
        for (name, value) in headers {
            request = request.header(*name, *value);
        }
        let length = body.len();
        let request = request.header(header::CONTENT_LENGTH, length);
        self.send(
            request
                .body(Body::from(body.to_owned()))
                .expect("a request"),
        )
        .await
    }

    /// The same data at another time.
    pub(crate) fn set_clock(&mut self, moment: &str) {
        self.set_moment(at(moment));
    }

    /// The same data at another time in another place.
    pub(crate) fn set_moment(&mut self, moment: Zoned) {
        let clock = Clock::Fixed(Box::new(moment));
        self.router = router(patient_app(Arc::clone(&self.store), clock));
    }

    async fn send(&self, request: Request<Body>) -> Answer {
        let response: Response = self
            .router
            .clone()
            .oneshot(request)
            .await
            .expect("the router answers");
        let (parts, body) = response.into_parts();
        let bytes = body.collect().await.expect("a body").to_bytes();
        let text = String::from_utf8_lossy(&bytes).into_owned();
        let location = parts
            .headers
            .get(header::LOCATION)
            .map_or("", |place| place.to_str().expect("text"))
            .to_owned();
        Answer {
            status: parts.status,
            location,
            headers: parts.headers,
            text,
            bytes: bytes.to_vec(),
        }
    }

    /// Opens a page.
    pub(crate) async fn get(&self, path: &str) -> Answer {
        self.send(Request::get(path).body(Body::empty()).expect("a request"))
            .await
    }

    /// Opens a page under a name of this machine, from a page of that origin.
    pub(crate) async fn get_as(&self, path: &str, host: &str, origin: Option<&str>) -> Answer {
        let mut request = Request::get(path).header(header::HOST, host);
        if let Some(origin) = origin {
            request = request.header(header::ORIGIN, origin);
        }
        self.send(request.body(Body::empty()).expect("a request"))
            .await
    }

    /// Sends a form.
    pub(crate) async fn post(&self, path: &str, form: &str) -> Answer {
        self.post_from(path, form, "same-origin").await
    }

    /// Sends a form as a page of this or another site would.
    pub(crate) async fn post_from(&self, path: &str, form: &str, site: &str) -> Answer {
        let request = Request::post(path)
            .header(header::CONTENT_TYPE, "application/x-www-form-urlencoded")
            .header(header::CONTENT_LENGTH, form.len())
            .header("sec-fetch-site", site)
            .body(Body::from(form.to_owned()))
            .expect("a request");
        self.send(request).await
    }

    /// Sends a form that carries files, as browsers do.
    pub(crate) async fn upload<T: AsRef<[u8]>>(&self, path: &str, parts: &[(&str, T)]) -> Answer {
        let mut body = Vec::new();
        for (name, content) in parts {
            let head = format!(
                "--part\r\nContent-Disposition: form-data; name=\"{name}\"; filename=\"x\"\r\n\r\n"
            );
            body.extend([head.as_bytes(), content.as_ref(), b"\r\n"].concat());
        }
        body.extend(b"--part--\r\n");
        let request = Request::post(path)
            .header(header::CONTENT_TYPE, "multipart/form-data; boundary=part")
            .header(header::CONTENT_LENGTH, body.len())
            .header("sec-fetch-site", "same-origin")
            .body(Body::from(body))
            .expect("a request");
        self.send(request).await
    }
}
