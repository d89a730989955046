"""The measuring devices on this machine: line streams on loopback ports, as core/device_lines.py describes them.

``YELLOW_SILL_GAUGE``, ``YELLOW_SILL_TAPE`` and ``YELLOW_SILL_LEVEL`` are their addresses, host:port; a serial device is reached through
any serial-to-network bridge. The demo starts the simulated ones that ship (``./yellow-sill gauge``, ``tape``, ``level``).
"""

import socket
from collections.abc import Iterator
from contextlib import contextmanager

from django.conf import settings

from yellow_sill.core.device_lines import Device, LostReading

CONNECT_S, LINE_S = 1.0, 1.0
MOST_LINE_BYTES = 200


@contextmanager
def stream_of(device: Device, about: str = "") -> Iterator[Iterator[str]]:
    """The device's lines, as long as the block lasts.

    Args: about: a line sent to the device first, saying what will be measured; real ones ignore it, the simulated ones answer to it.
    Raises: LostReading where no device answers.
    """
    address = settings.DEVICES[device.name]
    host, _, port = address.rpartition(":")
    try:
        with socket.create_connection((host, int(port)), timeout=CONNECT_S) as stream:
            stream.settimeout(LINE_S)
            if about:
                stream.sendall(f"# {about}\n".encode())
            yield _lines(stream)
    except (OSError, ValueError):
        raise LostReading(
            f"No {device.name} answers on {address or 'this machine'}.",
            device.name,
            f"Switch it on, or start the simulated one: ./yellow-sill {device.name}",
        ) from None


def _lines(stream: socket.socket) -> Iterator[str]:
    """Lines as they come, until the device falls silent."""
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
