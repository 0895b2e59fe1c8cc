"""Random designs of foreign art and fonts, exported and judged: `python -m benchmarks.judged COUNT SEED`.

Each design runs in a process of its own with a limit on its memory; breaches are printed with their
seeds, and `--keep FOLDER` writes their design files.
"""

from __future__ import annotations

import argparse
import json
import multiprocessing as mp
import resource
import sys
import time
import traceback
from pathlib import Path
from typing import Any

from perigram.core.errors import PerigramError
from perigram.core.formats.bundle import cut_files
from perigram.core.recipe.design import read_design
from perigram.core.recipe.evaluate import Proof, evaluate
from perigram.library import DesignSources, font_catalogue, load_font, own_font_id
from tests.foreign import judge
from tests.foreign.designs import design
from tests.foreign.sets import font_files

#: Address space a design may take, in bytes.
MOST_MEMORY = 3_000_000_000

_fonts: list[Any] = []


def fonts() -> list[Any]:
    if not _fonts:
        _fonts.extend(load_font(path) for path in font_files())
    return _fonts


def exported(body: dict[str, Any]) -> tuple[Proof, dict[str, bytes], str]:
    """The proof of a design, its files, and why there are none."""
    read = read_design(body)
    proof = evaluate(read, DesignSources(read, fonts()))
    try:
        return proof, cut_files("d", proof, ["svg"]), ""
    except PerigramError as error:
        return proof, {}, str(error)


def judged(seed: int) -> dict[str, Any]:
    """What is wrong with the design of a seed, what it took, and what it said."""
    ids = [own_font_id(one.data) for one in fonts()]
    ids += [entry.id for entry in font_catalogue()]
    body = design(seed, ids)
    start = time.process_time()
    says: dict[str, Any] = {"seed": seed, "name": body["name"], "kinds": [x["kind"] for x in body["recipe"]]}
    try:
        proof, files, refused = exported(body)
    except Exception:
        return {**says, "crash": traceback.format_exc().splitlines()[-3:], "cpu": time.process_time() - start}
    says["cpu"] = time.process_time() - start
    says["refused"] = refused
    crashes = [f.text for f in proof.findings if "could not" in f.text]
    says["crash"] = crashes
    found: list[str] = []
    for name, content in files.items():
        if "all plies" in name:
            continue
        rings = judge.ply_rings(content)
        found += [f"{name[2:24]}: {breach}" for breach in judge.breaches(rings)]
        area = next(p.measures.area for p in proof.plies if f" {p.ply.name} - " in name)
        written = abs(float(judge.shapely.area(judge.solid(rings)))) if len(rings) < 3000 else area
        if abs(written - area) > 0.01 + 1e-4 * area:
            found.append(f"{name[2:24]}: {written:.3f} mm2 written, {area:.3f} in the proof")
    says["breaches"] = found
    says["judging"] = time.process_time() - start - says["cpu"]
    says["memory"] = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    return says


def _limited(seed: int) -> dict[str, Any]:
    try:
        return judged(seed)
    except MemoryError:
        return {"seed": seed, "crash": ["MemoryError"], "cpu": 0.0}


def _start() -> None:
    resource.setrlimit(resource.RLIMIT_AS, (MOST_MEMORY, MOST_MEMORY))
    fonts()


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("count", type=int, nargs="?", default=300)
    parser.add_argument("seed", type=int, nargs="?", default=1)
    parser.add_argument("--keep", type=Path)
    options = parser.parse_args()
    seeds = range(options.seed, options.seed + options.count)
    fonts()
    done: list[dict[str, Any]] = []
    with mp.get_context("spawn").Pool(2, _start) as pool:
        for one in pool.imap_unordered(_limited, seeds):
            done.append(one)
            wrong = [*one["crash"], *one.get("breaches", [])]
            if wrong or one["cpu"] > 5.0:
                print(
                    f"{one['seed']} {one.get('name')} {one.get('kinds')} {one['cpu']:.1f} s {wrong}",
                    flush=True,
                )
                if options.keep:
                    options.keep.mkdir(parents=True, exist_ok=True)
                    ids = [own_font_id(f.data) for f in fonts()] + [entry.id for entry in font_catalogue()]
                    (options.keep / f"{one['seed']}.perigram.json").write_text(
                        json.dumps(design(one["seed"], ids))
                    )
    cpu = sorted(one["cpu"] for one in done)
    refused = [one for one in done if one.get("refused")]
    print(
        f"{len(done)} designs, {sum(bool(o['crash']) for o in done)} crashes, "
        f"{sum(bool(o.get('breaches')) for o in done)} with breaches, {len(refused)} refused; CPU median "
        f"{cpu[len(cpu) // 2]:.2f} s, 95 % {cpu[int(len(cpu) * 0.95)]:.2f} s, most {cpu[-1]:.2f} s; "
        f"memory up to {max(o.get('memory', 0) for o in done):.0f} MB"
    )
    for text in sorted({o["refused"] for o in refused}):
        print("  refused:", text[:160])
    return int(any(o["crash"] or o.get("breaches") for o in done))


if __name__ == "__main__":
    sys.exit(main())
