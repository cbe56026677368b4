"""What the bag holds and what it is worth: data files, each value with a range and an origin."""

from __future__ import annotations

import json
import sys
from contextlib import suppress
from functools import cache
from importlib.util import cache_from_source
from pathlib import Path
from typing import Any, Literal, TypeVar

from rigging.catalogue.entries import (
    AttachmentMethod,
    Bad,
    Bend,
    Condition,
    Connector,
    Contact,
    Device,
    Duration,
    Entry,
    FeatureKind,
    Fibre,
    Hitch,
    HoldingPower,
    Knot,
    Led,
    Loaded,
    Option,
    People,
    Placing,
    Question,
    RopeKind,
    Section,
    SlingMaterial,
    Source,
    Sourced,
    Surface,
    Turns,
    Tying,
)
from rigging.catalogue.haul import HaulSystem
from rigging.catalogue.schemes import AnchorScheme
from rigging.quantities.ranges import Strict
from rigging.quantities.yaml import read_yaml

__all__ = [
    "AnchorScheme",
    "AttachmentMethod",
    "Bad",
    "Bend",
    "Catalogue",
    "Condition",
    "Connector",
    "Contact",
    "Device",
    "Duration",
    "Entry",
    "FeatureKind",
    "Fibre",
    "Hitch",
    "HoldingPower",
    "Knot",
    "Led",
    "Loaded",
    "Option",
    "People",
    "Question",
    "RopeKind",
    "Section",
    "SlingMaterial",
    "Source",
    "Sourced",
    "Surface",
    "Turns",
    "Tying",
    "catalogue",
    "origins_in",
    "rows",
    "sources",
]

_HERE = Path(__file__).parent


class Catalogue(Strict):
    """Everything by id."""

    bends: dict[str, Bend]
    surfaces: dict[str, Surface]
    contacts: dict[str, Contact]
    devices: dict[str, Device]
    hitches: dict[str, Hitch]
    knots: dict[str, Knot]
    ropes: dict[str, RopeKind]
    slings: dict[str, SlingMaterial]
    attachments: dict[str, AttachmentMethod]
    connectors: dict[str, Connector]
    features: dict[str, FeatureKind]
    deadman: list[HoldingPower]
    conditions: dict[str, Condition]
    minutes: dict[str, Duration]
    placings: dict[str, Placing]
    tying: Tying
    people: People
    systems: dict[str, HaulSystem]
    schemes: dict[str, AnchorScheme]

    def usual_scheme(self, legs: int) -> AnchorScheme:
        """The scheme of an anchor of so many legs where nobody chose one."""
        return next(one for one in self.schemes.values() if one.usual and legs in one.legs)

    def catching(self, holds: Literal["hitch", "device", "tied"], what: str) -> Entry:
        """What catches on a belay line."""
        tables: dict[str, dict[str, Any]] = {"hitch": self.hitches, "device": self.devices, "tied": self.knots}
        entry: Entry = tables[holds][what]
        return entry


Model = TypeVar("Model", bound=Strict)


@cache
def _files() -> dict[str, Any]:
    """Every data file, read; kept beside the compiled code until one of them changes, as reading YAML takes half the
    start of a command."""
    files = sorted(_HERE.rglob("*.yaml"))
    stamp = [[file.name, file.stat().st_mtime_ns, file.stat().st_size] for file in files]
    kept = Path(cache_from_source(str(_HERE / "tables.py"))).with_suffix(".json")
    try:
        known = json.loads(kept.read_text(encoding="utf-8"))
        if known["stamp"] == stamp:
            return dict(known["files"])
    except (OSError, ValueError, KeyError):
        pass  # never kept, or half written: it is read again
    found = {file.relative_to(_HERE).as_posix(): _yaml(file) for file in files}
    if not sys.dont_write_bytecode:
        with suppress(OSError):
            kept.write_text(json.dumps({"stamp": stamp, "files": found}), encoding="utf-8")
    return found


def _yaml(file: Path) -> Any:
    return read_yaml(file.read_text(encoding="utf-8"))


def rows(file: str) -> list[dict[str, Any]]:
    """A data file's rows as they are written."""
    return list(_files()[file])


def _folder(name: str) -> list[Any]:
    """What stands in a folder, a file each."""
    return [found for file, found in _files().items() if file.startswith(f"{name}/")]


def _table(file: str, model: type[Model]) -> dict[str, Model]:
    return {row["id"]: model.model_validate(row) for row in rows(file)}


@cache
def sources() -> dict[str, Source]:
    """Where values come from, by the id that stands beside each."""
    return _table("sources.yaml", Source)


def origins_in(*texts: str) -> list[Source]:
    """The sources that texts name by id, with blanks between, each once; a leader's own value and plain geometry have none."""
    ids = dict.fromkeys(id for text in texts for id in text.split())
    return [sources()[id] for id in ids if id in sources()]


@cache
def catalogue() -> Catalogue:
    """The shipped catalogue, read once."""
    systems = [HaulSystem.model_validate(one) for one in _folder("systems")]
    schemes = [AnchorScheme.model_validate(one) for one in _folder("schemes")]
    return Catalogue(
        bends=_table("bends.yaml", Bend),
        surfaces=_table("surfaces.yaml", Surface),
        contacts=_table("contacts.yaml", Contact),
        devices=_table("devices.yaml", Device),
        hitches=_table("hitches.yaml", Hitch),
        knots=_table("knots.yaml", Knot),
        ropes=_table("ropes.yaml", RopeKind),
        slings=_table("slings.yaml", SlingMaterial),
        attachments=_table("attachments.yaml", AttachmentMethod),
        connectors=_table("connectors.yaml", Connector),
        features=_table("features.yaml", FeatureKind),
        deadman=[HoldingPower.model_validate(row) for row in rows("deadman.yaml")],
        conditions=_table("conditions.yaml", Condition),
        minutes=_table("minutes.yaml", Duration),
        placings=_table("placings.yaml", Placing),
        tying=Tying.model_validate(_files()["tying.yaml"]),
        people=People.model_validate(_files()["people.yaml"]),
        systems={system.id: system for system in systems},
        schemes={one.id: one for one in sorted(schemes, key=lambda one: (one.legs[-1], one.legs[0], one.id))},
    )
