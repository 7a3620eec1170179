"""A certificate of this server's own, so that a tablet on the same network can use microphone and wake lock (https).

Self-signed: the browser asks once whether to trust it; the fingerprint printed at start is what to compare.
"""

import ipaddress
import socket
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

VALID_FOR = timedelta(days=397)
RENEW_BEFORE = timedelta(days=30)


@dataclass(frozen=True)
class Certificate:
    """The files of a certificate and its key, and the fingerprint to compare (SHA-256, pairs of hex digits)."""

    certificate: Path
    key: Path
    fingerprint: str


def own_address() -> str:
    """Return this computer's address on its network; the loopback address when it has none. Sends nothing."""
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
        try:
            probe.connect(("192.0.2.1", 9))  # a documentation address: only asks the routing table
            return str(probe.getsockname()[0])
        except OSError:
            return "127.0.0.1"


def certificate_for(folder: Path, addresses: Sequence[str], now: datetime) -> Certificate:
    """Return the certificate kept in `folder` if it holds for `addresses` a month longer; else make a new one."""
    found = Certificate(folder / "lan.crt", folder / "lan.key", "")
    if found.certificate.exists() and found.key.exists():
        kept = x509.load_pem_x509_certificate(found.certificate.read_bytes())
        own = kept.extensions.get_extension_for_class(x509.BasicConstraints).value
        if not own.ca and _addresses(kept) >= set(addresses) and kept.not_valid_after_utc - RENEW_BEFORE > now:
            return _with_fingerprint(found, kept)
    return _with_fingerprint(found, _made(found, addresses, now))


def _addresses(certificate: x509.Certificate) -> set[str]:
    names = certificate.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    return {str(ip) for ip in names.get_values_for_type(x509.IPAddress)}


def _made(files: Certificate, addresses: Sequence[str], now: datetime) -> x509.Certificate:
    key = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "Chirotend on this network")])
    others = [x509.IPAddress(ipaddress.ip_address(a)) for a in addresses]
    made = (
        x509.CertificateBuilder()
        .subject_name(name)
        .issuer_name(name)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(hours=1))
        .not_valid_after(now + VALID_FOR)
        .add_extension(x509.SubjectAlternativeName([x509.DNSName("localhost"), *others]), critical=False)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .sign(key, hashes.SHA256())
    )
    files.key.unlink(missing_ok=True)
    files.key.touch(mode=0o600)
    files.key.write_bytes(
        key.private_bytes(serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption())
    )
    files.certificate.write_bytes(made.public_bytes(serialization.Encoding.PEM))
    return made


def _with_fingerprint(files: Certificate, certificate: x509.Certificate) -> Certificate:
    digest = certificate.fingerprint(hashes.SHA256()).hex().upper()
    return Certificate(files.certificate, files.key, ":".join(digest[i : i + 2] for i in range(0, len(digest), 2)))
