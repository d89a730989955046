"""The reference saloon: the made-up body on which the drawing was laid out. Millimetres, shell axes."""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Reference:
    """Main places of the reference body; x aft of the front axle, z above the datum, y off the centre line."""

    wheelbase: float = 2400
    nose: float = -650
    tail: float = 3330
    half_width: float = 782
    height: float = 1345
    waist: float = 888
    sill_bottom: float = 222
    sill_top: float = 378
    flange_drop: float = 18
    sill_front: float = 654
    door_front: float = 754
    door_rear: float = 1820
    post_rear: float = 1926
    arch_front: float = 352
    arch_rear: float = 340
    arch_rear_rise: float = 292
    front_clear: float = 386
    arch_clear: float = 354
    axle_z: float = 296
    tyre: float = 292
    screen_base: float = 702
    screen_header: float = 1150
    roof_rear: float = 2330
    deck_front: float = 2700
    tunnel_half: float = 118
    leg_inner: float = 332
    leg_outer: float = 420
    spring_y: float = 486
    hanger_front: float = 560
    hanger_rear: float = 640
    rib_pitch: float = 82
    weld_pitch: float = 42

    @property
    def sill_end(self) -> float:
        return self.wheelbase - self.arch_clear

    @property
    def flange_bottom(self) -> float:
        return self.sill_bottom - self.flange_drop


REFERENCE = Reference()
