"""Ideal and actual advantage of the usual systems, as teams carry them in their heads.

Source: common practice of the trade, no source; each value is also the sum of the strands worked by hand,
for instance 3:1 at η = 0.9 is 1 + 0.9 + 0.81 = 2.71."""

import json

import pytest

from rigging.__main__ import main

TABLE = [
    ("redirect-1", 1, 0.90, 0.50),
    ("drop-2", 2, 1.90, 1.50),
    ("z-3", 3, 2.71, 1.75),
    ("z-3-redirect", 3, 2.44, 0.88),
    ("tackle-4", 4, 3.44, 1.88),
    ("tackle-4-redirect", 4, 3.10, 0.94),
    ("two-on-two-4", 4, 3.61, 2.25),
    ("simple-5", 5, 4.10, 1.94),
    ("two-on-three-6", 6, 5.15, 2.63),
    ("three-on-two-6", 6, 5.15, 2.63),
    ("three-on-three-9", 9, 7.34, 3.06),
]


def haul_command(capsys, *arguments: str) -> dict:
    assert main(["haul", *arguments]) == 0
    return json.loads(capsys.readouterr().out)


@pytest.mark.parametrize(("system", "ideal", "good", "bare"), TABLE)
def test_the_command_line_reproduces_the_table(capsys, system, ideal, good, bare):
    for every, expected in (("0.9", good), ("0.5", bare)):
        found = haul_command(capsys, system, "--every", every)
        assert found["ideal"] == ideal
        assert found["actual"]["expected"] == pytest.approx(expected, abs=0.005001)
        assert found["rope_per_metre"] == ideal


def test_kinds_from_the_catalogue_are_ranges_and_a_bend_can_differ(capsys):
    found = haul_command(capsys, "z-3", "--every", "ball-bearing-pulley", "--at", "G=carabiner")
    # Walking the rope from the hand: 1, then η_G, then η_G·η_A.
    assert found["actual"]["low"] == pytest.approx(1 + 0.45 + 0.45 * 0.85)
    assert found["actual"]["expected"] == pytest.approx(1 + 0.5 + 0.5 * 0.9)
    assert found["actual"]["high"] == pytest.approx(1 + 0.66 + 0.66 * 0.95)


def test_anchor_and_strand_forces_of_a_three_to_one(capsys):
    found = haul_command(capsys, "z-3", "--every", "0.9")
    strands = [[t["expected"] for t in piece] for piece in found["tensions"]]
    assert strands[0] == pytest.approx([2.71])
    assert strands[1] == pytest.approx([0.81, 0.9, 1.0])
    assert found["anchors"]["A"]["expected"] == pytest.approx(1.71)
