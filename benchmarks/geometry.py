"""The core beside a bare polygon library, a polygon clipper and a Bezier library, on the same inputs.

Time, nodes out, largest error and failures, in one run, the libraries taking turns. Errors of overlays are
Hausdorff distances to the same overlay of outlines flattened to 0.0005 mm; of offsets, how far places along
them are off the distance.

Run: python -m benchmarks.geometry [overlays | offsets] [--large]
"""

from __future__ import annotations

import argparse
import resource
import time
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass

import numpy as np
import pathops
import pyclipr
import shapely

from benchmarks.material import Chords, away, crowd, fresh, hausdorff, heavy, script
from perigram.core.geometry import Region, cut_away, divide
from perigram.core.geometry.offset import grow
from tests.core.material import bezier_path, rings

SCALE = 100_000
CHORD = 0.004
_ROUNDS = 9


@dataclass
class Row:
    """One library's part in a comparison; `geometry` is its outcome as chords."""

    name: str
    run: Callable[[], object]
    nodes: Callable[[object], int]
    geometry: Callable[[object], shapely.Geometry]
    #: the row its time is over, counted from the first
    beside: int = 0


def from_clipper(paths: object) -> shapely.Geometry:
    polygons = [shapely.polygons(np.asarray(p)) for p in paths if len(p) > 2]  # type: ignore[attr-defined]
    return shapely.symmetric_difference_all(shapely.make_valid(np.array(polygons)))


def from_pathops(path: object) -> shapely.Geometry:
    """A path of the Bezier library as chords."""
    pen = Chords()
    path.draw(pen)  # type: ignore[attr-defined]
    lines = [shapely.linearrings(ring) for ring in pen.ring_offsets if len(ring) > 2]
    return shapely.build_area(shapely.union_all(np.array(lines)))


def exact(region: Region) -> shapely.Geometry:
    return region.flattened(0.0005).multipolygon()


def off_distance(source: shapely.Geometry, grown: shapely.Geometry, distance: float) -> float:
    """How far places all along an offset are from being the distance away from its source."""
    places = shapely.get_coordinates(shapely.segmentize(shapely.boundary(grown), 0.05))
    return float(np.abs(away(places, shapely.boundary(source)) - abs(distance)).max())


def measured(title: str, rows: list[Row], error_of: Callable[[shapely.Geometry], float]) -> None:
    print(title)
    said = [_outcome(row, error_of) for row in rows]
    times = np.array([[_ms(row.run) for row in rows] for _ in range(_ROUNDS)])
    for k, (row, (nodes, error, failed)) in enumerate(zip(rows, said, strict=True)):
        # The machine's speed changes from one second to the next: the ratio is that within a round.
        ratio = np.median(times[:, k] / times[:, row.beside])
        took = np.median(times[:, k])
        print(f"  {row.name:<34}{took:9.1f}{ratio:7.1f}x{nodes:>9}{error:10.4f}{failed:9d}")


def _outcome(row: Row, error_of: Callable[[shapely.Geometry], float]) -> tuple[str, float, int]:
    """Nodes, largest error and failures of a library on an input."""
    try:
        outcome = row.run()
        geometry = row.geometry(outcome)
        return str(row.nodes(outcome)), error_of(geometry), 0 if shapely.is_valid(geometry) else 1
    except Exception as problem:
        return type(problem).__name__, float("nan"), 1


def _ms(action: Callable[[], object]) -> float:
    start = time.perf_counter()
    with suppress(Exception):
        action()
    return 1000.0 * (time.perf_counter() - start)


def overlays(title: str, a: Region, b: Region) -> None:
    flat_a, flat_b = a.multipolygon, b.multipolygon
    paths_a, paths_b = bezier_path(a), bezier_path(b)

    def clipper() -> object:
        engine = pyclipr.Clipper()
        engine.scaleFactor = SCALE
        engine.addPaths(rings(a, CHORD), pyclipr.Subject)
        engine.addPaths(rings(b, CHORD), pyclipr.Clip)
        return engine.execute(pyclipr.Difference, pyclipr.FillRule.NonZero)

    def vertices(g: object) -> int:
        return len(shapely.get_coordinates(g))

    rows = [
        Row("GEOS difference", lambda: shapely.difference(flat_a, flat_b), vertices, lambda g: g),
        Row("this core: cut away", lambda: cut_away(fresh(a), fresh(b)), lambda r: r.node_count, exact),
        Row(
            "GEOS difference and intersection",
            lambda: (shapely.difference(flat_a, flat_b), shapely.intersection(flat_a, flat_b)),
            lambda both: vertices(both[0]) + vertices(both[1]),
            lambda both: both[0],
            2,
        ),
        Row(
            "this core: divide, both halves",
            lambda: divide(fresh(a), fresh(b)),
            lambda both: both[0].node_count + both[1].node_count,
            lambda both: exact(both[0]),
            2,
        ),
        Row("Clipper2", clipper, lambda p: sum(map(len, p)), from_clipper),
        Row(
            "Skia path operations",
            lambda: pathops.op(paths_a, paths_b, pathops.PathOp.DIFFERENCE),
            lambda p: sum(len(s[1]) > 0 for s in p.segments),
            from_pathops,
        ),
    ]
    truth = shapely.difference(exact(a), exact(b))
    measured(title, rows, lambda g: hausdorff(g, truth))


def offsets(title: str, region: Region, distance: float) -> None:
    flat = region.flattened(CHORD).multipolygon()
    # Chords of a quarter circle of n segments lie d (1 - cos(pi / 4n)) off it: as much as the chords.
    quarter = max(4, int(0.7854 / (2 * CHORD / abs(distance)) ** 0.5) + 1)

    def clipper() -> object:
        engine = pyclipr.ClipperOffset()
        engine.scaleFactor = SCALE
        engine.arcTolerance = CHORD * SCALE
        engine.addPaths(rings(region, CHORD), pyclipr.JoinType.Round, pyclipr.EndType.Polygon)
        return engine.execute(distance)

    rows = [
        Row(
            "GEOS buffer",
            lambda: shapely.buffer(flat, distance, quad_segs=quarter),
            lambda g: len(shapely.get_coordinates(g)),
            lambda g: g,
        ),
        Row("this core: grow", lambda: grow(fresh(region), distance), lambda r: r.node_count, exact),
        Row("Clipper2", clipper, lambda p: sum(map(len, p)), from_clipper),
    ]
    measured(title, rows, lambda g: off_distance(exact(region), g, distance))


def main(wanted: list[str], crowds: tuple[int, ...]) -> None:
    print(f"  {'':<34}{'ms':>9}{'ratio':>8}{'nodes':>9}{'error':>10}{'failures':>9}")
    words, names = heavy(), script()
    if "overlays" in wanted:
        overlays("39 heavy letters less 28 script letters", words, names)
        for letters in crowds:
            overlays(f"{letters} letters less half as many script letters", *crowd(letters))
            print(f"  peak memory so far {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024:.0f} MB")
    if "offsets" in wanted:
        for name, region in (("39 heavy letters", words), ("28 script letters", names)):
            for distance in (0.5, 1.8, 6.0, -0.5):
                offsets(f"{name} by {distance:g} mm", region, distance)


if __name__ == "__main__":
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("parts", nargs="*", default=[], help="overlays, offsets; both if not given")
    parser.add_argument("--large", action="store_true", help="crowds of 500 and 2000 letters as well")
    options = parser.parse_args()
    main(options.parts or ["overlays", "offsets"], (10, 100, 500, 2000) if options.large else (10, 100))
