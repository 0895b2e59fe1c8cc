"""Every overlay that random designs of foreign art come to, by area, against GEOS's own of finer chords, and
whether taking off hairs changes anything but hairs.

`python -m benchmarks.every_overlay COUNT SEED`: every second design is a chain of up to five lines more.
"""

from __future__ import annotations

import argparse
import sys
from collections.abc import Callable, Sequence
from typing import Any

import shapely

from perigram.core.geometry import Region
from perigram.core.geometry.finish import without_hairs
from perigram.core.geometry.measure import area, length
from perigram.core.geometry.near import APART
from tests.foreign.designs import chained, design
from tests.foreign.trial import QUICK, exported, font_ids

CHORD = 0.002
#: What chords may be off along every mm of outline, and what may be dropped as rounding, in mm^2.
BETWEEN, DROPPED = 0.004, 0.02

#: What each overlay comes to, by GEOS.
OVERLAYS: dict[str, Callable[[Sequence[Any]], Any]] = {
    "weld": shapely.union_all,
    "cut_away": lambda bodies: shapely.difference(*bodies),
    "overlap": lambda bodies: shapely.intersection(*bodies),
}


def _body(region: Region) -> Any:
    return shapely.make_valid(region.flattened(CHORD).multipolygon())


class Watch:
    """Stands beside the overlays wherever the core calls them, and counts what they get wrong."""

    def __init__(self) -> None:
        self.seed, self.seen, self.wrong = 0, 0, 0
        overlay = sys.modules["perigram.core.geometry.overlay"]
        watched: dict[Any, Any] = {
            getattr(overlay, name): self._beside(name, getattr(overlay, name)) for name in OVERLAYS
        }
        watched[without_hairs] = self._hairs
        core = [module for name, module in sys.modules.items() if name.startswith("perigram.core")]
        for module in core:
            for name, value in list(vars(module).items()):
                if callable(value) and value in watched:
                    setattr(module, name, watched[value])

    def _beside(self, name: str, run: Callable[..., Region]) -> Callable[..., Region]:
        def watched(*given: Any) -> Region:
            made = run(*given)
            operands = [one for one in (given[0] if name == "weld" else given) if not one.is_empty]
            if operands and not any(one.rough for one in operands) and (name == "weld" or len(operands) == 2):
                self._judge(name, operands, made)
            return made

        return watched

    def _hairs(self, region: Region, apart: float = APART) -> Region:
        made = without_hairs(region, apart)
        if made is not region and not region.rough:
            self.seen += 1
            changed = shapely.symmetric_difference(_body(region), _body(made))
            # Nothing that is more than twice as wide as a hair.
            thick = shapely.buffer(changed, -apart - BETWEEN)
            if not thick.is_empty:
                self.wrong += 1
                print(f"seed {self.seed}: hairs of {apart:g} mm change {thick.area:.3f} mm2", flush=True)
        return made

    def _judge(self, name: str, operands: list[Region], made: Region) -> None:
        wanted = float(shapely.area(OVERLAYS[name]([_body(one) for one in operands])))
        self.seen += 1
        if abs(area(made) - wanted) > BETWEEN * sum(map(length, operands)) + DROPPED:
            self.wrong += 1
            print(f"seed {self.seed}: {name} gives {area(made):.3f} mm2, not {wanted:.3f}", flush=True)


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0] if __doc__ else "")
    parser.add_argument("count", type=int, nargs="?", default=100)
    parser.add_argument("seed", type=int, nargs="?", default=1)
    options = parser.parse_args()
    fonts, watch = font_ids(sketched=False), Watch()
    for seed in range(options.seed, options.seed + options.count):
        watch.seed = seed
        exported((chained if seed % 2 else design)(seed, fonts, QUICK))
    print(f"{options.count} designs, {watch.seen} overlays and hairs, {watch.wrong} wrong")
    return int(watch.wrong > 0)


if __name__ == "__main__":
    sys.exit(main())
