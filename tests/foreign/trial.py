"""One design exported and judged."""

from __future__ import annotations

import ctypes
import gc
import time
from dataclasses import dataclass, field
from functools import cache
from pathlib import Path
from typing import Any

import numpy as np
import shapely

from perigram.core.errors import PerigramError
from perigram.core.formats.bundle import cut_files
from perigram.core.lettering.fontfile import FontFile
from perigram.core.recipe.design import read_design
from perigram.core.recipe.evaluate import Care, Proof, evaluate
from perigram.library import DesignSources, font_catalogue, load_font, own_font_id

from . import judge
from .anything import anything
from .designs import chained, design
from .reference import HAIRS, disagreement, expected, source_designs
from .sets import SETS, font_files

#: Area in mm^2 by which a ply may differ from the reference beyond what both blur.
_AREA = 0.05
#: Half the width in mm of what may be filled or cut off where a ply is made ready to be cut.
_HAIR = 0.02


@dataclass
class Trial:
    """What came of a design: CPU seconds to export it and the most MB the process held meanwhile, with its
    libraries and fonts; why it was refused, what is wrong.
    """

    seed: int
    body: dict[str, Any]
    cpu: float = 0.0
    memory: float = 0.0
    refused: str = ""
    wrong: list[str] = field(default_factory=list)


@cache
def own_fonts() -> list[FontFile]:
    return [load_font(path) for path in font_files()]


#: Faces drawn with thousands of strokes a letter: a design of them takes as long as ten others.
_SKETCHED = {"Fredericka the Great", "Cabin Sketch"}


@cache
def font_ids(sketched: bool = True) -> list[str]:
    """The fonts from outside twice as likely as those that ship."""
    own = [own_font_id(one.data) for one in own_fonts() if sketched or one.family not in _SKETCHED]
    return own + own + [entry.id for entry in font_catalogue()]


#: The sets without the pictures that take longest.
QUICK = ("game-icons", "lucide", "twemoji", "openmoji")


@cache
def own_faces() -> dict[str, FontFile]:
    """The fonts from outside by their ids."""
    return {own_font_id(one.data): one for one in own_fonts()}


def proof_of(body: dict[str, Any], care: Care = "checked") -> Proof:
    read = read_design(body)
    letters = [line for line in body["recipe"] if line["kind"] == "letter"]
    used = {one.get("font") for line in letters for one in (line, *line["rows"])}
    fonts = [one for key, one in own_faces().items() if key in used]
    return evaluate(read, DesignSources(read, fonts), care=care)


def exported(body: dict[str, Any]) -> tuple[Proof, dict[str, bytes], str]:
    """The proof of a design, its files, and why there are none."""
    proof = proof_of(body)
    try:
        return proof, cut_files("d", proof.to_cut(), ["svg"]), ""
    except PerigramError as error:
        return proof, {}, str(error)


def tried(seed: int, by_reference: bool = True, quick: bool = False, chain: bool = False) -> Trial:
    """The design of a seed, exported and judged; by what it should come to as well, if asked for.

    A `quick` one has neither sketched faces nor the pictures that take longest; a `chain` has more lines.
    """
    sets = QUICK if quick else SETS
    made = chained if chain else design
    return judged(Trial(seed, made(seed, font_ids(sketched=not quick), sets)), by_reference)


def anything_tried(seed: int, quick: bool = False) -> Trial:
    """The design of a seed of any lines with any values, exported and judged."""
    sets = QUICK if quick else SETS
    return judged(Trial(seed, anything(seed, font_ids(sketched=not quick), sets)))


def judged(trial: Trial, by_reference: bool = False) -> Trial:
    """A trial, its design exported and judged; by what it should come to as well, if asked for."""
    _forget_peak()
    start = time.process_time()
    proof, files, trial.refused = exported(trial.body)
    trial.cpu = time.process_time() - start
    trial.memory = _peak()
    trial.wrong += [f.text for f in proof.findings if "in Perigram itself" in f.text]
    if "cannot be cut:" in trial.refused or "could not be made" in trial.refused:
        trial.wrong.append(trial.refused)
    cut = {}
    finest = _plies(files, judge.FINEST)
    for name, rings in _plies(files).items():
        ply = next(p for p in proof.plies if p.ply.name == name)
        trial.wrong += [f"{name}: {breach}" for breach in judge.breaches(rings)]
        trial.wrong += [f"{name}: {breach}" for breach in judge.crossings(finest[name])]
        cut[name] = judge.solid(rings)
        written = float(shapely.area(cut[name]))
        if abs(written - ply.measures.area) > 0.001 + judge.CHORD * ply.measures.length:
            trial.wrong.append(f"{name}: {written:.3f} mm2 written, {ply.measures.area:.3f} in the proof")
    there = _on_the_bench(proof, cut, trial.body["materials"][0]["mirrored"])
    for ply in proof.plies:
        if ply.ply.name in there:
            drawn = shapely.union_all([_made(proof, ref) for ref in ply.ply.results], grid_size=1e-8)
            changed = shapely.symmetric_difference(there[ply.ply.name], drawn)
            thick = float(shapely.area(shapely.buffer(changed, -_HAIR)))
            if thick > 0.0:
                trial.wrong.append(f"{ply.ply.name} is cut {thick:.3f} mm2 otherwise than it is drawn")
    if by_reference and cut:
        trial.wrong += _against_reference(trial.body, proof, there)
    return trial


def _forget_peak() -> None:
    """Let the most memory this process held be counted from now on (proc(5), clear_refs)."""
    # What judging the design before this one took is not this one's.
    gc.collect()
    ctypes.CDLL(None).malloc_trim(0)
    Path("/proc/self/clear_refs").write_text("5")


def _peak() -> float:
    """The most MB this process held."""
    (line,) = [one for one in Path("/proc/self/status").read_text().splitlines() if one.startswith("VmHWM")]
    return int(line.split()[1]) / 1024


def _plies(files: dict[str, bytes], chord: float = judge.CHORD) -> dict[str, list[np.ndarray]]:
    """The rings of each ply's file by the ply's name."""
    return {
        name.split(" - ")[2]: judge.ply_rings(content, chord)
        for name, content in files.items()
        if "all plies" not in name
    }


def _made(proof: Proof, ref: str) -> Any:
    """A result before it was made ready to be cut, as chords."""
    regions = [one.region for one in proof.results if str(one.ref) == ref]
    if not regions or regions[0].is_empty:
        return shapely.MultiPolygon()
    points, starts = judge.chords(regions[0].segments, judge.CHORD)
    rings = np.split(points, starts[regions[0].loop_offsets[1:-1]])
    return judge.solid([ring for ring in rings if len(ring) > 2])


def _on_the_bench(proof: Proof, cut: dict[str, Any], mirrored: bool) -> dict[str, Any]:
    """What files hold, each where its ply lies on the bench: not mirrored, and not from the files' origin."""
    if proof.bounds is None:
        return {}
    low, high = np.floor(np.array(proof.bounds[:2]) * 1e4) / 1e4, proof.bounds[2]
    if mirrored:
        right = low[0] + np.ceil((high - low[0]) * 1e4) / 1e4
        return {
            name: shapely.transform(one, lambda xy: xy * [-1.0, 1.0] + [right, low[1]])
            for name, one in cut.items()
        }
    return {name: shapely.transform(one, lambda xy: xy + low) for name, one in cut.items()}


def _against_reference(body: dict[str, Any], proof: Proof, there: dict[str, Any]) -> list[str]:
    if "all" in there or any(line["id"][0] in "wc" for line in body["recipe"]):
        # What warps and combining lines come to is judged by itself, against formulas and another clipper.
        return []
    sources, files, refused = exported(source_designs(body))
    if refused or sources.bounds is None or proof.bounds is None:
        return []
    alone = {name: judge.solid(rings) for name, rings in _plies(files).items()}
    alone = _on_the_bench(sources, alone, False)
    empty = shapely.MultiPolygon()
    written = alone.get("letters", empty), alone.get("art", empty)
    wanted = [expected(body, *written, hairs) for hairs in HAIRS]
    found = []
    for ply in body["plies"]:
        ref, name = ply["results"][0], ply["name"]
        if ref not in wanted[0] or name not in there:
            continue
        distance = max([abs(line.get("distance", line.get("clearance", 0.0))) for line in body["recipe"]])
        off = disagreement(there[name], [one[ref] for one in wanted], distance)
        if off > _AREA:
            # Files hold what can be cut: where a slit tapers they end it where it is too narrow, and lines
            # are worked out from sources that go on to its tip.
            made = [_made(sources, ref) for ref in ("l1/letters", "l2/art")]
            wanted += [expected(body, *made, hairs) for hairs in HAIRS]
            off = disagreement(there[name], [one[ref] for one in wanted], distance)
        if off > _AREA:
            found.append(f"{name} is {off:.3f} mm2 off what it should be")
    return found
