"""The certificate with which Yellow Sill speaks https on a network: made here at first use, signed by itself, told by its fingerprint."""

import ipaddress
import socket
from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import NameOID

from .places import FOLDER_MODE, Home, written

#: No browser trusts one for longer; a new one is made when so little of it is left.
VALID, RENEWED = timedelta(days=820), timedelta(days=30)


@dataclass(frozen=True, slots=True, kw_only=True)
class Certificate:
    """Its files, and the SHA-256 that a browser shows of it; ``new``: it was made just now."""

    file: Path
    key: Path
    fingerprint: str
    new: bool


def addresses_of(host: str) -> list[str]:
    """The names and numbers under which this machine is reached, where it listens to ``host``."""
    if host not in ("0.0.0.0", "::"):  # noqa: S104 - the person asked for it
        return [host]
    name = socket.gethostname()
    found = {name, f"{name}.local", "localhost", "127.0.0.1"}
    with suppress(OSError):
        found |= {str(info[4][0]) for info in socket.getaddrinfo(name, None)}
    # nothing is sent: it only asks which way it would go
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe, suppress(OSError):
        probe.connect(("192.0.2.1", 9))
        found.add(probe.getsockname()[0])
    return sorted(each for each in found if each and "%" not in each)


def certificate_for(home: Home, addresses: Sequence[str], now: datetime) -> Certificate:
    """The certificate kept in the data folder, or a new one where there is none, it is running out, or an address is not in it.

    Args: now: with its zone.
    Raises: OSError.
    """
    folder = home.folder / "https"
    file, key = folder / "certificate.pem", folder / "key.pem"
    kept = _kept(file) if key.exists() else None
    if kept is not None and kept.not_valid_after_utc - RENEWED > now and set(addresses) <= _names_in(kept):
        return Certificate(file=file, key=key, fingerprint=_fingerprint(kept), new=False)
    folder.mkdir(parents=True, exist_ok=True, mode=FOLDER_MODE)
    private = ec.generate_private_key(ec.SECP256R1())
    made = _made(private, addresses, now)
    plain = serialization.NoEncryption()
    written(key, private.private_bytes(serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, plain))
    written(file, made.public_bytes(serialization.Encoding.PEM))
    return Certificate(file=file, key=key, fingerprint=_fingerprint(made), new=True)


def _made(private: ec.EllipticCurvePrivateKey, addresses: Sequence[str], now: datetime) -> x509.Certificate:
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "Yellow Sill")])
    return (
        x509.CertificateBuilder()
        .subject_name(name)
        .issuer_name(name)
        .public_key(private.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(days=1))
        .not_valid_after(now + VALID)
        .add_extension(x509.SubjectAlternativeName([_general(each) for each in addresses]), critical=False)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .sign(private, hashes.SHA256())
    )


def _general(address: str) -> x509.GeneralName:
    try:
        return x509.IPAddress(ipaddress.ip_address(address))
    except ValueError:
        return x509.DNSName(address)


def _kept(file: Path) -> x509.Certificate | None:
    try:
        return x509.load_pem_x509_certificate(file.read_bytes())
    except (OSError, ValueError):
        return None


def _names_in(certificate: x509.Certificate) -> set[str]:
    names = certificate.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    return {str(each.value) for each in names}


def _fingerprint(certificate: x509.Certificate) -> str:
    return certificate.fingerprint(hashes.SHA256()).hex(":").upper()
