"""Random overlays of real lettering by this core, a polygon clipper and a Bezier boolean library.

Where areas disagree by more than the chords explain, a third method judges: both operands rasterised
at 0.02 mm by Pillow with each pixel's share estimated from 4 by 4 subpixels.

Run: python -m benchmarks.overlays [COUNT] [SEED]
"""

from __future__ import annotations

import sys
import time
from collections import Counter
from multiprocessing import Pool

import numpy as np
import shapely
from PIL import Image, ImageDraw

from perigram.core.geometry import Region
from perigram.core.geometry.measure import area, bounds, length
from tests.core.material import bezier_area, clipped_area
from tests.core.test_overlay import OPERATIONS, random_pair

KINDS = tuple(OPERATIONS)
PIXEL = 0.02


def raster(region: Region, box: tuple[float, float, float, float]) -> np.ndarray:
    """The region as a picture of True and False, by even-odd filling of each loop."""
    width = int((box[2] - box[0]) / PIXEL) + 3
    height = int((box[3] - box[1]) / PIXEL) + 3
    total = np.zeros((height, width), bool)
    flat = region.flattened(0.001)
    for a, b in zip(flat.rings[:-1], flat.rings[1:], strict=True):
        points = (flat.xy[a:b] - [box[0], box[1]]) / PIXEL
        picture = Image.new("1", (width, height))
        ImageDraw.Draw(picture).polygon([tuple(p) for p in points], fill=1)
        total ^= np.asarray(picture)
    return total


def judged(a: Region, b: Region, kind: str) -> float:
    """The overlay's area by counting pixels."""
    boxes = [bounds(a), bounds(b)]
    lows = [min(x[i] for x in boxes if x) for i in (0, 1)]
    highs = [max(x[i] for x in boxes if x) for i in (2, 3)]
    box = (lows[0], lows[1], highs[0], highs[1])
    p, q = raster(a, box), raster(b, box)
    both = {"Union": p | q, "Difference": p & ~q, "Intersection": p & q, "Xor": p ^ q}[kind]
    return float(both.sum()) * PIXEL**2


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
        pixels = judged(a, b, kind)
        right = "ours" if abs(area(ours) - pixels) < abs(theirs - pixels) else name
        events.append(f"{name} disagrees; pixels side with {right}")
        print(
            f"seed {seed} {kind}: ours {area(ours):.3f}, {name} {theirs:.3f}, pixels {pixels:.3f}", flush=True
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
