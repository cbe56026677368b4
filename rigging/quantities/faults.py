"""Faults in what was given: the field, what is wrong with it, and what would be right."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError


@dataclass(frozen=True)
class Fault:
    """One fault: `path` of the field, the `problem`, and what would be `right`."""

    path: str
    problem: str
    right: str

    def __str__(self) -> str:
        return f"{self.path}: {self.problem}; {self.right}"


class Refused(ValueError):
    """Input that can not be worked with. Carries every fault found, never only the first."""

    def __init__(self, faults: Iterable[Fault]):
        self.faults = tuple(faults)
        super().__init__("\n".join(str(fault) for fault in self.faults))


def refuse(path: str, problem: str, right: str) -> Refused:
    """A refusal with a single fault."""
    return Refused([Fault(path, problem, right)])


_MARK = "@"


def misfits(faults: Iterable[Fault]) -> ValueError:
    """What a validator of a whole raises, so that each fault keeps the path of its own field below that whole."""
    return ValueError("\n".join(f"{_MARK}{fault}" for fault in faults))


def misfit(path: str, problem: str, right: str) -> ValueError:
    """`misfits` of a single fault."""
    return misfits([Fault(path, problem, right)])


_RIGHT = {
    "unexpected_keyword_argument": "leave the field out, or correct its name",
    "extra_forbidden": "leave the field out, or correct its name",
    "missing": "give this field",
    "greater_than": "give a number above {gt}",
    "greater_than_equal": "give {ge} or more",
    "less_than": "give a number below {lt}",
    "less_than_equal": "give {le} or less",
    "too_short": "give at least {min_length}",
    "too_long": "give at most {max_length}",
    "string_too_short": "write at least {min_length} character(s)",
    "string_too_long": "keep it to {max_length} characters",
    "literal_error": "one of {expected}",
    "float_parsing": "give a number",
    "float_type": "give a number",
    "int_parsing": "give a whole number",
    "int_from_float": "give a whole number",
    "finite_number": "give a finite number",
    "string_type": "give a text",
    "model_type": "give an object with named fields",
    "model_attributes_type": "give an object with named fields",
    "dict_type": "give an object with named fields",
    "list_type": "give a list",
}
_PROBLEM = {"unexpected_keyword_argument": "unknown field", "extra_forbidden": "unknown field", "missing": "missing"}


# What a validator adds to a path to tell which of several kinds a value was tried as: no field of anybody's.
_TRIED = re.compile(
    r"kind:.*|\[key\]|(constrained-)?(float|str|int|bool|list|dict|none)(\[.*\])?|(function|lax|strict|nullable|definition|literal|is-instance|chain|model)-?[^.]*[\[(].*|literal\[.*",
    re.S,
)


def path_text(location: Iterable[str | int]) -> str:
    """`("load", "items", 0, "mass_kg")` as `load.items[0].mass_kg`."""
    text = ""
    for step in location:
        if isinstance(step, str) and _TRIED.fullmatch(step):
            continue
        text += f"[{step}]" if isinstance(step, int) else f".{step}" if text else str(step)
    return text or "document"


def found_in(item: Mapping[str, Any]) -> list[Fault]:
    """One of Pydantic's findings in the words of this tool."""
    kind, context = item["type"], item.get("ctx", {})
    if kind == "value_error" and "error" in context:
        return [_said(item["loc"], line) for line in str(context["error"]).split(f"\n{_MARK}")]
    right = _RIGHT.get(kind, "correct this value").format_map({"expected": "", **context})
    given = item.get("input")
    shown = f" ({given!r} given)" if isinstance(given, (int, float, str)) and len(str(given)) < 60 else ""
    problem = _PROBLEM.get(kind, item["msg"][:1].lower() + item["msg"][1:] + shown)
    return [Fault(path_text(item["loc"]), problem, right)]


def _said(location: Iterable[str | int], text: str) -> Fault:
    """A validator's own words: "problem; right", after the path of a field below it where it named one."""
    above = path_text(location)
    path, colon, rest = text.removeprefix(_MARK).partition(": ")
    if colon and re.fullmatch(r"[\w.\-\[\]]+", path):
        above = path if above == "document" else f"{above}.{path}"
        text = rest
    problem, _, right = text.partition("; ")
    return Fault(above, problem, right or "correct this value")


def faults_of(error: ValidationError) -> list[Fault]:
    """Everything Pydantic found."""
    return merged([fault for item in error.errors(include_url=False) for fault in found_in(dict(item))])


def merged(faults: Iterable[Fault]) -> list[Fault]:
    """Of a value that may be of several kinds and is of none, one fault with all that would be right."""
    found: dict[tuple[str, str], Fault] = {}
    for one in faults:
        key = (one.path, one.problem.rpartition("(")[2])
        there = found.get(key)
        if there is None or not one.problem.endswith("given)"):
            found[key if there is None else (one.path, one.problem)] = one
        elif one.right not in there.right:
            found[key] = Fault(there.path, f"it is of no kind that fits ({key[1]}", f"{there.right}, or {one.right}")
    return list(found.values())
