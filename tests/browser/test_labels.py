"""Labels of the drawings: on hundreds of random layouts none covers another, none is cut, none lies on a line not its own."""

import json
import random
import subprocess

from tests.plans import ROOT

RUN = """
const ts = require("typescript"), fs = require("fs");
const code = ts.transpileModule(fs.readFileSync("src/drawing/labels.ts", "utf8"), {compilerOptions: {module: "CommonJS", target: "ES2022"}});
const m = {exports: {}}; new Function("module", "exports", code.outputText)(m, m.exports);
const given = JSON.parse(fs.readFileSync(0, "utf8"));
console.log(JSON.stringify(given.map((one) => [...m.exports.placeLabels(one.wanted, one.bounds, one.taken, one.lines)])));
"""


def layout(luck: random.Random) -> dict:
    width, height = luck.randint(220, 900), luck.randint(140, 500)

    def spot():
        return {"x": luck.uniform(0, width), "y": luck.uniform(0, height)}

    lines = [{"id": f"l{n}", "a": spot(), "b": spot()} for n in range(luck.randint(0, 6))]
    wanted = []
    for n in range(luck.randint(1, 16)):
        at = spot()
        spots = [
            {"x": at["x"] + luck.uniform(-40, 40), "y": at["y"] + luck.uniform(-40, 40)}
            for _ in range(luck.randint(1, 6))
        ]
        on = [line["id"] for line in lines if luck.random() < 0.2]
        wanted.append(
            {"id": f"w{n}", "width": luck.uniform(20, 160), "height": luck.choice([20, 24]), "spots": spots, "on": on}
        )
    taken = [{**spot(), "width": luck.uniform(5, 60), "height": luck.uniform(5, 40)} for _ in range(luck.randint(0, 6))]
    return {
        "wanted": wanted,
        "bounds": {"x": 3, "y": 3, "width": width - 6, "height": height - 6},
        "taken": taken,
        "lines": lines,
    }


def overlap(a: dict, b: dict) -> bool:
    return (
        a["x"] + 1.001 < b["x"] + b["width"] and b["x"] + 1.001 < a["x"] + a["width"]
        and a["y"] + 1.001 < b["y"] + b["height"] and b["y"] + 1.001 < a["y"] + a["height"]
    )  # fmt: skip


def on_line(box: dict, line: dict) -> bool:
    """Whether any of many points of the line lies well inside the box."""
    a, b = line["a"], line["b"]
    for step in range(401):
        x, y = (a[c] + (b[c] - a[c]) * step / 400 for c in "xy")
        if box["x"] + 1 < x < box["x"] + box["width"] - 1 and box["y"] + 1 < y < box["y"] + box["height"] - 1:
            return True
    return False


def test_hundreds_of_random_layouts():
    luck = random.Random(4)
    given = [layout(luck) for _ in range(400)]
    told = subprocess.run(
        ["node", "-e", RUN], input=json.dumps(given), capture_output=True, text=True, check=True, cwd=ROOT / "web"
    )
    placed = 0
    for one, rows in zip(given, json.loads(told.stdout), strict=True):
        boxes, bounds = dict(rows), one["bounds"]
        placed += len(boxes)
        for id, box in boxes.items():
            assert box["x"] >= bounds["x"]
            assert box["y"] >= bounds["y"]
            assert box["x"] + box["width"] <= bounds["x"] + bounds["width"]
            assert box["y"] + box["height"] <= bounds["y"] + bounds["height"]
            others = [*(other for name, other in boxes.items() if name != id), *one["taken"]]
            assert not any(overlap(box, other) for other in others)
            may = next(label for label in one["wanted"] if label["id"] == id)["on"]
            assert not any(on_line(box, line) for line in one["lines"] if line["id"] not in may)
    assert placed > 1000
