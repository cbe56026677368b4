"""Print docs/sources.md: every value of the catalogue with its range and origin."""

from collections.abc import Iterable
from typing import Any

from rigging.catalogue import Catalogue, Section, Sourced, Turns, catalogue, sources
from rigging.catalogue import rows as _read
from rigging.catalogue.entries import ORIGIN
from rigging.quantities.ranges import Range

TABLES = (
    "bends",
    "surfaces",
    "contacts",
    "devices",
    "hitches",
    "knots",
    "ropes",
    "slings",
    "attachments",
    "connectors",
    "conditions",
    "minutes",
    "placings",
)


def _value(value: Any) -> str:
    if isinstance(value, Range):
        parts = [f"{part:g}" for part in (value.low, value.expected, value.high)]
        return parts[0] if len(set(parts)) == 1 else " / ".join(parts)
    if isinstance(value, dict):
        return ", ".join(f"{id} {_value(one)}" for id, one in value.items())
    if isinstance(value, Section):
        return f"E {_value(value.modulus_pa)} Pa, I {_value(value.second_moment_m4)} m⁴"
    return f"{value:g}" if isinstance(value, float) else str(value)


def numbers(data: Sourced) -> Iterable[tuple[str, Any]]:
    """Every number of an entry by its name: ranges, plain numbers, tables of ranges and what is made of them."""
    for name in type(data).model_fields:
        value = getattr(data, name)
        # What an entry does not say is as it is for all: a share of one, no.
        if isinstance(value, bool) or value is None or name not in data.model_fields_set:
            continue
        if isinstance(value, (Range, int, float, Section, Turns)) or (name != "origins" and isinstance(value, dict)):
            yield name, value


def _rows(data: Sourced, who: str) -> Iterable[str]:
    """A line for each number, with its own origin: the low end's, then the rest's where they differ."""
    for name, value in numbers(data):
        if data.origin(name) != "as-tied":
            yield f"| {who} | {name} | {_value(value)} | {', rest '.join(data.origin(name).split())} |"


def _table(shelf: Catalogue, table: str) -> Iterable[str]:
    yield f"\n## {table.capitalize()}\n\n| what | number | low / expected / high in SI | origin |\n|---|---|---|---|"
    for entry in getattr(shelf, table).values():
        yield from _rows(entry, entry.name)


def _questions(shelf: Catalogue) -> Iterable[str]:
    yield "\n## Features: values behind the answers\n\n| kind | question | answer | value, SI | origin |\n|---|---|---|---|---|"
    for kind in shelf.features.values():
        yield f"| {kind.name} | how far its head gives | | {_value(kind.head_n_per_m)} N/m | head-stiffness |"
        for one in kind.questions:
            origin = one.source or kind.source
            rows = [(option.name, option.value) for option in one.options if option.value is not None]
            rows += [(f"{row.at:g} {one.unit}", row.value) for row in one.by]
            rows += [("not measured: may be", one.unsaid)] if one.unsaid else []
            for answer, value in rows:
                yield f"| {kind.name} | {one.ask} | {answer} | {_value(value)} | {origin} |"
    for row in shelf.deadman:
        pressures = ", ".join(f"{slope} {pressure:g}" for slope, pressure in row.pressure_pa.items())
        yield f"| Buried deadman | mean depth {row.depth_m:g} m | by slope of the pull | {pressures} Pa | deadman |"


def settling() -> list[dict[str, Any]]:
    """What is from memory and decides most on the demo, most first: an origin's id, and the test that would settle it."""
    return _read("settles.yaml")


def page(shelf: Catalogue) -> str:
    """The whole page."""
    lines = ["# Where each value comes from\n", "Made from `rigging/catalogue/` by `make sources`. SI units.\n"]
    lines += [
        "\n## What decides most on the demo and is from memory, and the test that would settle it\n\n| origin | test |\n|---|---|"
    ]
    lines += [f"| {one['id']} | {one['test']} |" for one in settling()]
    lines += ["\n## Origins\n"]
    lines += ["| origin | kind | text |\n|---|---|---|"]
    lines += [f"| {one.id} | {one.kind}: {ORIGIN[one.kind]} | {one.text} |" for one in sources().values()]
    for table in TABLES:
        lines += _table(shelf, table)
    lines += _questions(shelf)
    for title, data in (("How a thing is tied", shelf.tying), ("People and gear", shelf.people)):
        lines += [
            f"\n## {title}\n\n| what | number | low / expected / high in SI | origin |\n|---|---|---|---|",
            *_rows(data, title),
        ]
    return "\n".join(lines)


if __name__ == "__main__":
    print(page(catalogue()))
