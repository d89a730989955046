"""What a sheet bears besides itself: springs, belts, hinges, jacks, steering; such sheets carry a caution wherever they are shown."""

from collections.abc import Iterable

from ..remarks import Remark
from ..said import Mm, Said
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


def is_regulated(code: str) -> bool:
    """Whether welding on a sheet may be regulated.

    >>> is_regulated("L-HANGF"), is_regulated("L-DOORH"), is_regulated("ROOF")
    (True, False, False)
    """
    return any(word in duty_of(code) for word in REGULATED)


def joint_remark(code: str, at: tuple[float, float]) -> Remark | None:
    """What to say of a weld across a sheet, at a place of it in mm; None where it bears nothing that is regulated."""
    if not is_regulated(code):
        return None
    return Remark(
        code="CUT-18",
        where="duty",
        what=Said("This joint runs across a sheet that carries: {duty}.", duty=Said(duty_of(code))),
        mend="Renew it whole, from one row of its spot welds to the next, or have the joint agreed with a qualified welder or engineer first.",
        at=at,
    )


def patch_remarks(code: str, treatments: Iterable[str], thickness_mm: float, sheet_mm: float) -> list[Remark]:
    """What to say of a patch for a sheet that bears something: lapped or joggled edges, steel thinner than the sheet's.

    Args: treatments: of its edges; thickness_mm: of its steel; sheet_mm: of the sheet.
    """
    if not duty_of(code):
        return []
    told, duty = [], Said(duty_of(code))
    if is_regulated(code) and {"lap", "joggle"} & set(treatments):
        what = Said("A lapped edge on a sheet that carries: {duty}.", duty=duty)
        told.append(Remark(code="FLAT-20", where="duty", what=what, mend="Butt it, or renew the sheet to its own rows: no patch over it."))  # fmt: skip
    if thickness_mm < sheet_mm - 0.05:
        thin = "Steel of {thickness} for a sheet of {sheet} that carries: {duty}."
        told.append(
            Remark(
                code="FLAT-21", where="thickness_mm", what=Said(thin, thickness=Mm(thickness_mm), sheet=Mm(sheet_mm), duty=duty),
                mend="Take its full thickness.",
            )
        )  # fmt: skip
    return told
