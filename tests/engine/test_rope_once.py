"""One rope, counted once for all that it does at one time: strands, knots, legs of anchors, coils, loops (field guide 2.15)."""

import pytest
from pydantic import ValidationError

from rigging.anchors.material import pieces_needed
from rigging.document import Plan
from rigging.document.edits import Edit, plan_edited
from rigging.judging.judged import judge
from rigging.procedures.compose import composed
from rigging.procedures.rope_used import least_left
from rigging.quantities.faults import faults_of
from rigging.telling.check.sheet import check, check_here
from rigging.telling.work.operation import operation_report
from tests.plans import changed, demo_document, haul, on_snow, over_edges

# An eight takes 0.6 m with its loop (field guide 2.15: 0.6 to 0.9).
EIGHT_M = 0.6


def arrested(**paths) -> Plan:
    document = on_snow().model_dump(mode="json") | {"operation": {"begins": "arrested"}}
    return Plan.model_validate(changed(document, **paths))


def lines_of(found, kind: str):
    return {one.id: one for one in found.lines if one.id.partition(":")[0] == kind}


def mended(plan: Plan, line, number: int = 0) -> Plan:
    return plan_edited(plan, [Edit(one.op, one.path, one.value) for one in line.mends[number].edits])


def twelve_out(length_m: float, **paths) -> Plan:
    """Two metres level to the lip, ten straight down: twelve metres out after an arrest."""
    return arrested(
        ropes__0__length_m=length_m,
        site__profile=[{"x_m": -12, "z_m": 0}, {"x_m": 0, "z_m": 0}, {"x_m": 2, "z_m": 0}, {"x_m": 2, "z_m": -14}, {"x_m": 9, "z_m": -14}],
        site__edges=[{"name": "Lip", "x_m": 2, "z_m": 0, "surface": "snow-lip", "protection": "axe-pad"}],
        site__load_at={"x_m": 2.001, "z_m": -10},
        **paths,
    )  # fmt: skip


# Twelve metres with an eight at either end and 0.3 m between hitch and knot; the loop twice twelve, its tied end, two metres to spare.
TAKEN_M = (12 + 2 * EIGHT_M + 0.3) + (24 + EIGHT_M + 2)


def test_a_loop_out_of_the_rest_of_the_rope_is_short_at_the_step_that_lets_it_down():
    plan = twelve_out(36)
    short = lines_of(check(plan), "runs-out")["runs-out:main"]
    assert short.level == "stop" and short.where == "after-arrest/10"
    assert f"{TAKEN_M - 36:.1f} m short" in short.text and "both of its strands" in short.text
    [left] = least_left(plan, composed(plan))
    assert left.left_m == pytest.approx(36 - TAKEN_M, abs=0.01)
    assert lines_of(check(mended(plan, short)), "runs-out") == {}


def test_no_metre_more_is_asked_than_what_lies_there():
    assert lines_of(check(twelve_out(TAKEN_M + 0.1)), "runs-out") == {}
    assert lines_of(check(twelve_out(TAKEN_M - 0.1)), "runs-out")


def test_the_loop_is_of_another_rope_where_that_is_said():
    document = twelve_out(36).model_dump(mode="json")
    document["ropes"].append({"id": "spare", "kind": "low-stretch-11", "length_m": 40})
    document["lines"][0]["haul"]["strands_of"] = "spare"
    plan = Plan.model_validate(document)
    assert lines_of(check(plan), "runs-out") == {}
    left = {one.rope: one.left_m for one in least_left(plan, composed(plan))}
    assert left["spare"] == pytest.approx(40 - (24 + EIGHT_M + 2), abs=0.01)
    said = {one.rope: one for one in operation_report(plan, composed(plan)).ropes}
    assert "13.4 m left" in said["spare"].text and "step 10" in said["spare"].text


def test_coils_that_are_carried_are_not_there():
    kept = [{"what": "coils", "length_m": 6}, {"what": "lip", "length_m": 4}]
    plan = twelve_out(45, ropes__0__kept=kept)
    short = lines_of(check(plan), "runs-out")["runs-out:main"]
    assert f"{TAKEN_M + 10 - 45:.1f} m short" in short.text and "10.0 m for what else it does" in short.text


def test_one_rope_for_two_lines_and_an_anchor():
    """Belay on the main rope's other end, the belay's anchor tied with the same rope: short by what all of it comes to."""
    document = demo_document()
    main, belay = document["lines"]
    apart = {one.job: one for one in judge(Plan.model_validate(document)).budgets}
    needs = [one.length_m for id, one in pieces_needed(Plan.model_validate(document)) if id == belay["anchor"]]
    anchor = next(one for one in document["anchors"] if one["id"] == belay["anchor"])
    for leg in next(one for one in anchor["alternatives"] if one["id"] == anchor["taken"])["legs"]:
        leg["rope"] = main["rope"]
    belay["rope"], belay["end"] = main["rope"], "other"
    together = apart["lower"].needed_m + apart["catch"].needed_m + sum(needs)
    document["ropes"] = [{**document["ropes"][0], "length_m": together - 3}]
    document["kit"] = []
    found = lines_of(check_here(Plan.model_validate(document)), "short")
    assert "3.0 m short" in found["short:lower"].text and len(needs) == 2
    assert found["short:lower"].level == "stop"


def test_a_leg_of_the_rope_asks_for_no_piece_out_of_the_bags():
    document = demo_document()
    document["kit"] = [one for one in document["kit"] if one["material"] != "tubular-25"]
    short = set(lines_of(check_here(Plan.model_validate(document)), "material-short"))
    for anchor in document["anchors"]:
        for one in anchor["alternatives"]:
            for leg in one["legs"]:
                leg["rope"] = "main"
    assert short and lines_of(check_here(Plan.model_validate(document)), "material-short") == {}


def test_strands_of_other_rope_are_asked_for_and_counted_where_they_are_of():
    plan = over_edges(1000, 90, lines__0__haul=haul("three-on-two-6"))
    raising = next(one for one in judge(plan).budgets if one.job == "raise")
    asked = lines_of(check_here(plan), "strands-unsaid")["strands-unsaid:main"]
    assert asked.level == "look" and raising.other_m > 6
    own = next(one for one in judge(mended(plan, asked)).budgets if one.job == "raise")
    assert own.needed_m == pytest.approx(raising.needed_m + raising.other_m + 2 * EIGHT_M)
    assert lines_of(check_here(mended(plan, asked)), "strands-unsaid") == {}
    document = plan.model_dump(mode="json")
    document["ropes"].append({"id": "haul", "kind": "low-stretch-11", "length_m": raising.other_m})
    document["lines"][0]["haul"]["strands_of"] = "haul"
    short = lines_of(check_here(Plan.model_validate(document)), "short")
    assert "1.2 m short for the haul's other strands" in short["short:strands"].text


def test_damage_knotted_out_takes_rope():
    plain = over_edges(1000, 90)
    knotted = over_edges(
        1000, 90, ropes__0__damage=[{"at_m": 40, "taken_out": "butterfly-loop", "in_loop": "connector"}]
    )
    before, after = (next(one for one in judge(plan).budgets if one.job == "lower") for plan in (plain, knotted))
    # A butterfly takes 0.5 m with its loop.
    assert after.needed_m == pytest.approx(before.needed_m + 0.5)


@pytest.mark.parametrize(
    "path", ["anchors__0__alternatives__0__legs__0__rope", "lines__0__haul__strands_of"], ids=["a leg", "strands"]
)
def test_a_rope_that_is_not_there_is_named(path):
    with pytest.raises(ValidationError) as refused:
        Plan.model_validate(changed(demo_document(), **{path: "nowhere"}))
    [fault] = faults_of(refused.value)
    assert fault.path.endswith(path.rpartition("__")[2]) and "'nowhere'" in fault.problem
