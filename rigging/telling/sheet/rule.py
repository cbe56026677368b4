"""The team's rule in words, with what it means for this load."""

from __future__ import annotations

from rigging.document import Plan, Rules
from rigging.judging.judged import Judged
from rigging.lines.solve import Solved
from rigging.quantities.units import Wording
from rigging.telling.figures.shapes import RuleReport


def rule_text(rules: Rules) -> str:
    """The rule in force in one sentence."""
    if rules.school == "static-ratio":
        return f"Static ratio: anchors {rules.anchors_ratio:g} : 1, everything else {rules.others_ratio:g} : 1, what slips {rules.slip_ratio:g} : 1."
    return f"Force limit: something slips first, and everything behind it holds {rules.cap_margin:g} times that."


def rule_report(plan: Plan, judged: Judged, say: Wording) -> RuleReport:
    """The rule in force. Static ratio and force limit are never mixed."""
    rules = plan.rules
    solved = [
        one
        for one in judged.states.values()
        if isinstance(one, Solved) and one.moment.solving in ("held", "lowering", "raising")
    ]
    load = max((line.at_load.high for one in solved for line in one.lines), default=0.0)
    anchor = max((pulls.size.high for one in solved for pulls in one.on_anchors.values()), default=0.0)
    text = rule_text(rules)
    if rules.school == "static-ratio":
        if not solved:
            return RuleReport("static-ratio", text, [])
        return RuleReport("static-ratio", text, [
            f"The busiest anchor sees up to {say.force(anchor)}: it has to hold {say.force(anchor * rules.anchors_ratio)}.",
            f"The rope at the load carries up to {say.force(load)}: what is tied there has to hold {say.force(load * rules.others_ratio)}.",
            f"A hitch in line with it should not slip below {say.force(load * rules.slip_ratio)}.",
        ])  # fmt: skip
    slips = [
        part
        for parts in judged.parts.values()
        for part in parts
        if part.gives == "slips" and part.strength_n and part.kind != "grab"
    ]
    if not slips:
        return RuleReport(
            "force-limit",
            text,
            ["Nothing in these lines slips: there is no limit yet, and no part can be judged by it."],
        )
    least = min(slips, key=lambda part: part.strength_n.high if part.strength_n else 0.0)
    assert least.strength_n is not None
    cap = least.strength_n
    return RuleReport("force-limit", text, [
        f"{least.thing} slips first, at {say.force(cap)}.",
        f"Every part behind it has to hold {say.force(cap.high * rules.cap_margin)}.",
        f"The load itself asks up to {say.force(load)}.",
    ])  # fmt: skip
