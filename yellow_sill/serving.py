"""Serving: plain on this machine alone, https on a network."""

import gc
import sys
from collections.abc import Callable
from datetime import datetime
from typing import Any

from yellow_sill.home.certificate import addresses_of, certificate_for
from yellow_sill.home.places import Home

#: Addresses that only this machine reaches.
LOOPBACK = ("127.0.0.1", "localhost", "::1")
#: Pages that are worked out at once: the plain server takes requests in by itself and lines them up, the secure one reads each in its thread.
THREADS, SECURE_THREADS = 3, 6
#: How many new objects, and how many rounds of the youngest and the middle, go by before garbage is looked for.
GARBAGE = (20_000, 20, 50)


def allowed_hosts(host: str) -> list[str]:
    """The names that a browser may use: those of this machine alone, and the addresses it listens on."""
    here = ["localhost", "127.0.0.1", "[::1]"]
    return here if host in LOOPBACK else [*here, *(_bracketed(each) for each in addresses_of(host))]


def _bracketed(address: str) -> str:
    return f"[{address}]" if ":" in address else address


def settle_memory() -> None:
    """What is loaded at the start stays: it is not looked through for garbage again and again while pages wait."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(*GARBAGE)


def taken(host: str, port: int, error: OSError) -> str:
    return f"Port {port} on {host} cannot be used ({error.strerror}). Try another: --port {port + 1}"


def serve_plain(
    app: Callable[..., Any], host: str, port: int, most_bytes: int, ready: Callable[[], None]
) -> None:
    """Serve http until Ctrl-C. Args: ready: called once the port is ours."""
    from waitress import create_server

    try:
        server = create_server(
            app, host=host, port=port, threads=THREADS, ident=None, max_request_body_size=most_bytes
        )
    except OSError as error:
        sys.exit(taken(host, port, error))
    ready()
    settle_memory()
    try:
        server.run()
    except KeyboardInterrupt:
        pass
    finally:
        server.close()


def serve_https(
    app: Callable[..., Any], home: Home, host: str, port: int, most_bytes: int, ready: Callable[[], None]
) -> None:
    """Serve https until Ctrl-C, with the certificate of the data folder, and tell its fingerprint."""
    from cheroot.ssl.builtin import BuiltinSSLAdapter
    from cheroot.wsgi import Server

    certificate = certificate_for(home, addresses_of(host), datetime.now().astimezone())
    server = Server((host, port), app, numthreads=SECURE_THREADS, server_name="", timeout=30)
    server.ssl_adapter = BuiltinSSLAdapter(str(certificate.file), str(certificate.key))
    server.max_request_body_size = most_bytes
    try:
        server.prepare()
    except OSError as error:
        sys.exit(taken(host, port, error))
    made = "A new certificate was made" if certificate.new else "The certificate"
    print(
        f"{made}: each browser asks about it once. Take it only if the fingerprint that it shows (SHA-256) is\n\n    {certificate.fingerprint}\n",
        flush=True,
    )
    ready()
    settle_memory()
    try:
        server.serve()
    except KeyboardInterrupt:
        pass
    finally:
        server.stop()
