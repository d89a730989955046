"""The command line of the core: one JSON object in, one JSON object out. Starts without Django."""

import json
import sys
from collections.abc import Callable, Sequence
from dataclasses import dataclass, fields, is_dataclass
from enum import Enum
from functools import cache
from importlib import import_module
from typing import Any, TextIO

from .errors import BadField, CoreError
from .records import Record, once
from .said import Listed, Mm, Said, apart

#: Most bytes of one input.
MOST_BYTES = 8_000_000


@dataclass(frozen=True, slots=True)
class Command:
    """One calculation: what it takes and what works it out, each as "module:name", imported when it is asked for."""

    takes: str
    works: str
    summary: str
    long: bool = False

    @property
    def request(self) -> type[Record]:
        return _found(self.takes)

    @property
    def run(self) -> Callable[..., Any]:
        return _found(self.works)


def _found(place: str) -> Any:
    module, name = place.split(":")
    return getattr(import_module(f".{module}", __package__), name)


COMMANDS = {
    "cutlines": Command(
        "cut.lines:CutRequest", "cut.lines:cut_lines", "propose the cuts of a panel, layer by layer"
    ),
    "spot_rows": Command(
        "cut.spots:SpotRequest",
        "cut.spots:spot_rows",
        "release rows of spot welds, and where the new welds go",
    ),
    "joint_choice": Command(
        "cut.joints:JointRequest", "cut.joints:joint_choice", "which joint where, and what to watch"
    ),
    "cuts_through": Command(
        "cut.through:ThroughRequest",
        "cut.through:cuts_through",
        "propose the cuts of sheets behind one another, with their windows",
    ),
    "cut_options": Command(
        "cut.plans:OptionsRequest", "cut.options:cut_options", "patches, part panel or whole panel, compared"
    ),
    "stretches": Command(
        "cut.stretches:StretchRequest",
        "cut.stretches:stretches",
        "what each stretch of a cut is: joint, flange, free edge or open seam",
    ),
    "replan": Command(
        "cut.replan:ReplanRequest",
        "cut.replan:replanned",
        "a cut that opening has shown to be too small: the new line and what it adds",
    ),
    "develop": Command(
        "patch.edges:PatchRequest",
        "patch.flat:develop",
        "flat pattern of a patch with bends, laps and joggles",
    ),
    "pattern": Command(
        "patch.part:PartRequest",
        "patch.pattern:pattern",
        "the flat pattern in full: arcs, runs of bends, hems, box corners, holes",
    ),
    "fold_order": Command(
        "patch.fold_order:FoldOrderRequest",
        "patch.fold_order:fold_order",
        "in which order to fold so that nothing bent meets the tool, and which fingers to take out",
    ),
    "curved_flange": Command(
        "patch.curved:CurvedFlangeRequest",
        "patch.curved:curved_flange",
        "how much the rim of a flange along a curve must be shrunk or stretched, and where",
    ),
    "shape_check": Command(
        "patch.shape_read:ShapeRequest",
        "patch.shape:shape_check",
        "flat, bent, conical, crowned or saddle: what must be stretched or shrunk, with what",
    ),
    "bead_and_recess": Command(
        "patch.pressed:PressedRequest",
        "patch.pressed:bead_and_recess",
        "what a pressed recess or a row of beads draws in, its formers, and where ribs meet best",
    ),
    "jig": Command(
        "patch.jig:JigRequest",
        "patch.jig:jig",
        "a frame or a plate that keeps mountings in place: cut list, holes, distances to check",
    ),
    "fit": Command(
        "patch.fit:FitRequest",
        "patch.fit:fit",
        "an offer-up judged: how to move the patch, what to trim, where metal is missing",
    ),
    "taped": Command(
        "patch.taped:TapedRequest", "patch.taped:taped", "an outline from points taped from two marks"
    ),
    "nest": Command(
        "patch.nest_stock:NestRequest",
        "patch.nest:nest",
        "patterns laid on the sheets and offcuts in stock, and what goes back",
    ),
    "k_from_test": Command(
        "patch.proved:BendTest", "patch.proved:k_from_test", "K from the person's own test bend"
    ),
    "gauge": Command(
        "patch.gauges:GaugeRequest",
        "patch.gauges:gauge",
        "what a thickness is in mm and in both gauges, and what to buy",
    ),
    "grade": Command(
        "survey.grading:GradeRequest",
        "survey.grading:graded",
        "grade a finding from its evidence, and say why",
    ),
    "coverage": Command(
        "survey.coverage:CoverageRequest",
        "survey.coverage:coverage",
        "how much of each panel, layer and shell was looked at",
    ),
    "growth": Command(
        "survey.growth:GrowthRequest", "survey.growth:growth_forecast", "how far the rust will really go"
    ),
    "rectify": Command(
        "survey.rectify:RectifyRequest",
        "survey.rectify:rectify",
        "millimetres from a photo with a card of known size in it",
    ),
    "adjust": Command(
        "datum.asked:AdjustRequest",
        "datum.adjust:adjust",
        "datum points from distances, heights and angles, and which reading is silly",
    ),
    "shape": Command(
        "datum.shape:ShapeRequest",
        "datum.shape:shape",
        "roll, pitch, twist, sag, sway, lozenge, asymmetry and squareness of adjusted points",
    ),
    "next_reading": Command(
        "datum.next_reading:NextReadingRequest",
        "datum.next_reading:next_reading",
        "the readings that shrink the worst uncertainty most",
    ),
    "level": Command(
        "datum.level:LevelRequest",
        "datum.level:level",
        "packers that bring the flats of a shell level on its stands",
    ),
    "transfer": Command(
        "datum.transfer:TransferRequest",
        "datum.transfer:transfer",
        "a mark found again from two marks that stay",
    ),
    "hold": Command(
        "hold.asked:HoldRequest",
        "hold.verdict:hold",
        "what still holds a shell in one state: HELD, SOFT or LOOSE, and why",
    ),
    "braces": Command(
        "hold.braces:BraceRequest",
        "hold.braces:braces",
        "where the next brace helps most, and how many hold it",
    ),
    "tubes": Command(
        "hold.tubes:TubesRequest",
        "hold.tubes:tubes",
        "the cut list of braces: lengths and mitres of their tubes",
    ),
    "calibrate": Command(
        "hold.calibrate:CalibrateRequest",
        "hold.calibrate:calibrate",
        "how soft this shell is, from one weight and one dial",
    ),
    "hold_measured": Command(
        "hold.measured:MeasuredRequest",
        "hold.measured:hold_measured",
        "predicted beside measured movement between two states",
    ),
    "removal_order": Command(
        "hold.order:OrderRequest",
        "hold.order:removal_order",
        "in which order to take parts out and put them back",
        long=True,
    ),
    "section": Command(
        "shell.sections:SectionRequest",
        "shell.sections:cut_through",
        "the sheets that a cut across a shell meets, from the outside in",
    ),
    "cavities": Command(
        "shell.cavity_records:CavityRequest",
        "shell.cavities:cavities",
        "the closed boxes of a shell: faces, volume, openings, and where water stands",
    ),
    "edges": Command(
        "shell.edges:EdgeRequest",
        "shell.edges:edges",
        "what each stretch of a sheet's outline is: free, folded, hemmed, flanged or a seam",
    ),
    "curvature": Command(
        "shell.curvature:CurveRequest",
        "shell.curvature:curvature",
        "where a sheet is flat, bent one way or crowned, with radii",
    ),
    "gaps": Command(
        "shell.gaps:GapRequest",
        "shell.gaps:judge_gaps",
        "the gaps round a hung part: even or wedge, and which hinge moves it which way",
    ),
    "from_photo": Command(
        "shell.from_photo:PhotoRequest",
        "shell.from_photo:from_photo",
        "a body's dimensions from places traced on a photo of its side and two known lengths",
    ),
    "tacks": Command(
        "weld.tacks:TackRequest", "weld.tacks:tack_order", "order of the tacks and the heat they leave"
    ),
}


#: The longest message and path that is answered, characters.
LONGEST_MESSAGE = 500


@cache
def _keys(kind: type) -> list[tuple[str, str]]:
    """Field names of a result with their names in JSON."""
    return [(field.name, field.metadata.get("json", field.name)) for field in fields(kind)]


def plain(value: Any) -> Any:
    """A core result as plain JSON values."""
    if isinstance(value, (float, int, str)) and not isinstance(value, Enum):
        return value
    if is_dataclass(value) and not isinstance(value, type):
        return {key: plain(getattr(value, name)) for name, key in _keys(type(value))}
    if isinstance(value, dict):
        return {key: plain(item) for key, item in value.items()}
    if isinstance(value, Enum):
        return value.value
    if (
        isinstance(value, list)
        and value
        and isinstance(value[0], list)
        and value[0]
        and isinstance(value[0][0], float)
    ):
        return value  # a ring of corners is plain already, and there are thousands of numbers in them
    if isinstance(value, (list, tuple)):
        return [plain(item) for item in value]
    return value


def printed(value: Any) -> Any:
    """Plain values for the command line: beside each message, under ``NAME_said``, its template and values."""
    if isinstance(value, dict):
        out = {}
        for key, item in value.items():
            out[key] = printed(item)
            if isinstance(item, Said):
                out[f"{key}_said"] = apart(item)
            elif isinstance(item, list) and any(isinstance(each, Said) for each in item):
                out[f"{key}_said"] = [apart(each) if isinstance(each, Said) else each for each in item]
        return out
    return (
        [printed(item) for item in value]
        if isinstance(value, list) and value and isinstance(value[0], dict)
        else value
    )


def calculate(name: str, values: Any, progress: Callable[[float], None] | None = None) -> Any:
    """Run one command on plain values.

    Args: name: a key of COMMANDS; values: the JSON object; progress: called with the share done by the commands that take long.
    Returns: plain JSON values.
    Raises: CoreError.
    """
    command = COMMANDS.get(name)
    if command is None:
        raise BadField(
            Said("There is no calculation '{name}'.", name=name),
            "$",
            Said("There are: {commands}.", commands=Listed(tuple(COMMANDS))),
        )
    if not isinstance(values, dict):
        raise BadField("The input must be one JSON object.", "$")
    request = command.request.read(values)
    return plain(command.run(request, progress) if progress and command.long else command.run(request))


def _no_constant(word: str) -> float:
    raise BadField(
        Said("{word} is not a number that can be cut.", word=word), "$", "Only finite numbers are taken."
    )


def _read(stream: TextIO) -> Any:
    try:
        text = stream.read(MOST_BYTES + 1)
    except UnicodeDecodeError:
        raise BadField("This is not text in UTF-8.", "$") from None
    if len(text) > MOST_BYTES:
        raise BadField(
            Said("The input is larger than {most_bytes} MB.", most_bytes=MOST_BYTES // 1_000_000), "$"
        )
    try:
        return json.loads(text, parse_constant=_no_constant, object_pairs_hook=once)
    except json.JSONDecodeError as error:
        raise BadField(
            Said(
                "This is not JSON: {msg} in line {lineno}, column {colno}.",
                msg=error.msg,
                lineno=error.lineno,
                colno=error.colno,
            ),
            "$",
        ) from None
    except ValueError:  # a whole number of thousands of digits
        raise BadField("A number in the input has too many digits.", "$") from None
    except RecursionError:
        raise BadField("The input is nested too deep.", "$") from None


def main(arguments: Sequence[str] | None = None) -> int:
    """``calc NAME [FILE]``, ``calc --list``, ``calc NAME --schema``. Returns the exit code: 0, or 2 for bad input.

    ``calc removal_order --progress`` also writes the share done to standard error, line by line.
    """
    words = list(sys.argv[1:] if arguments is None else arguments)
    try:
        print(json.dumps(printed(_answer(words)), ensure_ascii=False, allow_nan=False))
    except CoreError as error:
        near = Said(" Near {at:.1f}, {at2}.", at=error.at[0], at2=Mm(error.at[1], 1)) if error.at else ""
        message = (
            error.message if len(error.message) <= LONGEST_MESSAGE else f"{error.message[:LONGEST_MESSAGE]}…"
        )
        said = {
            "code": error.code,
            "message": (message + near).encode("utf-8", "replace").decode(),
            "where": (error.where or "$")[:LONGEST_MESSAGE],
        }
        print(json.dumps({"error": said}, ensure_ascii=False))
        return 2
    return 0


def _answer(words: list[str]) -> Any:
    if words == ["--list"]:
        return {name: command.summary for name, command in COMMANDS.items()}
    schema, shown = "--schema" in words, "--progress" in words
    names = [word for word in words if word not in ("--schema", "--progress")]
    if not names or len(names) > 2 or names[0].startswith("-"):
        raise BadField(
            "Say which calculation.", "$", "Type: calc NAME [FILE], calc NAME --schema, or calc --list."
        )
    if schema:
        if names[0] not in COMMANDS:
            raise BadField(
                Said("There is no calculation '{names}'.", names=names[0]),
                "$",
                Said("There are: {commands}.", commands=Listed(tuple(COMMANDS))),
            )
        return COMMANDS[names[0]].request.model_json_schema()
    if names[0] not in COMMANDS:
        return calculate(names[0], {})
    if len(names) == 1:
        return calculate(names[0], _read(sys.stdin), _tell if shown else None)
    try:
        with open(names[1], encoding="utf-8") as stream:
            values = _read(stream)
    except OSError:
        raise BadField(Said("The file '{names}' cannot be read.", names=names[1]), "$") from None
    return calculate(names[0], values, _tell if shown else None)


def _tell(share: float) -> None:
    print(f"{share:.3f}", file=sys.stderr, flush=True)


if __name__ == "__main__":
    sys.exit(main())
