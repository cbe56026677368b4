"""The team's own authority and the server's certificate by it, made on this machine and kept with its data."""

import hashlib
import html
import ipaddress
import socket
import ssl
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

import trustme
from cryptography import x509
from cryptography.hazmat.primitives import hashes
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.hazmat.primitives.serialization import Encoding, NoEncryption, PrivateFormat
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID
from django.conf import settings

from serving.doors import Asgi, Receive, Scope, Send
from serving.patience import answer_of

_SERVER_LASTS, _AUTHORITY_LASTS = timedelta(days=365), timedelta(days=5 * 365)
_LOCAL = [
    ipaddress.ip_network(one)
    for one in (
        "10.0.0.0/8",
        "172.16.0.0/12",
        "192.168.0.0/16",
        "127.0.0.0/8",
        "169.254.0.0/16",
        "::1/128",
        "fc00::/7",
        "fe80::/10",
    )
]


@dataclass(frozen=True)
class Made:
    """Files of the authority and of the server; `print` is the authority's SHA-256, as phones show it."""

    authority: Path
    server: Path

    @property
    def print(self) -> str:
        der = ssl.PEM_cert_to_DER_cert(self.authority.read_text(encoding="ascii"))
        found = hashlib.sha256(der).hexdigest().upper()
        return " ".join(found[n : n + 4] for n in range(0, len(found), 4))


def names() -> list[str]:
    """What this machine is called and where it is reached on its own networks."""
    found = dict.fromkeys(["localhost", "127.0.0.1", socket.gethostname(), f"{socket.gethostname()}.local"])
    for row in socket.getaddrinfo(socket.gethostname(), None, socket.AF_INET):
        found[str(row[4][0])] = None
    try:
        # No packet is sent: it only asks which of its addresses this machine would use.
        with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as one:
            one.connect(("192.0.2.1", 9))
            found[one.getsockname()[0]] = None
    except OSError:
        pass  # no network at all: its own names are enough
    return list(found)


def _is_local(name: str) -> bool:
    """Whether a name may stand in a certificate of the team's own: it leads nowhere beyond the team's network."""
    try:
        address = ipaddress.ip_address(name)
    except ValueError:
        return "." not in name or name.endswith(".local")
    return any(address in one for one in _LOCAL if one.version == address.version)


def _authority() -> tuple[bytes, bytes]:
    """An authority that can vouch for names of the team's own network alone (RFC 5280, 4.2.1.10), and its key: whoever had the key could make no
    certificate for a site elsewhere that the team's devices believe."""
    key, now = ec.generate_private_key(ec.SECP256R1()), datetime.now(UTC)
    host = socket.gethostname()
    name = x509.Name(
        [
            x509.NameAttribute(NameOID.ORGANIZATION_NAME, "Outrigger"),
            x509.NameAttribute(NameOID.ORGANIZATIONAL_UNIT_NAME, "the team's own authority"),
        ]
    )
    permitted = [
        *(x509.IPAddress(one) for one in _LOCAL),
        *(x509.DNSName(one) for one in dict.fromkeys(["localhost", "local", host])),
    ]
    usage = {"digital_signature", "key_cert_sign", "crl_sign"}
    uses = [
        "digital_signature", "content_commitment", "key_encipherment", "data_encipherment", "key_agreement", "key_cert_sign", "crl_sign", "encipher_only",
        "decipher_only",
    ]  # fmt: skip
    made = (
        x509.CertificateBuilder()
        .subject_name(name)
        .issuer_name(name)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(days=1))
        .not_valid_after(now + _AUTHORITY_LASTS)
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .add_extension(x509.KeyUsage(**{one: one in usage for one in uses}), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .add_extension(x509.NameConstraints(permitted, None), critical=True)
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(key.public_key()), critical=False)
        .sign(key, hashes.SHA256())
    )
    form = (Encoding.PEM, PrivateFormat.TraditionalOpenSSL, NoEncryption())
    return made.public_bytes(Encoding.PEM), key.private_bytes(*form)


def certificate(hosts: Iterable[str] = ()) -> Made:
    """The authority, made once; the server's certificate, made anew for the names that it has now."""
    folder = Path(settings.VAR) / "tls"
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    public, secret, server = folder / "authority.crt", folder / "authority.key", folder / "server.pem"
    if public.exists() and secret.exists():
        authority = trustme.CA.from_pem(public.read_bytes(), secret.read_bytes())
    else:
        certificate, key = _authority()
        public.write_bytes(certificate)
        secret.touch(mode=0o600)
        secret.write_bytes(key)
        authority = trustme.CA.from_pem(certificate, key)
    wanted = [one for one in dict.fromkeys([*names(), *hosts]) if _is_local(one)]
    now = datetime.now(UTC)
    issued = authority.issue_cert(*wanted, not_before=now - timedelta(days=1), not_after=now + _SERVER_LASTS)
    server.unlink(missing_ok=True)
    server.touch(mode=0o600)
    issued.private_key_and_cert_chain_pem.write_to_path(str(server))
    return Made(public, server)


def trust_page(made: Made, listen: str) -> Asgi:
    """A page of its own for phones: the certificate, how to trust it, and the print to compare first."""
    host, _, port = listen.rpartition(":")
    page = _PAGE.format(
        print=html.escape(made.print), addresses=" or ".join(f"https://{name}:{port}" for name in names()[2:] or [host])
    )

    async def answer(scope: Scope, _receive: Receive, send: Send) -> None:
        if scope["path"] == "/authority.crt":
            told = answer_of(200, made.authority.read_bytes(), "application/x-x509-ca-cert")
        else:
            told = answer_of(200, page.encode(), "text/html; charset=utf-8")
            told[0]["headers"].append((b"content-security-policy", b"default-src 'none'; style-src 'unsafe-inline'"))
        for message in told:
            await send(message)

    return answer


_PAGE = """<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1">
<title>Outrigger: the team's certificate</title>
<style>body{{font:18px/1.4 sans-serif;max-width:40rem;margin:1.5rem auto;padding:0 1rem;color:#13231e;background:#f8faf8}}code{{font-size:17px;word-spacing:.2em}}a{{color:#a3114f}}</style>
<h1>The team's own certificate</h1>
<ol>
<li>Compare this print with the one on the screen of whoever started the server, all of it:<br><code>{print}</code></li>
<li>Take <a href="/authority.crt">authority.crt</a>. Its print must be the same where your device shows it.</li>
<li>Trust it as an authority for web sites. Android: Settings, Security, Encryption and credentials, Install a certificate, CA certificate.
iPhone and iPad: install the profile in Settings, then Settings, General, About, Certificate trust settings: switch it on. Windows, Linux, macOS: into the
authorities of the browser or of the system.</li>
<li>Then open {addresses}.</li>
</ol>
<p>Take it off again when you leave the team: whoever has the authority's key could make certificates that your device believes.</p></html>
"""
