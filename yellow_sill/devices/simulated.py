"""Simulated measuring devices: each streams readings with noise and drop-outs to whoever connects on a loopback port.

Each connection is a new place. The gauge sits between sound and a third of the thickness gone. Tape and level answer to the line that
asks for a place (``# 2L 8R 2229.4``): its last figure is what they find, give or take. Now and then a place gives nothing, or a double
echo, so that the refusals can be seen.
"""

import argparse
import contextlib
import random
import select
import socketserver
import time

from yellow_sill.core.device_lines import DEVICES, GAUGE, Device, device_line

PORTS = {"gauge": 8499, "tape": 8489, "level": 8479}
NOISE_MM = {"gauge": 0.008, "tape": 0.1, "level": 0.1}
#: How far tape and level find a place off what was asked for, one standard error, mm.
FOUND_MM = 1.2
DROP_OUTS, DAMAGED = 0.08, 0.03
NOTHING, DOUBLE_ECHO = 0.05, 0.04  #: share of places
LINES_PER_S = 40


class Place(socketserver.StreamRequestHandler):
    """One place that the device is held at."""

    rng = random.Random()  # noqa: S311 - noise, not a secret
    device: Device = GAUGE
    usual_mm = 1.0

    def handle(self) -> None:
        rng, device, chance = self.rng, self.device, self.rng.random()
        double = device is GAUGE and chance < DOUBLE_ECHO
        true = (
            self.usual_mm * rng.triangular(0.62, 1.02, 0.9) * (2 if double else 1)
            if device is GAUGE
            else self._asked() + rng.gauss(0, FOUND_MM)
        )
        lost = DOUBLE_ECHO <= chance < DOUBLE_ECHO + NOTHING
        with contextlib.suppress(OSError):  # the other end has its reading
            for number in range(1, 10_000):
                dropped = lost or rng.random() < DROP_OUTS
                value = None if dropped else rng.gauss(true, NOISE_MM[device.name])
                line = device_line(
                    device,
                    number,
                    value if device is not GAUGE or value is None else max(0.05, value),
                    1 if dropped else rng.randint(5, 9),
                )
                self.wfile.write(
                    (line[: len(line) // 2] if rng.random() < DAMAGED else line).encode() + b"\n"
                )
                time.sleep(1 / LINES_PER_S)

    def _asked(self) -> float:
        """The figure at the end of the line that says what will be measured; the usual one where none comes."""
        if select.select([self.connection], [], [], 0.2)[0]:
            with contextlib.suppress(ValueError, IndexError):
                return float(self.rfile.readline(200).decode("ascii", "replace").split()[-1])
        return self.usual_mm


class Listener(socketserver.ThreadingTCPServer):
    allow_reuse_address = daemon_threads = True


def serve(
    name: str = "gauge", port: int | None = None, usual_mm: float = 1.0, seed: int | None = None
) -> Listener:
    """A device listening on the loopback address; call ``serve_forever`` in a thread or process of your own."""
    more = {"rng": random.Random(seed), "usual_mm": usual_mm, "device": DEVICES[name]}  # noqa: S311
    return Listener(("127.0.0.1", PORTS[name] if port is None else port), type("SeededPlace", (Place,), more))


def main(arguments: list[str] | None = None) -> None:
    parser = argparse.ArgumentParser(
        prog="yellow-sill", description="A simulated measuring device on a loopback port."
    )
    parser.add_argument("device", choices=list(DEVICES))
    parser.add_argument("--port", type=int)
    parser.add_argument(
        "--sheet",
        type=float,
        default=1.0,
        help="nominal thickness of the metal the gauge pretends to sit on, mm",
    )
    args = parser.parse_args(arguments)
    with serve(args.device, args.port, args.sheet if args.device == "gauge" else 1000.0) as listener:
        print(
            f"Simulated {args.device} on 127.0.0.1:{listener.server_address[1]}. Ctrl-C ends it.", flush=True
        )
        with contextlib.suppress(KeyboardInterrupt):
            listener.serve_forever()


if __name__ == "__main__":
    main()
