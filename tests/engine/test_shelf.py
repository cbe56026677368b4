"""A team's own gear: what a piece may be, its table out and in, and a plan's gear against it."""

import random
from collections import Counter
from datetime import date
from itertools import permutations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from rigging.catalogue import catalogue
from rigging.document import Plan
from rigging.quantities.faults import Refused, faults_of
from rigging.shelf.bags import bags_of
from rigging.shelf.packed import packed, wants
from rigging.shelf.pieces import Piece
from rigging.shelf.table import read_shelf, write_shelf
from rigging.telling.check.sheet import check_here
from tests.plans import changed, demo_document, one_rope_document

TODAY = date(2026, 6, 1)
KIT = catalogue()


def rope(label, length_m, **more):
    return Piece(label=label, table="ropes", kind="low-stretch-11", length_m=length_m, **more)


@pytest.mark.parametrize(
    ("given", "field"),
    [
        ({"table": "ropes", "kind": "low-stretch-11"}, "length_m"),
        ({"table": "bends", "kind": "carabiner", "length_m": 2.0}, "length_m"),
        ({"table": "bends", "kind": "no-such"}, "kind"),
        ({"table": "ropes", "kind": "low-stretch-11", "length_m": 60.0, "stamp_n": 18_000.0}, "stamp_n"),
        ({"table": "surfaces", "kind": "rough-rock"}, "kind"),
        ({"table": "bends", "kind": "carabiner", "count": 0}, "count"),
    ],
)
def test_a_piece_that_can_not_be_is_refused_by_its_field(given, field):
    with pytest.raises(ValidationError) as error:
        Piece(label="X-1", **given)
    assert field in {one.path for one in faults_of(error.value)}


kinds = st.sampled_from(
    [(table, id) for table in ("bends", "devices", "connectors") for id in getattr(KIT, table) if id != "unknown"]
)
texts = st.text(st.characters(codec="utf-8", exclude_categories=("C",)), max_size=20).map(str.strip)
pieces = st.builds(
    lambda label, kind, count, made, mass, bag, note, due: Piece(
        label=label, table=kind[0], kind=kind[1], count=count, made=made, mass_kg=mass, bag=bag, note=note, due=due
    ),
    st.from_regex(r"[A-Z]{1,3}-[0-9]{1,4}", fullmatch=True), kinds, st.integers(1, 500), st.none() | st.integers(1990, 2026),
    st.none() | st.floats(0.01, 100).map(lambda one: round(one, 3)), texts, texts, st.none() | st.dates(date(2020, 1, 1), date(2040, 1, 1)),
)  # fmt: skip


@settings(max_examples=60)
@given(st.lists(pieces, max_size=12, unique_by=lambda one: one.label))
def test_a_shelf_survives_its_table_out_and_in(shelf):
    if shelf:
        assert read_shelf(write_shelf(shelf).encode()).pieces == shelf


def test_five_hundred_pieces_with_every_bad_row_named():
    luck = random.Random(3)
    rows = ["label,kind,count,length_m,made,stamp_kn,mass_kg,bag"]
    bad = {}
    for number in range(500):
        row = [f"P-{number}", "low-stretch-11", "1", "60", "2022", "30", "4.4", f"Bag {number % 5}"]
        if number % 20 == 7:
            column, text = luck.choice([(2, "many"), (3, ""), (4, "1066"), (5, "12"), (6, "x")])
            row[column] = text
            bad[number + 2] = rows[0].split(",")[column]
        rows.append(",".join(row))
    found = read_shelf("\n".join(rows).encode())
    assert found.pieces == []
    named = {int(one.path.split()[1].rstrip(",")): one.path.split(", ")[1] for one in found.faults}
    assert named == bad
    assert all(one.right for one in found.faults)


def test_a_thing_is_known_by_its_name_and_what_is_in_no_table_is_kept_by_its_own():
    named = KIT.ropes["low-stretch-11"].name
    found = read_shelf(f"label;kind;length_m;stamp_kn\nR1;{named};60,5;30,5\nC1;Load cell;;\n".encode()).pieces
    assert [(one.table, one.kind, one.length_m, one.stamp_n) for one in found] == [
        ("ropes", "low-stretch-11", 60.5, 30_500.0), ("other", "Load cell", None, None),
    ]  # fmt: skip


@pytest.mark.parametrize(
    "content", [b"", b"\x00\x01\x02", b"what,how\na,b\n", b"label,kind\nA-1,carabiner\nA-1,carabiner\n"]
)
def test_what_is_no_shelf_is_refused_or_said(content):
    try:
        assert read_shelf(content).faults
    except Refused as error:
        assert error.faults[0].right


def test_a_plan_gets_the_shortest_rope_that_reaches_and_what_is_due_last():
    plan = Plan.model_validate(
        changed(one_rope_document(), ropes=[{"id": "main", "kind": "low-stretch-11", "length_m": 60.0}])
    )
    assert [one.length_m for one in wants(plan) if one.table == "ropes"] == [60.0]
    shelf = [rope("A", 100), rope("B", 61, due=date(2026, 5, 1)), rope("C", 59), rope("D", 70)]
    found = next(one for one in packed(plan, shelf, {}, TODAY) if one.want.table == "ropes")
    assert [(one.piece.label, one.due) for one in found.taken] == [("D", False)]
    without = next(one for one in packed(plan, shelf[1:3], {}, TODAY) if one.want.table == "ropes")
    assert [(one.piece.label, one.due) for one in without.taken] == [("B", True)]


def test_what_is_out_elsewhere_or_retired_is_named_and_not_taken():
    plan = Plan.model_validate(
        changed(one_rope_document(), ropes=[{"id": "main", "kind": "low-stretch-11", "length_m": 60.0}])
    )
    shelf = [rope("A", 61), rope("B", 62, retired="ran over an edge, sheath through")]
    found = next(one for one in packed(plan, shelf, {"A": 1}, TODAY) if one.want.table == "ropes")
    assert (found.taken, found.short) == ((), 1)
    assert ([one.label for one in found.elsewhere], [one.label for one in found.retired]) == (["A"], ["B"])


def test_no_piece_is_counted_twice_and_what_is_short_is_what_the_shelf_lacks():
    plan = Plan.model_validate(demo_document())
    for seed in range(60):
        luck = random.Random(seed)
        shelf = [
            Piece(label=f"P-{n}", table=one.table, kind=one.kind, count=luck.randint(1, 3) if one.length_m is None else 1,
                  length_m=None if one.length_m is None else one.length_m * luck.uniform(0.6, 1.8))
            for n, one in enumerate(luck.choices(wants(plan), k=luck.randint(0, 25)))
        ]  # fmt: skip
        out = {one.label: luck.randint(0, one.count) for one in shelf if luck.random() < 0.3}
        found = packed(plan, shelf, out, TODAY)
        for piece in shelf:
            used = sum(one.count for row in found for one in row.taken if one.piece == piece)
            assert used <= piece.count - out.get(piece.label, 0)
        for row in found:
            assert sum(one.count for one in row.taken) + row.short == row.want.count
            assert all((one.piece.length_m or 0) >= (row.want.length_m or 0) - 1e-9 for one in row.taken)


def test_every_rope_that_could_have_a_piece_gets_one():
    """The longest first and the shortest that does: no other way of giving out ropes serves more, by all ways of giving them out."""
    for seed in range(40):
        luck = random.Random(seed)
        asked = [luck.choice([20.0, 30, 40, 50, 60]) for _ in range(3)]
        ropes = [
            {"id": f"r{n}" if n else "main", "kind": "low-stretch-11", "length_m": long} for n, long in enumerate(asked)
        ]
        document = one_rope_document()
        plan = Plan.model_validate(document).model_copy(
            update={"ropes": [Plan.model_validate(document).ropes[0].model_copy(update=one) for one in ropes]}
        )
        shelf = [rope(f"S-{n}", luck.choice([15.0, 25, 35, 45, 65])) for n in range(4)]
        got = sum(len(one.taken) for one in packed(plan, shelf, {}, TODAY) if one.want.table == "ropes")
        most = max(
            sum(piece.length_m >= long for piece, long in zip(order, asked, strict=False))
            for order in permutations(shelf, 3)
        )
        assert got == most


@settings(max_examples=60)
@given(st.lists(pieces, max_size=30, unique_by=lambda one: one.label))
def test_bags_filled_from_a_shelf_hold_what_is_in_use_and_here(shelf):
    away = {one.label: one.count for one in shelf[::4]}
    shelf = [one.model_copy(update={"retired": "worn"}) if n % 5 == 1 else one for n, one in enumerate(shelf)]
    bags = bags_of(shelf, away, TODAY).bags
    for table in ("bends", "devices"):
        there: Counter[str] = Counter()
        for one in shelf:
            if one.table == table and not one.retired:
                there[one.kind] += one.count - away.get(one.label, 0)
        found = bags.there(table) or Counter()
        assert {kind: min(count, 50) for kind, count in (+there).items()}.keys() == found.keys()
        assert all(found[kind] <= count for kind, count in there.items() if count)


def test_material_of_the_shelf_is_what_a_plan_ties_with_by_length_and_age():
    webbing = [
        Piece(label=f"W-{n}", table="slings", kind="tubular-25", length_m=long, made=2020)
        for n, long in enumerate((6.0, 6.0, 4.0))
    ]
    found = bags_of([*webbing, rope("R-1", 60, bag="Rope bag", carried_by="Ash")], {}, TODAY)
    assert [(one.length_m, one.count, one.age_years) for one in found.kit] == [(6.0, 2, 6.0), (4.0, 1, 6.0)]
    assert [(one.name, one.carried_by, one.ropes) for one in found.bags.packed] == [
        ("Rope bag", "Ash", {"low-stretch-11": 1})
    ]


def test_a_shelf_larger_than_a_plans_bags_still_fills_them():
    many = [Piece(label=f"K-{n}", table="bends", kind="carabiner", count=500, bag=f"Bag {n}") for n in range(40)]
    long = [Piece(label=f"W-{n}", table="slings", kind="tubular-25", length_m=900.0 - n) for n in range(90)]
    found = bags_of([*many, *long], {}, TODAY)
    assert (len(found.bags.packed), len(found.kit)) == (20, 60)


@pytest.mark.parametrize(
    ("bags", "said"), [({"ropes": {"low-stretch-11": 1}}, True), ({"ropes": {"low-stretch-11": 2}}, False), ({}, False)]
)
def test_what_the_plan_uses_and_the_bags_do_not_hold_is_said_in_the_check(bags, said):
    document = {**demo_document(), "bags": bags}
    found = [one for one in check_here(Plan.model_validate(document)).lines if one.id.startswith("not-in-bags")]
    assert [("uses 2" in one.text, one.level) for one in found] == ([(True, "look")] if said else [])
