"""A shell as a file: views, panels and lines, to keep, to send, to bring into another vehicle."""

import json
from typing import Annotated, Any, Literal

from pydantic import Field

from ..errors import BadField
from ..geometry import outline_polygon
from ..records import Corners, OneOf, Point, Record

FORMAT = "yellow-sill.shell/1"
MOST_BYTES = 20_000_000
FEATURE_KINDS = (
    "crease",
    "crease2",
    "edge",
    "hole",
    "rib",
    "hidden",
    "beyond",
    "centre",
    "tyre",
    "gutter",
    "lip",
    "under",
    "weld",
    "bracket",
)


class PanelPart(Record):
    code: Annotated[str, Field(pattern=r"^[A-Z0-9-]{1,20}$")]
    name: Annotated[str, Field(min_length=1, max_length=80)]
    mirror_code: Annotated[str, Field(pattern=r"^[A-Z0-9-]{0,20}$")]
    layer: Annotated[int, Field(ge=1, le=3)]
    thickness_mm: Annotated[float, Field(gt=0, le=20)]
    tone: Annotated[int, Field(ge=0, le=3)]
    outline: Corners
    holes: list[Corners]
    named_by_hand: bool = False


class FeaturePart(Record):
    kind: Annotated[str, OneOf(FEATURE_KINDS)]
    points: Annotated[list[Point], Field(min_length=1)]
    layer: Annotated[int, Field(ge=0, le=3)]
    closed: bool


class ViewPart(Record):
    name: Annotated[str, Field(pattern=r"^[a-z0-9-]{1,30}$")]
    title: Annotated[str, Field(max_length=60)]
    u_axis: Literal["x", "-x", "y", "-y", "z"]
    v_axis: Literal["x", "-x", "y", "-y", "z"]
    bounds: Annotated[list[float], Field(min_length=4, max_length=4)]
    layered: bool
    silhouette: list[list[Corners]]
    features: list[FeaturePart]
    panels: list[PanelPart]


class ShellFile(Record):
    """A whole shell. Outlines are in the plane of their view, mm, u right and v up."""

    format: Literal["yellow-sill.shell/1"]
    body_type: Annotated[str, Field(max_length=60)]
    dimensions_mm: dict[str, float]
    views: Annotated[list[ViewPart], Field(min_length=1, max_length=40)]


def shell_schema() -> dict[str, Any]:
    """The JSON Schema of a shell file."""
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **ShellFile.model_json_schema()}


def write_shell(shell: ShellFile) -> str:
    return json.dumps(shell.model_dump(mode="json"), ensure_ascii=False)


def read_shell(text: str) -> ShellFile:
    """Read and check a shell file.

    Raises: BadField or BadOutline, naming the path of the fault: no JSON, not our format, a code twice, an outline that crosses itself.
    """
    try:
        values = json.loads(text)
    except (ValueError, RecursionError):
        raise BadField(
            "This file is no shell: it is not JSON.", "shell file", "Choose the .json that was saved."
        ) from None
    if not isinstance(values, dict):
        raise BadField("This file is no shell.", "shell file", "Choose the .json that was saved.")
    shell = ShellFile.read(values)
    names = [view.name for view in shell.views]
    if len(set(names)) < len(names):
        raise BadField("Two views bear the same name.", "views")
    for i, view in enumerate(shell.views):
        codes = set()
        for k, panel in enumerate(view.panels):
            where = f"views[{i}].panels[{k}]"
            if panel.code in codes:
                raise BadField(
                    f"The code {panel.code} stands twice in one view.",
                    f"{where}.code",
                    "Give each panel its own.",
                )
            codes.add(panel.code)
            outline_polygon(panel.outline, f"{where}.outline")
            for n, hole in enumerate(panel.holes):
                outline_polygon(hole, f"{where}.holes[{n}]")
    return shell
