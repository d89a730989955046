"""What is on each face of a repair, held against the rules of protection; each rule can be overruled in writing where it applies."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from ..errors import BadField
from ..records import Record
from ..said import DegC, Said
from .products import WAXES, Kind, Product, by_kind, require_product

_Text = Annotated[str, Field(max_length=300)]


class Coat(Record):
    """One coat: its kind, whether it has cured (None: not known), and whether the one beneath was within its window when it went on."""

    kind: Kind
    cured: bool | None = None
    in_window: bool | None = None


class ProtectedFace(Record):
    """A face of a sheet.

    Attributes:
        surface: mating flange, outer skin, cavity, underside or seam; metal: what it is beneath, "" where nobody says.
        coats: from the metal outwards; weld_to_come: whether one is still to be made within reach; closes: whether it is about to be closed for good.
        behind_weld_c: how hot it gets behind a weld that was made or is to come, None where none is near.
        overruled: why a rule does not count here, by its number.
    """

    name: Annotated[str, Field(min_length=1, max_length=80)]
    surface: Literal["mating", "outer", "cavity", "underside", "seam"]
    metal: Literal["", "bright", "tight rust", "thin", "holed"] = ""
    coats: Annotated[list[Coat], Field(max_length=12)] = []
    weld_to_come: bool = False
    closes: bool = False
    behind_weld_c: Annotated[float, Field(ge=-40, le=3000)] | None = None
    overruled: dict[str, _Text] = {}


class ProtectRequest(Record):
    """The faces, and the products owned (the starting set where none are given)."""

    faces: Annotated[list[ProtectedFace], Field(min_length=1, max_length=2000)]
    products: Annotated[list[Product], Field(max_length=60)] = []


@dataclass(frozen=True, slots=True, kw_only=True)
class Broken:
    """A rule that a face does not keep: number, the face, what and why, what to do; ``overruled``: a person's reason, "" where there is none."""

    code: str
    face: str
    what: Said | str
    mend: Said | str
    overruled: str


#: The rules by number, with why.
RULES = {
    "PROT-01": "Two faces that close on each other bare rust from the inside: nothing reaches them later.",
    "PROT-02": "A primer that is not made for it burns, gasses and spoils the weld.",
    "PROT-03": "A converter holds rust, not holes: thin metal goes on thinning beneath it.",
    "PROT-04": "A converter needs rust to convert; on bright metal it is a film that lets go.",
    "PROT-05": "What goes over a coat before it has cured lifts it or shuts its solvent in.",
    "PROT-06": "Sealer holds on primer, not on steel: water creeps beneath it.",
    "PROT-07": "Wax burns, spits and spoils every weld within reach.",
    "PROT-08": "Not every coat holds on every other.",
    "PROT-09": "A coat that went on after the window beneath had ended holds badly.",
    "PROT-10": "A weld burns the paint off the other side: rust begins there unseen.",
    "PROT-11": "A face that closes with metal bare cannot be reached any more.",
}


def protect_check(request: ProtectRequest) -> list[Broken]:
    """Every rule that some face does not keep, face by face; those overruled in writing are told with their reason.

    Args: request: see ProtectRequest.
    Raises: BadField: a face twice, a product whose window ends before it opens, an overruled number that no rule has.
    """
    names = [face.name for face in request.faces]
    twice = next((name for i, name in enumerate(names) if name in names[:i]), None)
    if twice is not None:
        raise BadField(Said("'{name}' is there twice.", name=twice), "faces", "Give each face its own name.")
    for product in request.products:
        require_product(product)
    owned = by_kind(request.products)
    found: list[Broken] = []
    for number, face in enumerate(request.faces):
        for code in face.overruled:
            if code not in RULES:
                raise BadField(
                    Said("There is no rule {code}.", code=code[:12]),
                    f"faces[{number}].overruled",
                    "Rules are numbered PROT-01 on.",
                )
        for code, what, mend in (
            *_at_the_weld(face, owned),
            *_coat_by_coat(face, owned),
            *_at_the_end(face, owned),
        ):
            found.append(
                Broken(
                    code=code, face=face.name, what=what, mend=mend, overruled=face.overruled.get(code, "")
                )
            )
    return found


_Rule = tuple[str, Said | str, Said | str]


def _at_the_weld(face: ProtectedFace, owned: Mapping[str, Product]) -> list[_Rule]:
    """What a weld that is still to come asks of a face."""
    found: list[_Rule] = []
    kinds, name = [coat.kind for coat in face.coats], face.name
    if face.surface == "mating" and (face.weld_to_come or face.closes) and not kinds:
        mend = "Weld-through primer on both faces, bright metal where the weld itself goes."
        found.append(("PROT-01", Said("{face} is bare and about to be closed.", face=name), mend))
    if face.surface in ("mating", "seam") and face.weld_to_come:
        for kind in kinds:
            if kind in WAXES or (kind in owned and owned[kind].weld_through):
                continue
            what = Said("{face} has {kind} where a weld goes.", face=name, kind=Said(kind))
            found.append(("PROT-02", what, "Take it off to bright metal there."))
    if face.weld_to_come and any(kind in WAXES for kind in kinds):
        what = Said("{face} is waxed, and a weld within reach is still to come.", face=name)
        found.append(("PROT-07", what, "Wash the wax out, weld, and wax last of all."))
    return found


def _coat_by_coat(face: ProtectedFace, owned: Mapping[str, Product]) -> list[_Rule]:
    """What each coat asks of what lies beneath it."""
    found: list[_Rule] = []
    for beneath, coat in zip([None, *face.coats], face.coats, strict=False):
        under, name, kind = (beneath.kind if beneath else "bare"), face.name, Said(coat.kind)
        if coat.kind == "converter" and beneath is None:
            found += _converted(face)
        if beneath is not None and _too_early(beneath, coat):
            known = "is not known to have cured" if beneath.cured is None else "had not cured"
            what = Said("{face}: the {under} under the {kind} {known}.", face=name, under=Said(under), kind=kind, known=Said(known))  # fmt: skip
            found.append(("PROT-05", what, "Wait for its clock."))
        if coat.kind == "seam sealer" and under == "bare":
            what = Said("{face}: sealer lies on bare metal.", face=name)
            found.append(("PROT-06", what, "Epoxy first, cured, then sealer."))
        elif coat.kind in owned and under not in owned[coat.kind].over:
            what = Said("{face}: {kind} does not go over {under}.", face=name, kind=kind, under=Said(under))
            found.append(("PROT-08", what, "See what its tin allows."))
        if coat.in_window is False:
            what = Said(
                "{face}: the {kind} went on after the window beneath it had ended.", face=name, kind=kind
            )
            found.append(("PROT-09", what, "Key it, and put it on again."))
    return found


def _converted(face: ProtectedFace) -> list[_Rule]:
    """What a converter on the metal itself asks of it."""
    if face.metal in ("thin", "holed"):
        what = Said("{face} is {metal}, and converter is on it.", face=face.name, metal=Said(face.metal))
        return [("PROT-03", what, "Cut it out instead.")]
    if face.metal == "bright":
        what = Said("{face} is bright, and converter is on it.", face=face.name)
        return [("PROT-04", what, "Wash it off and prime.")]
    return []


def _too_early(beneath: Coat, coat: Coat) -> bool:
    """Whether a coat went on before the one beneath had cured: a converter and what sealer goes over must be through, epoxy may be in its window."""
    if beneath.cured is True or coat.kind in WAXES:
        return False
    if beneath.kind == "converter" or coat.kind == "seam sealer":
        return True
    return beneath.kind == "epoxy primer" and coat.in_window is None


def _at_the_end(face: ProtectedFace, owned: Mapping[str, Product]) -> list[_Rule]:
    """What the heat behind a weld has done, and what closing a face asks."""
    found: list[_Rule] = []
    if face.behind_weld_c is not None:
        for coat in face.coats:
            stands = owned[coat.kind].burns_c if coat.kind in owned else 100.0
            if face.behind_weld_c > stands:
                what = Said("{face}: the {kind} is burnt back behind the weld ({hot}, it stands {stands}).", face=face.name, kind=Said(coat.kind),
                            hot=DegC(face.behind_weld_c), stands=DegC(stands))  # fmt: skip
                found.append(
                    ("PROT-10", what, "From inside, before the box closes: clean it and coat it again.")
                )
                break
    if face.closes and face.surface == "cavity" and not face.coats:
        found.append(
            (
                "PROT-11",
                Said("{face} is bare and about to be closed.", face=face.name),
                "Prime it now; wax alone is for what cannot be reached.",
            )
        )
    return found
