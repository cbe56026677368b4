"""The rig card: one page with what a team takes to the edge: the rig from the side and from above, lengths, people, words, limits, what if."""

from collections.abc import Iterator
from contextlib import suppress

from plans.models import Plan
from reportlab.graphics.barcode.qr import QrCodeWidget
from reportlab.lib.units import mm
from reportlab.platypus import Flowable, Table, TableStyle

from papers.bench import bench
from papers.drawings import Numbered, crossing, from_above, section
from papers.faces import plain
from papers.sheet import counted_pdf, said, table
from papers.tagged import Drawn
from rigging.catalogue import catalogue
from rigging.document import Plan as Document
from rigging.quantities.faults import Refused
from rigging.quantities.ranges import Range
from rigging.quantities.units import Wording
from rigging.telling.check.sheet import CheckReport, check
from rigging.telling.figures.shapes import LineReport, Report, StateReport
from rigging.telling.figures.working import Figure
from rigging.telling.sheet.report import analyse
from rigging.telling.sheet.way import WayReport, way_report
from rigging.telling.words.names import lower_first
from rigging.telling.work.rigged import rigged

WORDS = (
    "ready · slow · stop · down · up · reset · set · rope off · clear. The one addressed repeats. Anyone may call stop."
)
_SECTION_MM, _ABOVE_MM = 112, 66
_HEIGHTS_MM = (80, 66, 52, 40, 30)
_CODE_MM = 24

# Places of the load along a tension line that are asked.
_PLACES = 31
# So many open lines fit on a card.
_MOST_OPEN = 4


def shown(report: Report) -> StateReport | None:
    """The state that the card shows: coming up where it is planned, else going down, else held; None where the load hangs on a tension line alone."""
    states = {one.id: one for one in report.states if one.available}
    return next((states[id] for id in ("raising", "lowering", "held", *states) if id in states), None)


def at_work(report: Report, state: StateReport) -> LineReport:
    """The line of which the card shows the bench."""
    id = state.hand_line or "main"
    return next((one for one in report.lines if one.id == id), report.lines[0])


def rig_card(plan: Plan, address: str = "") -> bytes:
    """The card of the latest revision, on one page where that can be: the drawings make room. `address`: where the plan is found on the
    team's own network, for a camera to read."""
    revision = plan.latest
    document = Document.model_validate_json(revision.document)
    report, found = analyse(document), check(document)
    for height_mm in _HEIGHTS_MM:
        story = list(_story(document, report, found, height_mm, address))
        made, pages = counted_pdf(f"Rig card: {document.title}", revision, story)
        if pages == 1:
            break
    return made


def _story(
    document: Document, report: Report, found: CheckReport, height_mm: float, address: str
) -> Iterator[Flowable]:
    state, say = shown(report), Wording()
    if state is None:
        yield from _crossing(document, found, height_mm, say, address)
        return
    side, on_side = section(document, report, state, _SECTION_MM, height_mm)
    above, on_above = from_above(document, _ABOVE_MM, height_mm, len(on_side) + 1)
    pulls = {one.anchor: say.force(_range(one.force)) for one in state.anchors}
    drawn = "from the side, and from above (out along the fall line to the right)"
    yield said(f"{document.place}. {state.name}: {drawn}.", "small")
    yield _beside([side, above], (_SECTION_MM, _ABOVE_MM))
    yield said("  ".join(_legend(on_side, on_above, pulls, document)), "small")
    yield said(f"The bench, {lower_first(state.name)}. {' '.join(_lengths(report, say))}", "small")
    yield bench(state, at_work(report, state), _SECTION_MM + _ABOVE_MM, say)
    yield table(
        ("what holds, and what if", "holds on", "behind it", "hands off", "weakest"),
        ((one.name, one.why_not or one.holds_on, one.behind, one.hands_off, one.weakest) for one in found.rows),
        (28, 38, 40, 32, 42),
    )
    yield from _said_last(document, found, " ".join(_limits(report, found.rule, say)), address)


def _said_last(document: Document, found: CheckReport, limits: str, address: str) -> Iterator[Flowable]:
    """What is rigged, in its order; limits, people, words, with where the plan is found beside them; and what is open."""
    yield said("Rigged in this order", "small")
    yield from (said(f"{number}  {one}", "cell") for number, one in enumerate(rigged(document), start=1))
    texts = (f"Limits. {limits}", f"People. {_people(document)}.", f"Words. {WORDS}")
    rows: list[Flowable] = [said(one, "cell") for one in texts]
    if address:
        yield _beside([rows, _code(address)], (_SECTION_MM + _ABOVE_MM - _CODE_MM, _CODE_MM))
    else:
        yield from rows
    if found.stops:
        loud = [one for one in found.lines if one.open]
        more = len(loud) - _MOST_OPEN
        rest = [f"and {more} more: see the check sheet."] if more > 0 else []
        yield said("Open: " + " ".join([*(f"◆ {one.text}" for one in loud[:_MOST_OPEN]), *rest]), "cell")


def spans_of(document: Document) -> dict[str, tuple[WayReport, list[tuple[float, float]]]]:
    """Every tension line that can be laid, with its way and how it hangs with its load where that is lowest: near end, load, far end."""
    found = {}
    for line in document.tension_lines:
        with suppress(Refused):
            way = way_report(document, line.id, _PLACES)
            low = min(way.places, key=lambda one: one.z_m)
            near, far = way.ends
            found[line.id] = way, [(near.x_m, near.z_m), (low.x_m, low.z_m), (far.x_m, far.z_m)]
    return found


def _crossing(
    document: Document, found: CheckReport, height_mm: float, say: Wording, address: str
) -> Iterator[Flowable]:
    """The card of a load on tension lines alone."""
    spans = spans_of(document)
    side, on_side = crossing(document, [hung for _, hung in spans.values()], _SECTION_MM, height_mm)
    above, on_above = from_above(document, _ABOVE_MM, height_mm, len(on_side) + 1)
    yield said(
        f"{document.place}. From the side, each line as it hangs with its load where it hangs lowest, and from above.",
        "small",
    )
    yield _beside([side, above], (_SECTION_MM, _ABOVE_MM))
    yield said("  ".join(f"{one.number} {one.name}." for one in [*on_side, *on_above]), "small")
    ropes = {one.id: one for one in document.ropes}
    yield table(
        ("tension line", "from, to", "ropes", "pulled to", "what slips", "hangs below", "worst"),
        (
            (
                one.id, f"{document.anchor(one.anchor).name}, {document.anchor(one.far).name}",
                f"{one.ropes} × {catalogue().ropes[ropes[one.rope].kind].name}, {say.length(ropes[one.rope].length_m)}", say.force(one.pretension_n),
                catalogue().devices[one.slips].name if one.slips else "nothing", say.length(one.hang_m),
                " ".join(f"{worst.text}." for worst in spans[one.id][0].jobs[0].worst) if one.id in spans else "It can not be laid so.",
            )
            for one in document.tension_lines
        ),
        (24, 30, 34, 17, 22, 13, 40),
    )  # fmt: skip
    yield from _said_last(document, found, found.rule, address)


def _code(address: str) -> Drawn:
    """An address as a QR code."""
    code = QrCodeWidget(address, barWidth=_CODE_MM * mm, barHeight=_CODE_MM * mm, barLevel="M")
    return Drawn(_CODE_MM * mm, _CODE_MM * mm, code).shows(f"Code of the address {address}")


def _beside(rows: list[Flowable | list[Flowable]], widths_mm: tuple[float, ...]) -> Flowable:
    found = Table([rows], colWidths=[one * mm for one in widths_mm], hAlign="LEFT")
    found.setStyle(TableStyle([("FONTNAME", (0, 0), (-1, -1), plain()), ("VALIGN", (0, 0), (-1, -1), "TOP"), ("LEFTPADDING", (0, 0), (-1, -1), 0), ("RIGHTPADDING", (0, 0), (-1, -1), 4)]))  # fmt: skip
    return found


def _legend(
    on_side: list[Numbered], on_above: list[Numbered], pulls: dict[str, str], document: Document
) -> Iterator[str]:
    ids = {anchor.name: anchor.id for anchor in document.anchors}
    for one in [*on_side, *on_above]:
        pull = pulls.get(ids.get(one.name, ""), "") if one in on_above else ""
        yield f"{one.number} {one.name}{f', {pull}' if pull else ''}."


def _lengths(report: Report, say: Wording) -> Iterator[str]:
    for one in report.lines:
        yield f"{one.name}, working point to load {say.length(one.length.expected)}."


def _people(document: Document) -> str:
    rows = [f"{one.name}, {one.role}" for one in document.team.people] or [f"{document.team.haulers} haulers"]
    return "; ".join(rows)


def _limits(report: Report, rule: str, say: Wording) -> Iterator[str]:
    states = {one.id: one for one in report.states if one.available}
    for id, words in (("raising", "Hands raising"), ("lowering", "Brake hand")):
        hand = states[id].hand if id in states else None
        if hand is not None:
            yield f"{words} {say.force(_range(hand))}."
    if report.haul is not None:
        haul = report.haul
        resets = f", {haul.resets} {'reset' if haul.resets == 1 else 'resets'}" if haul.resets else ""
        yield f"{haul.name}: {_round(haul.haulers_sustained)} to pull{resets}."
    for one in report.budgets:
        left = one.left.low
        yield f"Rope {one.line} ({one.job}): {say.length(abs(left))} {'left' if left >= 0 else 'short'}."
    yield rule


def _round(figure: Figure) -> str:
    low, high = round(figure.low), round(figure.high)
    return str(low) if low == high else f"{low} to {high}"


def _range(figure: Figure) -> Range:
    return Range(figure.low, figure.expected, figure.high)
