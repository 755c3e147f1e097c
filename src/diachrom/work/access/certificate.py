"""A certificate of one's own, for a network that nobody else vouches for: the key stays in the data folder."""

import hashlib
import ipaddress
import os
from datetime import UTC, datetime, timedelta
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import NameOID

HOLDS = timedelta(days=820)  # browsers trust none that holds much longer


def certificate(folder: Path, host: str) -> tuple[Path, Path]:
    """(certificate, key) for an address; made anew when there is none for it, or it ends within a month."""
    kept = folder / "tls"
    kept.mkdir(mode=0o700, exist_ok=True)
    paths = kept / "certificate.pem", kept / "key.pem"
    if not all(path.is_file() for path in paths) or not _holds(paths[0], host):
        _make(*paths, host)
    return paths


def fingerprint(path: Path) -> str:
    """SHA-256, as browsers show it."""
    own = x509.load_pem_x509_certificate(path.read_bytes())
    told = hashlib.sha256(own.public_bytes(serialization.Encoding.DER)).hexdigest().upper()
    return ":".join(told[index : index + 2] for index in range(0, len(told), 2))


def _holds(path: Path, host: str) -> bool:
    try:
        own = x509.load_pem_x509_certificate(path.read_bytes())
        names = own.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
        known = [str(name.value) for name in names]
    except (ValueError, x509.ExtensionNotFound, OSError):
        return False
    return host in known and own.not_valid_after_utc > datetime.now(UTC) + timedelta(days=30)


def _make(certificate_path: Path, key_path: Path, host: str) -> None:
    key = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "Diachrom")])
    now = datetime.now(UTC)
    other = [x509.DNSName("localhost"), x509.IPAddress(ipaddress.ip_address("127.0.0.1"))]
    try:
        own: x509.GeneralName = x509.IPAddress(ipaddress.ip_address(host))
    except ValueError:
        own = x509.DNSName(host)
    made = (
        x509.CertificateBuilder()
        .subject_name(name)
        .issuer_name(name)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(days=1))
        .not_valid_after(now + HOLDS)
        .add_extension(x509.SubjectAlternativeName([own, *other]), critical=False)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .sign(key, hashes.SHA256())
    )
    plain = serialization.NoEncryption()
    content = key.private_bytes(serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, plain)
    with open(os.open(key_path, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "wb") as file:
        file.write(content)
    certificate_path.write_bytes(made.public_bytes(serialization.Encoding.PEM))
