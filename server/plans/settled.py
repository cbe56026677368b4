"""Files that are whole or not there: on the disk, and only then under their name."""

import os
from pathlib import Path


def settle(part: Path, file: Path) -> None:
    """A part that was written becomes the file."""
    with part.open("rb+") as one:
        os.fsync(one.fileno())
    part.replace(file)
