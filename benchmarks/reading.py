"""Drawings that are hard to read, each within its own process: how long, how much memory, what came of it.

python -m benchmarks.reading
"""

from __future__ import annotations

import math
import resource
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from random import Random

from perigram.core.art.svg import read_svg
from perigram.core.errors import PerigramError


def _page(size: float, body: Iterator[str]) -> str:
    return f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {size} {size}">{"".join(body)}</svg>'


def _halftone() -> str:
    r = Random(1)
    return _page(
        500,
        (
            f'<circle cx="{k % 44 * 11 + 5}" cy="{k // 44 * 11 + 5}" r="{r.uniform(1, 5):.2f}"/>'
            for k in range(2000)
        ),
    )


def _triangles() -> str:
    r = Random(2)
    return _page(
        1000,
        (f'<path d="M{r.uniform(0, 990):.1f} {r.uniform(0, 990):.1f}l5 1 1 5z"/>' for _ in range(19_900)),
    )


def _tangle() -> str:
    r = Random(3)
    corners = " ".join(f"{r.uniform(0, 1000):.1f} {r.uniform(0, 1000):.1f}" for _ in range(99_000))
    return _page(1000, iter([f'<path d="M0 0L{corners}z"/>']))


def _scribble() -> str:
    r = Random(3)
    curves = "".join("c" + " ".join(f"{r.uniform(-50, 50):.1f}" for _ in range(6)) for _ in range(30_000))
    return _page(1000, iter([f'<path d="M500 500{curves}z"/>']))


def _strokes() -> str:
    r = Random(4)
    path = '<path fill="none" stroke="#000" d="M{:.1f} {:.1f}c30 10 -10 50 {:.1f} 20"/>'
    return _page(
        1000, (path.format(r.uniform(0, 1000), r.uniform(0, 1000), r.uniform(0, 50)) for _ in range(5000))
    )


def _clips() -> str:
    clip = '<clipPath id="a"><circle cx="250" cy="250" r="200"/></clipPath>'
    box = '<rect clip-path="url(#a)" x="{}" y="{}" width="8" height="8"/>'
    return _page(500, iter([clip, *(box.format(k % 45 * 11, k // 45 * 11) for k in range(2000))]))


def _dashes() -> str:
    line = '<path fill="none" stroke="#000" stroke-dasharray="1 1" d="M0 {0} L500 {0}"/>'
    return _page(500, (line.format(k) for k in range(500)))


def _crowd() -> str:
    r = Random(1)
    return _page(
        500,
        (f'<circle cx="{r.uniform(0, 500):.1f}" cy="{r.uniform(0, 500):.1f}" r="40"/>' for _ in range(2000)),
    )


def _deep() -> str:
    return _page(500, iter(["<g>" * 3000, '<rect width="9" height="9"/>', "</g>" * 3000]))


def _spiral() -> str:
    places = ((500 + k / 40 * math.cos(k * 0.05), 500 + k / 40 * math.sin(k * 0.05)) for k in range(20_000))
    turns = " ".join(f"{x:.2f} {y:.2f}" for x, y in places)
    return _page(1000, iter([f'<path fill="none" stroke="#000" stroke-width="3" d="M{turns}"/>']))


def _styled() -> str:
    rules = "".join(f".a{k} .b{k} , g .c{k}{{fill:#{k % 999:03d}}}" for k in range(3000))
    boxes = (
        f'<rect class="c{k}" x="{k % 50 * 10}" y="{k // 50 * 10}" width="8" height="8"/>' for k in range(3000)
    )
    return _page(500, iter([f"<style>{rules}</style>", *boxes]))


DRAWINGS: dict[str, Callable[[], str]] = {
    "halftone": _halftone,
    "triangles": _triangles,
    "tangle": _tangle,
    "scribble": _scribble,
    "strokes": _strokes,
    "clips": _clips,
    "dashes": _dashes,
    "crowd": _crowd,
    "deep": _deep,
    "spiral": _spiral,
    "styled": _styled,
}


def _one(name: str) -> None:
    drawing = DRAWINGS[name]()
    began = time.process_time()
    try:
        said = f"{len(read_svg(drawing).parts)} parts"
    except PerigramError as error:
        said = f"refused: {error}"
    took = time.process_time() - began
    most = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(f"{name:10} {len(drawing) / 1e6:5.2f} MB {took:6.2f} s CPU {most:5.0f} MB  {said[:70]}", flush=True)


if __name__ == "__main__":
    if len(sys.argv) > 1:
        _one(sys.argv[1])
    else:
        for each in DRAWINGS:
            subprocess.run([sys.executable, "-m", "benchmarks.reading", each], check=False, timeout=120)
