"""Foreign drawings knocked out of words, all defaults: `python -m benchmarks.knockouts [COUNT] [SEED] [0]`.

Drawings of tests/foreign (`npm install` there first) and shipped fonts, at random sizes and places. The files
that are written are read back by the foreign tests' reader and judged by GEOS: nothing that the drawing did
not have is thinner than the material holds, and the clear line keeps its width. With a 0 at the end
nothing is dropped, to see what the judge finds then.
"""

from __future__ import annotations

import random
import sys
import time
from pathlib import Path

import shapely
from shapely import affinity

from perigram.core.formats.bundle import cut_files
from perigram.core.recipe.design import Design, read_design
from perigram.core.recipe.edit import add_line
from perigram.core.recipe.evaluate import Proof, evaluate
from perigram.library import DesignSources, font_catalogue
from tests.foreign import judge

DRAWINGS = Path(__file__).parent.parent / "tests" / "foreign" / "node_modules"
WORDS = ("HARBOUR", "REGATTA", "WEEKEND", "Saltmarsh", "Crew", "COXSWAIN", "Tide", "8+", "OAR")
SMALLEST = 1.0
CLEAR = 1.5


def drawn(rng: random.Random, drawings: list[Path]) -> tuple[str, Design]:
    drawing, font, word = rng.choice(drawings), rng.choice(font_catalogue()).id, rng.choice(WORDS)
    place = {"on": "l1/letters", "x": rng.uniform(-60, 60), "y": rng.uniform(-15, 15)}
    words = {
        "id": "l1",
        "kind": "letter",
        "rows": [{"text": word}],
        "font": font,
        "size": rng.uniform(120, 300),
    }
    art = {"id": "l2", "kind": "art", "picture": "x", "size": rng.uniform(30, 80), "place": place}
    materials = [{"id": one, "name": one, "colour": "#AA3311", "mirrored": False} for one in "ab"]
    plies = [
        {"id": "p1", "name": "words", "material": "a", "results": ["l1/letters"]},
        {"id": "p2", "name": "drawing", "material": "b", "results": ["l2/art"]},
    ]
    svg = drawing.read_text(errors="replace")
    body = {
        "format": "perigram", "version": 2, "recipe": [words, art], "materials": materials, "plies": plies,
        "pictures": [{"id": "x", "name": "x", "svg": svg}],
    }  # fmt: skip
    return f"{drawing.relative_to(DRAWINGS)} in {word}, {font}", read_design(body)


def thin(now: shapely.Geometry, was: shapely.Geometry) -> int:
    """Bits and strands under the smallest width that lie where the thing was thicker before."""
    half = SMALLEST / 2.0
    thick = was.buffer(-half).buffer(half)
    new = [
        part
        for part in shapely.get_parts(shapely.difference(now, now.buffer(0.01 - half).buffer(half + 0.02)))
        if part.length > 6.0 * SMALLEST and part.buffer(-0.05).area > 0.3
    ]
    bits = [part for part in shapely.get_parts(now) if part.buffer(0.01 - half).is_empty]
    return sum(part.intersection(thick).area > 0.6 * part.area for part in (*new, *bits))


def shapes_of(proof: Proof) -> dict[str, shapely.Geometry]:
    return {one.ref: one.region.multipolygon for one in proof.results}


def main(count: int = 100, seed: int = 11, dropping: int = 1) -> None:
    rng, drawings = random.Random(seed), sorted(DRAWINGS.rglob("*.svg"))
    done = found = 0
    slowest = began = 0.0
    while done < count:
        name, design = drawn(rng, drawings)
        design, _ = add_line(design, "knock_out", given={} if dropping else {"least": 0.0})
        began = time.process_time()
        proof = evaluate(design, DesignSources(design))
        slowest = max(slowest, time.process_time() - began)
        before = shapes_of(proof)
        if not proof.is_cuttable or "l3/l1/letters" not in before:
            continue
        done += 1
        files = cut_files("x", proof.to_cut(), ["svg"])
        cut = {
            ply: judge.solid(judge.ply_rings(data))
            for file, data in files.items()
            for ply in ("words", "drawing")
            if f"- {ply} -" in file
        }
        x0, y0, *_ = proof.bounds or (0.0, 0.0)
        said = []
        for ply, ref in (("words", "l1/letters"), ("drawing", "l2/art")):
            was = affinity.translate(before[ref], -x0, -y0)
            if ply in cut and (small := thin(cut[ply], was)):
                said.append(f"{small} thin on {ply}")
        if len(cut) == 2 and cut["words"].distance(cut["drawing"]) < CLEAR - 0.03:
            said.append(f"only {cut['words'].distance(cut['drawing']):.3f} mm clear")
        if said:
            found += 1
            print(f"{name}: {', '.join(said)}")
    print(f"{found} of {done} with something thin or too near; slowest {slowest:.1f} s of CPU")


if __name__ == "__main__":
    main(*map(int, sys.argv[1:]))
