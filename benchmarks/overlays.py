"""Random overlays of real lettering by this core, a polygon clipper and a Bezier boolean library.

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

from perigram.core.geometry import Region
from perigram.core.geometry.measure import area, bounds, length
from tests.core.material import bezier_area, clipped_area
from tests.core.test_overlay import OPERATIONS, random_pair

KINDS = tuple(OPERATIONS)
#: Points a disagreement is judged by, in a grid over both operands.
POINTS = 3_000_000


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


def compare(seed: int) -> list[str]:
    """What happened with one overlay: nothing, or who disagreed and who was right."""
    a, b = random_pair(seed)
    kind = KINDS[seed % 4]
    events = ["overlays"]
    try:
        ours = OPERATIONS[kind](a, b)
    except Exception as error:
        return [*events, f"ours failed: {type(error).__name__}"]
    if not shapely.is_valid(ours.multipolygon):
        events.append("ours not valid")
    if not ours.is_sound:
        events.append("ours not sound ten times finer, before it is made so")
    slack = 0.001 * (length(a) + length(b)) + 0.01
    results = {"clipper": clipped_area(a, b, kind), "Bezier library": bezier_area(a, b, kind)}
    for name, theirs in results.items():
        if abs(theirs - area(ours)) <= slack:
            continue
        points = judged(a, b, kind)
        right = "ours" if abs(area(ours) - points) < abs(theirs - points) else name
        events.append(f"{name} disagrees; points side with {right}")
        print(
            f"seed {seed} {kind}: ours {area(ours):.3f}, {name} {theirs:.3f}, points {points:.3f}", flush=True
        )
    return events


def main(count: int, seed: int) -> None:
    start = time.perf_counter()
    tally: Counter[str] = Counter()
    with Pool(2) as pool:
        for events in pool.imap_unordered(compare, range(seed, seed + count), chunksize=50):
            tally.update(events)
    for event, times in sorted(tally.items()):
        print(f"{times:7d}  {event}")
    print(f"{time.perf_counter() - start:.0f} s, seeds {seed} to {seed + count - 1}")


if __name__ == "__main__":
    numbers = [int(argument) for argument in sys.argv[1:]]
    main(*(numbers + [20_000, 100_000][len(numbers) :]))
