"""The stroke of a haul system against its motion stepped: the load is raised millimetre by millimetre, every piece of rope keeps
its length (solved anew each step from the absolute distances), until two nodes joined by a strand meet."""

import itertools
import json
import random

import numpy as np
import pytest

from rigging.__main__ import main
from rigging.catalogue import catalogue
from rigging.catalogue.haul import HAND, HaulSystem, advantage, bends, settled, stack, stroke_of
from rigging.quantities.faults import Refused
from rigging.quantities.ranges import exactly

SYSTEMS = catalogue().systems
STEP_M = 0.004


def stepped(system: HaulSystem, reach: float, clearance: float) -> tuple[float, float] | None:
    """The rise until two nodes meet, and rope through the hands until then; None when nothing has met after ten reaches."""
    network, _ = settled(system, {place.id: exactly(1.0) for place in bends(system)})
    away = 1.0 if system.hand == "away" else -1.0
    at = {name: reach * node.at[0] for name, node in network.nodes.items()}
    at[HAND] = 50 * reach * away
    moving = [*system.moving, HAND]
    length = [sum(abs(at[a] - at[b]) for a, b in itertools.pairwise(piece)) for piece in system.ropes]
    strands = [pair for piece in system.ropes for pair in itertools.pairwise(piece) if HAND not in pair]
    gaps = {pair: abs(at[pair[0]] - at[pair[1]]) for pair in strands}
    rise, hand = 0.0, at[HAND]
    while rise < 10 * reach:
        at[system.load] += STEP_M
        rise += STEP_M
        for _ in range(2):
            rows, wrong = np.zeros((len(system.ropes), len(moving))), np.zeros(len(system.ropes))
            for number, piece in enumerate(system.ropes):
                for a, b in itertools.pairwise(piece):
                    sign = np.sign(at[b] - at[a]) or 1.0
                    wrong[number] += abs(at[b] - at[a])
                    for name, part in ((b, sign), (a, -sign)):
                        if name in moving:
                            rows[number, moving.index(name)] += part
                wrong[number] -= length[number]
            for name, change in zip(moving, np.linalg.lstsq(rows, -wrong, rcond=None)[0], strict=True):
                at[name] += change
        for pair in strands:
            gap = abs(at[pair[0]] - at[pair[1]])
            if gap <= clearance and gap < gaps[pair] - 1e-6:
                return rise, abs(at[HAND] - hand)
    return None


def staggered(system: HaulSystem, luck: random.Random) -> HaulSystem:
    """The same with its anchors set back by up to 60 % of the reach, each by itself."""
    back = {name: round(1 + luck.uniform(0, 0.6), 2) for name, kind in system.nodes.items() if kind == "anchor"}
    return system.model_copy(update={"station": {**system.station, **back}})


def compared(system: HaulSystem) -> bool:
    """Whether a stroke was compared: both ways of finding it agree within a hundredth."""
    reach, clearance = 6.0, 0.4
    found = stroke_of(system, reach, clearance)
    if found is None or found.rise_m < 0.3:
        return False
    by_steps = stepped(system, reach, clearance)
    assert by_steps is not None
    rise, through = by_steps
    assert found.rise_m == pytest.approx(rise, rel=0.01, abs=1.5 * STEP_M)
    ideal = advantage(system, {place.id: exactly(1.0) for place in bends(system)}).ideal
    assert through == pytest.approx(ideal * rise, rel=0.01)
    return True


@pytest.mark.parametrize("id", SYSTEMS)
def test_every_system_of_the_catalogue(id):
    system = SYSTEMS[id]
    luck = random.Random(id)
    assert compared(system) or stroke_of(system, 6.0, 0.4) is None
    compared(staggered(system, luck))


@pytest.mark.parametrize("part", range(4))
def test_two_hundred_random_stacks(part):
    luck, done = random.Random(part), 0
    while done < 50:
        try:
            system = stack(luck.choice(list(SYSTEMS.values())), luck.choice(list(SYSTEMS.values())))
            if luck.random() < 0.5:
                system = staggered(system, luck)
            done += compared(system)
        except (Refused, ValueError):
            continue


def test_nine_to_one_and_two_on_three_in_a_six_metre_bench_by_hand(capsys):
    """Grab set 0.1 of the reach back, the second one 0.2, clearance 0.4 m. 9:1: H is 4.8 m from its anchor and comes three times as
    fast as the load: (4.8 − 0.4) / 3 = 1.47 m. 2 on 3 alike. With the second anchor 2.4 m further back: (7.2 − 0.4) / 3 = 2.27 m."""
    for id in ("three-on-three-9", "two-on-three-6"):
        assert main(["haul", id, "--reach", "6", "--clearance", "0.4"]) == 0
        told = json.loads(capsys.readouterr().out)["stroke"]
        assert told["rise_m"] == pytest.approx((4.8 - 0.4) / 3)
        assert sorted(told["meets"]) == ["C", "H"]
        back = SYSTEMS[id].model_copy(update={"station": {**SYSTEMS[id].station, "C": 1.4}})
        assert stroke_of(back, 6.0, 0.4).rise_m == pytest.approx((7.2 - 0.4) / 3)


@pytest.mark.parametrize(
    ("words", "said"), [(["--reach", "0"], "above 0"), (["--reach", "5", "--clearance", "9"], "0 to 5")]
)
def test_a_reach_that_is_none_is_refused(capsys, words, said):
    assert main(["haul", "z-3", *words]) == 2
    assert said in capsys.readouterr().err
