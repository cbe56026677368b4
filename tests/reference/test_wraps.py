"""Material lengths, bends and turns, calculated by hand here and compared."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rigging.anchors.wraps import (
    Need,
    assign,
    attachment_m,
    bend_round,
    friction_of,
    once_round_m,
    tension_left,
    what_would_reach,
)
from rigging.catalogue import catalogue
from rigging.document import Feature, KitItem, Leg
from rigging.quantities.units import Wording


def test_tension_left_after_each_round_turn():
    """Capstan: on rounded steel at μ = 0.2, e^(−2π·0.2) = 0.2846 of the tension a turn; three turns leave 2.3 %."""
    mu = catalogue().surfaces["rounded-steel"].mu
    assert [tension_left(n, mu).expected for n in (1, 2, 3, 4)] == pytest.approx(
        [0.2846, 0.0810, 0.0231, 0.0066], abs=1e-4
    )
    # Timber at 0.35 leaves a ninth a turn: after three, almost nothing.
    assert tension_left(3, catalogue().surfaces["timber"].mu).expected == pytest.approx(0.00137, abs=2e-5)


def test_a_drum_of_steel_on_a_tree_is_steel():
    """Four turns leave e^(−2π·4·μ): on steel at μ .15 to .25 from 2.3 to 0.19 %, whatever the bark behind it would leave."""
    tree = Feature.model_validate({"id": "t", "name": "Tree", "kind": "tree", "x_m": -3})
    drum = {"drum_m": 0.2, "tail_to": "anchor-behind", "finish": "releasable-hitch"}
    on_drum = Leg.model_validate({"feature": "t", "method": "drum-tie-off", "material": "rope-11", "tie_off": drum})
    left = tension_left(4, friction_of(on_drum, tree))
    assert (left.low, left.expected, left.high) == pytest.approx((0.00187, 0.00657, 0.02305), rel=0.01)
    on_bark = on_drum.model_copy(update={"method": "round-turn", "tie_off": None})
    assert tension_left(4, friction_of(on_bark, tree)).high < 1e-3


@pytest.mark.parametrize(
    ("drum", "ratio", "full", "kept"), [(0.060, 5.45, False, 0.747), (0.110, 10, True, 1.0), (0.200, 18.2, True, 1.0)]
)
def test_an_eleven_millimetre_rope_wants_a_hundred_and_ten(drum, ratio, full, kept):
    """Ten rope diameters for full strength: common practice, no source. 5.45 : 1 keeps 0.5 + 0.5·4.45/9."""
    found = bend_round(drum, 0.011)
    assert found.ratio == pytest.approx(ratio, abs=0.05)
    assert (found.full, found.keeps.expected) == (full, pytest.approx(kept, abs=0.001))


def test_a_strap_round_a_circle_by_ruler_and_compass():
    """300 mm trunk, closed 300 mm from its middle: tangents 2·√(0.09 − 0.0225) = 0.5196, contact 240° = 0.6283."""
    assert once_round_m(0.15, 0.3) == pytest.approx(0.5196 + 0.6283, abs=1e-4)
    assert once_round_m(0.0, 2.0) == 4.0


TRUNK = 0.31 / 2


@pytest.mark.parametrize(
    ("leg", "by_hand"),
    [
        # Three wraps, two pulled to a point 1 m off: contact angle 2π − 2·acos(0.155) = 3.4529 rad → 0.5352 m, tangents
        # 2·0.98791 = 1.9758 m: 2.5110 each; one wrap tight 0.9739; knot and tails 0.6.
        ({"method": "wrap-pull", "material": "tubular-25", "turns": 3}, 2 * 2.5110 + 0.9739 + 0.6),
        # A loop laid flat round the trunk to the same point.
        ({"method": "basket-loop", "material": "sewn-sling-22"}, 2.5110),
        # Three round turns, 0.845 m out to the point, 1.4 m of knot, tail and clip-back.
        ({"method": "round-turn", "material": "rope-11", "turns": 3}, 3 * 0.9739 + 0.845 + 1.4),
    ],
)
def test_strap_lengths_of_three_real_cases(leg, by_hand):
    found = attachment_m(Leg.model_validate({"feature": "larch", **leg}), TRUNK, 1.0)
    assert found == pytest.approx(by_hand, abs=0.002)


def test_a_tape_too_short_for_three_turns_is_told_what_would_do():
    leg = Leg.model_validate({"feature": "larch", "method": "wrap-pull", "material": "tubular-25", "turns": 3})
    three = attachment_m(leg, TRUNK, 0.5)
    two = attachment_m(leg, TRUNK, 0.5, 2)
    assert two < 4 < three < 5
    assert what_would_reach(leg, TRUNK, 0.5, 4.0, Wording()) == "2 turns do with 4.0 m, or join a second"
    assert what_would_reach(leg, TRUNK, 0.5, 1.0, Wording()).startswith("join a second")


def test_the_kit_is_given_out_longest_need_first():
    kit = [KitItem(material="tubular-25", length_m=6), KitItem(material="tubular-25", length_m=4)]
    short, long, third = (Need(n, "attachment", "tubular-25", m) for n, m in enumerate((3.0, 5.0, 3.5)))
    found = assign([short, long, third], kit)
    assert (found[long], found[third], found[short]) == (6, 4, None)


@given(
    method=st.sampled_from(sorted(catalogue().attachments)),
    radius=st.floats(0.02, 1.0),
    reach=st.floats(0.1, 6.0),
    more=st.floats(0.0, 2.0),
    extension=st.sampled_from([None, "rope-11"]),
)
def test_a_thicker_or_further_feature_and_a_turn_more_never_need_less(method, radius, reach, more, extension):
    kind = catalogue().attachments[method]
    material = "sewn-sling-22" if kind.of_loop else "rope-11"
    leg = Leg.model_validate({"feature": "f", "method": method, "material": material, "extension": extension})
    here = attachment_m(leg, radius, reach + radius)
    assert attachment_m(leg, radius, reach + radius + more) >= here - 1e-9
    assert attachment_m(leg, radius * (1 + more), reach + radius * (1 + more)) >= here - 1e-9
    for turns in range(kind.turns.least, kind.turns.most):
        assert attachment_m(leg, radius, reach + radius, turns + 1) > attachment_m(leg, radius, reach + radius, turns)


def test_turns_make_strands():
    """Wrap three, pull two: four strands; each turn more gives two. 4 × 15 kN × 0.8, less the closing angle."""
    strands = {m.id: m.strands + m.strands_per_turn * m.turns.usual for m in catalogue().attachments.values()}
    assert strands["wrap-pull"] == 4
    assert strands["basket-loop"] / strands["girth-hitch"] == 2
    assert math.isclose(strands["round-turn"], 1)
