"""What a leader hears of an anchor out of one piece, of one set down, and of what is beside its legs."""

from typing import Any

import pytest
from pydantic import ValidationError

from rigging.document import Plan
from rigging.judging.judged import judge
from rigging.quantities.faults import faults_of
from rigging.quantities.units import Wording
from rigging.telling.anchors.report import study
from rigging.telling.check.sheet import check
from rigging.telling.work.decided import changes_told
from rigging.telling.work.rigged import rigged
from tests.anchors import hung, plan_of, said, tree, tried
from tests.plans import changed, demo_document

TREES = [tree("fir", -3, 0.8), tree("larch", -4, -0.8)]
ROPE = "rope-12.7"


def way(to: str, method: str = "passed", **more: Any) -> dict[str, Any]:
    return {"feature": to, "method": method, "material": ROPE, **more}


def one_rope(scheme: str = "fixed", legs: list[dict[str, Any]] | None = None, **more: Any) -> Plan:
    piece = {"closed": "one-knot", "knot": "overhand-loop", **more.pop("piece", {})}
    return plan_of(TREES, scheme, legs or [way("fir"), way("larch")], piece=piece, **{"pull": hung(2000), **more})


FAULTS: dict[str, tuple[dict[str, Any], str]] = {
    "a wrap that is not there is pulled": ({"legs": [way("fir", "wrap-pull", turns=2, pulled=3), way("larch")]}, "legs[0].pulled"),
    "legs of two materials": ({"legs": [way("fir"), way("larch", material="cord-8")]}, "legs[1].material"),
    "a bowline in the middle": ({"legs": [way("fir"), way("larch", "bowline-round"), way("fir")]}, "legs[1].method"),
    "an extension of a piece": ({"legs": [way("fir", extension="cord-8"), way("larch")]}, "legs[0].extension"),
    "a slider with a knot": ({"piece": {"closed": "slides"}}, "piece.knot"),
    "fixed that slides": ({"piece": {"closed": "slides", "knot": None, "joined": "double-fisherman"}}, "piece.closed"),
    "a slider with a loose end": ({"scheme": "self-adjusting", "piece": {"closed": "slides", "knot": None}}, "piece.joined"),
    "joined by what joins nothing": ({"piece": {"joined": "bowline"}}, "piece.joined"),
    "a span of one piece": ({"scheme": "back-tied"}, "piece"),
    "another knot beside it": ({"knot": "bowline"}, "knot"),
    "tightened without a leg": ({"tightened": {"order": [0, 0]}}, "tightened.order"),
    "a tie that is pulled tight": ({"ties": [way("fir", "bowline-round", pretension_n=100)]}, "ties[0]"),
    "a tie to nothing": ({"ties": [way("oak", "bowline-round")]}, "ties[0].feature"),
    "a point set down by a pole": ({"set_down": {"gathers_at": {"x_m": -1}, "stages": [{"material": "frame-tube", "knot": "bowline"}]}}, "set_down.stages[0].material"),
    "a stage of a rope that is not there": ({"set_down": {"gathers_at": {"x_m": -1}, "stages": [{"material": ROPE, "knot": "bowline", "rope": "blue"}]}}, "set_down.stages[0].rope"),
}  # fmt: skip


@pytest.mark.parametrize("fault", FAULTS)
def test_what_can_not_be_tied_is_refused_with_its_field(fault):
    given, path = FAULTS[fault]
    more = dict(given)
    with pytest.raises(ValidationError) as told:
        one_rope(more.pop("scheme", "fixed"), more.pop("legs", None), **more)
    assert [one.path for one in faults_of(told.value)] == [f"anchors[0].alternatives[1].{path}"]


def test_a_way_of_one_piece_is_no_leg_of_its_own_and_without_a_connector_something_gathers():
    with pytest.raises(ValueError, match="a way of anchors out of one piece"):
        plan_of(TREES, "fixed", [way("fir"), way("larch")])
    legs = [way("fir", "basket-tape"), way("larch", "basket-tape")]
    with pytest.raises(ValueError, match="nothing gathers the legs"):
        plan_of(TREES, "fixed", legs, connector=None)
    knotted = tried(plan_of(TREES, "two-loop-y", legs, connector=None, knot="figure-eight-loop", pull=hung(2000)))
    assert knotted.available and knotted.cost.connectors == 2
    assert tried(plan_of(TREES, "two-loop-y", legs, pull=hung(2000))).cost.connectors == 3


def test_the_report_says_how_long_it_is_what_a_cut_takes_and_a_knot():
    report = tried(one_rope())
    piece = report.piece
    assert piece is not None and report.legs[0].needs == [] and report.legs[1].strands == 2
    assert sum(row.length_m for row in piece.parts) == pytest.approx(piece.need.need.expected)
    assert piece.way == ["working point", "Fir", "working point", "Larch", "working point"]
    assert "Cut on the leg to Fir: that leg goes; Larch holds." in piece.cuts
    assert piece.undone == ["The knot at the point undone: everything goes."]
    assert report.cost.material_m == {"12.7 mm rope": pytest.approx(piece.need.need.expected)}


def test_a_piece_that_nothing_holds_at_the_point_is_said_and_limiting_knots_mend_it():
    slides = {"closed": "slides", "knot": None, "joined": "double-fisherman"}
    loose = one_rope("self-adjusting", piece=slides)
    assert "takes all 2 legs away" in said(tried(loose), "one-cut")
    assert said(tried(one_rope("self-adjusting", piece=slides, limit_m=0.3)), "one-cut") == ""
    assert said(tried(one_rope()), "one-cut") == ""


def test_material_over_something_bare_is_a_line_of_the_check_and_a_weaker_link_a_pad_mends_both():
    def plan(**leg: Any) -> Plan:
        document = demo_document()
        main = document["anchors"][0]["alternatives"][0]["legs"]
        main[0].update(leg)
        return Plan.model_validate(document)

    def line(found: Plan) -> Any:
        return next(
            (one for one in check(found).lines if "bends over" in one.text and one.about.endswith("leg:0")), None
        )

    bare, padded = plan(over="sharp-steel"), plan(over="sharp-steel", padding="canvas-pad")
    assert line(bare).level == "stop" and "it cuts" in line(bare).text
    assert line(bare).mends[0].edits[0].path.endswith("legs/0/padding")
    assert line(plan(over="rough-rock")).level == "look"
    assert line(padded) is None and line(plan()) is None


def test_two_strands_hold_twice_what_one_does_and_a_join_what_its_knot_leaves():
    """An extension of doubled rope; one of two lengths joined by a water knot, which keeps .55 to .70, in place of an eight that keeps .70 to .82."""

    def holds(**more: Any) -> Any:
        legs = [
            way("fir", "wrap-pull", turns=3, material="tubular-25", extension="cord-8", **more),
            way("larch", "wrap-pull", turns=3),
        ]
        return next(
            one.strength.range
            for one in tried(plan_of(TREES, "fixed", legs, pull=hung(2000))).legs[0].links
            if "figure-eight" in one.name or "water" in one.name
        )

    one, two, joined = holds(), holds(extension_strands=2), holds(extension_joined="water-knot")
    assert (two.low, two.high) == (pytest.approx(2 * one.low), pytest.approx(2 * one.high))
    assert joined.low / one.low == pytest.approx(0.55 / 0.70)


def test_a_point_set_down_bears_all_of_the_pull_on_its_own_strands_and_takes_rope_for_them():
    """Legs come together a metre behind; two strands of 12.7 mm rope in eights hold 2 · 40 · .70 = 56 kN at the least, 28 : 1 on 2 kN."""
    stage = {"material": ROPE, "strands": 2, "knot": "figure-eight-loop"}
    legs = [way("fir", "wrap-pull", turns=3), way("larch", "wrap-pull", turns=3)]
    plan = plan_of(TREES, "fixed", legs, pull=hung(2000), set_down={"gathers_at": {"x_m": -1}, "stages": [stage]})
    report = tried(plan)
    assert report.stages[0].margin == pytest.approx(28)
    assert report.others[0].need.expected == pytest.approx(2 * (1 + 2 * 0.6))
    straight = tried(plan_of(TREES, "fixed", legs, pull=hung(2000), point={"x_m": -1}))
    assert [one.force.expected for one in report.legs] == pytest.approx([one.force.expected for one in straight.legs])
    aside = plan_of(
        TREES, "fixed", legs, pull=hung(2000), set_down={"gathers_at": {"x_m": -1, "y_m": 0.5}, "stages": [stage]}
    )
    assert "off the pull from where its legs come together" in said(tried(aside), "set-aside")
    weak = plan_of(
        TREES, "fixed", legs, pull=hung(6000), set_down={"gathers_at": {"x_m": -1}, "stages": [{**stage, "strands": 1}]}
    )
    assert "bears all of the pull: 4.7 : 1, below your 10 : 1" in said(tried(weak), "stage")


def test_the_check_stops_for_a_stage_below_the_rule_and_offers_the_strands_that_would_do():
    document = demo_document()
    main = document["anchors"][0]["alternatives"][0]
    main["set_down"] = {
        "gathers_at": {"x_m": -1},
        "stages": [{"material": "cord-6", "strands": 1, "knot": "figure-eight-loop"}],
    }
    document["kit"] = []
    found = next(
        one for one in check(Plan.model_validate(document)).lines if "cord" in one.text and one.level == "stop"
    )
    offered = next(one for one in found.mends if one.edits[0].path.endswith("/strands"))
    assert offered.label.endswith("strands") and offered.edits[0].value > 1


def test_a_tie_that_only_positions_bears_nothing_and_takes_its_material():
    legs = [way("fir", "wrap-pull", turns=3), way("larch", "wrap-pull", turns=3)]
    without = tried(plan_of(TREES, "fixed", legs, pull=hung(2000)))
    tied = tried(
        plan_of(TREES, "fixed", legs, pull=hung(2000), ties=[way("fir", "figure-eight-round", material="cord-5")])
    )
    assert [one.force.range for one in tied.legs] == [one.force.range for one in without.legs]
    (tie,) = tied.others
    assert (tie.use, tie.material) == ("tie", "5 mm accessory cord")
    assert tie.need.expected > 3


def test_a_leg_pulled_tight_first_that_others_loosen_is_said_with_what_it_keeps():
    star = [tree("a", -3, 0), tree("b", 2.5, 1.6), tree("c", 2.5, -1.6)]
    legs = [way(id, "wrap-pull", turns=3, pretension_n=600) for id in "abc"]
    told = tried(plan_of(star, "floating", legs, pull=hung(300), tightened={"order": [1, 2, 0], "rounds": 2}))
    assert told.tight.order == ["B", "C", "A"] and len(told.tight.rows[0].after_n) == 2
    assert "keeps" in told.tight.text and "do not balance each other" in said(told, "tightened")
    assert tried(plan_of(star, "floating", legs, pull=hung(300))).tight.order[0] == "A"


def test_of_a_rope_of_the_plan_the_whole_piece_is_counted_once():
    document = demo_document()
    belay = document["anchors"][1]
    belay["taken"] = "belay-piece"
    plain = judge(Plan.model_validate(document))
    for leg in belay["alternatives"][1]["legs"]:
        leg["rope"] = document["lines"][0]["rope"]
    plan = Plan.model_validate(document)
    before = next(one for one in plain.budgets if one.job == "lower")
    after = next(one for one in judge(plan).budgets if one.job == "lower")
    piece = tried_of(plan, "belay-piece")
    assert before.left_m - after.left_m == pytest.approx(piece.piece.need.need.expected)


def tried_of(plan: Plan, id: str) -> Any:
    return study(plan, "lowering", only=id).arrangements[0]


def test_the_paper_and_the_log_say_how_it_is_tied_and_what_changed():
    before = demo_document()
    before["anchors"][1]["taken"] = "belay-piece"
    after = changed(before, **{"anchors__1__alternatives__1__piece": {"closed": "one-knot", "knot": "overhand-loop"}})
    text = " ".join(rigged(Plan.model_validate(before)))
    assert "all out of one piece, each leg by its own clove hitch" in text.lower()
    assert "passed round" in text
    assert any(
        "out of one piece" in one
        for one in changes_told(Plan.model_validate(before), Plan.model_validate(after), Wording())
    )
