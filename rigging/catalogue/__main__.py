"""Print docs/sources.md: every value of the catalogue with its range and origin."""

from collections.abc import Iterable
from typing import Any

from rigging.catalogue import Catalogue, catalogue
from rigging.quantities.ranges import Range

ORIGIN = {
    "S": "published standard or handbook, quoted from memory",
    "P": "common practice of the trade, no source",
    "M": "engineering value from memory",
    "G": "entered by the leader",
    "C": "computed",
}
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
)


def _value(value: Any) -> str:
    if isinstance(value, Range):
        parts = [f"{part:g}" for part in (value.low, value.expected, value.high)]
        return parts[0] if len(set(parts)) == 1 else " / ".join(parts)
    return f"{value:g}" if isinstance(value, float) else str(value)


def _rows(shelf: Catalogue, table: str) -> Iterable[str]:
    yield f"\n## {table.capitalize()}\n\n| id | name | values, low / expected / high in SI | origin |\n|---|---|---|---|"
    for entry in getattr(shelf, table).values():
        named = {name: getattr(entry, name) for name in type(entry).model_fields}
        values = [
            f"{name} {_value(value)}" for name, value in named.items() if isinstance(value, (Range, int, float, bool))
        ]
        origins = {value for name, value in named.items() if name.endswith("source")}
        yield f"| {entry.id} | {entry.name} | {', '.join(values)} | {', '.join(sorted(origins))} |"


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


def page(shelf: Catalogue) -> str:
    """The whole page."""
    lines = ["# Where each value comes from\n", "Made from `rigging/catalogue/` by `make sources`. SI units.\n"]
    lines += ["| origin | kind | text |\n|---|---|---|"]
    lines += [f"| {one.id} | {one.kind}: {ORIGIN[one.kind]} | {one.text} |" for one in shelf.sources.values()]
    for table in TABLES:
        lines += _rows(shelf, table)
    lines += _questions(shelf)
    tying = [
        f"| {name} | {', '.join(f'{id} {_value(one)}' for id, one in value.items()) if isinstance(value, dict) else _value(value)} |"
        for name in type(shelf.tying).model_fields
        for value in [getattr(shelf.tying, name)]
    ]
    lines += ["\n## How a thing is tied\n\n| what | value, SI |\n|---|---|", *tying]
    loose = [
        f"| what one gloved hand holds for long | {_value(shelf.hand_hold_n)} N | hand-grip |",
        f"| one hauler, sustained and in a heave | {shelf.hauler_sustained_n:g} N, {shelf.hauler_heave_n:g} N | hauler-pull |",
        f"| below this at the hand a device may not run | {shelf.device_runs_n:g} N | device-runs |",
        f"| taken up where two moving parts meet | {shelf.clearance_m:g} m, in a system out of one sling {shelf.own_clearance_m:g} m | clearance |",
        f"| knots and hands of a system out of one piece | {shelf.own_takes_m:g} m | own-piece |",
        f"| rope through the hands, and each reset | {shelf.haul_m_per_s:g} m/s, {shelf.reset_s:g} s | haul-pace |",
    ]
    return "\n".join([*lines, "\n## People and gear\n\n| what | value | origin |\n|---|---|---|", *loose])


if __name__ == "__main__":
    print(page(catalogue()))
