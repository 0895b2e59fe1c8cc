"""Lettering to measure on, and the clock."""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import Any

import numpy as np
import shapely
from fontTools.pens.basePen import BasePen

from perigram.core.geometry import Region
from perigram.core.geometry.overlay import weld
from perigram.core.lettering.letters import letters_of
from perigram.core.lettering.rows import Lead, SetRow, Setting, Spacing, set_letters, stack
from perigram.library import open_font

HEAVY_WORDS = ["REGATTA", "WEEKEND", "SALTMARSH", "BOATHOUSE", "ROWING"]
SCRIPT_WORDS = ["Wilhelmina", "Barnaby", "Josephine"]


def row(font: str, text: str, wide: float, spacing: Spacing, gap: float) -> SetRow:
    return set_letters(letters_of(open_font(font), text), Setting(wide, "wide", spacing, gap))


def block(rows: list[SetRow]) -> Region:
    """Rows one under another, 3 mm apart."""
    places = stack(rows, [Lead(3.0)] * len(rows), "centre")
    return weld([b.translated(*at) for one, at in zip(rows, places, strict=True) for b in one.bodies])


def heavy() -> Region:
    """About 40 heavy letters, 254 mm wide."""
    return block([row("anton", word, 254, "clear", 0.8) for word in HEAVY_WORDS])


def script() -> Region:
    """About 30 script letters over the same ground."""
    return block([row("pacifico", word, 254, "font", 0) for word in SCRIPT_WORDS]).translated(7.3, 11.1)


def crowd(letters: int) -> tuple[Region, Region]:
    """A block of that many heavy letters, and script over all of it."""
    columns = max(1, round((letters / 6) ** 0.5))
    rows = -(-letters // (6 * columns))
    word = weld(row("anton", "BOATER", 60, "clear", 0.8).bodies)
    over = weld(row("pacifico", "Regatta", 64, "font", 0).bodies)
    step_y = 36.0
    places = [(c * 63.0, r * step_y) for r in range(rows) for c in range(columns)]
    return (
        Region.joined([word.translated(x, y) for x, y in places]),
        Region.joined([over.translated(x - 0.7, y + 4) for x, y in places[::2]]),
    )


class Chords(BasePen):
    """A fontTools pen that takes each curve apart into so many chords."""

    def __init__(self, chords: int = 32) -> None:
        super().__init__(None)
        steps = [(i / chords, 1 - i / chords) for i in range(1, chords + 1)]
        self._weights = [(s**3, 3 * s * s * t, 3 * s * t * t, t**3) for t, s in steps]
        self.ring_offsets: list[list[tuple[float, float]]] = []

    def _moveTo(self, point: tuple[float, float]) -> None:  # noqa: N802
        self.ring_offsets.append([point])

    def _lineTo(self, point: tuple[float, float]) -> None:  # noqa: N802
        self.ring_offsets[-1].append(point)

    def _curveToOne(self, *points: tuple[float, float]) -> None:  # noqa: N802
        (ax, ay), (bx, by), (cx, cy), (dx, dy) = self.ring_offsets[-1][-1], *points
        self.ring_offsets[-1] += [
            (a * ax + b * bx + c * cx + d * dx, a * ay + b * by + c * cy + d * dy)
            for a, b, c, d in self._weights
        ]


def median_ms(action: Callable[[], Any], rounds: int = 15) -> float:
    """The median of several runs in milliseconds, after one to warm up."""
    action()
    times = []
    for _ in range(rounds):
        start = time.perf_counter()
        action()
        times.append(time.perf_counter() - start)
    return 1000 * sorted(times)[rounds // 2]


def fresh(region: Region) -> Region:
    """The region without what it has cached, so that flattening is paid for."""
    return Region(
        region.curves,
        region.curved,
        region.curve,
        region.span,
        region.start,
        region.loop_offsets,
        region.polygon_offsets,
    )


def hausdorff(a: shapely.Geometry, b: shapely.Geometry) -> float:
    """The larger of both distances in mm from the vertices of one outline to the other."""
    lines = [shapely.boundary(shapely.make_valid(g)) for g in (a, b)]
    ends = [shapely.get_coordinates(line) for line in lines]
    if not len(ends[0]) or not len(ends[1]):
        return 0.0
    return float(max(away(ends[1], lines[0]).max(), away(ends[0], lines[1]).max()))


def away(points: np.ndarray, lines: shapely.Geometry) -> np.ndarray:
    """How far in mm each point (n, 2) is from lines, found through a tree of their edges."""
    xy, line = shapely.get_coordinates(shapely.get_parts(lines), return_index=True)
    joined = line[1:] == line[:-1]
    edges = shapely.linestrings(np.stack([xy[:-1], xy[1:]], axis=1)[joined])
    tree = shapely.STRtree(edges)
    _, distances = tree.query_nearest(shapely.points(points), return_distance=True, all_matches=False)
    return distances
