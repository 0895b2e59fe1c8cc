"""Drawings of any features of SVG beside two renderers: `python -m benchmarks.drawn COUNT SEED`.

Those are named whose cut area is what neither Chromium nor resvg shows, by more than a hundredth of the ink.
Renderers differ themselves in about one of fifty.
"""

from __future__ import annotations

import argparse
import sys
from io import BytesIO

import numpy as np
from PIL import Image
from playwright.sync_api import Page, sync_playwright

from perigram.core.art.svg import read_svg
from perigram.core.errors import PictureError
from perigram.core.formats.svg import path_data
from tests.foreign.drawn import document
from tests.foreign.rendering import cut, rendered, strays

_BROWSER = "/usr/bin/chromium-headless-shell"
_PX, _SIZE, _INK = 800, (100.0, 100.0), 0.01
_SHOW = """source => {
    const made = new DOMParser().parseFromString(source, "image/svg+xml").documentElement;
    made.setAttribute("width", 800);
    made.setAttribute("height", 800);
    document.body.style.margin = 0;
    document.body.replaceChildren(document.importNode(made, true));
}"""


def seen_in_chromium(page: Page, source: str) -> np.ndarray:
    page.evaluate(_SHOW, source)
    picture = Image.open(BytesIO(page.screenshot(omit_background=True)))
    return np.asarray(picture.convert("RGBA"))[:_PX, :_PX, 3] > 127


def cut_of(source: str) -> np.ndarray:
    try:
        return cut(path_data(read_svg(source).region(light="kept")), _SIZE)
    except PictureError:
        return np.zeros((_PX, _PX), bool)


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("count", type=int, nargs="?", default=200)
    parser.add_argument("seed", type=int, nargs="?", default=1)
    options = parser.parse_args()
    apart = differing = 0
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=_BROWSER, args=["--no-sandbox"])
        page = browser.new_page(viewport={"width": _PX, "height": _PX})
        for seed in range(options.seed, options.seed + options.count):
            source = document(seed, percent=seed % 2 == 1)
            ours, other = cut_of(source), rendered(source, _SIZE)
            off = strays(ours, other)
            if off < _INK:
                continue
            chromium = seen_in_chromium(page, source)
            apart += strays(ours, chromium) < _INK
            if strays(ours, chromium) >= _INK:
                differing += 1
                print(
                    f"seed {seed}: {off:.3f} off resvg, {strays(ours, chromium):.3f} off Chromium", flush=True
                )
        browser.close()
    print(
        f"{options.count} drawings, {differing} otherwise than either shows; "
        f"{apart} as Chromium shows them, and not resvg"
    )
    return int(differing > 0)


if __name__ == "__main__":
    sys.exit(main())
