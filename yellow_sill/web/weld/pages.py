"""What the tack map is handed."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True, slots=True, kw_only=True)
class WeldPage:
    """One seam and its tacks; ``limit``: °C, and as shown; ``ready``: every caution is ticked; ``heat``, ``cautions``, ``steps``: addresses.

    ``paths``: of all its seams; ``going``: how far the seam is (see ``core.weld.progress``), None without a seam.
    """

    seam: int
    path: Sequence[Sequence[float]]
    closed: bool
    paths: Sequence[Mapping[str, Any]]
    tacks: Sequence[Mapping[str, Any]]
    limit: float
    limit_shown: str
    ready: bool
    heat: str
    cautions: str
    steps: str
    going: Mapping[str, Any] | None
