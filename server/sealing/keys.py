"""This installation's own key: what is handed over is signed with it, and its print stands on the papers."""

import hashlib
from functools import lru_cache
from pathlib import Path

from cryptography.exceptions import InvalidSignature
from cryptography.hazmat.primitives.asymmetric.ed25519 import Ed25519PrivateKey, Ed25519PublicKey
from django.conf import settings
from storing.settled import write_first


def _key() -> Ed25519PrivateKey:
    """Made on first use, readable by nobody else."""
    file = Path(settings.VAR) / "keys" / "handover.key"
    if not file.exists():
        file.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
        write_first(file, Ed25519PrivateKey.generate().private_bytes_raw())
    return _read(file, file.stat().st_mtime_ns)


@lru_cache(maxsize=4)
def _read(file: Path, written_ns: int) -> Ed25519PrivateKey:
    return Ed25519PrivateKey.from_private_bytes(file.read_bytes())


def public_key() -> bytes:
    return _key().public_key().public_bytes_raw()


def signed(content: bytes) -> bytes:
    """The Ed25519 signature of this installation (RFC 8032)."""
    return _key().sign(content)


def fits(key: bytes, signature: bytes, content: bytes) -> bool:
    """Whether a signature over some content is by a key."""
    try:
        Ed25519PublicKey.from_public_bytes(key).verify(signature, content)
    except (InvalidSignature, ValueError):
        return False
    return True


def print_of(key: bytes) -> str:
    """The first 80 bits of a key's SHA-256, in fours, to be compared by eye."""
    found = hashlib.sha256(key).hexdigest().upper()[:20]
    return " ".join(found[n : n + 4] for n in range(0, len(found), 4))
