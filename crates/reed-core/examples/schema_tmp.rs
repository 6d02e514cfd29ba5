use jiff::civil::date;
use reed_core::*;
use std::time::Instant;
fn main() {
    let d = document::Document::read(&std::fs::read_to_string("examples/reading-room.reed.json").unwrap()).unwrap();
    let t = &d.tank;
    let o = d.observed(date(2026, 3, 10).at(8, 30, 0, 0)).unwrap();
    for _ in 0..3 {
        let a = Instant::now();
        for _ in 0..200 {
            std::hint::black_box(diagnosis::Differential::of(t, &o));
        }
        println!("diff {:?}", a.elapsed() / 200);
        let di = diagnosis::Differential::of(t, &o);
        let a = Instant::now();
        for _ in 0..200 {
            std::hint::black_box(remedy::plans(&di, &o));
        }
        println!("plans {:?}", a.elapsed() / 200);
        let a = Instant::now();
        for _ in 0..200 {
            std::hint::black_box(forecast::Ensemble::of_tank(t).forecast(tank::Tank::clone));
        }
        println!("forecast {:?}", a.elapsed() / 200);
    }
}
