"""Drawn knots against an independent library of knots (spherogram, with knot Floer homology for what tells them apart): types, what falls to nothing,
faults that are something else."""

import dataclasses
import json
import subprocess
import sys

import numpy as np
import pytest
import spherogram
from hypothesis import given, settings
from hypothesis import strategies as st

from rigging.learning.curves import THICK, Strand, code_of, cuts_itself, passes, smooth
from rigging.learning.knots import Knot, amiss, knot, knots, smoothed
from rigging.learning.needs import knots_needed
from rigging.learning.shapes import twisted
from rigging.learning.tight import set_of, tightened
from rigging.quantities.faults import Refused
from rigging.telling.learning.drawn import drawings_of, drawn_as
from tests.plans import demo_plan

# Genus, whether the complement fibers, and the rank of knot Floer homology, from memory of knot tables: they tell these from one another and from nothing.
TYPES = {"3_1": (1, True, 3), "4_1": (1, True, 5), "5_1": (2, True, 5), "5_2": (1, False, 7), "7_1": (3, True, 7)}
# Tied in the bight, round a post, or to be pulled out: without the bight or the post nothing is left (any text on knots).
NOTHING_LEFT = (
    "overhand-loop", "figure-eight-loop", "figure-nine-loop", "butterfly-loop", "clove", "girth-hitch", "munter", "prusik-8", "french-8", "round-turn",
    "tandem-prusik-8", "long-bight-overhand", "slipped-overhand", "slipped-figure-eight", "klemheist-8", "super-munter", "wrap-pull", "basket-loop",
    "figure-eight-threaded", "tube-threaded", "rack-4-threaded",
)  # fmt: skip


def type_of(code: list) -> tuple[int, bool, int] | None:
    """What tells a knot from others; None for nothing at all."""
    if not code:
        return None
    link = spherogram.Link(code)
    link.simplify("global")
    if not link.crossings:
        return None
    found = link.knot_floer_homology()
    return found["seifert_genus"], found["fibered"], found["total_rank"]


@pytest.mark.parametrize(
    ("id", "name"), [("overhand", "3_1"), ("figure-eight", "4_1"), ("double-overhand", "5_1"), ("figure-nine", "5_2")]
)
def test_stoppers_are_the_knots_of_the_tables(id: str, name: str) -> None:
    """Closed outside: an overhand is the trefoil, a figure-eight 4_1, a double overhand 5_1, a figure-nine 5_2 (from memory)."""
    assert type_of(knot(id).code) == TYPES[name]


@pytest.mark.parametrize("id", NOTHING_LEFT)
def test_what_is_slipped_or_tied_round_a_post_falls_to_nothing(id: str) -> None:
    assert type_of(knot(id).code) is None


def test_a_bowline_needs_an_end_and_holds_by_its_collar() -> None:
    """It can not be tied without an end, so it is a knot when closed; with the standing part in front of its collar it is none."""
    assert type_of(knot("bowline").code) is not None
    assert type_of(code_of(knot("bowline").drawn(fault="not-round"))) is None


@pytest.mark.parametrize(
    "id", ["water-knot", "figure-eight-bend", "flat-overhand", "double-fisherman", "triple-fisherman"]
)
def test_each_rope_of_a_bend_is_tied(id: str) -> None:
    """One rope of a water knot or flat overhand is an overhand, of a figure-eight bend an eight, of a double fisherman a double overhand, of a triple one
    a triple one."""
    alone = {
        "water-knot": "3_1",
        "flat-overhand": "3_1",
        "figure-eight-bend": "4_1",
        "double-fisherman": "5_1",
        "triple-fisherman": "7_1",
    }
    for strand in knot(id).drawn():
        assert type_of(code_of([strand])) == TYPES[alone[id]]
    assert len(spherogram.Link(knot(id).code).link_components) == 2


@pytest.mark.parametrize("one", knots().values(), ids=knots().keys())
def test_a_drawing_is_whole(one: Knot) -> None:
    """No strand runs through another at any stage or in any fault; smooth it crosses as its points do; seen from behind it is the same knot."""
    assert amiss(one) == []
    assert len(one.stages) >= 2 and one.stages[-1].upto == 1 and len(one.faults) >= 2
    points, drawn = (
        spherogram.Link(one.code or [(1, 1, 2, 2)]),
        spherogram.Link(code_of(smoothed(one.drawn())) or [(1, 1, 2, 2)]),
    )
    for link in (points, drawn):
        link.simplify("global")
    assert len(points.crossings) == len(drawn.crossings)
    behind = tuple(dataclasses.replace(strand, path=strand.path * np.array([-1, 1, -1])) for strand in one.drawn())
    # A bowline's end lies inside its loop: led out of the drawing it passes before it, from whichever side.
    if len([strand for strand in behind if not strand.solid]) == 1 and one.id != "bowline":
        assert type_of(code_of(behind)) == type_of(one.code)


@pytest.mark.parametrize("one", knots().values(), ids=knots().keys())
def test_a_fault_is_drawn_otherwise_than_the_right_form(one: Knot) -> None:
    """By its rope's crossings; where the rope alone is not knotted, by what it goes round and on which side."""
    by_itself = bool(one.code) and not any(strand.closed for strand in one.strands)
    read = code_of if by_itself and one.id != "wrap-pull" else passes
    lies = [read(one.drawn()), *(read(one.drawn(fault=fault.id)) for fault in one.faults)]
    assert all(lies[a] != lies[b] for a in range(len(lies)) for b in range(a))


@pytest.mark.parametrize("one", knots().values(), ids=knots().keys())
def test_it_is_pulled_where_it_says_and_outwards(one: Knot) -> None:
    assert any(load.meant for load in one.loads)
    for load in one.loads:
        for at, way in one.pulls(load.pulled):
            assert abs(np.linalg.norm(way) - 1) < 1e-9
            # On from where it ends nothing of it lies in the way.
            ropes = [strand.path for strand in smoothed(one.drawn()) if not strand.solid]
            assert min(np.linalg.norm(path - (at + 1.5 * way), axis=1).min() for path in ropes) > THICK
    with pytest.raises(Refused, match="has no"):
        one.pulls(["third hand"])


def test_what_a_device_is_named_after_is_not_drawn_in_its_place() -> None:
    """The catalogue's figure-eight is a device, not the stopper knot; what has no drawing opens none."""
    assert (
        drawn_as("Figure-eight descender") == "figure-eight-threaded"
        and drawn_as("Figure-eight loop") == "figure-eight-loop"
    )
    assert drawn_as("Munter hitch") == "munter" and drawn_as("Rack, 6 bars") == "rack-4-threaded"
    # By its id or its name, whoever speaks of it.
    assert [one.id for one in drawings_of(["8 mm prusik", "prusik-8", None, "bowline-round"])] == [
        "prusik-8",
        "bowline",
    ]
    assert {"super-munter", "prusik-8", "figure-eight-loop"} <= set(knots_needed(demo_plan()))
    assert drawn_as("Toothed clamp") == "" and drawn_as("Something of the team's own") == ""


def test_devices_are_threaded_as_the_trade_has_it() -> None:
    """Common practice, no source: an eight's rope goes in by its ring in front and round the neck; a tube's bight is held by the connector; a rack's rope
    changes sides at every bar."""
    [rope] = passes(knot("figure-eight-threaded").drawn())
    assert [over for what, over in rope if what == "big ring"] == [True, False, False, True] and ("neck", True) in rope
    [rope] = passes(knot("rack-4-threaded").drawn())
    assert [over for what, over in rope if what.endswith("bar")][:4] == [True, False, True, False]
    [rope] = passes(knot("tube-threaded").drawn())
    assert sum(what == "connector" for what, _ in rope) == 2 and sum(what == "slot" for what, _ in rope) == 4


def test_a_wrong_crossing_is_found() -> None:
    """The end of a figure-eight laid over where it should go under: no longer the figure-eight."""
    assert type_of(code_of([Strand("rope", twisted(2, [1.5, 1.5]))])) is None
    assert type_of(code_of(knot("overhand").drawn(fault="other-side"))) is None


def test_a_path_that_cuts_itself_is_found() -> None:
    assert cuts_itself(
        [Strand("rope", np.array([[-3, 0, 0], [3, 0, 0], [3, 3, 0], [0, 3, 0], [0, -3, 0.1]], dtype=float))]
    ) == ("rope", "rope")
    flat = [Strand("rope", np.array([[-3, 0, 0], [3, 0, 0], [3, 3, 0], [0, 3, 0], [0, -3, 0]], dtype=float))]
    with pytest.raises(Refused, match="one height"):
        code_of(flat)


@given(st.integers(0, 10_000))
@settings(max_examples=25)
def test_any_curve_has_a_code_that_is_planar_and_moves_with_it(seed: int) -> None:
    """Random closed tangles: the library takes the code as planar, and turning the drawing in its plane changes nothing of the knot."""
    chosen = np.random.default_rng(seed)
    path = chosen.uniform(-3, 3, (9, 3)) * np.array([1, 1, 2])
    strand = Strand("rope", path, closed=True)
    code = code_of([strand])
    angle = chosen.uniform(0, 6)
    turn = np.array([[np.cos(angle), -np.sin(angle), 0], [np.sin(angle), np.cos(angle), 0], [0, 0, 1]])
    if code:
        link = spherogram.Link(code)
        assert len(link.crossings) == len(code)
        assert type_of(code) == type_of(code_of([dataclasses.replace(strand, path=path @ turn.T)]))


def test_a_smooth_curve_goes_through_its_points() -> None:
    path = np.array([[0, 0, 0], [1, 0, 0], [1, 1, 1], [0, 1, 0]], dtype=float)
    curve = smooth(path)
    assert all(np.linalg.norm(curve - point, axis=1).min() < 1e-9 for point in path)


def test_the_command_line_prints_the_codes() -> None:
    told = subprocess.run(
        [sys.executable, "-m", "rigging", "knot", "figure-eight"], capture_output=True, text=True, check=True
    )
    found = json.loads(told.stdout)
    assert type_of([tuple(one) for one in found["crossings"]]) == TYPES["4_1"]
    assert {"name", "stages", "pulled", "faults"} <= set(found)
    missing = subprocess.run(
        [sys.executable, "-m", "rigging", "knot", "granny"], capture_output=True, text=True, check=False
    )
    assert missing.returncode == 2 and "bowline" in missing.stderr


@pytest.mark.parametrize("one", [one for one in knots().values() if set_of(one)], ids=lambda one: one.id)
def test_set_it_is_the_same_knot_drawn_short_and_nothing_runs_through_anything(one: Knot) -> None:
    found = set_of(one)
    assert found is not None and cuts_itself(found) is None
    for tight, drawn in zip(found, one.drawn(), strict=True):
        if drawn.solid:
            continue
        assert type_of(code_of([tight])) == type_of(code_of([drawn]))
        assert length(tight.path) < length(drawn.path)
        assert np.allclose(tight.path[[0, -1]], drawn.path[[0, -1]], atol=0.01)
    assert type_of_all(found) == type_of_all(one.drawn())


def length(path: np.ndarray) -> float:
    return float(np.linalg.norm(np.diff(path, axis=0), axis=1).sum())


def type_of_all(strands: tuple[Strand, ...]) -> object:
    """Of several ropes how often each passes round the others, as the library has it; of one its type."""
    code = code_of(strands)
    if sum(not one.solid for one in strands) == 1:
        return type_of(code)
    return sorted(abs(one) for row in spherogram.Link(code).linking_matrix() for one in row)


def test_a_knot_is_set_by_drawing_it_short() -> None:
    """Worked out here and now, an overhand is the one that is kept."""
    tight, kept = tightened(knot("overhand")), set_of(knot("overhand"))
    assert kept is not None and type_of(code_of(tight)) == TYPES["3_1"]
    assert abs(length(tight[0].path) - length(kept[0].path)) < 0.3
    assert set_of(knot("munter")) is None
