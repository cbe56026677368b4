"""What a tree, boulder, vehicle, picket or deadman holds, by its inspection; and the verdict that follows from it."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable
from dataclasses import dataclass

from rigging.catalogue import Bad, FeatureKind, Question, catalogue
from rigging.document import Feature, Verdict
from rigging.quantities.ranges import Range, exactly, times
from rigging.quantities.symbols import Symbol, symbol
from rigging.quantities.units import Wording
from rigging.site.load import GRAVITY

LEAST_TRUNK_M = 0.127
_LYING_MU = Range(low=0.5, expected=0.6, high=0.7)
_ROCK_KG_M3 = Range(low=2400, expected=2600, high=2800)
_OF_ITS_BOX = Range(low=0.52, expected=0.7, high=1.0)
_DRIVEN_M = 0.9


@dataclass(frozen=True)
class Estimate:
    """What a feature holds in newtons, None where that is not known, and `why_not`; formula and symbols of the working.

    `limit` says what the figure leaves out.
    """

    strength_n: Range | None
    formula: str = ""
    symbols: tuple[Symbol, ...] = ()
    why_not: str = ""
    limit: str = ""


@dataclass(frozen=True)
class Judged:
    """A verdict on a feature, and the reasons for it."""

    verdict: Verdict | None
    reasons: tuple[str, ...]


def kind_of(feature: Feature) -> FeatureKind:
    return catalogue().features[feature.kind]


def missing_answers(feature: Feature) -> list[Question]:
    """Questions of the inspection that an estimate needs and nobody has answered."""
    return [one for one in kind_of(feature).questions if one.need and one.id not in feature.answers]


def doubtful_readings(feature: Feature, say: Wording) -> list[str]:
    """Readings outside what is sensible, each as a question back."""
    found = []
    for one in kind_of(feature).questions:
        answer = feature.answers.get(one.id)
        if isinstance(answer, (int, float)) and not one.least <= answer <= one.most:
            shown = say.length if one.unit == "m" else lambda value, unit=one.unit: f"{value:g} {unit}"
            found.append(
                f"{feature.name}: {one.ask.rstrip('?').lower()} {shown(answer)}? "
                f"Usual is {shown(one.least)} to {shown(one.most)}. Read it again, or mend it."
            )
    return found


def girth_m(feature: Feature) -> float | None:
    """How far it is round the feature where the strap lies, if it was measured."""
    for name, factor in (("girth_m", 1.0), ("diameter_m", math.pi)):
        answer = feature.answers.get(name)
        if isinstance(answer, (int, float)) and answer > 0:
            return factor * answer
    return None


def estimate(feature: Feature, rise_rad: float = 0.0) -> Estimate:
    """What the feature holds, by the leader's rating or by its inspection; `rise_rad`: how far the pull goes upward."""
    if feature.rating_n is not None:
        return Estimate(feature.rating_n, "as judged", (symbol("S", feature.basis, feature.rating_n, "N", "leader"),))
    missing = missing_answers(feature)
    if missing:
        return Estimate(None, why_not=f"not inspected yet: {', '.join(one.ask.rstrip('?').lower() for one in missing)}")
    rejected = rejected_because(feature)
    if rejected:
        return Estimate(None, why_not=rejected[0])
    for one in kind_of(feature).questions:
        if one.unit in ("m", "kg") and feature.answers.get(one.id) == 0:
            return Estimate(None, why_not=f"{one.ask.lower()} is 0: measure it")
    return _ESTIMATES[kind_of(feature).estimate](feature, rise_rad)


def verdict(feature: Feature, needed_n: float, say: Wording) -> Judged:
    """The verdict that the inspection leads to, for a part that has to hold `needed_n` newtons alone.

    A rejection stands unless somebody by name judged otherwise with a reason; that stands beside it in the document.
    """
    bad = _bad_answers(feature)
    rejects = inspection_rejects(feature)
    if rejects:
        return Judged("reject", tuple(rejects))
    missing = missing_answers(feature)
    if missing and feature.rating_n is None:
        return Judged(None, tuple(f"not answered: {one.ask}" for one in missing))
    kind = kind_of(feature)
    if kind.temporary:
        return Judged("temporary", (kind.guarded,))
    doubts = [one.why for one in bad] + doubtful_readings(feature, say) + _small(feature, say)
    strength = estimate(feature).strength_n
    if strength is None:
        return Judged("with-others", (*doubts, "nobody has said what it holds"))
    if strength.low < needed_n:
        doubts.append(
            f"holds {say.force(strength)}; your rule asks {say.force(needed_n)} of an anchor that stands alone"
        )
    if doubts:
        return Judged("with-others", tuple(doubts))
    return Judged("sound-alone", (f"holds {say.force(strength)}; your rule asks {say.force(needed_n)}",))


def rejected_because(feature: Feature) -> list[str]:
    """Why the inspection rejects a feature; nothing where it does not, or somebody by name judged otherwise with a reason."""
    return [] if overridden(feature) else inspection_rejects(feature)


def inspection_rejects(feature: Feature) -> list[str]:
    """Every answer of the inspection that leads to a rejection, as its reason."""
    return [one.why for one in _bad_answers(feature) if one.verdict == "reject"]


def overridden(feature: Feature) -> bool:
    """Whether somebody by name, with a reason, took a feature that its inspection rejects."""
    better = feature.verdict is not None and feature.verdict != "reject"
    return better and bool(feature.reason.strip() and feature.judged_by.strip() and inspection_rejects(feature))


def _bad_answers(feature: Feature) -> list[Bad]:
    questions = kind_of(feature).questions
    return [one.bad[str(answer)] for one in questions if (answer := feature.answers.get(one.id)) in one.bad]


def _small(feature: Feature, say: Wording) -> list[str]:
    diameter = feature.answers.get("diameter_m")
    if kind_of(feature).estimate == "tree" and isinstance(diameter, (int, float)) and diameter < LEAST_TRUNK_M:
        return [f"trunk {say.length(diameter)}, below the {say.length(LEAST_TRUNK_M)} that teams want of a single tree"]
    return []


def _number(feature: Feature, name: str) -> float:
    answer = feature.answers[name]
    assert isinstance(answer, (int, float))
    return float(answer)


def _value(feature: Feature, name: str) -> tuple[str, Range]:
    """Name and value of the option chosen; the last option (not known) where nothing was."""
    options = next(one for one in kind_of(feature).questions if one.id == name).options
    chosen = next((one for one in options if one.id == feature.answers.get(name)), options[-1])
    assert chosen.value is not None
    return chosen.name, chosen.value


def _tree(feature: Feature, rise_rad: float) -> Estimate:
    """The lesser of the trunk in bending, F = σ·π·d³ / (32·h) (modulus of rupture, FPL Wood Handbook), and the roots,
    about d²/30 kN with d in cm (a rule of cable logging)."""
    wood, sigma = _value(feature, "wood")
    diameter, height = _number(feature, "diameter_m"), _number(feature, "strap_height_m")
    trunk, roots = (
        sigma.map(lambda stress: trunk_bending_n(stress, diameter, height)),
        roots_hold_n(diameter, feature.answers["rooted"] == "deep"),
    )
    low, expected, high = (min(getattr(trunk, end), getattr(roots, end)) for end in ("low", "expected", "high"))
    decides = "roots" if roots.expected <= trunk.expected else "trunk"
    symbols = (
        symbol("d", "trunk diameter at the strap", diameter, "m", "leader"),
        symbol(
            "F_roots",
            "(100·d)²/30 kN, ÷ 2 to × 2 with soil and depth; shallow or wet the lower half",
            roots,
            "N",
            "tree-roots",
        ),
        symbol("σ", f"modulus of rupture, green: {wood}", sigma, "Pa", "wood-handbook"),
        symbol("h", "strap above the ground: what the trunk holds falls with 1/h", height, "m", "leader"),
        symbol("F_trunk", "σ·π·d³ / (32·h)", trunk, "N", "wood-handbook"),
    )
    limit = (
        "the roots decide; a rule for trees pulled near the ground"
        if decides == "roots"
        else "the trunk decides: put the strap lower"
    )
    return Estimate(Range(low, expected, high), "F = least of F_roots and F_trunk", symbols, limit=limit)


def roots_hold_n(diameter_m: float, deep: bool) -> Range:
    """What a rooted tree or fresh stump pulled near the ground holds, in newtons: d²/30 kN, d in cm, ÷ 2 to × 2; with
    shallow roots or in wet ground the lower half of that.

    >>> [round(n / 1000, 1) for n in (roots_hold_n(0.13, True).low, roots_hold_n(0.13, True).expected)]
    [2.8, 5.6]
    """
    rule = (100 * diameter_m) ** 2 / 30 * 1000
    return Range(rule / 2, rule, rule * 2) if deep else Range(rule / 2, 0.75 * rule, rule)


def trunk_bending_n(sigma_pa: float, diameter_m: float, height_m: float) -> float:
    """Force in newtons at height h that breaks a round trunk of diameter d in bending at the ground."""
    return sigma_pa * math.pi * diameter_m**3 / (32 * height_m)


def _block(feature: Feature, rise_rad: float) -> Estimate:
    """Sliding F = μ·m·g / (cos a + μ·sin a), tipping F = m·g·l / (2·(h·cos a + l·sin a)), a how far the pull rises."""
    length, width, height = (_number(feature, name) for name in ("length_m", "width_m", "height_m"))
    strap = _number(feature, "strap_height_m")
    box = exactly(length * width * height)
    mass = times(box, _OF_ITS_BOX, _ROCK_KG_M3)
    rise = max(0.0, rise_rad)
    weight = mass.map(lambda kg: kg * GRAVITY)
    slide = times(weight, _LYING_MU.map(lambda mu: mu / (math.cos(rise) + mu * math.sin(rise))))
    tip = weight.map(lambda w: w * length / 2 / (strap * math.cos(rise) + length * math.sin(rise)))
    holds = Range(
        low=min(slide.low, tip.low), expected=min(slide.expected, tip.expected), high=min(slide.high, tip.high)
    )
    symbols = (
        symbol("m", "volume × density", mass, "kg", "lying-block"),
        symbol("μ", "rock on its ground", _LYING_MU, "", "lying-block"),
        symbol("a", "how far the pull rises", math.degrees(rise), "°", "geometry"),
        symbol("F_slide", "μ·m·g / (cos a + μ·sin a)", slide, "N", "lying-block"),
        symbol("F_tip", "m·g·l / (2·(h·cos a + l·sin a))", tip, "N", "lying-block"),
    )
    limit = "" if feature.answers["lies"] == "lying" else "as if it only lay there; what embedding adds is not counted"
    return Estimate(holds, "F = least of F_slide and F_tip", symbols, limit=limit)


def _vehicle(feature: Feature, rise_rad: float) -> Estimate:
    """Friction of the wheels that can not turn: F = μ·m·g·share / (cos a + μ·sin a)."""
    ground, mu = _value(feature, "stands_on")
    braked, share = _value(feature, "braked")
    mass, rise = _number(feature, "mass_kg"), max(0.0, rise_rad)
    grip = mu.map(lambda one: one / (math.cos(rise) + one * math.sin(rise)))
    symbols = (
        symbol("μ", ground, mu, "", "vehicle-mu"),
        symbol("m", "mass with what is in it", mass, "kg", "leader"),
        symbol("share", f"wheels that can not turn: {braked.lower()}", share, "", "vehicle-mu"),
        symbol("a", "how far the pull rises", math.degrees(rise), "°", "geometry"),
    )
    limit = "the wheels alone: what it is strapped to may hold less"
    return Estimate(
        times(exactly(mass * GRAVITY), grip, share), "F = μ·m·g·share / (cos a + μ·sin a)", symbols, limit=limit
    )


def _rated(feature: Feature, rise_rad: float) -> Estimate:
    return Estimate(None, why_not="enter what it holds, with the basis")


def _bolt(feature: Feature, rise_rad: float) -> Estimate:
    how, strength = _value(feature, "pulled")
    limit = "the bolt by its standard: poor rock, or a poor placement, holds less"
    return Estimate(strength, "rating by standard", (symbol("S", how, strength, "N", "en-959"),), limit=limit)


def _picket(feature: Feature, rise_rad: float) -> Estimate:
    """Table value × soil, less in proportion to the depth where it is driven less than 0.9 m."""
    line, table = _value(feature, "line")
    soil, factor = _value(feature, "soil")
    driven = min(1.0, _number(feature, "driven_m") / _DRIVEN_M)
    depth = Range(low=driven**2, expected=driven**2, high=driven)
    symbols = (
        symbol("F_table", f"{line} in dry loam, 0.9 m of 1.5 m driven, leaning 15°", table, "N", "pickets"),
        symbol("soil", soil, factor, "", "pickets"),
        symbol("depth", "driven less than 0.9 m: between its share and its square", depth, "", "pickets"),
    )
    return Estimate(times(table, factor, depth), "F = F_table · soil · depth", symbols)


def _deadman(feature: Feature, rise_rad: float) -> Estimate:
    """Holding pressure by depth and slope of the pull × face area; straight lines between the table's depths."""
    table, slope = catalogue().deadman, str(feature.answers["slope"])
    depth = _number(feature, "depth_m")
    area = _number(feature, "face_length_m") * _number(feature, "face_height_m")
    if depth < table[0].depth_m:
        why = f"the table starts at {table[0].depth_m:g} m of mean depth; dig deeper, or enter a rating with its basis"
        return Estimate(None, why_not=why)
    pressure = table[-1].pressure_pa[slope]
    for a, b in itertools.pairwise(table):
        if a.depth_m <= depth <= b.depth_m:
            share = (depth - a.depth_m) / (b.depth_m - a.depth_m)
            pressure = a.pressure_pa[slope] + share * (b.pressure_pa[slope] - a.pressure_pa[slope])
            break
    symbols = (
        symbol("p", "holding pressure by depth and slope", pressure, "Pa", "deadman"),
        symbol("depth", "mean depth of the face", depth, "m", "leader"),
        symbol("A", "bearing face", area, "m²", "leader"),
    )
    return Estimate(
        exactly(pressure * area), "F = p · A", symbols, limit="the ground alone: the log and its sling may hold less"
    )


def _snow(feature: Feature, rise_rad: float) -> Estimate:
    snow, holds = _value(feature, "snow")
    return Estimate(holds, "by the snow", (symbol("F", snow, holds, "N", kind_of(feature).source),))


def _person(feature: Feature, rise_rad: float) -> Estimate:
    footing, share = _value(feature, "footing")
    weight = _number(feature, "mass_kg") * GRAVITY
    symbols = (
        symbol("k", footing, share, "", "person"),
        symbol("W", "body weight", weight, "N", "leader"),
    )
    return Estimate(times(exactly(weight), share), "F = k · W", symbols)


_ESTIMATES: dict[str, Callable[[Feature, float], Estimate]] = {
    "tree": _tree, "block": _block, "vehicle": _vehicle, "rating": _rated, "bolt": _bolt,
    "picket": _picket, "deadman": _deadman, "snow": _snow, "person": _person,
}  # fmt: skip
