"""Steps of the work in a wrong order, or one of them left out, are refused with the edit and the reason; orders that a team may well choose
are not. Every row is a judgement of the trade: procedures.md; common practice, no source."""

import json

import pytest

from rigging.document import Plan
from rigging.procedures.begin import Ground
from rigging.procedures.run import StepGiven, given_of, walked
from tests.engine.test_procedures import straight
from tests.plans import ROOT, hanging, on_snow

ON = {
    "tension-line": lambda: Plan.model_validate(json.loads((ROOT / "demo" / "otter-brook-crossing.json").read_text(encoding="utf-8"))),
    **dict.fromkeys(("after-arrest", "after-arrest-alone", "drop-six"), on_snow),
    **dict.fromkeys(("escape-belay", "back-into-belay"), lambda: hanging(2000)),
}  # fmt: skip


def refused(id: str, order: str, number: int) -> list[tuple[str, str]]:
    """What is refused of a procedure's edits, and why, with one of its steps left out (`without`), or done after the next one (`after`)."""
    ground, given = Ground(ON.get(id, straight)()), given_of(id)
    steps: list[StepGiven] = [one.given for one in walked(ground, given).steps]
    left = steps.pop(number)
    if order == "after":
        steps.insert(number + 1, left)
    made = [one for step in walked(ground, given.model_copy(update={"steps": steps})).steps for one in step.made]
    return [(one.edit.words, fault.problem) for one in made for fault in one.refused]


WRONG = [
    ("clove to the second feature before the cord is at the first", "floating-anchor", "after", 1, "join ring", "no ring on the rope"),
    ("loaded before the legs are tight", "floating-anchor", "after", 4, "let go hands", "would go"),
    ("a line taken in that is in no device", "tension-line", "without", 1, "take in track device", "no track device"),
    ("the second line taken in that is in none", "tension-line", "without", 2, "take in track-2 device", "no track-2 device"),
    ("over the edge with no brake hitch", "lower", "without", 2, "load", "hands alone"),
    ("over the edge, then the brake hitch", "lower", "after", 2, "load", "hands alone"),
    ("let down while it lies on the ground", "lower", "without", 3, "lower", "lies on the ground"),
    ("down before it is loaded", "lower", "after", 3, "lower", "lies on the ground"),
    ("down with the brake hitch set", "lower", "after", 4, "lower", "holds the load"),
    ("no grab in front of the device", "knot-pass-lowering", "without", 2, "open brake", "hands alone"),
    ("device out while the brake hitch holds by it", "knot-pass-lowering", "without", 4, "take out device", "pulls"),
    ("device out while the hand holds by it", "knot-pass-lowering", "without", 5, "take out device", "pulls"),
    ("no knot below the hand", "knot-pass-lowering", "without", 6, "untie backup", "no backup"),
    ("the join not passed, the grab off", "knot-pass-lowering", "without", 7, "take off grab", "bears the load"),
    ("unlocked with no brake hitch behind", "knot-pass-lowering", "without", 8, "unlock device", "hands alone"),
    ("the grab off before it has let out", "knot-pass-lowering", "without", 9, "take off grab", "bears the load"),
    ("the brake hitch back before the join is through", "knot-pass-lowering", "after", 7, "pass join", "grips the rope"),
    ("the grab off, then let out", "knot-pass-lowering", "after", 9, "take off grab", "bears the load"),
    ("turns round a drum that is not there", "tie-off", "without", 0, "lock drum", "no drum"),
    ("no ratchet", "change-over", "without", 2, "open brake", "hands alone"),
    ("device out while the brake hitch holds by it", "change-over", "without", 4, "take out device", "pulls"),
    ("hands off before the device is let off", "change-over", "after", 5, "ease device", "no hand"),
    ("nothing tied behind before the system is built", "change-over", "without", 6, "untie backup", "no backup"),
    ("the system built with the device on", "change-over", "without", 7, "build system", "still on the rope"),
    ("hauled with the knot behind still tied", "change-over", "without", 10, "haul", "no hand"),
    ("knot out before the system is built", "change-over", "after", 9, "haul", "no hand"),
    ("hauled before the rope is in hand", "change-over", "after", 10, "haul", "no hand"),
    ("brake hitch on behind no device", "change-back", "without", 1, "put on brake", "no device"),
    ("the device rigged before the ratchet is slack", "change-back", "after", 0, "haul", "no hand"),
    ("the grab slid forward while haulers pull", "raise", "without", 2, "reset main:G", "bears the load"),
    ("the grab slid forward, then eased", "raise", "after", 2, "reset main:G", "bears the load"),
    ("slack taken up before the grab is forward", "raise", "after", 3, "reset main:G", "bears the load"),
    ("hauled through a ratchet that is not slid forward", "raise", "after", 0, "let go hands", "would go"),
    ("no second ratchet beyond the join", "knot-pass-raising", "without", 1, "clip ratchet-2", "no ratchet-2"),
    ("hauled with no hand on the rope", "knot-pass-raising", "without", 2, "haul", "no hand"),
    ("clipped before it reaches", "knot-pass-raising", "without", 3, "clip ratchet-2", "does not reach"),
    ("the first ratchet off while it bears", "knot-pass-raising", "without", 4, "take off ratchet", "bears the load"),
    ("the redirect opened while its strand pulls", "knot-pass-raising", "without", 5, "take off main:A", "pulls"),
    ("the system led again before the redirect is open", "knot-pass-raising", "without", 6, "put on main:A", "already"),
    ("hauled before the rope is in hand", "knot-pass-raising", "after", 2, "haul", "no hand"),
    ("clipped, then hauled", "knot-pass-raising", "after", 3, "clip ratchet-2", "does not reach"),
    ("the redirect opened, then eased", "knot-pass-raising", "after", 5, "take off main:A", "pulls"),
    ("the join passed before the first ratchet is off", "knot-pass-raising", "after", 6, "put on main:A", "already"),
    ("let down while it lies on the ground", "straight-lift", "without", 4, "lower", "lies on the ground"),
    ("let go before it was lifted at all", "straight-lift", "after", 4, "haul", "no hand"),
    ("a strand through a clamp that is not there", "sling-haul", "without", 0, "string sling", "no anchor 'clamp'"),
    ("a strand through a butterfly that is not tied", "sling-haul", "without", 1, "string second strand", "no anchor 'butterfly'"),
    ("hauled with one strand only led", "sling-haul", "without", 2, "haul", "no hand"),
    ("the clamp slid while it bears", "sling-haul", "without", 4, "reset clamp", "bears the load"),
    ("through the clamp before it is on", "sling-haul", "after", 0, "string sling", "no anchor 'clamp'"),
    ("extended before it is taken in", "sling-haul", "after", 4, "reset clamp", "bears the load"),
    ("a hitch joined to an axe that is not driven", "after-arrest", "without", 2, "put on hitch", "not made yet"),
    ("eased up onto nothing", "after-arrest", "without", 3, "ease arrester", "nothing but hands"),
    ("clipped to an anchor that is not dug", "after-arrest", "without", 5, "tie in arrester", "not made yet"),
    ("the hitch before the axe", "after-arrest", "after", 2, "put on hitch", "not made yet"),
    ("eased up, then the hitch", "after-arrest", "after", 3, "ease arrester", "nothing but hands"),
    ("clipped in, then dug", "after-arrest", "after", 5, "tie in arrester", "not made yet"),
    ("a ratchet on a strand that is not let down", "after-arrest", "after", 9, "put on drop ratchet", "no rope"),
    ("a hitch joined to a picket that is not driven", "after-arrest-alone", "without", 1, "put on hitch", "not made yet"),
    ("stood up onto nothing", "after-arrest-alone", "without", 2, "ease arrester", "nothing but hands"),
    ("out of the rope with no anchor dug", "after-arrest-alone", "without", 4, "tie in arrester", "not made yet"),
    ("to the lip tied in to nothing", "after-arrest-alone", "without", 5, "go to lip arrester", "tied in to nothing"),
    ("to the lip, then clipped in", "after-arrest-alone", "after", 5, "go to lip arrester", "tied in to nothing"),
    ("a grab set forward that is not on", "drop-six", "without", 0, "reset drop grab", "no drop grab"),
    ("hands off a device that is not locked", "escape-belay", "without", 0, "let go hands", "would go 2.00 m"),
    ("no knot behind the device", "escape-belay", "without", 1, "untie safety", "no safety"),
    ("no hitch on the load strand", "escape-belay", "without", 3, "untie safety", "bears the load"),
    ("device out while it bears", "escape-belay", "without", 4, "take out device", "bears the load"),
    ("the hitch let off onto nothing", "escape-belay", "without", 5, "ease hitch", "nothing but hands"),
    ("eased before the hitch is on", "escape-belay", "after", 3, "untie safety", "bears the load"),
    ("the hitch off while the rope runs by the device", "escape-belay", "after", 6, "take out device", "pulls"),
    ("undone with no brake hitch", "back-into-belay", "without", 1, "unlock munter", "hands alone"),
    ("lowered on a munter tied off", "back-into-belay", "without", 2, "lower", "holds the load"),
    ("undone, then the brake hitch", "back-into-belay", "after", 1, "unlock munter", "hands alone"),
    ("lowered, then undone", "back-into-belay", "after", 2, "lower", "holds the load"),
]  # fmt: skip


@pytest.mark.parametrize(("id", "order", "number", "edit", "why"), [row[1:] for row in WRONG], ids=[f"{row[1]}: {row[0]}" for row in WRONG])  # fmt: skip
def test_a_wrong_order_is_refused_with_the_edit_and_the_reason(id, order, number, edit, why):
    first, problem = refused(id, order, number)[0]
    assert first == edit and why in problem


RIGHT = [
    ("three features are enough", "floating-anchor", "without", 2), ("the fourth not used", "floating-anchor", "without", 3), ("cloves in another order", "floating-anchor", "after", 2),
    ("both lines strung in the other order", "tension-line", "after", 1), ("the first taken in before the second is strung", "tension-line", "after", 2), ("one locked after the other is taken in", "tension-line", "after", 4),
    ("not loaded yet", "tension-line", "without", 6), ("stopped at once", "lower", "without", 4), ("not stopped", "lower", "without", 5), ("not locked", "lower", "without", 6),
    ("locked, then the hitch set", "lower", "after", 5), ("locked with the hitch minded", "secure", "without", 0), ("left locked", "secure", "without", 2), ("left with the hitch set", "secure", "without", 3),
    ("locked, then the hitch set", "secure", "after", 0), ("the hitch holds, not locked", "knot-pass-lowering", "without", 1), ("grab left on", "knot-pass-lowering", "without", 10),
    ("the hitch left set", "knot-pass-lowering", "without", 11), ("locked, then the hitch set", "knot-pass-lowering", "after", 0), ("the grab before the device is locked", "knot-pass-lowering", "after", 1),
    ("unlocked on the hitch, then the grab", "knot-pass-lowering", "after", 2), ("hitch minded, then unlocked", "knot-pass-lowering", "after", 3), ("the knot below the hand first", "knot-pass-lowering", "after", 5),
    ("locked at once", "change-over", "without", 0), ("the hitch holds, not locked", "change-over", "without", 1), ("not hauled yet", "change-over", "without", 11),
    ("locked, then the hitch set", "change-over", "after", 0), ("ratchet before the device is locked", "change-over", "after", 1), ("unlocked on the hitch, then the ratchet", "change-over", "after", 2),
    ("hitch minded, then unlocked", "change-over", "after", 3), ("brake hitch off, then the device", "change-over", "after", 7), ("no brake hitch behind a locked device", "change-back", "without", 2),
    ("the system stays on", "change-back", "without", 4), ("eased, then the brake hitch", "change-back", "after", 2), ("the ratchet, slack, off first", "change-back", "after", 3),
    ("set at once", "raise", "without", 0), ("no reset after the last", "raise", "without", 3), ("second ratchet on before the first is set", "knot-pass-raising", "after", 0),
    ("up before the second ratchet is on", "knot-pass-raising", "after", 1), ("not hauled on", "knot-pass-raising", "without", 8), ("not tried by letting go", "straight-lift", "without", 5),
    ("not let down again", "straight-lift", "without", 7), ("once is enough", "sling-haul", "without", 5), ("the guard stays", "after-arrest", "without", 7), ("coils out before the lip", "after-arrest", "after", 8),
    ("the lip not gone to", "after-arrest-alone", "without", 6), ("coils out before the lip", "after-arrest-alone", "after", 6), ("no reset needed", "drop-six", "without", 1),
    ("stopped after the first pulls", "drop-six", "without", 2), ("the munter rigged before the device is let off", "escape-belay", "after", 4), ("left on the hitch", "escape-belay", "without", 7),
    ("not lowered yet", "back-into-belay", "without", 3),
]  # fmt: skip


@pytest.mark.parametrize(("id", "order", "number"), [row[1:] for row in RIGHT], ids=[f"{row[1]}: {row[0]}" for row in RIGHT])  # fmt: skip
def test_an_order_that_a_team_may_choose_is_not_refused(id, order, number):
    assert refused(id, order, number) == []


@pytest.mark.parametrize("id", ["lower", "secure", "knot-pass-lowering", "change-over", "change-back", "raise", "knot-pass-raising", "sling-haul", "after-arrest", "escape-belay", "back-into-belay"])  # fmt: skip
def test_a_step_done_only_when_nothing_waits_for_it_is_never_refused(id):
    """As it stands in the book, and stopped after any of its steps."""
    ground, given = Ground(ON.get(id, straight)()), given_of(id)
    made = walked(ground, given).steps
    for count in range(1, len(made) + 1):
        some = walked(ground, given.model_copy(update={"steps": [one.given for one in made[:count]]}))
        assert not [one for step in some.steps for one in step.made if one.refused]
