"""The command line of the core."""

from __future__ import annotations

import argparse
import gc
import json
import os
import sys
from dataclasses import asdict
from pathlib import Path
from types import SimpleNamespace
from typing import TYPE_CHECKING, Any

# One answer and the process ends: its matrices are too small for threads, and no installed package is looked through for
# plug-ins to its models.
os.environ["OPENBLAS_NUM_THREADS"] = "1"
sys.modules["pydantic.plugin._loader"] = SimpleNamespace(get_plugins=tuple)  # type: ignore[assignment]

from pydantic import ValidationError
from pydantic_core import to_json

from rigging.quantities.faults import Refused, faults_of, refuse
from rigging.quantities.ranges import Range, exactly
from rigging.quantities.yaml import read_yaml

if TYPE_CHECKING:
    from rigging.catalogue.haul import HaulSystem
    from rigging.document import Plan, TensionLine
    from rigging.mechanics.legs import Hang


def read_file(name: str) -> Any:
    """A YAML or JSON file's content."""
    try:
        text = Path(name).read_text(encoding="utf-8")
    except OSError as error:
        raise refuse(name, error.strerror or "can not be read", "name a file that exists, or a catalogue id") from error
    except UnicodeDecodeError as error:
        raise _unreadable(name) from error
    try:
        # Most files are JSON, which is read a hundred times faster.
        return json.loads(text) if text.lstrip().startswith(("{", "[")) else _yaml(name, text)
    except json.JSONDecodeError:
        return _yaml(name, text)
    except RecursionError as error:
        raise _unreadable(name) from error


def _yaml(name: str, text: str) -> Any:
    import yaml

    try:
        return read_yaml(text)
    except (yaml.YAMLError, RecursionError) as error:
        raise _unreadable(name) from error


def _unreadable(name: str) -> Refused:
    return refuse(name, "neither YAML nor JSON", "give a text file in the published notation")


def _system(name: str) -> HaulSystem:
    from rigging.catalogue import catalogue
    from rigging.catalogue.haul import HaulSystem

    known = catalogue().systems.get(name)
    return known or HaulSystem.model_validate(read_file(name))


def _eta(text: str, option: str) -> tuple[str, Range]:
    from rigging.catalogue import catalogue

    known = catalogue().bends.get(text)
    if known:
        return known.id, known.eta
    right = f"a number above 0 and up to 1, or one of {', '.join(catalogue().bends)}"
    try:
        value = float(text)
    except ValueError as error:
        raise refuse(option, f"{text!r} is neither a number nor a known kind", right) from error
    if not 0 < value <= 1:
        raise refuse(option, f"η = {text} is outside 0 to 1", right)
    return text, exactly(value)


def _assigned(system: HaulSystem, every: str, at: list[str]) -> dict[str, tuple[str, Range]]:
    from rigging.catalogue.haul import bends

    places = bends(system)
    found = {place.id: _eta(every, "--every") for place in places}
    for item in at:
        node, _, kind = item.partition("=")
        hit = [place.id for place in places if node in (place.id, place.node)]
        if not hit:
            raise refuse(f"--at {item}", f"no bend at {node!r}", f"one of {', '.join(p.id for p in places) or 'none'}")
        found.update({place: _eta(kind, f"--at {item}") for place in hit})
    return found


def _haul(options: argparse.Namespace) -> Any:
    from rigging.catalogue.haul import advantage

    system = _system(options.system)
    given = _assigned(system, options.every, options.at)
    result = advantage(system, {place: eta for place, (_, eta) in given.items()})
    return {
        "ideal": result.ideal,
        "actual": asdict(result.actual),
        "tensions": [[asdict(t) for t in piece] for piece in result.tensions],
        "anchors": {name: asdict(force) for name, force in result.anchors.items()},
        "rope_per_metre": result.ideal,
        "bends": {place: kind for place, (kind, _) in given.items()},
        **_stroke(system, options.reach, options.clearance),
    }


def _stroke(system: HaulSystem, reach_m: float | None, clearance_m: float) -> dict[str, Any]:
    """One haul over a reach; nothing where no reach is given, null where nothing runs out."""
    if reach_m is None:
        return {}
    from rigging.catalogue.haul import stroke_of

    if not (0 < reach_m <= 1000):
        raise refuse("--reach", f"{reach_m:g} m is no reach", "give metres, above 0 and up to 1000")
    if not (0 <= clearance_m <= reach_m):
        raise refuse("--clearance", f"{clearance_m:g} m does not fit the reach", f"give metres, 0 to {reach_m:g}")
    found = stroke_of(system, reach_m, clearance_m)
    return {"stroke": found and {"rise_m": found.rise_m, "meets": list(found.meets)}}


def _hang_json(found: Hang | None) -> dict[str, Any]:
    if found is None:
        return {"point": None, "tensions": None}
    return {"point": found.point.tolist(), "tensions": found.tensions.tolist()}


def _legs(options: argparse.Namespace) -> Any:
    from rigging.mechanics.legs import LegsProblem, solve_legs

    answer = solve_legs(LegsProblem.model_validate(read_file(options.file)))
    removed = [{"removed": number, **_hang_json(one)} for number, one in enumerate(answer.without)]
    return {**_hang_json(answer.whole), "without": removed}


def _holds(options: argparse.Namespace) -> Any:
    from rigging.mechanics.holds import HANDS, LyingRig, lying, study
    from rigging.telling.work.procedures import holds_json

    rig = lying(LyingRig.model_validate(read_file(options.file)))
    found = study(rig.without(HANDS) if options.hands_off else rig)
    return holds_json(found)


def _catch(options: argparse.Namespace) -> Any:
    from rigging.mechanics.dynamics import Fall

    found = Fall.model_validate(read_file(options.file)).arrest()
    return {
        "peak_kN": found.peak_n / 1000,
        **{name: getattr(found, name) for name in ("stretch_m", "slid_m", "stops_in_m")},
    }


def _check(options: argparse.Namespace) -> Any:
    from rigging.document import Plan
    from rigging.telling.check.sheet import check

    return check(Plan.model_validate(read_file(options.plan))).model_dump(mode="json")


def _best(options: argparse.Namespace) -> Any:
    from concurrent.futures import ProcessPoolExecutor

    from rigging.document import Plan
    from rigging.telling.sheet.rigs import rigs_json

    plan = Plan.model_validate(read_file(options.plan))
    if options.people is not None and not 0 <= options.people <= 100:
        raise refuse("--people", f"{options.people} is out of range", "give 0 to 100")
    with ProcessPoolExecutor(os.cpu_count() or 1) as pool:
        return rigs_json(plan, options.without, options.people, pool)


def _way(options: argparse.Namespace) -> Any:
    from rigging.document import Plan
    from rigging.lines.whole_way import JOBS, whole_way

    plan = Plan.model_validate(read_file(options.plan))
    ids = [one.id for one in plan.lines]
    tight = next((one for one in plan.tension_lines if one.id == options.line or not (ids or options.line)), None)
    if tight is not None:
        return _along(plan, tight, options.positions)
    wanted = options.line or next((one.id for one in plan.lines if one.role == "main"), ids[0] if ids else "")
    if wanted not in ids:
        raise refuse(
            "--line",
            f"this plan has no line {wanted!r}",
            f"one of {', '.join([*ids, *(one.id for one in plan.tension_lines)]) or 'none: lay a line first'}",
        )
    if not 2 <= options.positions <= 2000:
        raise refuse("--positions", f"{options.positions} is out of range", "give 2 to 2000")
    found = whole_way(plan, plan.lines[ids.index(wanted)], options.positions)
    places = [
        {
            "x_m": place.x_m,
            "z_m": place.z_m,
            "line_m": place.line_m,
            "turns": [dict(zip(("x_m", "z_m", "turn_rad"), turn, strict=True)) for turn in place.turns],
            **{job: (pulls := place.pulls(job)) and asdict(pulls) for job in JOBS},
        }
        for place in found.places
    ]
    return {
        "line": found.line,
        "positions": places,
        "events": [asdict(one) for one in found.events if one.line == wanted],
    }


def _along(plan: Plan, line: TensionLine, positions: int) -> Any:
    """The load along a tension line, from its near end to its far one."""
    from rigging.lines.tension_line import along_line

    return {
        "line": line.id,
        "positions": [
            {
                **{name: asdict(value) if isinstance(value, Range) else value for name, value in vars(place).items()
                   if name not in ("near", "far")},
                "near_n": asdict(place.near.size), "far_n": asdict(place.far.size),
            }
            for place in along_line(plan, line, positions)
        ],
    }  # fmt: skip


def _analyse(options: argparse.Namespace) -> Any:
    from rigging.document import Plan
    from rigging.telling.sheet.report import analyse

    return analyse(Plan.model_validate(read_file(options.plan))).model_dump(mode="json")


def _anchors(options: argparse.Namespace) -> Any:
    from rigging.document import Plan
    from rigging.telling.anchors.report import study

    return study(Plan.model_validate(read_file(options.plan)), options.state).model_dump(mode="json")


def _procedure(options: argparse.Namespace) -> Any:
    from rigging.document import Plan
    from rigging.telling.work.procedures import procedure

    return procedure(Plan.model_validate(read_file(options.plan)), options.id)


def _operation(options: argparse.Namespace) -> Any:
    from rigging.document import Plan
    from rigging.telling.work.procedures import operation

    return operation(Plan.model_validate(read_file(options.plan)))


def _drill(options: argparse.Namespace) -> Any:
    from rigging.learning.drills.skills import drill
    from rigging.telling.learning.drills import drill_report

    if options.level not in (1, 2, 3):
        raise refuse("--level", f"{options.level} is no level", "1, 2 or 3")
    if options.plan is not None:
        return _own_drill(options)
    return drill_report(drill(options.skill, options.seed, options.level)).model_dump(mode="json", exclude={"shown"})


def _own_drill(options: argparse.Namespace) -> Any:
    from rigging.document import Plan
    from rigging.telling.learning.own_drills import own_drill_report

    plan = Plan.model_validate(read_file(options.plan))
    return own_drill_report(plan, options.skill, options.seed, options.level).model_dump(mode="json", exclude={"shown"})


def _knot(options: argparse.Namespace) -> Any:
    from rigging.telling.learning.knots import knot_json

    return knot_json(options.id)


def _read(options: argparse.Namespace) -> Any:
    from rigging.document import Plan
    from rigging.files.reading import FileSettings, read_places

    plan = Plan.model_validate(read_file(options.plan))
    said = FileSettings.model_validate(read_file(options.settings) if options.settings else {})
    try:
        content = Path(options.file).read_bytes()
    except OSError as error:
        raise refuse(options.file, error.strerror or "can not be read", "name a file that exists") from error
    return read_places(content, Path(options.file).name, plan, said)


def _schema(options: argparse.Namespace) -> Any:
    from rigging.document.schema import plan_schema

    return plan_schema()


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="python -m rigging", description="Rope rescue rigging, computed.")
    commands = parser.add_subparsers(dest="command", required=True)
    haul = commands.add_parser("haul", help="advantage of a haul system")
    haul.add_argument("system", help="catalogue id, or a file in the haul-system notation")
    haul.add_argument("--every", default="ball-bearing-pulley", metavar="KIND-or-η")
    haul.add_argument("--at", action="append", default=[], metavar="NODE=KIND-or-η")
    haul.add_argument("--reach", type=float, metavar="M", help="how far forward it can be set: prints the stroke")
    haul.add_argument(
        "--clearance", type=float, default=0.0, metavar="M", help="what two nodes take up where they meet"
    )
    haul.set_defaults(run=_haul)
    legs = commands.add_parser("legs", help="equilibrium of a working point on several legs")
    legs.add_argument("file", help="legs, load and start point, as JSON or YAML")
    legs.set_defaults(run=_legs)
    holds = commands.add_parser("holds", help="what holds a rig as it lies, and what backs it up")
    holds.add_argument("file", help="load, nodes and pieces, as JSON or YAML")
    holds.add_argument("--hands-off", action="store_true", help="with every hand already off")
    holds.set_defaults(run=_holds)
    catch = commands.add_parser("catch", help="a fall stopped by one rope")
    catch.add_argument("file", help="mass_kg, fall_m, rope_m, ea_kn and slip_kN, as JSON or YAML")
    catch.set_defaults(run=_catch)
    sheet = commands.add_parser("check", help="every part of a plan questioned: what holds, what would mend it")
    sheet.add_argument("plan", help="a plan document")
    sheet.set_defaults(run=_check)
    rigs = commands.add_parser(
        "best", help="the best whole rigs out of the bags: none is bettered in everything, none is stopped for"
    )
    rigs.add_argument("plan", help="a plan document")
    rigs.add_argument("--without", default=None, metavar="BAG", help="were this bag not there")
    rigs.add_argument("--people", type=int, default=None, metavar="N", help="were there so many to haul")
    rigs.set_defaults(run=_best)
    way = commands.add_parser("way", help="the whole way of a line: every place of the load, and what comes to what")
    way.add_argument("plan", help="a plan document")
    way.add_argument("--line", default=None, help="id of a line or a tension line; left out, the main line")
    way.add_argument("--positions", type=int, default=50, help="how many places")
    way.set_defaults(run=_way)
    steps = commands.add_parser("procedure", help="a procedure on a plan: its steps, what holds after every edit")
    steps.add_argument("id", help="its id; one that is not known is answered with all that are")
    steps.add_argument("plan", help="a plan document")
    steps.set_defaults(run=_procedure)
    course = commands.add_parser(
        "operation", help="a plan's whole operation: steps, minutes, what bears how much after each"
    )
    course.add_argument("plan", help="a plan document")
    course.set_defaults(run=_operation)
    plan = commands.add_parser("analyse", help="report on a plan document")
    plan.add_argument("plan")
    plan.set_defaults(run=_analyse)
    anchors = commands.add_parser("anchors", help="report on a plan's features and anchors")
    anchors.add_argument("plan")
    anchors.add_argument("--state", default="raising", help="the moment of the work, as the report names it")
    anchors.set_defaults(run=_anchors)
    drawn = commands.add_parser(
        "knot", help="a knot's drawing: stages, faults, and the planar diagram code of its rope closed outside"
    )
    drawn.add_argument("id", help="its id; one that is not known is answered with all that are")
    drawn.set_defaults(run=_knot)
    asked = commands.add_parser(
        "drill", help="a drill of a skill by its seed, with its answer and how that is worked out"
    )
    asked.add_argument("skill", help="its id; one that is not known is answered with all that are")
    asked.add_argument("--seed", type=int, default=0)
    asked.add_argument("--level", type=int, default=1, help="1 to 3")
    asked.add_argument("--plan", default=None, help="a plan document that it is about")
    asked.set_defaults(run=_drill)
    places = commands.add_parser(
        "read", help="what a file of places would bring to a plan, and what has to be asked of it"
    )
    places.add_argument(
        "file", help="a table, workbook, GeoJSON, GPX, KML, KMZ, sentences of a rangefinder or a photograph"
    )
    places.add_argument("plan", help="a plan document")
    places.add_argument("--settings", default=None, metavar="FILE", help="what is said of it, as JSON or YAML")
    places.set_defaults(run=_read)
    commands.add_parser("schema", help="JSON Schema of the plan document").set_defaults(run=_schema)
    return parser


def main(arguments: list[str] | None = None) -> int:
    """Run one command; exit status 2 and one line per fault on bad input."""
    options = _parser().parse_args(arguments)
    try:
        result = options.run(options)
    except ValidationError as error:
        faults = [str(fault) for fault in faults_of(error)]
    except Refused as error:
        faults = [str(fault) for fault in error.faults]
    else:
        print(to_json(result, indent=2).decode())
        return 0
    print("\n".join(faults), file=sys.stderr)
    return 2


if __name__ == "__main__":
    # One answer and the process ends: looking for cycles meanwhile costs a tenth of it.
    gc.disable()
    status = main()
    sys.stdout.flush()
    os._exit(status)
