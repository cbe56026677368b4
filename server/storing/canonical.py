"""Canonical JSON and its hash: one text for one content."""

import hashlib
import json
from typing import Any


def canonical(content: Any) -> str:
    """Keys sorted, no spaces, UTF-8 as is."""
    return json.dumps(content, sort_keys=True, separators=(",", ":"), ensure_ascii=False, allow_nan=False)


def sha256(text: str) -> str:
    return hashlib.sha256(text.encode("utf-8")).hexdigest()
