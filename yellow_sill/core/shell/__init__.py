"""The shell: body types as parametric generators, their panels and their drawn views."""

from .body_types import BODY_TYPES, build_shell, drawn_views, ranges
from .model import LAYERS, Feature, Panel, Shell, View, side_of

__all__ = [
    "BODY_TYPES",
    "LAYERS",
    "Feature",
    "Panel",
    "Shell",
    "View",
    "build_shell",
    "drawn_views",
    "ranges",
    "side_of",
]
