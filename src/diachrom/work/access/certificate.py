"""A certificate of one's own, for a network that nobody else vouches for, and the authority that signs it, which a
phone can come to trust: the keys stay in the data folder."""

import hashlib
import os
from contextlib import suppress
from datetime import UTC, datetime, timedelta
from ipaddress import ip_address, ip_network
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

HOLDS = timedelta(days=820)  # browsers trust none that holds much longer
AUTHORITY, SERVER = "Diachrom, this bench", "Diachrom"
AUTHORITY_HOLDS = timedelta(days=3650)
HOME = ("10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "127.0.0.0/8", "169.254.0.0/16")


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


def authority(folder: Path) -> Path:
    """The certificate that a device comes to trust, whatever address the bench has: made where there is none. It may
    speak for addresses of a home network alone."""
    kept = folder / "tls"
    kept.mkdir(mode=0o700, exist_ok=True)
    paths = kept / "authority.pem", kept / "authority-key.pem"
    if all(path.is_file() for path in paths):
        with suppress(ValueError, OSError):
            x509.load_pem_x509_certificate(paths[0].read_bytes())
            return paths[0]
    key = ec.generate_private_key(ec.SECP256R1())
    own = [x509.DNSName("localhost"), x509.DNSName("local"), *(x509.IPAddress(ip_network(one)) for one in HOME)]
    made = (
        _builder(AUTHORITY, AUTHORITY, key.public_key(), AUTHORITY_HOLDS)
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .add_extension(x509.NameConstraints(permitted_subtrees=own, excluded_subtrees=None), critical=True)
        .add_extension(_usage(signs=True), critical=True)
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(key.public_key()), critical=False)
        .sign(key, hashes.SHA256())
    )
    _write(*paths, key, made.public_bytes(serialization.Encoding.PEM))
    return paths[0]


def _make(certificate_path: Path, key_path: Path, host: str) -> None:
    """Signed by the authority where its address is one of a home network, else by itself."""
    key = ec.generate_private_key(ec.SECP256R1())
    other = [x509.DNSName("localhost"), x509.IPAddress(ip_address("127.0.0.1"))]
    try:
        own: x509.GeneralName = x509.IPAddress(ip_address(host))
        at_home = any(ip_address(host) in ip_network(one) for one in HOME)
    except ValueError:
        own, at_home = x509.DNSName(host), host == "localhost" or host.endswith(".local")
    signer, above = key, b""
    issuer = SERVER
    if at_home:
        path = authority(certificate_path.parent.parent)
        above = path.read_bytes()
        found = serialization.load_pem_private_key((path.parent / "authority-key.pem").read_bytes(), None)
        if isinstance(found, ec.EllipticCurvePrivateKey):
            signer, issuer = found, AUTHORITY
    made = (
        _builder(SERVER, issuer, key.public_key(), HOLDS)
        .add_extension(x509.SubjectAlternativeName([own, *other]), critical=False)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(_usage(signs=False), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .add_extension(x509.AuthorityKeyIdentifier.from_issuer_public_key(signer.public_key()), critical=False)
        .sign(signer, hashes.SHA256())
    )
    _write(certificate_path, key_path, key, made.public_bytes(serialization.Encoding.PEM) + above)


def _builder(subject: str, issuer: str, key: ec.EllipticCurvePublicKey, holds: timedelta) -> x509.CertificateBuilder:
    now = datetime.now(UTC)
    named = [x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, one)]) for one in (subject, issuer)]
    return (
        x509.CertificateBuilder()
        .subject_name(named[0])
        .issuer_name(named[1])
        .public_key(key)
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(days=1))
        .not_valid_after(now + holds)
    )


def _usage(*, signs: bool) -> x509.KeyUsage:
    return x509.KeyUsage(
        digital_signature=not signs,
        content_commitment=False,
        key_encipherment=False,
        data_encipherment=False,
        key_agreement=False,
        key_cert_sign=signs,
        crl_sign=signs,
        encipher_only=False,
        decipher_only=False,
    )


def _write(certificate_path: Path, key_path: Path, key: ec.EllipticCurvePrivateKey, made: bytes) -> None:
    """The key first: nobody else may read it."""
    plain = serialization.NoEncryption()
    content = key.private_bytes(serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, plain)
    with open(os.open(key_path, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "wb") as file:
        file.write(content)
    certificate_path.write_bytes(made)
