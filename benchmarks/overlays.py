"""Random overlays of real lettering by this core, a polygon clipper and a Bezier boolean library.

One in five outlines is compared with the clipper's by Hausdorff distance, slivers under 0.01 mm apart.
Where areas disagree by more than the chords explain, a third method judges: points of a fine grid are
looked up in each operand by itself, and counted.

Run: python -m benchmarks.overlays [COUNT] [SEED]
"""

from __future__ import annotations

import sys
import time
from collections import Counter
from multiprocessing import Pool

import numpy as np
import shapely

from benchmarks.material import hausdorff
from perigram.core.geometry import Region
from perigram.core.geometry.measure import area, bounds, length
from tests.core.material import bezier_area, clipped, ring_areas
from tests.core.test_overlay import OPERATIONS, random_pair

KINDS = tuple(OPERATIONS)
#: Points a disagreement is judged by, in a grid over both operands.
POINTS = 3_000_000
#: Outlines farther apart than this many mm are named: both are within 0.005 mm of the truth.
FAR = 0.02
#: Hausdorff distances are looked at for one overlay in so many: they cost more than all the rest.
EVERY_SO_MANY = 5


def judged(a: Region, b: Region, kind: str) -> float:
    """The overlay's area by counting grid points in each operand by itself."""
    boxes = np.array([bounds(a), bounds(b)])
    (x0, y0), (x1, y1) = boxes[:, :2].min(axis=0), boxes[:, 2:].max(axis=0)
    step = ((x1 - x0) * (y1 - y0) / POINTS) ** 0.5
    x, y = np.meshgrid(np.arange(x0 + step / 2, x1, step), np.arange(y0 + step / 2, y1, step))
    shapes = [region.flattened(0.001).multipolygon() for region in (a, b)]
    shapely.prepare(shapes)
    p, q = (shapely.contains_xy(shape, x, y) for shape in shapes)
    both = {"Union": p | q, "Difference": p & ~q, "Intersection": p & q, "Xor": p ^ q}[kind]
    return float(both.sum()) * step**2


def apart(ours: Region, rings: list[np.ndarray]) -> float:
    """The Hausdorff distance in mm of our outlines and the clipper's.

    Both are opened by 0.005 mm first, so that a sliver one of them leaves out does not count as far off.
    """
    theirs = shapely.make_valid(np.array([shapely.polygons(ring) for ring in rings if len(ring) > 2]))
    bodies = [ours.flattened(0.001).multipolygon(), shapely.symmetric_difference_all(theirs)]
    bodies = [shapely.buffer(shapely.buffer(b, -0.005, quad_segs=2), 0.005, quad_segs=2) for b in bodies]
    return hausdorff(*bodies)


def compare(seed: int) -> tuple[list[str], float]:
    """What happened with one overlay: nothing, or who disagreed and who was right; and how far apart."""
    a, b = random_pair(seed)
    kind = KINDS[seed % 4]
    events = ["overlays"]
    try:
        ours = OPERATIONS[kind](a, b)
    except Exception as error:
        return [*events, f"ours failed: {type(error).__name__}"], 0.0
    if not shapely.is_valid(ours.multipolygon):
        events.append("ours not valid")
    if not ours.is_sound:
        events.append("ours not sound ten times finer, before it is made so")
    slack = 0.001 * (length(a) + length(b)) + 0.01
    theirs = clipped(a, b, kind)
    off = apart(ours, theirs) if seed % EVERY_SO_MANY == 0 else 0.0
    if off > FAR:
        events.append(f"outlines more than {FAR:g} mm from the clipper's")
        print(f"seed {seed} {kind}: outlines {off:.4f} mm apart", flush=True)
    results = {"clipper": ring_areas(theirs), "Bezier library": bezier_area(a, b, kind)}
    for name, theirs in results.items():
        if abs(theirs - area(ours)) <= slack:
            continue
        points = judged(a, b, kind)
        right = "ours" if abs(area(ours) - points) < abs(theirs - points) else name
        events.append(f"{name} disagrees; points side with {right}")
        print(
            f"seed {seed} {kind}: ours {area(ours):.3f}, {name} {theirs:.3f}, points {points:.3f}", flush=True
        )
    return events, off


def main(count: int, seed: int) -> None:
    start = time.perf_counter()
    tally: Counter[str] = Counter()
    with Pool(2) as pool:
        distances = []
        for events, off in pool.imap_unordered(compare, range(seed, seed + count), chunksize=50):
            tally.update(events)
            distances.extend([off] if off else [])
    for event, times in sorted(tally.items()):
        print(f"{times:7d}  {event}")
    median, high, most = np.percentile(distances, [50, 99, 100])
    print(f"Hausdorff distance to the clipper: median {median:.4f}, 99% {high:.4f}, largest {most:.4f} mm")
    print(f"{time.perf_counter() - start:.0f} s, seeds {seed} to {seed + count - 1}")


if __name__ == "__main__":
    numbers = [int(argument) for argument in sys.argv[1:]]
    main(*(numbers + [20_000, 100_000][len(numbers) :]))
