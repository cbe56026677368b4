"""What the columns of a survey's table mean: by their heads, in the languages that teams write; what is not plain is asked."""

from __future__ import annotations

import re
import unicodedata
from dataclasses import dataclass
from typing import Literal

from rigging.files.units import Measure, unit_in

Means = Literal[
    "name", "kind", "x", "y", "z", "level", "slope", "bearing", "inclination", "height", "latitude", "longitude", "elevation",
    "rating_low", "rating_expected", "rating_high", "basis", "verdict", "reason", "judged_by", "guard", "answers", "placed_by", "off", "off_up",
]  # fmt: skip


@dataclass(frozen=True)
class Meaning:
    """A column's meaning in words, what it is measured in (None: it is a text), and what heads call it."""

    label: str
    measure: Measure | Literal["degrees"] | None
    heads: tuple[str, ...] = ()


MEANINGS: dict[Means, Meaning] = {
    "name": Meaning("Name", None, ("name", "feature", "point", "label", "id", "nr", "no", "punkt", "punktnummer", "bezeichnung", "nom", "point nr", "nome", "nombre", "punto", "naam", "navn", "namn", "nazwa", "jmeno", "ime", "title")),
    "kind": Meaning("Kind of feature", None, ("kind", "type", "art", "typ", "sorte", "genre", "tipo", "soort", "druh", "rodzaj", "vrsta")),
    "x": Meaning("Out along the fall line", "length", ("x out", "out", "hinaus", "vers l aval", "fuori", "hacia fuera")),
    "y": Meaning("To the right, looking out", "length", ("y right", "right", "rechts", "droite", "a droite", "destra", "derecha", "rechtop")),
    "z": Meaning("Up from the working point", "length", ("z up", "up", "hoch", "hinauf", "vers le haut", "su", "arriba")),
    "level": Meaning("Distance, level", "length", ("level", "level distance", "horizontal distance", "hd", "horizontaldistanz", "horizontalstrecke", "distance horizontale", "distanza orizzontale", "distancia horizontal", "dh")),
    "slope": Meaning("Distance along the slope", "length", ("slope distance", "sd", "slant distance", "schragdistanz", "schragstrecke", "distance inclinee", "distanza inclinata", "distancia inclinada", "line of sight")),
    "bearing": Meaning("Bearing", "angle", ("bearing", "azimuth", "azimut", "az", "heading", "compass", "peilung", "richtung", "cap", "gisement", "relevement", "direzione", "rilevamento", "rumbo", "acimut", "kurs", "marschzahl")),
    "inclination": Meaning("Inclination, up positive", "angle", ("inclination", "inc", "incl", "vertical angle", "pitch", "tilt", "neigung", "hohenwinkel", "inclinaison", "inclinazione", "inclinacion", "elevation angle")),
    "height": Meaning("Height above where it was sighted from", "length", ("height", "height difference", "vd", "vertical distance", "hohenunterschied", "hohendifferenz", "denivele", "dislivello", "desnivel", "rise")),
    "latitude": Meaning("Latitude", "degrees", ("latitude", "lat", "breite", "breitengrad", "geographische breite", "latitudine", "latitud", "lat wgs84", "szerokosc")),
    "longitude": Meaning("Longitude", "degrees", ("longitude", "lon", "lng", "long", "langengrad", "geographische lange", "longitudine", "longitud", "lon wgs84", "dlugosc")),
    "elevation": Meaning("Elevation above the sea", "length", ("elevation", "ele", "alt", "altitude", "masl", "m u m", "hohe u m", "hohe uber meer", "meereshohe", "altitud", "quota", "altitudine", "nadmorska vyska")),
    "rating_low": Meaning("Rating, low", "force", ("rating low",)),
    "rating_expected": Meaning("Rating, expected", "force", ("rating expected", "rating")),
    "rating_high": Meaning("Rating, high", "force", ("rating high",)),
    "basis": Meaning("How it was judged", None, ("basis", "description", "desc", "note", "notes", "comment", "remark", "remarks", "bemerkung", "beschreibung", "remarque", "nota", "note", "notas", "opmerking")),
    "verdict": Meaning("Verdict", None, ("verdict",)),
    "reason": Meaning("Reason", None, ("reason", "grund", "raison", "motivo")),
    "judged_by": Meaning("Judged by", None, ("judged by", "beurteilt von")),
    "guard": Meaning("Guarded by", None, ("guard",)),
    "answers": Meaning("Answers of the inspection", None, ("answers",)),
    "placed_by": Meaning("How its place was taken", None, ("placed by",)),
    "off": Meaning("How far off it may be, level", "length", ("off",)),
    "off_up": Meaning("How far off it may be, up", "length", ("off up",)),
}  # fmt: skip
# One head that two things go by: which of them, only somebody can say.
AMBIGUOUS: dict[str, tuple[Means, ...]] = {
    "x": ("x",), "y": ("y",), "z": ("z", "elevation"), "distance": ("level", "slope"), "dist": ("level", "slope"), "distanz": ("level", "slope"),
    "entfernung": ("level", "slope"), "strecke": ("level", "slope"), "distanza": ("level", "slope"), "distancia": ("level", "slope"),
    "abstand": ("level", "slope"), "range": ("slope", "level"), "hohe": ("height", "elevation"), "altezza": ("height", "elevation"),
    "hauteur": ("height", "elevation"), "altura": ("height", "elevation"), "lange": ("longitude",), "slope": ("slope", "inclination"),
    "pente": ("inclination",), "pendenza": ("inclination",),
}  # fmt: skip
_LETTERS = {"ß": "ss", "ø": "o", "ł": "l", "đ": "d", "æ": "ae", "œ": "oe"}


def _once(head: str) -> str:
    """A head without the number that tells it from another of its name."""
    return re.sub(r" #\d+$", "", head)


def plainly(head: str) -> str:
    """A head without accents, signs and unit: what it is compared by."""
    text = re.sub(r"[\[(][^\[\]()]*[\])]", " ", _once(head).lower())
    text = "".join(
        _LETTERS.get(one, one) for one in unicodedata.normalize("NFKD", text) if not unicodedata.combining(one)
    )
    words = re.sub(r"[^a-z0-9]+", " ", text).split()
    return " ".join(words)


def meaning_of(head: str) -> tuple[Means, ...]:
    """What a head may mean: nothing known, one thing, or several between which somebody chooses."""
    plain = plainly(head)
    # This tool's own heads say their unit themselves: a bare x is anybody's.
    own = {
        "x m": "x",
        "y m": "y",
        "z m": "z",
        "x ft": "x",
        "y ft": "y",
        "z ft": "z",
        "x out m": "x",
        "y right m": "y",
        "z up m": "z",
    }
    if plain in own:
        return (own[plain],)  # type: ignore[return-value]
    tried = [plain]
    words = plain.split()
    if len(words) > 1 and words[-1] in _UNIT_WORDS:
        tried.append(" ".join(words[:-1]))
    for text in tried:
        if text in AMBIGUOUS:
            return AMBIGUOUS[text]
        found = [id for id, one in MEANINGS.items() if text in one.heads or text == id.replace("_", " ")]
        if found:
            return (found[0],)
    return ()


_UNIT_WORDS = frozenset(
    ("m", "ft", "cm", "mm", "deg", "gon", "n", "kn", "dan", "kgf", "lbf", "metres", "meters", "degrees", "feet", "grad")
)


def sure(head: str) -> Means | None:
    """What a head means, if it can mean one thing only."""
    found = meaning_of(head)
    return found[0] if len(found) == 1 and plainly(head) not in AMBIGUOUS else None


def unit_of(head: str, means: Means) -> str | None:
    """The unit that a head names for what it means; None where it names none, or what it means has none."""
    measure = MEANINGS[means].measure
    if measure is None:
        return None
    return unit_in(_once(head), "angle" if measure == "degrees" else measure)
