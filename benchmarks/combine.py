"""Lines that combine, dragged: `python -m benchmarks.combine`.

Each figure of each such line of the demo designs is taken through twenty steps, the rest of the design kept
as a server keeps it, drawn but not checked, as while a figure is dragged. And some of the kinds beside bare
GEOS on the same outlines flattened, which keeps no curves and looks at nothing that comes out.
"""

from __future__ import annotations

import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import shapely

from perigram.core.combine.ring import ring
from perigram.core.combine.texture import Over, laid
from perigram.core.geometry.overlay import divide, slice_apart
from perigram.core.recipe.cache import Cache
from perigram.core.recipe.design import Design, read_design, slots_of
from perigram.core.recipe.evaluate import evaluate
from perigram.library import DesignSources, load_design
from tests.core.material import row

DEMO = Path(__file__).parent.parent / "demo"
#: Kinds that place or shape things rather than combine them.
OTHERS = ("letter", "art", "shape", "bend", "rails", "net")
STEPS = 20


def ms(act: Callable[[], Any]) -> float:
    start = time.perf_counter()
    act()
    return (time.perf_counter() - start) * 1e3


def dragged(design: Design) -> None:
    cache, body = Cache(200_000_000), design.model_dump(mode="json")
    sources = DesignSources(design)
    evaluate(design, sources, cache, care="rough")
    for number, line in enumerate(design.recipe):
        if line.kind in OTHERS:
            continue
        for name, kind in slots_of(line).items():
            value = getattr(line, name)
            if kind != "length" or not value:
                continue
            times = []
            for step in range(STEPS):
                body["recipe"][number][name] = round(value * (1.0 + 0.013 * (step + 1)), 4)
                other = read_design(body)
                times.append(ms(lambda other=other: evaluate(other, sources, cache, care="rough")))
            body["recipe"][number][name] = value
            low, high = np.percentile(times, [50, 95])
            print(f"{design.name:16} line {number + 1} {line.kind:10} {name:10} {low:7.0f} {high:7.0f}")


def beside_geos() -> None:
    words = row("alfa-slab-one", "SALTMARSH WORKS", 400.0)
    script = row("lobster", "Reed Warbler", 300.0).translated(40.0, -6.0)
    body, other = (one.multipolygon for one in (words, script))
    tiles = laid("scales", Over(120.0), 6.0, 1.0)
    flat = tiles.multipolygon

    def ring_of_geos() -> Any:
        return shapely.difference(shapely.buffer(body, 5.0), shapely.buffer(body, 2.0))

    def sliced_by_geos() -> Any:
        edges = shapely.node(shapely.union_all([shapely.boundary(body), shapely.boundary(other)]))
        return shapely.get_parts(shapely.polygonize(shapely.get_parts(edges)))

    pairs: dict[str, tuple[Callable[[], Any], Callable[[], Any]]] = {
        "ring": (lambda: ring(words, 2.0, 5.0), ring_of_geos),
        "slice": (lambda: slice_apart([words, script]), sliced_by_geos),
        "texture": (lambda: divide(words, tiles), lambda: shapely.intersection(body, flat)),
    }
    print(f"\n{'':10}{'GEOS':>9}{'this core':>12}{'ratio':>8}")
    for name, (ours, bare) in pairs.items():
        mine, theirs = (float(np.median([ms(act) for _ in range(7)])) for act in (ours, bare))
        print(f"{name:10}{theirs:7.1f}ms{mine:10.1f}ms{mine / theirs:7.1f}x")


def main() -> None:
    print(f"{'':16} {'':17} {'':10} {'median':>7} {'95 %':>7}  ms")
    for path in sorted(DEMO.glob("*.perigram.json")):
        dragged(load_design(path))
    beside_geos()


if __name__ == "__main__":
    main()
