"""Files that are whole or not there: on the disk, and only then under their name."""

import contextlib
import os
import uuid
from collections.abc import Iterator
from pathlib import Path


def settle(part: Path, file: Path) -> None:
    """A part that was written becomes the file."""
    _on_the_disk(part)
    part.replace(file)
    _on_the_disk(file.parent)


def write(file: Path, content: bytes) -> None:
    """Whole or not at all, also where two write the same at a time: each has a part of its own, and leaves none behind."""
    with _part(file, content) as part:
        settle(part, file)


def write_first(file: Path, content: bytes) -> None:
    """As `write`, but what is there already stays: whoever comes second finds what the first made."""
    with _part(file, content) as part, contextlib.suppress(FileExistsError):
        _on_the_disk(part)
        os.link(part, file)
    _on_the_disk(file.parent)


@contextlib.contextmanager
def _part(file: Path, content: bytes) -> Iterator[Path]:
    part = file.with_name(f"{file.name}.{uuid.uuid4().hex}.part")
    try:
        part.write_bytes(content)
        yield part
    finally:
        part.unlink(missing_ok=True)


def _on_the_disk(what: Path) -> None:
    """A file's content, or a folder's own entries."""
    one = os.open(what, os.O_RDONLY)
    try:
        os.fsync(one)
    finally:
        os.close(one)
