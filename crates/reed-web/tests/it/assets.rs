//! Styles and scripts: how long a browser may keep them.

use axum::http::StatusCode;

use crate::client::Client;

#[tokio::test]
async fn an_asset_is_kept_for_ever_under_its_own_address_and_under_no_other() {
    let client = Client::new();
    let page = client.get("/").await.text;
    let (_, rest) = page.split_once("/assets/").expect("a page has a style");
    let (version, _) = rest.split_once('/').expect("version/path");
    for (kept, version) in [(true, version), (false, "0123456789abcdef")] {
        for (path, kind) in [
            ("css/base.css", "text/css; charset=utf-8"),
            ("js/app.js", "text/javascript; charset=utf-8"),
        ] {
            let answer = client.get(&format!("/assets/{version}/{path}")).await;
            assert_eq!(answer.status, StatusCode::OK, "{path}");
            assert_eq!(answer.headers["content-type"], kind);
            let may = answer.headers["cache-control"].to_str().expect("text");
            assert_eq!(may.contains("immutable"), kept, "{version}: {may}");
            assert_eq!(may == "no-cache", !kept, "{version}: {may}");
            assert!(answer.text.len() > 100, "{path} is empty");
        }
    }
    for missing in ["css/none.css", "../Cargo.toml", "js"] {
        let answer = client.get(&format!("/assets/{version}/{missing}")).await;
        assert_eq!(answer.status, StatusCode::NOT_FOUND, "{missing}");
    }
}
