"""Designs, their evaluation, and the files that come of them."""

from __future__ import annotations

import ast
import json
import re
import subprocess
import sys
from collections.abc import Callable, Hashable
from io import StringIO
from pathlib import Path
from typing import Any

import ezdxf
import ezdxf.path
import pytest
import shapely
import svgelements

import perigram
from perigram.cli import main
from perigram.core.errors import PerigramError
from perigram.core.formats.bundle import cut_files, zipped
from perigram.core.formats.svg import path_data
from perigram.core.geometry import Region
from perigram.core.geometry.measure import area, bounds, length
from perigram.core.recipe.cache import Cache
from perigram.core.recipe.design import Design, read_design, references
from perigram.core.recipe.edit import add_line, remove_line
from perigram.core.recipe.evaluate import evaluate
from perigram.core.recipe.lines import KINDS
from perigram.core.recipe.values import Row
from perigram.library import DesignSources, load_design

from .material import assert_keeps_its_promises, evenodd, fine, holds_finely, row

ROOT = Path(perigram.__file__).parents[1]
DEMOS = sorted((ROOT / "demo").glob("*.perigram.json"))


def shirt() -> Design:
    return load_design(ROOT / "demo" / "weekend-shirt.perigram.json")


def changed(design: Design, line: int, **values: object) -> Design:
    recipe = list(design.recipe)
    recipe[line] = recipe[line].model_copy(update=values)
    return design.model_copy(update={"recipe": recipe})


@pytest.mark.parametrize("path", DEMOS, ids=lambda p: p.name.split(".")[0])
def test_demo_designs_are_cut_ready_and_keep_every_promise(path: Path) -> None:
    design = load_design(path)
    proof = evaluate(design, DesignSources(design))
    assert proof.is_cuttable
    for ply in proof.plies:
        assert_keeps_its_promises(ply.region)
        assert holds_finely(ply.region)


@pytest.mark.parametrize("clearance", [1.8, 0.3, 0.0, -0.7])
def test_the_two_sides_of_a_knockout_keep_their_clearance(clearance: float) -> None:
    # Without leavings dropped: the two sides alone.
    design = changed(shirt(), 2, clearance=clearance, least=0.0)
    proof = evaluate(design, DesignSources(design))
    regions = {r.ref: r.region for r in proof.results}
    remains, shows, words = (fine(regions[ref]) for ref in ("l3/l1/letters", "l3/l2/art", "l1/letters"))
    art = fine(regions["l2/art"])
    if clearance > 0:
        assert remains.distance(art) == pytest.approx(clearance, abs=0.01)
    elif clearance == 0:
        assert shapely.union(remains, shows).area == pytest.approx(words.area, rel=1e-6)
    else:
        under = shapely.intersection(remains, shows)
        edge = shapely.intersection(
            words, shapely.difference(art, shapely.buffer(art, clearance, quad_segs=64))
        )
        assert under.area == pytest.approx(edge.area, rel=0.01)


def test_what_is_shown_whole_and_filled() -> None:
    design = changed(shirt(), 2, shows="whole", holes="filled")
    proof = evaluate(design, DesignSources(design))
    regions = {r.ref: r.region for r in proof.results}
    assert area(regions["l3/l2/art"]) == pytest.approx(area(regions["l2/art"]))
    filled = changed(design, 2, holes="kept")
    kept = {r.ref: r.region for r in evaluate(filled, DesignSources(filled)).results}
    assert area(kept["l3/l1/letters"]) > area(regions["l3/l1/letters"])


def test_results_are_computed_again_only_where_something_changed() -> None:
    design, cache = shirt(), Cache()
    sources = DesignSources(design)
    before = {r.ref: r for r in evaluate(design, sources, cache).results}
    after = {r.ref: r for r in evaluate(changed(design, 2, clearance=2.5), sources, cache).results}
    assert after["l1/letters"].region is before["l1/letters"].region
    assert after["l4/backing"].region is before["l4/backing"].region
    assert after["l3/l1/letters"].key != before["l3/l1/letters"].key
    cold = {r.ref: r for r in evaluate(changed(design, 2, clearance=2.5), sources).results}
    assert path_data(cold["l3/l1/letters"].region) == path_data(after["l3/l1/letters"].region)


def test_a_line_that_fails_leaves_the_others_standing() -> None:
    base = shirt()
    broken = {
        "was removed": changed(base, 2, out_of=["l9/letters"]),
        "not chosen yet": changed(base, 2, of=[]),
        "later line": changed(base, 1, place=base.recipe[1].place.model_copy(update={"on": "l3/l1/letters"})),  # type: ignore[union-attr]
        "can be -20 to 50 mm": changed(base, 2, clearance=99.0),
        "no font": changed(base, 0, font="no-such-font"),
        "missing from this design": changed(base, 1, picture="gone"),
        "has no “水”": changed(base, 0, rows=[Row(text="水")]),
    }
    for says, design in broken.items():
        design = Design.model_validate(design.model_dump())
        proof = evaluate(design, DesignSources(design))
        stops = [f for f in proof.findings if f.level == "stop"]
        assert any(says in f.text for f in stops), (says, [f.text for f in stops])
        assert not proof.is_cuttable
        with pytest.raises(PerigramError, match="Not cut-ready"):
            cut_files(design.name, proof.to_cut(), ["svg"])


def test_small_bits_are_found_where_they_are() -> None:
    """A dumbbell's bar of 0.6 mm is no bit, a lone strip of 0.6 mm is."""
    shape = {"id": "l1", "kind": "shape", "figure": "rounded box", "width": 0.6, "height": 30, "radius": 0}
    wide = {**shape, "id": "l2", "width": 20, "place": {"x": 40, "y": 0, "on": None, "rotate": 0}}
    design = read_design(
        {
            "format": "perigram",
            "version": 2,
            "recipe": [shape, wide],
            "materials": [{"id": "m", "name": "Card", "colour": "#112233", "smallest": 1.0}],
            "plies": [{"id": "p", "name": "Strips", "material": "m", "results": ["l1/shape", "l2/shape"]}],
        }
    )
    found = [f for f in evaluate(design, DesignSources(design)).findings if f.level == "look"]
    assert [f.text for f in found] == ["1 bit of Strips under 1 mm"]
    assert found[0].place == pytest.approx((-0.3, -15, 0.3, 15), abs=1e-6)


def test_adding_and_removing_lines_keeps_plies_sensible() -> None:
    design = Design()
    for kind in ("letter", "shape", "knock_out", "back"):
        design, _ = add_line(design, kind)
    cuts = {ply.name: ply.results for ply in design.plies}
    backing = "Backing of NEW WORDS and Heart"
    assert cuts == {backing: ["l4/backing"], "NEW WORDS": ["l3/l1/letters"], "Heart": ["l3/l2/shape"]}
    assert design.plies[0].name == backing, "a backing lies under everything"
    assert evaluate(design, DesignSources(design)).is_cuttable
    without = remove_line(design, "l3")
    assert {p.name: p.results for p in without.plies}["NEW WORDS"] == ["l1/letters"]
    assert references(without.recipe[-1]) == ["l1/letters", "l2/shape"]
    bare = remove_line(without, "l1")
    assert "NEW WORDS" not in {p.name for p in bare.plies}
    with pytest.raises(PerigramError, match="no kind of line"):
        add_line(design, "melt")


def design_with(**line: object) -> dict[str, object]:
    return {"format": "perigram", "version": 2, "recipe": [{"id": "a", **line}]}


@pytest.mark.parametrize(
    ("data", "says"),
    [
        ([], "not a Perigram design"),
        ({"format": "perigram"}, "which version"),
        ({"format": "perigram", "version": 99}, "newer Perigram"),
        (design_with(kind="melt"), "damaged at recipe › 0"),
        (design_with(kind="shape", width="x"), "width"),
        ({"format": "perigram", "version": 2, "recipe": [{"kind": "shape", "id": "a"}] * 2}, "one line id"),
    ],
)
def test_damaged_design_files_say_where(data: object, says: str) -> None:
    with pytest.raises(PerigramError, match=says):
        read_design(data)


def test_files_are_the_same_bytes_each_time_and_read_back_true() -> None:
    design = shirt()
    proof = evaluate(design, DesignSources(design))
    files = cut_files(design.name, proof.to_cut(), ["svg", "dxf"])
    again = cut_files(design.name, evaluate(design, DesignSources(design)).to_cut(), ["svg", "dxf"])
    assert files == again
    assert zipped(files) == zipped(again)
    assert len(files) == 7
    x0, y0, x1, _ = proof.bounds  # type: ignore[misc]
    for ply in proof.plies:
        svg = next(c for n, c in files.items() if f"- {ply.ply.name} -" in n and n.endswith(".svg"))
        path = next(
            e for e in svgelements.SVG.parse(StringIO(svg.decode()), ppi=25.4).elements()
            if isinstance(e, svgelements.Path)
        )  # fmt: skip
        assert path.length(error=1e-4) == pytest.approx(length(ply.region), rel=1e-4)
        left, top, right, _ = path.bbox()
        box = bounds(ply.region)
        assert box
        # Mirrored once, in the page's width, and not upside down.
        assert (left, top, right) == pytest.approx((x1 - box[2], box[1] - y0, x1 - box[0]), abs=2e-4)
        dxf = next(c for n, c in files.items() if f"- {ply.ply.name} -" in n and n.endswith(".dxf"))
        document = ezdxf.read(StringIO(dxf.decode("cp1252")))
        assert not document.audit().has_errors
        loops = [ezdxf.path.make_path(e) for e in document.modelspace()]
        assert len(loops) == ply.region.loop_count
        assert all(loop.is_closed for loop in loops)
        rings = [shapely.Polygon([(v.x, v.y) for v in loop.flattening(1e-4)]) for loop in loops]
        assert evenodd(rings).area == pytest.approx(area(ply.region), rel=1e-4)
    assert x0 < 0


def test_path_data_reads_back_as_the_region() -> None:
    region = row("lobster", "Qy&8", 70)
    rings = []
    for loop in svgelements.Path(path_data(region, 6)).as_subpaths():
        steps = [s.point(i / 200) for s in (loop[i] for i in range(1, len(loop))) for i in range(200)]
        rings.append(shapely.Polygon([(p.x, p.y) for p in steps]))
    assert evenodd(rings).area == pytest.approx(area(region), rel=1e-5)


@pytest.mark.parametrize("path", DEMOS, ids=lambda path: path.name.split(".")[0])
def test_another_process_writes_the_same_bytes(path: Path, tmp_path: Path) -> None:
    """Orders of sets and dictionaries differ with the hash seed; files must not."""
    command = ["export", str(path), "--out", str(tmp_path), "--format", "svg", "--format", "dxf"]
    assert main(command) == 0
    here = {file.name: file.read_bytes() for file in tmp_path.iterdir()}
    env = {"PYTHONPATH": str(ROOT), "PYTHONHASHSEED": "1"}
    python = [sys.executable, "-m", "perigram.cli"]
    made = subprocess.run([*python, *command], capture_output=True, text=True, cwd=tmp_path, env=env)
    assert made.returncode == 0, made.stderr
    assert {file.name: file.read_bytes() for file in tmp_path.iterdir()} == here
    assert len(here) >= 3


def test_the_command_line_works_without_server_or_database(tmp_path: Path) -> None:
    def run(*arguments: str) -> subprocess.CompletedProcess[str]:
        command = [sys.executable, "-m", "perigram.cli", *arguments]
        env = {"PYTHONPATH": str(ROOT)}
        return subprocess.run(command, capture_output=True, text=True, cwd=tmp_path, env=env)

    demo = str(ROOT / "demo" / "weekend-shirt.perigram.json")
    checked = run("check", demo)
    assert checked.returncode == 0
    assert "Cut-ready." in checked.stdout
    assert "Lettering (Ember smooth)" in checked.stdout
    exported = run("export", demo, "--format", "dxf", "--format", "svg", "--out", "out")
    assert exported.returncode == 0
    assert len(list((tmp_path / "out").iterdir())) == 7
    laid = run("sheets", demo, "--mat", "305", "305", "--reads", "hpgl", "--out", "sheets")
    assert laid.returncode == 0, laid.stderr
    assert len(list((tmp_path / "sheets").iterdir())) == 3
    small = run("sheets", demo, "--mat", "3", "305")
    assert small.returncode == 1
    assert "A mat measures 20 to 5000 mm each way, not 3." in small.stderr
    bare = json.loads(Path(demo).read_text()) | {"plies": []}
    (tmp_path / "bare.json").write_text(json.dumps(bare))
    assert "There is nothing to cut yet" in run("check", "bare.json").stdout
    (tmp_path / "broken.json").write_text("{")
    for file, says in (("broken.json", "not valid JSON"), ("nowhere.json", "cannot be opened")):
        failed = run("check", file)
        assert failed.returncode == 1
        assert says in failed.stderr
        assert "Traceback" not in failed.stderr


@pytest.mark.parametrize("smallest", [-1.0, 51.0, 1e308])
def test_a_material_out_of_range_stops_the_cut_and_says_so(smallest: float) -> None:
    design = shirt()
    materials = [
        m.model_copy(update={"smallest": smallest}) if m.id == "ember" else m for m in design.materials
    ]
    proof = evaluate(design.model_copy(update={"materials": materials}), DesignSources(design))
    (stop,) = [f for f in proof.findings if f.level == "stop"]
    assert f"can be 0 to 50 mm, not {smallest:g} mm" in stop.text
    assert stop.ply
    assert len(proof.plies) == 3


def test_values_a_kind_does_not_take_are_refused_by_name() -> None:
    with pytest.raises(PerigramError, match="“Clean” cannot take bits as given"):
        add_line(shirt(), "clean", given={"bits": "wide"})
    with pytest.raises(PerigramError, match="“Letter” cannot take bits"):
        add_line(shirt(), "letter", given={"bits": 2.0})


def test_every_kind_of_line_fills_its_sentence() -> None:
    for kind in KINDS.values():
        slots = {
            name: field.json_schema_extra
            for name, field in kind.model.model_fields.items()
            if isinstance(field.json_schema_extra, dict) and "slot" in field.json_schema_extra
        }
        assert set(slots) == set(re.findall(r"\{(\w+)\}", kind.sentence))
        # What is said only where a value is so names one there is, and closes.
        conditions = re.findall(r"\[(\w+)[=>]([^:\]]+):[^\[\]]*\]", kind.sentence)
        assert len(conditions) == kind.sentence.count("[") == kind.sentence.count("]")
        for name, asked in conditions:
            choices = slots[name].get("choices")
            assert choices is None or set(asked.split("|")) <= set(choices)
        assert set(kind.replaces) <= set(kind.results)
        json.dumps(kind.model(id="a").model_dump(mode="json"))


def test_arrows_point_one_way() -> None:
    """The core imports nothing of ours outside itself, and no web framework."""
    for file in (ROOT / "perigram" / "core").rglob("*.py"):
        for node in ast.walk(ast.parse(file.read_text())):
            names = [a.name for a in node.names] if isinstance(node, ast.Import) else []
            names += [node.module or ""] if isinstance(node, ast.ImportFrom) else []
            for name in names:
                assert not name.startswith(("django", "ninja")), file
                assert not name.startswith("perigram") or name.startswith("perigram.core"), file


def test_strands_of_a_ply_are_found_and_a_clean_line_says_what_it_did() -> None:
    """Two rows of letters welded to a plate by a bar of 0.5 mm, then cleaned at 1 mm."""
    bar = {"id": "l1", "kind": "shape", "figure": "rounded box", "width": 60, "height": 0.5, "radius": 0}
    ends = {**bar, "width": 12, "height": 12}
    clean = {"id": "l5", "kind": "clean", "of": "l4/backing", "strands": 1.0, "bits": 1.0}
    design = read_design(
        {
            "format": "perigram",
            "version": 2,
            "recipe": [
                bar,
                {**ends, "id": "l2", "place": {"x": -30, "y": 0}},
                {**ends, "id": "l3", "place": {"x": 30, "y": 0}},
                {"id": "l4", "kind": "back", "of": ["l1/shape", "l2/shape", "l3/shape"], "distance": 0},
                clean,
            ],
            "materials": [{"id": "m", "name": "Card", "colour": "#112233", "smallest": 1.0}],
            "plies": [
                {"id": "p", "name": "Whole", "material": "m", "results": ["l4/backing"]},
                {"id": "q", "name": "Cleaned", "material": "m", "results": ["l5/clean"]},
            ],
        }
    )
    proof = evaluate(design, DesignSources(design))
    about = {f.text: f for f in proof.findings}
    strand = about["1 strand of Whole under 1 mm, thinnest 0.50 mm"]
    assert strand.place == pytest.approx((-24, -0.25, 24, 0.25), abs=1.0)
    assert about["1 strand under 1 mm cut off"].line == "l5"
    # The whole and what was cleaned of it are one thing on two plies: that alone is said of the second.
    assert [text for text in about if "Cleaned" in text] == [
        "Cleaned cuts again what Whole cuts. Cut it from one of them."
    ]
    assert [p.measures.pieces for p in proof.plies] == [1, 2]


def test_a_backing_has_the_corners_that_were_asked_for() -> None:
    shape = {"id": "l1", "kind": "shape", "figure": "rounded box", "width": 30, "height": 10, "radius": 0}
    areas = {}
    for corners in ("round", "mitred"):
        back = {"id": "l2", "kind": "back", "of": ["l1/shape"], "distance": 5, "corners": corners}
        design = read_design({"format": "perigram", "version": 2, "recipe": [shape, back]})
        areas[corners] = area(evaluate(design, DesignSources(design)).results[-1].region)
    assert areas["mitred"] == pytest.approx(40 * 20)
    assert areas["round"] == pytest.approx(40 * 20 - (4 - 3.14159265) * 25, rel=1e-4)


def test_a_moved_figure_is_grown_once_and_the_same_wherever_it_lies() -> None:
    design, held = shirt(), Cache()
    sources = DesignSources(design)
    here = evaluate(design, sources, held)
    made: list[object] = []

    class Watched(Cache):
        def get(self, key: Hashable, make: Callable[[], object]) -> object:
            def counted() -> object:
                made.append(key)
                return make()

            return held.get(key, counted)

    place = design.recipe[1].place.model_copy(update={"x": 17.3, "y": -2.9})  # type: ignore[union-attr]
    moved = changed(design, 1, place=place)
    there = evaluate(moved, sources, Watched())
    assert [key for key in made if isinstance(key, tuple) and key[0] == "grown"] == []
    afresh = evaluate(moved, sources)
    for a, b in zip(there.plies, afresh.plies, strict=True):
        assert path_data(a.region, 6) == path_data(b.region, 6)
    assert [p.region.node_count for p in here.plies] != [p.region.node_count for p in there.plies]


def test_knockouts_of_version_1_come_out_as_they_did() -> None:
    body = shirt().model_dump(mode="json") | {"version": 1}
    cut = body["recipe"][2]
    cut["picture"], cut["target"] = cut.pop("of")[0], cut.pop("out_of")[0]
    old = json.dumps(body).replace('"l3/l1/letters"', '"l3/remains"').replace('"l3/l2/art"', '"l3/shows"')
    assert read_design(json.loads(old)) == shirt()
    turned = {
        "format": "perigram",
        "version": 1,
        "recipe": [cut | {"id": "a", "picture": "b/remains"}],
        "plies": 3,
    }
    with pytest.raises(PerigramError, match="damaged at plies"):
        read_design(turned)


def test_a_design_holds_so_many_letters_and_says_so() -> None:
    rows = [{"text": "HEAVE STEADY HOME " * 11}] * 40
    recipe = [{"id": f"l{n}", "kind": "letter", "rows": rows} for n in range(20)]
    design = read_design({"format": "perigram", "version": 2, "recipe": recipe})
    findings = evaluate(design, DesignSources(design)).findings
    assert [f.line for f in findings if "can hold 4,000 letters" in f.text] == [f"l{n}" for n in range(20)]
    # What is switched off does not count.
    few = [{**line, "rows": rows[:2], "off": n > 0} for n, line in enumerate(recipe)]
    design = read_design({"format": "perigram", "version": 2, "recipe": few})
    assert not [f for f in evaluate(design, DesignSources(design)).findings if "can hold" in f.text]


class OnlyRegions:
    """A cache that has forgotten what lines made, but not what plies came to."""

    def __init__(self) -> None:
        self.kept: dict[Hashable, Any] = {}

    def get(self, key: Hashable, make: Callable[[], Any]) -> Any:
        value = self.kept[key] if key in self.kept else make()
        if isinstance(value, Region):
            self.kept[key] = value
        return value

    def held(self, key: Hashable) -> Any | None:
        return self.kept.get(key)


@pytest.mark.parametrize("path", DEMOS, ids=lambda p: p.name.split(".")[0])
def test_what_is_forgotten_changes_no_keys(path: Path) -> None:
    design, cache = load_design(path), OnlyRegions()
    for _ in range(2):
        proof = evaluate(design, DesignSources(design), cache)
        assert [p.key for p in proof.plies] == [p.key for p in evaluate(design, DesignSources(design)).plies]
