//! Volumes of water.

quantity! {
    /// A volume of water.
    Volume: litres / as_litres;
    "L" | "litre" | "litres" | "liter" | "liters" = 1.0;
    "US gal" | "gal" | "gallon" | "gallons" = 3.785_411_784;
    "imp gal" | "uk gal" = 4.546_09;
    "m³" | "m3" = 1000.0;
}
