//! Small pictures of animals by their build, to choose by.

use reed_core::tank::Build;

/// An animal of this build and length, as an inline picture that says nothing in words; larger
/// animals are drawn larger, up to a point.
pub(crate) fn silhouette(build: Build, length_cm: f64) -> String {
    let times = 1.0 / (length_cm / LARGEST_CM).sqrt().clamp(0.5, 1.0);
    let (width, height) = (40.0 * times, 20.0 * times);
    let (left, top) = ((40.0 - width) / 2.0, (20.0 - height) / 2.0);
    let frame = format!("{left:.1} {top:.1} {width:.1} {height:.1}");
    format!(
        r#"<svg class="silhouette" viewBox="{frame}" aria-hidden="true"><path d="{}"/></svg>"#,
        outline(build)
    )
}

/// From this length on an animal fills its picture.
const LARGEST_CM: f64 = 12.0;

/// Its outline, head to the left, in a box of 40 by 20.
const fn outline(build: Build) -> &'static str {
    match build {
        Build::Fusiform => "M4 10q9-8 21 0l8-5v10l-8-5q-12 8-21 0M10 8.5v1",
        Build::Elongated => "M3 10q11-4.5 26 0l6-3.5v7l-6-3.5q-15 4.5-26 0M8 9v1",
        Build::EelLike => "M2 10q6-6 12-1t12 1 12-3q-6 6-12 6t-12-2-12-1",
        Build::Deep => "M5 11q8-15 21-1l7-5v11l-7-5q-12 12-21 0M11 8.5v1",
        Build::Shrimp => {
            "M8 8q5-5 12-2 8 3 11 9l-5 1q-4-6-12-6zM8 8L2 4m6 4L2 9m9 2l-1 5m5-6v6m4-5l1 5"
        }
        Build::Crayfish => {
            "M13 7h12l8 3-8 3H13q-4-3 0-6M13 8L7 4q-5-1-5 2t5 0m6 6l-6 4q-5 1-5-2t5 0m9-1l-1 5m5-5v5m4-5l1 5m-9-11l-1-4m5 4V3m4 4l1-4"
        }
        Build::Amphibian => {
            "M3 9q4-4 8-1 7-2 13 1 7 2 14-1-6 6-14 4-6 2-13 0-5 2-8-3M12 12l-3 5m13-5l3 5M12 7L9 3m12 5l3-5"
        }
        Build::Turtle => "M9 14q3-11 12-11t11 11zM9 13q-6-4-7 0t7 1m3 0l-2 4m16-4l2 4",
        Build::Snail => {
            "M3 17h30q3 0 3-2l-3-1q-2-11-11-11t-9 9q-6 0-7-6m3 6L6 5m16 9a5 5 0 1 1 5-5 2.5 2.5 0 1 1-3-2"
        }
    }
}
