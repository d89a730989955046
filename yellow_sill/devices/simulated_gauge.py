"""A simulated ultrasonic thickness gauge: streams readings with noise and drop-outs to whoever connects on a loopback port.

Each connection is a new place on the metal: between sound and a third of the thickness gone. Now and then a place gives no
echo, or a double one, so that the refusals can be seen.
"""

import argparse
import contextlib
import random
import socketserver
import time

from yellow_sill.core.survey.gauge import gauge_line

PORT = 8499
NOISE_MM, DROP_OUTS, DAMAGED = 0.008, 0.08, 0.03
NO_ECHO, DOUBLE_ECHO = 0.05, 0.04  #: share of places
LINES_PER_S = 40


class Place(socketserver.StreamRequestHandler):
    """One place of the probe on the metal."""

    rng = random.Random()  # noqa: S311 - noise, not a secret
    nominal_mm = 1.0

    def handle(self) -> None:
        rng, chance = self.rng, self.rng.random()
        true = self.nominal_mm * rng.triangular(0.62, 1.02, 0.9) * (2 if chance < DOUBLE_ECHO else 1)
        lost = DOUBLE_ECHO <= chance < DOUBLE_ECHO + NO_ECHO
        try:
            for number in range(1, 10_000):
                dropped = lost or rng.random() < DROP_OUTS
                line = gauge_line(number, None if dropped else max(0.05, rng.gauss(true, NOISE_MM)), 1 if dropped else rng.randint(5, 9))
                if rng.random() < DAMAGED:
                    line = line[: len(line) // 2]
                self.wfile.write(line.encode() + b"\n")
                time.sleep(1 / LINES_PER_S)
        except OSError:
            return  # the other end has its reading


class Gauge(socketserver.ThreadingTCPServer):
    allow_reuse_address = daemon_threads = True


def serve(port: int = PORT, nominal_mm: float = 1.0, seed: int | None = None) -> Gauge:
    """A gauge listening on the loopback address; call ``serve_forever`` in a thread or process of your own."""
    handler = type("SeededPlace", (Place,), {"rng": random.Random(seed), "nominal_mm": nominal_mm})  # noqa: S311
    return Gauge(("127.0.0.1", port), handler)


def main(arguments: list[str] | None = None) -> None:
    parser = argparse.ArgumentParser(prog="yellow-sill gauge", description="A simulated thickness gauge on a loopback port.")
    parser.add_argument("--port", type=int, default=PORT)
    parser.add_argument("--sheet", type=float, default=1.0, help="nominal thickness of the metal it pretends to sit on, mm")
    args = parser.parse_args(arguments)
    with serve(args.port, args.sheet) as gauge:
        print(f"Simulated thickness gauge on 127.0.0.1:{gauge.server_address[1]}. Ctrl-C ends it.", flush=True)
        with contextlib.suppress(KeyboardInterrupt):
            gauge.serve_forever()


if __name__ == "__main__":
    main()
