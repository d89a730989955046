"""What a sheet bears besides itself: springs, belts, hinges, jacks, steering; such sheets carry a caution wherever they are shown."""

from ..said import Said
from .lie import box_of, stem

#: What is fixed to a sheet, by its code without side; trade section 15: the maker, local law and a qualified welder go before any plan.
DUTIES = {
    "HANGF": "spring", "HANGR": "spring", "TOWER": "suspension", "XMF": "suspension", "XMR": "engine", "JACK": "jack", "JACKR": "jack", "APOSTM": "hinges",
    "DOORH": "hinges", "DOORRH": "hinges", "BPOSTM": "seat belt", "BPOSTI": "seat belt", "CPOSTM": "seat belt", "SILLI": "seat belt",
    "PEDALM": "steering", "MOUNTF": "body mount", "MOUNTM": "body mount", "MOUNTR": "body mount", "OUTF": "body mount", "OUTM": "body mount",
    "LEG": "tow and suspension", "RAIL": "tow and spring",
    "CHRAIL": "tow, spring and steering", "KICKUP": "suspension",
}  # fmt: skip
#: Duties where welding may be regulated.
REGULATED = ("spring", "suspension", "belt", "steering", "engine", "tow")


def duty_of(code: str) -> str:
    """What a sheet bears; "" for one that bears only itself.

    >>> duty_of("L-HANGF"), duty_of("L-CHRAILB"), duty_of("ROOF")
    ('spring', 'tow, spring and steering', '')
    """
    return DUTIES.get(stem(code)) or DUTIES.get(stem(box_of(code)), "")


def caution_of(code: str) -> str:
    """The caution that a sheet carries; "" for one that bears only itself."""
    duty = duty_of(code)
    if not duty:
        return ""
    if any(word in duty for word in REGULATED):
        return Said(
            "It carries: {duty}. Welding here may be regulated or need inspection: follow the maker, local law and a qualified welder or engineer. "
            "Keep its full thickness; no patch over it.", duty=Said(duty),
        )  # fmt: skip
    return Said("It carries: {duty}. Keep its full thickness, and measure before it is cut.", duty=Said(duty))
