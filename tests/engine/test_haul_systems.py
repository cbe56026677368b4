"""Facts of mechanics that hold for every haul system, shipped or stacked at random."""

import itertools
import json

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rigging.__main__ import main, read_file
from rigging.catalogue import catalogue
from rigging.catalogue.haul import HaulSystem, add_redirect, advantage, bends, drop_redirect, settled, stack
from rigging.mechanics.motion import stroke
from rigging.mechanics.tension import solve_tensions
from rigging.quantities.faults import Refused
from rigging.quantities.ranges import exactly

SHIPPED = list(catalogue().systems.values())
STACKABLE = [catalogue().systems[name] for name in ("drop-2", "z-3", "redirect-1", "z-3-redirect", "two-on-two-4")]


@st.composite
def built(draw: st.DrawFn) -> HaulSystem:
    """A shipped system, with up to two more stacked on it and redirects added."""
    system = draw(st.sampled_from(SHIPPED))
    for _ in range(draw(st.integers(0, 2))):
        system = stack(system, draw(st.sampled_from(STACKABLE)))
    return add_redirect(system) if draw(st.booleans()) else system


def every(system: HaulSystem, eta: float) -> dict:
    return {place.id: exactly(eta) for place in bends(system)}


@settings(max_examples=80)
@given(built())
def test_virtual_work_equals_statics_without_friction(system):
    found = advantage(system, every(system, 1.0))
    assert found.actual.expected == pytest.approx(found.ideal, rel=1e-9)


@settings(max_examples=60)
@given(built(), st.floats(0.4, 1.0))
def test_forces_balance_on_every_node(system, eta):
    network, motion = settled(system, every(system, eta))
    tensions = solve_tensions(network, motion)
    pulls = dict.fromkeys(network.nodes, 0.0)
    for row, values in zip(network.strands, tensions.strands, strict=True):
        for strand, tension in zip(row, values, strict=True):
            pulls[strand.start] += strand.along[0] * tension
            pulls[strand.end] -= strand.along[0] * tension
    for node in (network.nodes[name] for name in network.travellers if name != "hand"):
        assert pulls[node.id] == pytest.approx(0, abs=1e-9)
    anchors = sum(pulls[node.id] for node in network.of_kind("anchor"))
    hand = 1.0 if system.hand == "away" else -1.0
    # Load, hand and anchors together: the whole rig is in equilibrium.
    assert pulls[system.load] == pytest.approx(hand - anchors, abs=1e-9)


@settings(max_examples=60)
@given(built(), st.floats(0.4, 0.99), st.floats(0.5, 0.99))
def test_more_friction_never_lowers_the_pull_a_hand_needs(system, eta, less):
    good = advantage(system, every(system, eta)).actual.expected
    assert advantage(system, every(system, eta * less)).actual.expected <= good + 1e-9


@settings(max_examples=40)
@given(built())
def test_worse_at_any_single_bend_never_helps(system):
    base = advantage(system, every(system, 0.9)).actual.expected
    for place in bends(system):
        worse = advantage(system, every(system, 0.9) | {place.id: exactly(0.5)})
        assert worse.actual.expected <= base + 1e-9


@pytest.mark.parametrize(("low", "high"), list(itertools.product(["drop-2", "z-3"], repeat=2)))
def test_stacking_multiplies_ideal_and_actual(low, high):
    base, top = catalogue().systems[low], catalogue().systems[high]
    both = stack(base, top)
    for eta in (1.0, 0.9, 0.5):
        product = advantage(base, every(base, eta)).actual.expected * advantage(top, every(top, eta)).actual.expected
        assert advantage(both, every(both, eta)).actual.expected == pytest.approx(product)


def test_a_redirect_adds_nothing_and_costs_one_bend():
    for system in SHIPPED:
        turned = add_redirect(system)
        plain = advantage(system, every(system, 0.9))
        found = advantage(turned, every(turned, 0.9))
        assert found.ideal == pytest.approx(plain.ideal)
        assert found.actual.expected == pytest.approx(0.9 * plain.actual.expected)
        straight = drop_redirect(turned)
        assert straight is not None
        assert advantage(straight, every(straight, 0.9)).actual.expected == pytest.approx(plain.actual.expected)


def test_the_last_redirect_bears_both_strands():
    system = catalogue().systems["z-3-redirect"]
    assert advantage(system, every(system, 0.9)).anchors["R"].expected == pytest.approx(1.9)


def test_a_compound_system_runs_out_in_its_piggyback_first():
    """On 10 m: G is 9 m from its anchor and creeps at 1, H is 8 m from its anchor and runs at 3 (9:1)."""
    for name, expected, strand in (("z-3", 9 - 0.4, {"G", "A"}), ("three-on-three-9", (8 - 0.4) / 3, {"H", "C"})):
        system = catalogue().systems[name]
        network, motion = settled(system, every(system, 1.0))
        found = stroke(network, motion, 0.4 / 10)
        assert found.rise_m * 10 == pytest.approx(expected)
        assert set(found.meets) == strand


def test_an_anchor_further_back_lengthens_the_piggyback():
    system = catalogue().systems["three-on-three-9"]
    back = system.model_copy(update={"station": {**system.station, "C": 1.5}})
    strokes = [stroke(*settled(s, every(s, 1.0)), 0.04).rise_m for s in (system, back)]
    assert strokes[1] > strokes[0]


NOTATION = {"id": "mine", "name": "mine", "nodes": {"A": "anchor", "G": "grab", "H": "grab", "L": "load"}}
NINE = [["L", "G"], ["G", "A", "G", "H"], ["H", "A", "H", "hand"]]


def test_stations_left_out_are_found_from_what_must_pull():
    for nodes in (("A", "G", "H", "L"), ("A", "H", "G", "L")):
        ordered = {name: NOTATION["nodes"][name] for name in nodes}
        system = HaulSystem.model_validate({**NOTATION, "nodes": ordered, "ropes": NINE})
        assert advantage(system, every(system, 0.9)).actual.expected == pytest.approx(2.71**2)


@pytest.mark.parametrize(
    ("ropes", "said"),
    [
        ([["L", "G"], ["G", "A", "G", "hand"], ["L", "A"], ["H", "A"]], "lock"),
        ([["L", "G"], ["G", "A", "H"], ["H", "hand"]], "does not raise|push|more than one"),
        ([["L", "G"], ["G", "H"], ["A", "H", "G", "A", "hand"]], "does not raise|push|lock|more than one"),
        ([["L", "G", "hand"], ["H", "A", "H"]], "lock|more than one"),
    ],
)
def test_what_does_not_move_as_one_mechanism_is_refused_with_the_reason(ropes, said):
    system = HaulSystem.model_validate({**NOTATION, "ropes": ropes})
    with pytest.raises(Refused, match=said):
        advantage(system, every(system, 0.9))


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"ropes": [["L", "hand"]]}, "no rope reaches node A"),
        ({"ropes": [*NINE[:2], ["H", "X", "H", "hand"]]}, "names node X"),
        ({"ropes": [*NINE[:2], ["H", "A", "H"]]}, "hand must hold one rope end"),
        ({"nodes": {"A": "anchor", "L": "anchor"}, "ropes": [["L", "A", "hand"]]}, "one load"),
        ({"ropes": [*NINE, ["A", "A"]]}, "twice in a row"),
        ({"station": {"G": -1}, "ropes": NINE}, "greater than or equal to 0"),
    ],
)
def test_wrong_notation_is_refused_by_name(tmp_path, capsys, change, said):
    file = tmp_path / "system.json"
    file.write_text(json.dumps({**NOTATION, **change}))
    assert main(["haul", str(file)]) == 2
    error = capsys.readouterr().err
    assert said in error
    assert "Traceback" not in error


@pytest.mark.parametrize(
    ("arguments", "said"),
    [
        (["haul", "z-3", "--every", "1.2"], "outside 0 to 1"),
        (["haul", "z-3", "--every", "0"], "outside 0 to 1"),
        (["haul", "z-3", "--at", "Q=0.9"], "no bend at 'Q'"),
        (["haul", "z-3", "--at", "A=gold"], "neither a number nor a known kind"),
        (["haul", "nowhere.yaml"], "nowhere.yaml"),
        (["analyse", "nowhere.json"], "nowhere.json"),
    ],
)
def test_the_command_line_names_the_fault_and_exits_2(capsys, arguments, said):
    assert main(arguments) == 2
    assert said in capsys.readouterr().err


def test_the_words_no_and_on_in_a_notation_are_names(tmp_path):
    """YAML 1.1 takes them for truths; 1.2, and whoever writes a rig down, for words."""
    file = tmp_path / "system.yaml"
    file.write_text(
        "id: on\nname: NO\nnodes: {NO: anchor, on: grab, L: load}\nropes:\n  - [L, on]\n  - [on, NO, on, hand]\n"
    )
    found = HaulSystem.model_validate(read_file(str(file)))
    assert (found.id, found.name, set(found.nodes)) == ("on", "NO", {"NO", "on", "L"})
