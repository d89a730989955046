"""The thickness gauge on this machine: a line stream on a loopback port, as core/survey/gauge.py describes it.

``YELLOW_SILL_GAUGE`` is its address, host:port; a serial gauge is reached through any serial-to-network bridge. The demo
starts the simulated gauge that ships (``./yellow-sill gauge``).
"""

import socket
from collections.abc import Iterator

from django.conf import settings

from yellow_sill.core.survey.gauge import LostReading, settled

CONNECT_S, LINE_S = 1.0, 1.0
MOST_LINE_BYTES = 200


def read_gauge(nominal_mm: float) -> float:
    """One settled reading.

    Raises: LostReading: no gauge, no echo, unreadable or restless; MadReading.
    """
    host, _, port = settings.GAUGE.rpartition(":")
    try:
        with socket.create_connection((host, int(port)), timeout=CONNECT_S) as stream:
            stream.settimeout(LINE_S)
            return settled(_lines(stream), nominal_mm)
    except (OSError, ValueError):
        raise LostReading(
            f"No gauge answers on {settings.GAUGE or 'this machine'}.", "gauge", "Switch it on, or start the simulated one: ./yellow-sill gauge"
        ) from None


def _lines(stream: socket.socket) -> Iterator[str]:
    """Lines as they come, until the gauge falls silent."""
    held = b""
    while True:
        try:
            got = stream.recv(1024)
        except TimeoutError:
            return
        if not got:
            return
        held += got
        *whole, held = held.split(b"\n")
        yield from (line.decode("ascii", "replace") for line in whole)
        if len(held) > MOST_LINE_BYTES:
            held = b""
