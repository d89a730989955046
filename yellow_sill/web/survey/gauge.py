"""One reading of the thickness gauge on this machine."""

from yellow_sill.core.device_lines import GAUGE
from yellow_sill.core.survey.gauge import settled_thickness
from yellow_sill.web.frame.devices import stream_of


def read_gauge(nominal_mm: float) -> float:
    """One settled reading.

    Raises: LostReading: no gauge, no echo, unreadable or restless; MadReading.
    """
    with stream_of(GAUGE) as lines:
        return settled_thickness(lines, nominal_mm)
