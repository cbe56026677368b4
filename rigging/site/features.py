"""What a tree, boulder, vehicle, picket or deadman holds, by its inspection; and the verdict that follows from it."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from rigging.catalogue import Bad, FeatureKind, Question, catalogue
from rigging.document import Feature, Verdict
from rigging.quantities.ranges import Range, exactly, times
from rigging.quantities.symbols import Symbol, symbol
from rigging.quantities.units import Wording
from rigging.site.load import GRAVITY

LEAST_TRUNK_M = 0.127
# Up to here a tree is pulled near the ground, as the rule for its roots has it.
NEAR_GROUND_M = 0.5
_UNDER_BARK = Range(low=0.90, expected=0.93, high=0.95)
_ROCK_KG_M3 = Range(low=2400, expected=2600, high=2800)
_OF_ITS_BOX = Range(low=0.52, expected=0.7, high=1.0)


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


def verdict(feature: Feature, needed_n: float, say: Wording, rise_rad: float = 0.0) -> Judged:
    """The verdict that the inspection leads to, for a part that has to hold `needed_n` newtons alone under a pull that rises so far.

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
    if kind.by_standard and feature.rating_n is None and "tested_kn" not in feature.answers:
        doubts.append("by what its like holds: nobody has pulled this one")
    strength = estimate(feature, rise_rad).strength_n
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


def _question(feature: Feature, name: str) -> Question:
    return next(one for one in kind_of(feature).questions if one.id == name)


def _value(feature: Feature, name: str) -> tuple[str, Range]:
    """Name and value of the option chosen; the last option (not known) where nothing was."""
    options = _question(feature, name).options
    chosen = next((one for one in options if one.id == feature.answers.get(name)), options[-1])
    assert chosen.value is not None
    return chosen.name, chosen.value


def _measured(feature: Feature, name: str) -> Range:
    """A number as measured, or all that it may be where nobody measured it."""
    answer = feature.answers.get(name)
    if isinstance(answer, (int, float)):
        return exactly(float(answer))
    unsaid = _question(feature, name).unsaid
    assert unsaid is not None
    return unsaid


def _stands_for(question: Question, measured: Range) -> Range:
    """What a measured number stands for, by straight lines between the rows of its table."""
    places = [row.at for row in question.by]
    ends = [
        Range(*(float(np.interp(at, places, [getattr(row.value, end) for row in question.by])) for end in ("low", "expected", "high")))
        for at in (measured.low, measured.expected, measured.high)
    ]  # fmt: skip
    # Between its ends a table may have its most or least.
    ends += [row.value for row in question.by if measured.low <= row.at <= measured.high]
    return Range(min(one.low for one in ends), ends[1].expected, max(one.high for one in ends))


def _given(feature: Feature, gives: str) -> list[tuple[Question, str, Range]]:
    """Questions whose answers are a base or a share of the estimate, with what was answered and its value."""
    found = []
    for one in kind_of(feature).questions:
        if one.gives != gives:
            continue
        if one.kind == "number":
            measured = _measured(feature, one.id)
            told = f"{measured.expected:g} {one.unit}" if one.id in feature.answers else "not said"
            found.append((one, told, _stands_for(one, measured)))
        else:
            found.append((one, *_value(feature, one.id)))
    return found


def _shares(feature: Feature, rise_rad: float) -> tuple[list[Range], list[Symbol]]:
    """What its answers, and a pull that rises, leave of what a feature holds."""
    kind, found, symbols = kind_of(feature), [], []
    for one, told, value in _given(feature, "share"):
        found.append(value)
        symbols.append(symbol(f"k_{one.id}", f"{one.ask.rstrip('?')}: {told}", value, "", one.source or kind.source))
    if kind.lifts and rise_rad > 0:
        found.append(lifted(rise_rad))
        symbols.append(symbol("k_rise", f"pull rising {math.degrees(rise_rad):.0f}°", found[-1], "", "lifts"))
    return found, symbols


def lifted(rise_rad: float) -> Range:
    """What a pull that rises leaves of an anchor in soil or snow.

    >>> lifted(0.0)
    Range(low=1.0, expected=1.0, high=1.0)
    """
    up = math.sin(max(0.0, rise_rad))
    return Range(max(0.0, 1 - 2 * up), max(0.0, 1 - 1.5 * up), max(0.0, math.cos(max(0.0, rise_rad))))


def _tree(feature: Feature, rise_rad: float) -> Estimate:
    """The lesser of the trunk in bending, F = σ·π·d³ / (32·h) (modulus of rupture, FPL Wood Handbook), d without its bark, and the roots,
    about d²/30 kN with d in cm (a rule of cable logging) for a pull near the ground; higher up what overturns it is a moment, too."""
    wood, sigma = _value(feature, "wood")
    diameter, height = _number(feature, "diameter_m"), _number(feature, "strap_height_m")
    shares, told = _shares(feature, rise_rad)
    rule = roots_hold_n(diameter, feature.answers["rooted"] == "deep")
    near = near_ground(height)
    roots = times(rule, exactly(near), *shares)
    trunk = Range(
        *(
            trunk_bending_n(getattr(sigma, end), diameter * getattr(_UNDER_BARK, end), height)
            for end in ("low", "expected", "high")
        )
    )
    low, expected, high = (min(getattr(trunk, end), getattr(roots, end)) for end in ("low", "expected", "high"))
    decides = "roots" if roots.expected <= trunk.expected else "trunk"
    symbols = (
        symbol("d", "trunk diameter at the strap", diameter, "m", "leader"),
        symbol("h", "strap above the ground: what it holds falls with 1/h", height, "m", "leader"),
        symbol("F_rule", "(100·d)²/30 kN, ÷ 2 to × 2 with soil and depth; shallow or wet the lower half", rule, "N", "tree-roots"),
        symbol("k_h", f"{NEAR_GROUND_M:g} m / h, no more than 1", near, "", "tree-height"),
        *told,
        symbol("F_roots", "F_rule · k_h · Π k", roots, "N", "tree-roots"),
        symbol("σ", f"modulus of rupture, green: {wood}", sigma, "Pa", "wood-handbook"),
        symbol("k_bark", "of the diameter over the bark", _UNDER_BARK, "", "bark"),
        symbol("F_trunk", "σ·π·(k_bark·d)³ / (32·h)", trunk, "N", "wood-handbook"),
    )  # fmt: skip
    limit = "the roots decide" if decides == "roots" else "the trunk decides"
    if height > NEAR_GROUND_M or decides == "trunk":
        limit += ": put the strap lower"
    return Estimate(Range(low, expected, high), "F = least of F_roots and F_trunk", symbols, limit=limit)


def near_ground(height_m: float) -> float:
    """Of what roots hold near the ground, what is left with the strap so high: what overturns a tree is the moment at its foot.

    >>> near_ground(0.3), near_ground(1.0)
    (1.0, 0.5)
    """
    return min(1.0, NEAR_GROUND_M / height_m)


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
    """A block on ground that falls θ towards a pull that stands b = a + θ off that ground, a its rise:
    sliding F = W·(μ·cos θ − sin θ) / (cos b + μ·sin b), tipping F = W·(l·cos θ − H·sin θ) / (2·(h·cos b + l·sin b))."""
    length, width, height = (_number(feature, name) for name in ("length_m", "width_m", "height_m"))
    strap, (lies_on, mu) = _number(feature, "strap_height_m"), _value(feature, "lies_on")
    mass = times(exactly(length * width * height), _OF_ITS_BOX, _ROCK_KG_M3)
    weight, falls = mass.map(lambda kg: kg * GRAVITY), _falls_rad(feature)

    def tips(w: float, slope: float) -> float:
        off = max(0.0, rise_rad + slope)
        stands = length * math.cos(slope) - height * math.sin(slope)
        return max(0.0, w * stands / 2 / (strap * math.cos(off) + length * math.sin(off)))

    slide = _slides(weight, mu, falls, rise_rad)
    tip = Range(tips(weight.low, falls.high), tips(weight.expected, falls.expected), tips(weight.high, falls.low))
    holds = Range(
        low=min(slide.low, tip.low), expected=min(slide.expected, tip.expected), high=min(slide.high, tip.high)
    )
    symbols = (
        symbol("m", "volume × density", mass, "kg", "lying-block"),
        symbol("μ", f"on its ground: {lies_on}", mu, "", "lying-mu"),
        _falls_symbol(feature, falls),
        symbol("a", "how far the pull rises; b = a + θ", math.degrees(rise_rad), "°", "geometry"),
        symbol("F_slide", "m·g·(μ·cos θ − sin θ) / (cos b + μ·sin b)", slide, "N", "lying-block"),
        symbol("F_tip", "m·g·(l·cos θ − H·sin θ) / (2·(h·cos b + l·sin b))", tip, "N", "lying-block"),
    )
    limit = "" if feature.answers["lies"] == "lying" else "as if it only lay there; what embedding adds is not counted"
    return _or_nothing(holds, "F = least of F_slide and F_tip", symbols, limit)


def _falls_rad(feature: Feature) -> Range:
    return _measured(feature, "slope_deg").map(math.radians)


def _falls_symbol(feature: Feature, falls: Range) -> Symbol:
    said = "" if "slope_deg" in feature.answers else ", not said"
    return symbol("θ", f"how far the ground falls towards the pull{said}", falls.map(math.degrees), "°", "leader")


def slides_n(weight_n: float, mu: float, falls_rad: float, rise_rad: float) -> float:
    """Pull in newtons that slides a weight on ground that falls towards the pull; it rises so far from the level.

    Balance along and square to the ground; a pull into the ground is counted as along it. Nothing is held where it slides by itself.

    >>> round(slides_n(1.0, 0.5, math.radians(20), math.radians(-20)), 2)
    0.13
    """
    off = max(0.0, rise_rad + falls_rad)
    return max(0.0, weight_n * (mu * math.cos(falls_rad) - math.sin(falls_rad)) / (math.cos(off) + mu * math.sin(off)))


def _slides(weight: Range, mu: Range, falls: Range, rise_rad: float) -> Range:
    return Range(
        slides_n(weight.low, mu.low, falls.high, rise_rad),
        slides_n(weight.expected, mu.expected, falls.expected, rise_rad),
        slides_n(weight.high, mu.high, falls.low, rise_rad),
    )


def _or_nothing(holds: Range, formula: str, symbols: tuple[Symbol, ...], limit: str) -> Estimate:
    """An estimate, unless there is nothing to it."""
    if holds.high <= 0:
        return Estimate(None, why_not="it slides by itself on this slope", symbols=symbols)
    return Estimate(holds, formula, symbols, limit=limit)


def _vehicle(feature: Feature, rise_rad: float) -> Estimate:
    """Friction of the wheels that can not turn: F = m·g·(share·μ·cos θ − sin θ) / (cos b + share·μ·sin b), as of a block."""
    ground, mu = _value(feature, "stands_on")
    braked, share = _value(feature, "braked")
    mass, falls = _number(feature, "mass_kg"), _falls_rad(feature)
    holds = _slides(exactly(mass * GRAVITY), times(mu, share), falls, rise_rad)
    symbols = (
        symbol("μ", ground, mu, "", "vehicle-mu"),
        symbol("m", "mass with what is in it", mass, "kg", "leader"),
        symbol("share", f"wheels that can not turn: {braked.lower()}", share, "", "vehicle-mu"),
        _falls_symbol(feature, falls),
        symbol("a", "how far the pull rises; b = a + θ", math.degrees(rise_rad), "°", "geometry"),
    )
    limit = "the wheels alone: what it is strapped to may hold less"
    return _or_nothing(holds, "F = m·g·(share·μ·cos θ − sin θ) / (cos b + share·μ·sin b)", symbols, limit)


def _rated(feature: Feature, rise_rad: float) -> Estimate:
    return Estimate(None, why_not="enter what it holds, with the basis")


def _by_answers(feature: Feature, rise_rad: float) -> Estimate:
    """What its like holds, times what every answer leaves of it; a pull that it was tested with is held at least."""
    [(base, told, value)] = _given(feature, "base")
    shares, symbols = _shares(feature, rise_rad)
    holds = times(value, *shares)
    of = symbol("F_0", f"{base.ask.rstrip('?')}: {told}", value, "N", base.source or kind_of(feature).source)
    tested = feature.answers.get("tested_kn")
    if isinstance(tested, (int, float)):
        pulled = tested * 1000.0
        symbols.append(symbol("F_t", "pulled to, with nothing seen", pulled, "N", "leader"))
        holds = Range(max(holds.low, pulled), max(holds.expected, pulled), max(holds.high, pulled))
    formula = " · ".join(["F_0", *(one.symbol for one in symbols if one.symbol.startswith("k_"))])
    if tested is not None:
        formula = f"most of F_t and {formula}"
    limit = "by what its like holds: a pull test would tell" if kind_of(feature).by_standard and tested is None else ""
    return Estimate(holds, f"F = {formula}", (of, *symbols), limit=limit)


# Slopes of the table's columns, as angles of the pull.
_COLUMNS = {
    "1-4": math.atan(1 / 4),
    "1-3": math.atan(1 / 3),
    "1-2": math.atan(1 / 2),
    "1-1": math.pi / 4,
    "vertical": math.pi / 2,
}


def _deadman(feature: Feature, rise_rad: float) -> Estimate:
    """Holding pressure by depth and slope of the pull × face area; straight lines between the table's depths and slopes. The pull is the
    rig's own, or as steep as it was said to be, whichever holds less."""
    table, said = catalogue().deadman, _COLUMNS.get(str(feature.answers.get("slope")), 0.0)
    steep, depth = max(rise_rad, said), _number(feature, "depth_m")
    area = _number(feature, "face_length_m") * _number(feature, "face_height_m")
    if depth < table[0].depth_m:
        why = f"the table starts at {table[0].depth_m:g} m of mean depth; dig deeper, or enter a rating with its basis"
        return Estimate(None, why_not=why)
    by_slope = [
        np.interp(depth, [row.depth_m for row in table], [row.pressure_pa[slope] for row in table])
        for slope in _COLUMNS
    ]
    pressure = float(np.interp(steep, list(_COLUMNS.values()), by_slope))
    shares, told = _shares(feature, rise_rad)
    symbols = (
        symbol("p", "holding pressure by depth and slope, in loam", pressure, "Pa", "deadman"),
        symbol("depth", "mean depth of the face", depth, "m", "leader"),
        symbol("a", "how far the pull rises", math.degrees(steep), "°", "geometry"),
        symbol("A", "bearing face", area, "m²", "leader"),
        *told,
    )
    limit = "the ground alone: the log and its sling may hold less"
    return Estimate(times(exactly(pressure * area), *shares), "F = p · A · k_wet", symbols, limit=limit)


def _person(feature: Feature, rise_rad: float) -> Estimate:
    footing, share = _value(feature, "footing")
    weight = _number(feature, "mass_kg") * GRAVITY
    symbols = (
        symbol("k", footing, share, "", "person"),
        symbol("W", "body weight", weight, "N", "leader"),
    )
    return Estimate(times(exactly(weight), share), "F = k · W", symbols)


_ESTIMATES: dict[str, Callable[[Feature, float], Estimate]] = {
    "tree": _tree, "block": _block, "vehicle": _vehicle, "rating": _rated, "answers": _by_answers, "deadman": _deadman, "person": _person,
}  # fmt: skip
