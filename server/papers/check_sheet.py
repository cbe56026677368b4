"""The check of a plan on paper: what holds in every moment, every line with its answer, and who signed it."""

from operations.checked import check_of
from operations.selectors import signed_lines
from plans.models import Plan
from reportlab.platypus import Flowable

from papers.sheet import heading, pdf, said, table
from rigging.document import Plan as Document
from rigging.telling.check.sheet import CheckLine, CheckRow

_LEVELS = {"stop": "STOP", "unknown": "not known", "look": "look"}


def check_sheet(plan: Plan) -> bytes:
    """The check of the latest revision."""
    revision = plan.latest
    document = Document.model_validate_json(revision.document)
    found = check_of(plan, revision.document)
    signed = signed_lines(plan)

    def by(one: CheckLine | CheckRow) -> str:
        last = signed.get(one.id)
        fits = last is not None and last[0]["answer"] in (one.answer, one.words)
        return f"{last[1].author.get_username()}, {last[1].time:%H:%M} UTC" if last and fits else "________"

    rows = [
        (one.name, one.why_not or one.holds_on, one.behind, one.hands_off, one.weakest, by(one)) for one in found.rows
    ]
    story: list[Flowable] = [
        said(document.place),
        said(
            f"Revision {revision.number}, saved {revision.saved_at:%Y-%m-%d %H:%M} UTC by {revision.author.get_username()}. {found.rule}"
        ),
        heading("What holds"),
        table(("moment", "holds on", "behind it", "hands off", "weakest", "signed"), rows, (25, 35, 35, 30, 35, 20)),
    ]
    for topic, name in found.topics.items():
        lines = [one for one in found.lines if one.topic == topic]
        if lines:
            story += [heading(name), table(("", "line", "signed"), ((_level(one), _text(one), by(one)) for one in lines), (22, 133, 25))]  # fmt: skip
    return pdf(f"Check: {document.title}", revision, story)


def _level(one: CheckLine) -> str:
    return "accepted" if one.accepted else _LEVELS.get(one.level, "")


def _text(one: CheckLine) -> str:
    accepted = f"\naccepted by {one.accepted.by}: {one.accepted.reason}" if one.accepted else ""
    return f"{one.text}{accepted}" + (f"\n{one.mend}" if one.mend and one.open else "")
