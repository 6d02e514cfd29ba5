//! How filters are built, and which way the water takes through each. Common practice, no source.

choice_set! {
    /// How a filter is built, which sets the way the water takes through it.
    FilterKind:
    #[default]
    RisingBasketCanister = "rising-basket-canister", "canister, water rises through the baskets";
    FallingBasketCanister = "falling-basket-canister", "canister, water falls through the baskets";
    RingAndCoreCanister = "ring-and-core-canister", "canister, up an outer ring and down the core";
    CartridgeSlotCanister = "cartridge-slot-canister", "canister with foam cartridges in the inlet";
    HangOnBack = "hang-on-back", "hang-on-back";
    InternalTopDown = "internal-top-down", "internal, from the top down";
    InternalSideIn = "internal-side-in", "internal, in at the side";
    SpongeOnAir = "sponge-on-air", "sponge filter on air";
    SpongeWithPowerhead = "sponge-with-powerhead", "sponge filter with a powerhead";
    Sump = "sump", "sump";
    WetDryTower = "wet-dry-tower", "wet/dry tower";
    Mat = "mat", "mat across the tank";
    MovingBed = "moving-bed", "moving bed";
}

/// How a kind of filter is built.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
#[expect(
    clippy::struct_excessive_bools,
    reason = "each is a question of its own"
)]
pub struct FilterDesign {
    /// It stands outside and is joined to the tank by outlets and intakes of its own.
    pub is_plumbed: bool,
    /// It is closed and stands in the cabinet, with hoses.
    pub is_canister: bool,
    /// It takes a cartridge, which a sponge can take the place of.
    pub takes_cartridge: bool,
    /// It, or its pipes, are things that can be drawn in the tank.
    pub is_drawn: bool,
}

impl FilterKind {
    /// How it is built.
    pub const fn design(self) -> FilterDesign {
        const IN_THE_TANK: FilterDesign = FilterDesign {
            is_plumbed: false,
            is_canister: false,
            takes_cartridge: false,
            is_drawn: true,
        };
        const PLUMBED: FilterDesign = FilterDesign {
            is_plumbed: true,
            ..IN_THE_TANK
        };
        const CANISTER: FilterDesign = FilterDesign {
            is_canister: true,
            ..PLUMBED
        };
        match self {
            Self::RisingBasketCanister
            | Self::FallingBasketCanister
            | Self::RingAndCoreCanister => CANISTER,
            Self::CartridgeSlotCanister => FilterDesign {
                takes_cartridge: true,
                ..CANISTER
            },
            Self::Sump | Self::WetDryTower => PLUMBED,
            Self::HangOnBack | Self::InternalTopDown | Self::InternalSideIn => FilterDesign {
                takes_cartridge: true,
                ..IN_THE_TANK
            },
            Self::SpongeOnAir | Self::SpongeWithPowerhead => IN_THE_TANK,
            Self::Mat | Self::MovingBed => FilterDesign {
                is_drawn: false,
                ..IN_THE_TANK
            },
        }
    }
}

impl FilterKind {
    /// The way the water takes, which sets the order of the media.
    pub const fn path(self) -> &'static str {
        match self {
            Self::RisingBasketCanister => {
                "Water enters at the bottom and rises through the baskets: coarse foam lowest, bacteria above, what is chemical on top."
            }
            Self::FallingBasketCanister => {
                "Water enters at the top and falls through the baskets: coarse foam on top, bacteria below, what is chemical lowest."
            }
            Self::RingAndCoreCanister => {
                "Water rises through an outer ring of sponges and comes down a core of baskets: the finest catch on top of the core, bacteria in the middle, what is chemical at the bottom."
            }
            Self::CartridgeSlotCanister => {
                "Foam cartridges stand in the inlet; medium, then fine pad in the lowest tray, media for bacteria in the trays above."
            }
            Self::HangOnBack => {
                "A tube draws water up into a box on the rim; it rises through sponge, bacteria on top, and falls back over a lip."
            }
            Self::InternalTopDown => {
                "Water enters at the top of a housing in the tank and goes down through sponge and media to the pump."
            }
            Self::InternalSideIn => {
                "Water enters through slits at the side, passes the sponge, and leaves by the pump on top."
            }
            Self::SpongeOnAir => {
                "Rising air lifts water through a riser and so draws it through the sponge: catch and bacteria in one."
            }
            Self::SpongeWithPowerhead => {
                "A powerhead draws water through the sponge: the same with more flow, and without the air."
            }
            Self::Sump => {
                "Water runs over a weir, through sock or floss and chambers below the tank, and is pumped back."
            }
            Self::WetDryTower => {
                "Water is sprayed over media that stand in air, and collects below."
            }
            Self::Mat => {
                "A mat of foam parts the tank from wall to wall; water is drawn or lifted from behind it."
            }
            Self::MovingBed => "Carriers tumble in a chamber, kept moving by air or flow.",
        }
    }

    /// What to mind about it.
    pub const fn mind(self) -> &'static str {
        match self {
            Self::RisingBasketCanister
            | Self::FallingBasketCanister
            | Self::RingAndCoreCanister
            | Self::CartridgeSlotCanister => {
                "Takes longest to open, is heavy when full, and empties the tank over a line that was left open. Clogged, it gives off bubbles while its flow still looks full."
            }
            Self::HangOnBack => {
                "Clogged, the lid lifts and media stand in air, where they dry and die. Does most for oxygen while its water falls."
            }
            Self::InternalTopDown | Self::InternalSideIn => {
                "Small, and therefore soon full: squeeze the sponge when the flow says so, and never throw all of it away at once."
            }
            Self::SpongeOnAir => {
                "The riser should end near the surface; old sponges crumble. Safe with fry and shrimp."
            }
            Self::SpongeWithPowerhead => "No bubbles stir the surface: something else has to.",
            Self::Sump => {
                "What drains back when the pump stops must find room below; a low return chamber lets the pump draw air."
            }
            Self::WetDryTower => {
                "Never short of oxygen; makes nitrate as fast as it takes ammonia."
            }
            Self::Mat => "Large and slow to clog; what hides behind it is easily forgotten.",
            Self::MovingBed => "Media that lie still carry few bacteria: all of them have to move.",
        }
    }
}
