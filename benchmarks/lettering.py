"""Forty letters set again after a change, beside HarfBuzz, fontTools and GEOS alone.

Run: python -m benchmarks.lettering

Bare libraries shape a row, draw its glyphs, scale it to its width and union them; they leave the gaps the
font has. This core also brings letters to a clear gap in mm and keeps curves.
"""

from __future__ import annotations

from collections.abc import Callable
from itertools import count

import shapely
import uharfbuzz as hb
from fontTools.pens.transformPen import TransformPen
from shapely import affinity

from benchmarks.material import HEAVY_WORDS, Chords, median_ms
from perigram.core.recipe.cache import Cache
from perigram.core.recipe.design import Design
from perigram.core.recipe.evaluate import evaluate
from perigram.core.recipe.lines.letter import Letter
from perigram.core.recipe.values import Row
from perigram.library import DesignSources, open_font

WIDE = 254.0
_CHORDS = 12


def bare(font: hb.Font, words: list[str]) -> shapely.Geometry:
    rows = []
    for number, word in enumerate(words):
        buffer = hb.Buffer()
        buffer.add_str(word)
        buffer.guess_segment_properties()
        hb.shape(font, buffer)
        pen, x = Chords(_CHORDS), 0.0
        for info, position in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True):
            font.draw_glyph_with_pen(info.codepoint, TransformPen(pen, (1, 0, 0, -1, x, 0)))
            x += position.x_advance
        shape = shapely.build_area(
            shapely.multilinestrings([shapely.linearrings(ring) for ring in pen.ring_offsets])
        )
        low, _, high, _ = shapely.bounds(shape)
        rows.append(
            affinity.affine_transform(
                shape, [WIDE / (high - low), 0, 0, WIDE / (high - low), 0, 200.0 * number]
            )
        )
    return shapely.union_all(rows)


def main() -> None:
    source = open_font("anton")
    font = hb.Font(hb.Face(source.data))
    letters = sum(map(len, HEAVY_WORDS))
    fresh = count()

    def lettered(
        change: Callable[[int], dict[str, object]], words: Callable[[int], list[str]]
    ) -> Callable[[], None]:
        cache = Cache()

        def once() -> None:
            k = next(fresh)
            line = Letter(id="l1", font="anton", size=WIDE, gap=0.8, rows=[Row(text=w) for w in words(k)])
            design = Design(recipe=[line.model_copy(update=change(k))])
            evaluate(design, DesignSources(design), cache)

        return once

    reference = median_ms(lambda: bare(font, HEAVY_WORDS))
    print(f"{letters} letters in {len(HEAVY_WORDS)} rows, each {WIDE:g} mm wide; median of 15")
    print(f"  {'bare libraries, from the words':42} {reference:6.1f} ms   1.0x")
    cases = {
        "this core, every row anew": lettered(lambda k: {"gap": 0.8 + k * 1e-4}, lambda k: HEAVY_WORDS),
        "this core, another size": lettered(lambda k: {"size": WIDE + k / 16}, lambda k: HEAVY_WORDS),
        "this core, one letter typed": lettered(
            lambda k: {},
            lambda k: [*HEAVY_WORDS[:-1], HEAVY_WORDS[-1][:3] + "ABCDEFGHIJKLMNOPQRSTUVWXYZ"[k % 26] + "NG"],
        ),
    }
    for what, once in cases.items():
        took = median_ms(once)
        print(f"  {what:42} {took:6.1f} ms {took / reference:5.1f}x")


if __name__ == "__main__":
    main()
