"""Clean: bits, strands and holes too narrow for the material gone, outlines smoothed; all of it listed."""

from __future__ import annotations

from typing import Literal

from pydantic import FiniteFloat

from perigram.core.geometry.clean import Removed, drop_bits
from perigram.core.geometry.overlay import overlap
from perigram.core.geometry.tidy import drop_strands, smooth
from perigram.core.recipe.kinds import Kind, Note, Outcome, Tools, on_one
from perigram.core.recipe.values import Line, Ref, length, slot


class Clean(Line):
    kind: Literal["clean"] = "clean"
    of: Ref = slot("ref", "What is cleaned", "")
    bits: FiniteFloat = length("Bits narrower than", 1.0, low=0.0, high=50.0, measure=True)
    strands: FiniteFloat = length("Strands thinner than", 0.0, low=0.0, high=10.0, measure=True)
    holes: FiniteFloat = length("Holes narrower than", 0.0, low=0.0, high=50.0, measure=True)
    smooth: FiniteFloat = length("Smoothed within", 0.0, low=0.0, high=0.5, step=0.01, measure=True)


def run(line: Clean, tools: Tools) -> Outcome:
    source = region = tools.region(line.of)
    removed: list[Removed] = []
    gave_up = False
    if line.strands:
        region, gone = drop_strands(region, line.strands)
        removed += gone
    if line.smooth:
        before = region.node_count
        done = smooth(region, line.smooth)
        region, gave_up = done.region, done.gave_up
        removed += done.removed
    region, gone = drop_bits(region, line.bits, line.holes)
    removed += gone
    notes = [
        Note("holds", f"{_counted(found, what)} {under}{verb}", found[0].place)
        for what, under, verb in (
            ("bit", f"under {line.bits:g} mm ", "dropped"),
            ("strand", f"under {max(line.strands, 2 * line.smooth):g} mm ", "cut off"),
            ("hole", f"under {line.holes:g} mm ", "filled"),
            ("slit", f"under {2 * line.smooth:g} mm ", "closed"),
        )
        if (found := [r for r in removed if r.what == what])
    ]
    if line.smooth and region.node_count < before:
        notes.append(Note("holds", f"{source.node_count} nodes smoothed to {region.node_count}"))
    if gave_up:
        says = f"Outlines are too close together to be smoothed within {line.smooth:g} mm: nodes stay."
        notes.append(Note("look", says))
    made = tools.inputs[line.of].reduced(region, lambda part: overlap(part, region))
    return Outcome({"clean": made}, notes)


def _counted(removed: list[Removed], what: str) -> str:
    return f"1 {what}" if len(removed) == 1 else f"{len(removed)} {what}s"


KIND = Kind(
    Clean,
    name="Clean",
    sentence="Clean {of}: drop bits under {bits} and strands under {strands}, fill holes under {holes}, "
    "smooth within {smooth}",
    words=(
        "clean",
        "drop bits",
        "smooth",
        "simplify",
        "nodes",
        "strands",
        "hairs",
        "small",
        "specks",
        "thin",
        "weed",
        "remove",
        "tidy",
        "holes",
    ),
    results={"clean": "rest"},
    run=run,
    replaces={"clean": "of"},
    starts=on_one,
)
