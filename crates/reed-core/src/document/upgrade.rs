//! Files of older versions, brought up to the present one before they are read.

use serde_json::{Map, Value, json};

/// A tank of version 1 had its equipment as figures; version 2 has it as things with places.
/// Figures become things at plausible places, so that every number that counts for oxygen stays
/// what it was.
pub(super) fn tank_from_1(tank: &mut Value) {
    let Some(old) = tank.as_object_mut() else {
        return;
    };
    let number = |part: &Map<String, Value>, key: &str| part.get(key).and_then(Value::as_f64);
    let (length, width) = (
        number(old, "length_cm").unwrap_or_default(),
        number(old, "width_cm").unwrap_or_default(),
    );
    let level = number(old, "water_depth_cm").unwrap_or_default();
    let (mut things, mut filters) = (Vec::new(), Vec::new());
    let air = old.remove("air");
    for (index, air) in air
        .iter()
        .filter_map(Value::as_array)
        .flatten()
        .filter_map(Value::as_object)
        .enumerate()
    {
        let place = length * (0.8 - 0.15 * index as f64).max(0.1);
        things.push(json!({
            "number": things.len() + 1,
            "name": air.get("kind").cloned().unwrap_or_else(|| json!("Air stone")),
            "x_cm": place, "y_cm": width / 2.0, "z_cm": level - number(air, "depth_cm").unwrap_or(level),
            "is": { "air-stone": {
                "air_l_per_h": air.get("air_l_per_h"), "bubbles": air.get("bubbles"), "running": air.get("running"),
            } },
        }));
    }
    if let Some(Value::Object(fall)) = old.remove("falling_water") {
        let stopped = fall
            .get("stopped")
            .and_then(Value::as_bool)
            .unwrap_or_default();
        let flow = number(&fall, "flow_l_per_h");
        let rated = flow.map(|flow| (flow / crate::tank::REAL_SHARE_OF_RATED.value).max(10.0));
        filters.push(json!({
            "number": 1, "name": "Hang-on filter", "kind": "hang-on-back", "rated_l_per_h": rated, "measured_l_per_h": flow,
        }));
        things.push(json!({
            "number": things.len() + 1, "name": "Hang-on filter",
            "x_cm": length * 0.3, "y_cm": width, "z_cm": level + number(&fall, "height_cm").unwrap_or_default(),
            "is": { "hang-on-back": {
                "lip_cm": (length * 0.3).clamp(2.0, 12.0), "intake_below_lip_cm": (level * 0.7).max(3.0),
                "running": if stopped { "stopped" } else { "always" }, "filter": 1,
            } },
        }));
    }
    if old.remove("has_wave_maker") == Some(Value::Bool(true)) {
        things.push(json!({
            "number": things.len() + 1, "name": "Wave maker", "x_cm": 4.0, "y_cm": width / 2.0, "z_cm": (level - 8.0).max(2.5),
            "is": { "powerhead": { "role": "wave-maker", "flow_l_per_h": 2000.0, "bore_mm": 30.0 } },
        }));
    }
    let glass = json!({ "length_cm": old.remove("length_cm"), "width_cm": old.remove("width_cm"), "height_cm": (level + 4.0).max(5.0) });
    old.insert("glass".to_owned(), glass);
    for (was, is) in [
        ("water_depth_cm", "water_level_cm"),
        ("net_volume_l", "measured_volume_l"),
    ] {
        if let Some(value) = old.remove(was) {
            old.insert(is.to_owned(), value);
        }
    }
    old.insert("things".to_owned(), Value::Array(things));
    old.insert("filters".to_owned(), Value::Array(filters));
}

/// Whether a stored tank is one of version 1.
pub(super) fn is_tank_of_1(tank: &Value) -> bool {
    tank.get("glass").is_none() && tank.get("length_cm").is_some()
}
