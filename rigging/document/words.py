"""Field types that the whole document shares."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from rigging.catalogue import catalogue

Name = Annotated[str, Field(min_length=1, max_length=120)]
Text = Annotated[str, Field(max_length=2000)]
Metres = Annotated[float, Field(ge=-5000, le=5000)]
Ratio = Annotated[float, Field(ge=1, le=100)]


def known(table: str, value: str) -> str:
    """`value`, if the catalogue's table has it."""
    ids = getattr(catalogue(), table)
    if value not in ids:
        raise ValueError(f"{value!r} is not in the catalogue of {table}; one of {', '.join(ids)}")
    return value
