"""A file's bytes as text: by its byte order mark, by what it says itself, as UTF-8, or as somebody says; never by silent guess."""

from __future__ import annotations

import codecs
import re
from dataclasses import dataclass

from rigging.quantities.faults import refuse

_MARKS = (
    (codecs.BOM_UTF8, "utf-8"), (codecs.BOM_UTF32_LE, "utf-32-le"), (codecs.BOM_UTF32_BE, "utf-32-be"),
    (codecs.BOM_UTF16_LE, "utf-16-le"), (codecs.BOM_UTF16_BE, "utf-16-be"),
)  # fmt: skip
# Of tables that say nothing: what spreadsheets and loggers of Europe write, most likely first.
ENCODINGS = {
    "utf-8": "UTF-8",
    "cp1252": "Western European (Windows)",
    "cp1250": "Central European (Windows)",
    "cp1251": "Cyrillic (Windows)",
    "cp850": "Western European (DOS)",
    "mac-roman": "Western European (Mac)",
}
_DECLARED = re.compile(rb"^\s*<\?xml[^>]*encoding\s*=\s*[\"']([A-Za-z0-9._-]+)[\"']")


@dataclass(frozen=True)
class Letters:
    """The text, in which encoding, and whether the file said so itself (or is plain in all of them)."""

    text: str
    encoding: str
    sure: bool


def letters_of(content: bytes, said: str | None = None) -> Letters:
    """The text of a file.

    Raises
    ------
    Refused
        Where it is no text, or its letters are not what it says they are.
    """
    if said is not None:
        return Letters(_decoded(content, said, "encoding"), said, True)
    for mark, name in _MARKS:
        if content.startswith(mark):
            return Letters(_decoded(content[len(mark) :], name, "file"), name, True)
    if content[:64].count(0) > 8:
        wide = "utf-16-be" if content[0] == 0 else "utf-16-le"
        return Letters(_decoded(content, wide, "file"), wide, True)
    if declared := _DECLARED.match(content):
        name = declared.group(1).decode("ascii")
        return Letters(_decoded(content, name, "file"), name.lower(), True)
    try:
        return Letters(_plain(content.decode("utf-8")), "utf-8", True)
    except UnicodeDecodeError:
        return Letters(_decoded(content, "cp1252", "encoding"), "cp1252", False)


def _decoded(content: bytes, name: str, field: str) -> str:
    try:
        codec = codecs.lookup(name).name
        text = content.decode(codec)
    except (LookupError, ValueError, AssertionError) as error:
        row = content[: getattr(error, "start", 0)].count(b"\n") + 1
        problem = (
            f"row {row} is not in {name}"
            if isinstance(error, UnicodeDecodeError)
            else f"{name!r} is no encoding known here"
        )
        raise refuse(field, problem, f"say in which it is written: {', '.join(ENCODINGS)}") from error
    if not isinstance(text, str):
        raise refuse(field, f"{name!r} is no encoding of letters", f"one of {', '.join(ENCODINGS)}")
    return _plain(text.removeprefix("\ufeff"))


def _plain(text: str) -> str:
    if "\0" in text:
        raise refuse(
            "file", "it is not text: there are null characters in it", "give it as text, as its program exports it"
        )
    return text
