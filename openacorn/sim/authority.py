"""The world's own certificate authority, and leaf certificates by server name, sound or faulty."""

import datetime as dt
import ssl
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import NameOID

DAY = dt.timedelta(days=1)


def _name(common: str) -> x509.Name:
    return x509.Name(
        [
            x509.NameAttribute(NameOID.COMMON_NAME, common),
            x509.NameAttribute(NameOID.ORGANIZATION_NAME, "Tarrow Coast Trust"),
        ]
    )


def _pem(key: ec.EllipticCurvePrivateKey) -> bytes:
    return key.private_bytes(
        serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
    )


def _key_in(file: Path) -> ec.EllipticCurvePrivateKey:
    key = serialization.load_pem_private_key(file.read_bytes(), password=None)
    assert isinstance(key, ec.EllipticCurvePrivateKey)
    return key


class Authority:
    """Keeps its key in the folder, so that worlds that follow one another are trusted alike. Issues certificates below `folder`; one shared P-256 key for all leaves, as only their faults matter."""

    def __init__(self, folder: Path, part: str = "certificates") -> None:
        self._folder = folder / part
        self._folder.mkdir(parents=True, exist_ok=True)
        self._leaf_key = ec.generate_private_key(ec.SECP256R1())
        self._today = dt.datetime.now(dt.UTC)
        self._contexts: dict[tuple[str, str], ssl.SSLContext] = {}
        self.ca_file, kept = folder / "authority.pem", folder / "authority.key"
        if kept.exists():
            self._root_key = _key_in(kept)
            self._root = x509.load_pem_x509_certificate(self.ca_file.read_bytes())
        else:
            self._root_key = ec.generate_private_key(ec.SECP256R1())
            self._root = self._sign_itself()
            kept.touch(mode=0o600)
            kept.write_bytes(_pem(self._root_key))
            self.ca_file.write_bytes(self._root.public_bytes(serialization.Encoding.PEM))

    def _sign_itself(self) -> x509.Certificate:
        root_name = _name("Tarrow Coast Root")
        builder = (
            x509.CertificateBuilder().subject_name(root_name).issuer_name(root_name).public_key(self._root_key.public_key())
            .serial_number(1).not_valid_before(self._today - 400 * DAY).not_valid_after(self._today + 3650 * DAY)
            .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
            .add_extension(x509.SubjectKeyIdentifier.from_public_key(self._root_key.public_key()), critical=False)
            .add_extension(x509.KeyUsage(True, False, False, False, False, True, True, False, False), critical=True)
        )  # fmt: skip
        return builder.sign(self._root_key, hashes.SHA256())

    def _issue(self, host: str, fault: str) -> bytes:
        named = "another-place.example" if fault == "cert_wrong_name" else host
        until = self._today + {"cert_expired": -9, "cert_soon": 6}.get(fault, 80) * DAY
        own = fault == "cert_self_signed"
        subject = _name(named[:60])
        builder = (
            x509.CertificateBuilder().subject_name(subject).issuer_name(subject if own else self._root.subject)
            .public_key(self._leaf_key.public_key()).serial_number(x509.random_serial_number())
            .not_valid_before(self._today - 90 * DAY).not_valid_after(until)
            .add_extension(x509.SubjectAlternativeName([x509.DNSName(named)]), critical=False)
        )  # fmt: skip
        if not own:
            builder = builder.add_extension(
                x509.AuthorityKeyIdentifier.from_issuer_public_key(self._root_key.public_key()), critical=False
            )
        return builder.sign(self._leaf_key if own else self._root_key, hashes.SHA256()).public_bytes(
            serialization.Encoding.PEM
        )

    def context(self, host: str, fault: str) -> ssl.SSLContext:
        """Return the server context that shows `host`'s certificate; made at first use, then kept."""
        key = (host, fault)
        if key not in self._contexts:
            secret = _pem(self._leaf_key)
            path = self._folder / "leaf.pem"
            path.write_bytes(secret + self._issue(host, fault))
            context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
            context.load_cert_chain(path)
            self._contexts[key] = context
        return self._contexts[key]
