"""A file of places read into a plan: what it is, how it was understood, what has to be asked, what is wrong with it, and what it would bring."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError

from rigging.catalogue import catalogue
from rigging.document import Feature, Plan
from rigging.document.site import North, PlacedBy
from rigging.files.asked import Ask, Offer, RowRead, not_too_many
from rigging.files.geojson import geojson
from rigging.files.ground import GroundOffer, offered
from rigging.files.letters import ENCODINGS, letters_of
from rigging.files.marked_up import gpx, kml, kmz
from rigging.files.photographs import photograph
from rigging.files.places import Content, OnMap, OnSheet, Sighted, Spot, ground_m, level_place, origin, sighted_place
from rigging.files.sightings import sightings
from rigging.files.surveys import ColumnRead, TableSettings, north_ask, survey
from rigging.files.tables import Table, table_of
from rigging.files.workbooks import sheets_of
from rigging.quantities.faults import Fault, Refused, faults_of, refuse
from rigging.quantities.ranges import Strict

FileForm = Literal["table", "xlsx", "geojson", "gpx", "kml", "kmz", "sightings", "photograph"]
LARGEST_BYTES = 8 * 1024 * 1024
_MOST = 50
_SHOWN = 6
_PICTURES = (b"\xff\xd8\xff", b"\x89PNG", b"II*\0", b"MM\0*", b"RIFF")


class Mended(Strict):
    """A cell put right by hand: its row in the file, its column by name, what stands there now."""

    row: Annotated[int, Field(ge=1)]
    column: Annotated[str, Field(max_length=400)]
    text: Annotated[str, Field(max_length=4000)]


class FileSettings(Strict):
    """What somebody said of a file, where it does not say so itself."""

    encoding: Literal[tuple(ENCODINGS)] | None = None  # type: ignore[valid-type]
    separator: Literal["\t", ";", "|", ","] | None = None
    decimal: Literal[".", ","] | None = None
    sheet: Annotated[str, Field(max_length=200)] | None = None
    columns: Annotated[dict[str, str], Field(max_length=200)] = {}
    units: Annotated[dict[str, str], Field(max_length=200)] = {}
    north: North | None = None
    heights: Literal["file", "ground", "level"] | None = None
    placed_by: PlacedBy | None = None
    mends: Annotated[list[Mended], Field(max_length=500)] = []


@dataclass(frozen=True)
class FileRead:
    """What a file would bring. With something asked or at fault, no features: all of a file is taken, or nothing."""

    form: FileForm
    name: str
    understood: list[str]
    asks: list[Ask]
    faults: list[Fault]
    features: list[Feature] = field(default_factory=list)
    grounds: list[GroundOffer] = field(default_factory=list)
    columns: list[ColumnRead] = field(default_factory=list)
    rows: list[RowRead] = field(default_factory=list)
    sheets: list[str] = field(default_factory=list)


def read_places(content: bytes, name: str, plan: Plan, said: FileSettings) -> FileRead:
    """A file of places, as far as it can be read into a plan.

    Raises
    ------
    Refused
        If it is no file of its kind; every fault by its path, row or point.
    """
    if not content:
        raise refuse("file", "it is empty", "choose the file that its program exported")
    if len(content) > LARGEST_BYTES:
        raise refuse("file", f"{len(content) / 1e6:.1f} MB is too large", f"at most {LARGEST_BYTES // 1024**2} MB")
    form = form_of(content)
    if form in ("table", "xlsx"):
        return _from_table(form, content, name, plan, said)
    if form == "photograph":
        return _placed(form, name, photograph(content, name), plan, said)
    if form == "kmz":
        return _placed(form, name, kmz(content), plan, said)
    text = letters_of(content, said.encoding).text
    read = {"gpx": gpx, "kml": kml, "geojson": geojson, "sightings": sightings}[form]
    return _placed(form, name, read(text), plan, said)


def form_of(content: bytes) -> FileForm:
    """What a file is, by what stands in it; its name says nothing."""
    if content.startswith(b"PK"):
        return "xlsx" if b"xl/" in content or b"[Content_Types].xml" in content[:2000] else "kmz"
    if content.startswith(_PICTURES):
        return "photograph"
    try:
        text = letters_of(content).text
    except Refused:
        text = content.decode("latin-1")
    head = text.lstrip()[:4000]
    if head.startswith("<"):
        return (
            "kml" if re.search(r"<(\w+:)?(kml|Placemark)\b", head) and not re.search(r"<(\w+:)?gpx\b", head) else "gpx"
        )
    if head.startswith(("{", "[")):
        return "geojson"
    return "sightings" if head.startswith("$") else "table"


def _from_table(form: FileForm, content: bytes, name: str, plan: Plan, said: FileSettings) -> FileRead:
    sheets: list[str] = []
    asks: list[Ask] = []
    if form == "xlsx":
        book = sheets_of(content)
        sheets = list(book)
        chosen, ask = sheet_of(book, said.sheet)
        if ask is not None:
            return FileRead(form, name, [f"a workbook of {len(sheets)} sheets"], [ask], [], sheets=sheets)
        table = of_cells(chosen)
    else:
        letters = letters_of(content, said.encoding)
        if not letters.sure:
            offers = tuple(Offer(id, label) for id, label in ENCODINGS.items() if id != "utf-8")
            strange = next((line.strip()[:40] for line in letters.text.splitlines() if not line.isascii()), "")
            asks.append(Ask("encoding", f"It does not say how its letters are written. Is {strange!r} right?", offers))
        table = table_of(letters.text, said.separator)
    places = {head: place for place, head in enumerate(table.head)}
    strays = [one.column for one in said.mends if one.column not in places]
    if strays:
        raise refuse("mends", f"there is no column {strays[0]!r}", f"one of {', '.join(places)}")
    table = table.mended({(one.row, places[one.column]): one.text for one in said.mends})
    found = survey(table, TableSettings(said.columns, said.units, said.decimal, said.north))
    made = (
        _placed(form, name, found.content, plan, said)
        if not (found.asks or found.faults)
        else FileRead(form, name, [], [], [])
    )
    faulty = found.rows | {int(row.group(1)) for one in made.faults if (row := re.match(r"row (\d+)", one.path))}
    shown = [*table.rows[:_SHOWN], *(row for row in table.rows[_SHOWN:] if row.number in faulty)]
    asked = [*asks, *found.asks, *made.asks]
    faults = not_too_many([*found.faults, *made.faults])
    return replace(
        made, understood=[*found.content.understood, *made.understood], asks=asked, faults=faults,
        features=[] if asked or faults else made.features, columns=found.columns, sheets=sheets,
        rows=[RowRead(row.number, row.cells, row.number in faulty) for row in shown[:_MOST]],
    )  # fmt: skip


def sheet_of(rows: dict[str, list[tuple[str, ...]]], said: str | None) -> tuple[list[tuple[str, ...]], Ask | None]:
    """The rows of a workbook's sheet: of the one that somebody said, or of its only one; asked where there are several."""
    chosen = said or (next(iter(rows)) if len(rows) == 1 else None)
    if chosen is None:
        return [], Ask(
            "sheet", "Which of its sheets?", tuple(Offer(one, f"{one}, {len(rows[one])} rows") for one in rows)
        )
    if chosen not in rows:
        raise refuse("sheet", f"there is no sheet {chosen!r}", f"one of {', '.join(rows)}")
    return rows[chosen], None


def of_cells(rows: list[tuple[str, ...]]) -> Table:
    """A sheet's rows as a table: as one of text would be, tabs between the cells."""
    lines = [
        "\t".join(cell.replace("\t", " ").replace('"', "″").replace("\n", " ").replace("\r", " ") for cell in row)
        for row in rows
    ]
    return table_of("\n".join(lines), "\t")


def _placed(form: FileForm, name: str, content: Content, plan: Plan, said: FileSettings) -> FileRead:
    """A file's places on the sheet, with how far they may be off."""
    understood = [
        *([_counted(content)] if form not in ("table", "xlsx") else []),
        *(content.understood if form not in ("table", "xlsx") else ()),
    ]
    understood += [f"left out: {one}" for one in content.left_out[:8]]
    if len(content.left_out) > 8:
        understood.append(f"left out besides: {len(content.left_out) - 8} more")
    asks = list(_asks(form, content, plan, said))
    grounds = [offered(one, plan.site.frame) for one in content.tracks]
    faults: list[Fault] = []
    features: list[Feature] = []
    if not content.spots and not content.tracks:
        faults.append(Fault(form, "there is no place in it", "give a file with at least one place or track"))
    if len(content.spots) + len(plan.features) > _MOST:
        faults.append(
            Fault(
                form,
                f"{len(content.spots)} places in this file, and {len(plan.features)} features in the plan",
                f"at most {_MOST} together",
            )
        )
    elif not asks:
        features, faults = _features(form, content.spots, plan, said, faults)
    understood += _told(form, content, plan, said) if features else []
    return FileRead(form, name, understood, asks, not_too_many(faults), features if not faults else [], grounds)


def _counted(content: Content) -> str:
    parts = [f"{len(content.spots)} place{'s' if len(content.spots) != 1 else ''}"] if content.spots else []
    parts += [f"1 track with {len(one.points)} points, {one.name!r}" for one in content.tracks[:4]]
    if len(content.tracks) > 4:
        parts.append(f"{len(content.tracks) - 4} tracks more")
    return "; ".join(parts)


def _heights(content: Content) -> Iterable[bool]:
    """Whether each place says how high it lies."""
    for spot in content.spots:
        at = spot.at
        if isinstance(at, Sighted):
            yield at.height_m is not None or at.inclination_deg is not None
        else:
            yield (at.height_m if isinstance(at, OnMap) else at.z_m) is not None


def _asks(form: FileForm, content: Content, plan: Plan, said: FileSettings) -> Iterable[Ask]:
    frame, told = plan.site.frame, list(_heights(content))
    on_map = any(isinstance(spot.at, OnMap) for spot in content.spots)
    ground = Offer("ground", "as high as the ground from the side, where they lie")
    level = Offer("level", "level with the working point")
    if said.heights in (None, "file"):
        if told and not all(told):
            missing = told.count(False)
            yield Ask(
                "heights", f"{missing} of {len(told)} places say no height. How high do those lie?", (ground, level)
            )
        elif on_map and (frame is None or frame.elevation_m is None):
            right = "Their heights are above the sea, and nobody said how high the working point lies. Give its elevation, or take them as"
            yield Ask("heights", right, (ground, level))
    if (
        on_map
        and said.placed_by is None
        and form != "photograph"
        and not all("placed" in spot.fields for spot in content.spots)
    ):
        offers = tuple(
            Offer(id, one.name) for id, one in catalogue().placings.items() if id in ("phone", "map", "instrument")
        )
        yield Ask("placed_by", "How were these places taken?", offers)
    if any(isinstance(spot.at, Sighted) and spot.at.north is None for spot in content.spots) and said.north is None:
        yield north_ask()


def _features(
    form: FileForm, spots: Iterable[Spot], plan: Plan, said: FileSettings, faults: list[Fault]
) -> tuple[list[Feature], list[Fault]]:
    found, ids = [], {one.id for one in plan.features}
    for spot in spots:
        try:
            row = _row(form, spot, plan, said)
        except Refused as error:
            faults += error.faults
            continue
        row["id"] = fresh_id(str(row.get("name") or "feature"), ids)
        try:
            found.append(Feature.model_validate(row))
        except ValidationError as error:
            faults += [Fault(f"{spot.where}, {one.path}", one.problem, one.right) for one in faults_of(error)]
    # What is wrong with the plan itself is wrong for every place alike.
    return found, list(dict.fromkeys(faults))


def _row(form: FileForm, spot: Spot, plan: Plan, said: FileSettings) -> dict[str, Any]:
    """A feature's fields with its place on the sheet."""
    frame, at = plan.site.frame, spot.at
    off_m = None
    if isinstance(at, OnMap):
        origin(frame)
        assert frame is not None
        x, y = level_place(spot.where, at, frame)
        up = at.height_m - frame.elevation_m if at.height_m is not None and frame.elevation_m is not None else None
        off_m = at.off_m
    elif isinstance(at, Sighted):
        x, y, up = sighted_place(spot.where, at, frame)
    else:
        x, y, up = at.x_m, at.y_m, at.z_m
    on_ground = said.heights == "ground" and (up is None or isinstance(at, OnMap))
    if on_ground:
        up = ground_m(plan.site.profile, x)
    elif said.heights == "level" and (up is None or isinstance(at, OnMap)):
        up = 0.0
    assert up is not None
    place = {"x_m": round(x, 2), "y_m": round(y, 2), "z_m": round(up, 2)}
    doubt = {} if "placed" in spot.fields else {"placed": _doubt(form, at, off_m, on_ground, plan, said)}
    return {"name": spot.where.capitalize(), "kind": "other", **spot.fields, **place, **doubt}


def _doubt(
    form: FileForm, at: OnMap | OnSheet | Sighted, off_m: float | None, on_ground: bool, plan: Plan, said: FileSettings
) -> dict[str, Any] | None:
    """How the place was taken, and how far it may be off: as somebody said, or as files of that form are made."""
    by = said.placed_by
    if by is None and isinstance(at, Sighted):
        by = "rangefinder" if at.slope_m is not None else "tape"
    if by is None and isinstance(at, OnMap):
        by = "phone"
    if by is None:
        return None
    way = catalogue().placings[by]
    level, up = off_m or way.off_m, way.off_up_m
    if on_ground:
        # On ground as steep as it is long, what is off to the side is off as much in height.
        up = level
    elif isinstance(at, OnMap) and at.height_m is not None and plan.site.frame is not None:
        up += catalogue().placings[plan.site.frame.elevation_by or "phone"].off_up_m
    return {"by": by, "off_m": round(level, 2), "off_up_m": round(up, 2)}


def _told(form: FileForm, content: Content, plan: Plan, said: FileSettings) -> list[str]:
    """What was taken for granted of the places, in words."""
    found = []
    frame = plan.site.frame
    by = {spot.at.north for spot in content.spots if isinstance(spot.at, Sighted)}
    by_bearing = by or any(isinstance(spot.at, OnMap) for spot in content.spots)
    if frame is not None and by_bearing and frame.north == "magnetic" and frame.declination_deg is not None:
        found.append(
            f"the fall line's {frame.bearing_deg:g}° are magnetic; magnetic north lies {frame.declination_deg:+.1f}° from true here"
        )
    if form == "photograph" and said.placed_by is None:
        way = catalogue().placings["phone"]
        found.append(f"places of a satellite receiver: off by up to {way.off_m:g} m level and {way.off_up_m:g} m up")
    if (
        frame is not None
        and frame.elevation_m is not None
        and frame.elevation_by is None
        and any(isinstance(s.at, OnMap) and s.at.height_m is not None for s in content.spots)
    ):
        found.append(
            "nobody said what the working point's elevation was read from: taken as off by as much as a phone's"
        )
    return found


def fresh_id(name: str, taken: set[str]) -> str:
    """An id after a name, beside those that are taken."""
    stem = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:40] or "feature"
    made, found = 2, stem
    while found in taken:
        found, made = f"{stem}-{made}", made + 1
    taken.add(found)
    return found
