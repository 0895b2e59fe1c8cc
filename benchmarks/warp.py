"""Sixty heavy letters through each kind of warp: `python -m benchmarks.warp`.

Side by side in one run: the bare NumPy map of the same letters flattened, HarfBuzz shaping them and that, and
this core, which keeps curves as curves and checks what comes out; and what it draws roughly while dragged.
With the address of a running server, the round trip of a handle dragged on the demo designs:
`python -m benchmarks.warp http://127.0.0.1:8000`.
"""

from __future__ import annotations

import sys
import time
from collections.abc import Callable
from typing import Any

import numpy as np
import uharfbuzz

from benchmarks.live import Shop, say, timed
from perigram.core.geometry import Region
from perigram.core.geometry.measure import bounds
from perigram.core.recipe.design import read_design
from perigram.core.recipe.evaluate import evaluate
from perigram.core.warp import rails
from perigram.core.warp.arc import Arc, turn_for_rise
from perigram.core.warp.maps import Map, warped
from perigram.core.warp.net import Net, even
from perigram.core.warp.path import Along, wave
from perigram.library import DesignSources, open_font

TEXT = "SALTMARSHROWINGCREWOFEIGHTHEAVESTEADYHOMEBOATHOUSESLIPWAYTID"
FONT = "bowlby-one"
_ROUNDS = 15
#: How far a handle is dragged, in steps.
MOVES = 60


def letters() -> Region:
    line = {"id": "l1", "kind": "letter", "font": FONT, "size": 250.0, "rows": [{"text": TEXT}]}
    design = read_design({"format": "perigram", "version": 1, "recipe": [line]})
    return evaluate(design, DesignSources(design)).results[0].region


def maps(region: Region) -> dict[str, Map]:
    box = bounds(region)
    assert box
    x0, y0, x1, y1 = box
    width = x1 - x0
    radius = width / turn_for_rise(width, width / 4.0)
    ripple = wave(width, width / 60.0, 2.0, True)
    control = even(box, 5, 5)
    control = control + 0.1 * (y1 - y0) * np.random.default_rng(1).uniform(-1.0, 1.0, control.shape)
    return {
        "arc": Arc((0.0, y1), (0.0, y1 + radius), radius),
        "wave": Along(ripple, (x0, y1), 0.0, width / 8.0),
        "rails": rails.Between(
            np.array([y0, y1]),
            [rails.arched(y0, x0, x1, width / 4.0), rails.waved(y1, x0, x1, 6.0, 2.0, True)],
            width / 8.0,
        ),
        "net": Net(box, control),
    }


def median(what: Callable[[], Any]) -> float:
    times = sorted(timed(what)[0] for _ in range(_ROUNDS))
    return times[len(times) // 2]


def shaped() -> None:
    font = open_font(FONT)
    buffer = uharfbuzz.Buffer()
    buffer.add_str(TEXT)
    buffer.guess_segment_properties()
    uharfbuzz.shape(uharfbuzz.Font(uharfbuzz.Face(font.data)), buffer)


def side_by_side() -> None:
    region = letters()
    flat, rough = region.flattened(0.005).xy, region.roughly()
    shaping = median(shaped)
    print(
        f"{len(TEXT)} letters, {region.node_count} nodes, {len(flat)} flat points; shaping {shaping:.1f} ms"
    )
    print(
        f"{'':8}{'bare map':>10}{'with shaping':>14}{'this core':>11}{'ratio':>8}{'to both':>9}{'nodes':>8}"
        f"{'roughly':>10}{'ratio':>8}"
    )
    for name, onto in maps(region).items():
        bare, ours, drawn = (
            median(lambda onto=onto: onto.points(flat)),
            median(lambda onto=onto: warped(region, onto)),
            median(lambda onto=onto: warped(rough, onto)),
        )
        made = warped(region, onto)
        print(
            f"{name:8}{bare:8.2f}ms{bare + shaping:12.1f}ms{ours:9.1f}ms{ours / bare:7.1f}x"
            f"{ours / (bare + shaping):8.1f}x{made.node_count / region.node_count:7.2f}x"
            f"{drawn:8.1f}ms{drawn / bare:7.1f}x"
        )


def dragged(address: str) -> None:
    """The round trip of a proof while a handle of each demo design that warps is dragged."""
    shop = Shop(address)
    for entry in shop.call("GET", "/api/designs"):
        design = shop.call("GET", f"/api/designs/{entry['id']}")["design"]
        line = next((one for one in design["recipe"] if one["kind"] in ("bend", "rails")), None)
        if line is None:
            continue
        body = {"design": design, "care": "rough"}
        shop.call("POST", "/api/proof", body)
        times = []
        for step in range(MOVES):
            if line["kind"] == "rails":
                line["between"][0]["rise"] = 20.0 + 0.2 * step
            elif line["curve"] == "arc":
                line["rise"] = 60.0 + 0.4 * step
            else:
                line["diameter"] = 154.0 + 0.2 * step
            start = time.perf_counter()
            shop.call("POST", "/api/proof", body)
            times.append(1000.0 * (time.perf_counter() - start))
            time.sleep(0.01)
        say(f"{entry['name']}: a handle dragged", times)


if __name__ == "__main__":
    if len(sys.argv) > 1:
        dragged(sys.argv[1])
    else:
        side_by_side()
