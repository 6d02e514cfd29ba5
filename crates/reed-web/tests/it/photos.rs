//! Photos of entries: taken in before and after an entry is entered, shown, withdrawn.

use std::io::Cursor;

use axum::http::StatusCode;

use crate::client::Client;

/// A picture of one colour.
fn png(colour: [u8; 3]) -> Vec<u8> {
    let picture = image::RgbImage::from_pixel(64, 48, image::Rgb(colour));
    let mut bytes = Cursor::new(Vec::new());
    picture
        .write_to(&mut bytes, image::ImageFormat::Png)
        .expect("written");
    bytes.into_inner()
}

/// The number after the last of these words.
fn number_after(text: &str, words: &str) -> u64 {
    let (_, rest) = text
        .rsplit_once(words)
        .unwrap_or_else(|| panic!("{words}: {text}"));
    let digits: String = rest.chars().take_while(char::is_ascii_digit).collect();
    digits.parse().expect("a number")
}

#[tokio::test]
async fn a_photo_taken_in_first_survives_a_refused_form_and_belongs_to_its_entry() {
    let client = Client::new();
    let taken = client
        .upload("/tanks/1/photos", &[("photos", png([200, 30, 30]))])
        .await;
    assert_eq!(taken.status, StatusCode::OK, "{}", taken.text);
    let photo = number_after(&taken.text, "name=\"photo-");
    let entry = |at: &str| format!("what=filter-opened&at={at}&grade-fine=4&photo-{photo}=yes");
    let refused = client.post("/tanks/1/log", &entry("soonish")).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.text.contains(&format!("name=\"photo-{photo}\"")));
    let log = async || client.get("/tanks/1/log").await.text;
    let shown = format!("/tanks/1/photos/{photo}/small");
    assert!(!log().await.contains(&shown));
    client.post("/tanks/1/log", &entry("2026-03-01")).await;
    assert!(log().await.contains(&shown));
    // It is a JPEG that may be kept, of this tank alone.
    let full = client.get(&format!("/tanks/1/photos/{photo}")).await;
    assert_eq!(full.status, StatusCode::OK);
    for (tank, number) in [(2, photo), (1, photo + 1)] {
        let none = client.get(&format!("/tanks/{tank}/photos/{number}")).await;
        assert_eq!(none.status, StatusCode::NOT_FOUND);
    }
    // It goes on with the entry when that is corrected, and is not given to another.
    let number = number_after(&log().await, "/tanks/1/log/");
    let number = client
        .post(&format!("/tanks/1/log/{number}"), &entry("2026-03-02"))
        .await
        .status;
    assert_eq!(number, StatusCode::SEE_OTHER);
    assert_eq!(log().await.matches(&shown).count(), 1);
    client.post("/tanks/1/log", &entry("2026-03-03")).await;
    assert_eq!(log().await.matches(&shown).count(), 1);
    client
        .post(&format!("/tanks/1/photos/{photo}/strike"), "")
        .await;
    assert!(!log().await.contains(&shown));
    client
        .post(&format!("/tanks/1/photos/{photo}/restore"), "")
        .await;
    assert!(log().await.contains(&shown));
}

#[tokio::test]
async fn two_openings_stand_side_by_side() {
    let client = Client::new();
    let mut pages = Vec::new();
    for (at, grade, colour) in [
        ("2026-01-05", 2, [30, 200, 30]),
        ("2026-03-05", 5, [90, 60, 20]),
    ] {
        client
            .post(
                "/tanks/1/log",
                &format!("what=filter-opened&at={at}&on=filter-1&grade-coarse={grade}"),
            )
            .await;
        let log = client.get("/tanks/1/log?kind=filter").await.text;
        let (_, line) = log
            .split_once("Filter opened")
            .map_or(("", ""), |_| log.split_once("of-entry").expect("a line"));
        let number = number_after(line.split_once("Filter opened").expect("it").0, "/log/");
        let page = format!("/tanks/1/log/{number}");
        let sent = client
            .upload(
                &format!("{page}/photos"),
                &[("photos", png(colour)), ("photos", png(colour))],
            )
            .await;
        assert_eq!(sent.location, format!("{page}#photos"));
        pages.push(client.get(&page).await.text);
    }
    let photos = |page: &str| page.matches("<img src=\"/tanks/1/photos/").count();
    assert_eq!(photos(&pages[0]), 2, "none before the first");
    assert_eq!(photos(&pages[1]), 4, "{}", pages[1]);
    for found in ["Coarse foam 2 of 5", "Coarse foam 5 of 5"] {
        assert!(pages[1].contains(found), "{}", pages[1]);
    }
}

#[tokio::test]
async fn what_is_no_picture_is_told_in_a_sentence_and_leaves_nothing() {
    let client = Client::new();
    client.post("/tanks/1/log", "what=fed&at=2026-03-05").await;
    let number = number_after(
        &client.get("/tanks/1/log?kind=food").await.text,
        "/tanks/1/log/",
    );
    let many = vec![("photos", png([0, 0, 0])); 7];
    for (parts, says) in [
        (vec![], "Choose a picture first."),
        (vec![("photos", b"<svg/>".to_vec())], "JPEG, PNG or WebP"),
        (vec![("photos", png([0, 0, 0])[..60].to_vec())], "broken"),
        (many, "At most 6"),
        // One that is none takes the others with it.
        (
            vec![("photos", png([0, 0, 0])), ("photos", b"GIF89a".to_vec())],
            "JPEG, PNG or WebP",
        ),
    ] {
        for place in [
            "/tanks/1/photos".to_owned(),
            format!("/tanks/1/log/{number}/photos"),
        ] {
            let refused = client.upload(&place, &parts).await;
            assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
            assert!(refused.text.contains(says), "{says}: {}", refused.text);
        }
    }
    let large = vec![0; 61 * 1024 * 1024];
    let refused = client.upload("/tanks/1/photos", &[("photos", large)]).await;
    assert_eq!(refused.status, StatusCode::PAYLOAD_TOO_LARGE);
    assert!(
        refused.text.contains("Too much at once"),
        "{}",
        refused.text
    );
    let page = client.get(&format!("/tanks/1/log/{number}")).await.text;
    assert!(!page.contains("<img"), "{page}");
    let gone = client
        .upload("/tanks/1/log/9999/photos", &[("photos", png([0, 0, 0]))])
        .await;
    assert_eq!(gone.status, StatusCode::NOT_FOUND);
    assert_eq!(
        client.get("/tanks/1/photos/1").await.status,
        StatusCode::NOT_FOUND,
        "nothing half-stored"
    );
}
