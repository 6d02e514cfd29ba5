//! Volume per time: pumped water and pumped air.

quantity! {
    /// Flow of water or air.
    FlowRate: litres_per_hour / as_litres_per_hour;
    "L/h" | "lph" | "l/hr" = 1.0;
    "L/min" | "lpm" = 60.0;
    "US gal/h" | "gph" = 3.785_411_784;
    "imp gal/h" = 4.546_09;
}
