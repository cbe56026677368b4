"""Drills that the engine sets and marks: one right answer each, by the core's own command line; wrong ones that are wrong; none refused."""

import contextlib
import io
import itertools
import json
import math
import random
import re

import pytest
from pydantic_core import to_json

from rigging.__main__ import main
from rigging.catalogue import catalogue
from rigging.learning.drills import running
from rigging.learning.drills.drill import LEVELS
from rigging.learning.drills.skills import SKILLS, drill, in_turn
from rigging.learning.drills.tying import CLOVE
from rigging.learning.knots import knot
from rigging.procedures.edits import perform
from rigging.quantities.faults import Refused
from rigging.quantities.units import Wording
from rigging.telling.learning.drills import drill_report, marked_report, round_report

# Five thousand of them by seed.
SEEDS = 70
UNITS = (Wording(), Wording("lbf", "ft"))


def printed(*arguments: str) -> dict:
    """What the core's command line prints."""
    told = io.StringIO()
    with contextlib.redirect_stdout(told):
        assert main(list(arguments)) == 0
    return json.loads(told.getvalue())


@pytest.fixture
def by_command(tmp_path):
    """The same question put to the command line."""

    def ask(command) -> dict:
        file = tmp_path / "asked.json"
        file.write_bytes(to_json(command.file))
        return printed(*(str(file) if one == "FILE" else one for one in command.arguments))

    return ask


def answer(one):
    return one.options[one.right[0]]


@pytest.mark.parametrize("skill", SKILLS)
def test_every_drill_has_one_right_answer_in_words_that_tell_it_from_the_wrong_ones(skill):
    seen = set()
    for level, seed in itertools.product(LEVELS, range(SEEDS)):
        one = drill(skill, seed, level)
        assert one == drill(skill, seed, level)
        told = [drill_report(one, say) for say in UNITS]
        for report in told:
            assert len(set(report.options)) == len(report.options) >= 2, (skill, seed, level, report.options)
            assert all(report.options) and report.question and all(report.because)
            assert not re.search(r"\bnan\b|\binf\b|None|\{|\}", " ".join([report.question, *report.options, *report.because, *report.facts]))  # fmt: skip
        assert sorted(one.right) == sorted(set(one.right)) and all(0 <= n < len(one.options) for n in one.right)
        assert len(one.right) in (1, len(one.options))
        assert one.marks(one.right) and not one.marks(tuple((n + 1) % len(one.options) for n in one.right))
        seen.add((told[0].question, tuple(sorted(told[0].options)), repr(told[0].shown)))
    assert len(seen) >= 4


def test_no_two_alike_in_a_row():
    luck = random.Random(5)
    for seed in range(60):
        asked = [(luck.choice(("clove", "rope-end", "order", "ideal")), luck.choice(LEVELS)) for _ in range(12)]
        found = in_turn(asked, seed)
        assert [one.skill for one in found] == [skill for skill, _ in asked]
        for before, one in itertools.pairwise(found):
            assert (before.skill, before.asks, before.sketch) != (one.skill, one.asks, one.sketch)
    # Whoever asks twice for the same gets the same.
    assert in_turn(asked, 3) == in_turn(asked, 3)


@pytest.mark.parametrize("seed", range(12))
@pytest.mark.parametrize("level", LEVELS)
def test_what_is_right_of_a_haul_is_what_the_command_line_prints(level, seed, by_command):
    for skill in ("ideal", "actual", "haulers", "stuck", "good-pulley", "rope-end"):
        one = drill(skill, seed, level)
        told = by_command(one.command)
        right = answer(one)
        if skill == "ideal":
            assert right == pytest.approx(told["ideal"])
        elif skill == "actual":
            assert right == pytest.approx(told["actual"]["expected"], abs=0.0501)
            # What is wrong is no rounding of it.
            assert all(abs(other - told["actual"]["expected"]) > 0.1 for other in one.options if other != right)
        elif skill == "haulers":
            hand_n = one.asks["mass_kg"] * 9.80665 / told["actual"]["expected"]
            assert right == math.ceil(hand_n / catalogue().people.sustained_n.expected)
        elif skill == "stuck":
            most = one.asks["count"] * catalogue().people.heave_n.high * told["actual"]["high"] / 1000
            assert right == pytest.approx(most, abs=0.051)
        elif skill == "good-pulley":
            best = told["actual"]["expected"]
            for other in one.options:
                if other != right:
                    less = printed("haul", one.asks["system"], "--every", "carabiner", "--at", f"{other}=ball-bearing-pulley")  # fmt: skip
                    assert less["actual"]["expected"] < best
        else:
            assert told["ideal"] % 2 == (1 if right == "load" else 0) or one.works["system"].endswith("redirect")


@pytest.mark.parametrize("seed", range(15))
@pytest.mark.parametrize("level", LEVELS)
def test_what_holds_is_what_the_command_line_prints(level, seed, by_command):
    for skill in ("holds-now", "if-it-goes", "alone", "hands-off", "bench"):
        one = drill(skill, seed, level)
        told, right = by_command(one.command), answer(one)
        if skill == "if-it-goes":
            far = told["without"][one.asks["gone"]]
            assert (right is None) == (far is None) and (far is None or right == pytest.approx(far, abs=0.05))
            assert all((other is None) != (far is None) or abs((other or 0) - (far or 0)) > 0.1 for other in one.options if other != right)  # fmt: skip
        elif skill == "alone":
            assert right in told["single_points"]
            assert not set(told["single_points"]) & {other for other in one.options if other != right}
        elif skill in ("hands-off", "bench"):
            far = told["drop_m"]
            if skill == "bench":
                assert far is not None and far < 0.5
            else:
                assert (right is None) == (far is None) and (far is None or right == pytest.approx(far, abs=0.05))
        else:
            grip = {"device": "device-tie", "ratchet": "ratchet-cord", "brake": "brake-cord", "belay": "belay-cord"}
            bears = set(told["holds"])
            assert right == "hands" or grip[right] in bears
            assert not {grip.get(other, "") for other in one.options if other != right} & bears or right == "hands"


@pytest.mark.parametrize("seed", range(15))
@pytest.mark.parametrize("level", LEVELS)
def test_the_leg_that_sees_most_is_the_one_of_the_command_line(level, seed, by_command):
    one = drill("leg-swing", seed, level)
    told = by_command(one.command)["tensions"]
    names = ("left", "right") if len(told) == 2 else ("left", "middle", "right")
    assert answer(one) == names[told.index(max(told))]
    if level == 1 and one.asks["swing_deg"]:
        # Alike legs, swung to one side: the other side's leg takes it.
        assert answer(one) == ("left" if one.asks["swing_deg"] > 0 else "right")


@pytest.mark.parametrize("seed", range(40))
def test_in_any_other_order_a_step_is_refused_or_the_rig_is_another(seed):
    one = drill("order", seed, 1 + seed % 3)
    steps = [running.step_of(option) for option in one.options]
    ends = None
    for order in itertools.permutations(range(len(steps))):
        now = steps[one.right[0]].found
        try:
            for number in order:
                for made in steps[number].made:
                    now = perform(now.state, made.edit)
        except Refused:
            assert order != one.right
            continue
        if order == one.right:
            ends = now.state
        else:
            assert now.state != steps[one.right[-1]].after.state
    assert ends == steps[one.right[-1]].after.state


@pytest.mark.parametrize("left_out", sorted(running._LEFT_OUT))
def test_what_is_missing_is_what_the_check_says(left_out, by_command):
    found = next(one for seed in range(600) if (one := drill("missing", seed, 2)).asks["left_out"] == left_out)
    told = by_command(found.command)["lines"]
    right = answer(found)
    line = next(line for line in told if line["id"] == right.id)
    assert line["level"] == right.level != "note"
    others = {one.kind for one in found.options if one is not right}
    assert not others & {line["id"].partition(":")[0] for line in told if line["level"] != "note"}


def test_the_rest_by_sums_of_their_own():
    for seed in range(40):
        one = drill("redirect", seed, 1 + seed % 3)
        half = math.radians(one.asks["angle_deg"]) / 2
        assert answer(one) == pytest.approx(2 * one.asks["pull_kn"] * math.cos(half), abs=0.005)
        one = drill("rangefinder", seed, 1 + seed % 3)
        rise = math.radians(one.asks["rise_deg"])
        level, up = answer(one)
        assert math.hypot(level, up) == pytest.approx(one.asks["distance_m"], abs=0.1)
        assert math.atan2(up, level) == pytest.approx(rise, abs=0.01)
        one = drill("keeps-most", seed, 1 + seed % 3)
        assert answer(one) == max(one.options, key=lambda id: catalogue().knots[id].keeps.expected)
        one = drill("slips-first", seed, 1 + seed % 3)
        assert answer(one) == min(one.options, key=lambda id: catalogue().hitches[id].slip_n.expected)
        one = drill("least-anchor", seed, 1 + seed % 3)
        held, needed = one.works["held_n"], one.works["needed_n"]
        assert held[answer(one)] == min(far for far in held.values() if far >= needed)
        one = drill("knot-fault", seed, 1 + seed % 3)
        assert (one.sketch.fault or "") == answer(one) and one.sketch.knot == one.asks["knot"]
        assert set(one.options) == {"", *(fault.id for fault in knot(one.asks["knot"]).faults)}


def test_a_clove_is_drawn_from_where_the_rope_comes():
    for seed in range(20):
        one = drill("clove", seed, 1)
        from_end = "tail" if one.asks["longer"] else "load"
        assert abs(CLOVE.index(answer(one)) - CLOVE.index(from_end)) == 1
        assert from_end not in one.options


def test_the_strip_is_read_as_the_watch_reads_it():
    kinds = {drill("strip", seed, level).options[drill("strip", seed, level).right[0]] for seed in range(12) for level in LEVELS}  # fmt: skip
    assert kinds == {"go", "rise", "shock", "outside"}


def test_a_round_is_told_and_marked_whole():
    asked = [(skill, 1) for skill in SKILLS]
    told = round_report(asked, 11, Wording())
    assert [one.skill for one in told.drills] == list(SKILLS)
    right = [(one.skill, one.seed, one.level, tuple(one.right)) for one in told.drills]
    assert marked_report(right).right == [True] * len(right)
    wrong = [(skill, seed, level, given[::-1] if len(given) > 1 else ((given[0] + 1) % 2,)) for skill, seed, level, given in right]  # fmt: skip
    assert marked_report(wrong).right == [False] * len(wrong)
    assert marked_report([(*right[0][:3], (99,)), (*right[0][:3], (0, 1))]).right == [None, None]


def test_a_skill_that_is_not_there_is_answered_with_those_that_are(capsys):
    assert main(["drill", "knitting"]) == 2
    assert "there is no skill 'knitting'" in capsys.readouterr().err
    assert main(["drill", "clove", "--level", "9"]) == 2
    assert "--level" in capsys.readouterr().err
    assert printed("drill", "clove", "--seed", "4")["options"]
