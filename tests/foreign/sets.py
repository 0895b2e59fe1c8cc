"""Drawings and fonts from general-purpose sets of the npm registry; licences are named in README.md."""

from __future__ import annotations

import json
import re
from functools import cache
from pathlib import Path

FOLDER = Path(__file__).parent / "node_modules"

#: Where each set's drawings are: a folder of SVG files, or a JSON file of icons' bodies.
_FILES = {
    "lucide": "lucide-static/icons/*.svg",
    "flags": "flag-icons/flags/4x3/*.svg",
    "twemoji": "@twemoji/svg/*.svg",
    "map": "@svg-maps/world/*.svg",
}
_BODIES = {"game-icons": "game-icons", "noto": "noto", "openmoji": "openmoji"}
SETS = (*_BODIES, *_FILES)
#: Names that may be signs of a firm or a service are left out.
_SIGNS = re.compile(
    r"github|gitlab|figma|slack|twitter|facebook|instagram|linkedin|youtube|twitch|trello|codepen|framer|"
    r"chrome|dribbble|pocket|rail-symbol|brand"
)


def _bodies(name: str) -> dict[str, str]:
    data = json.loads((FOLDER / "@iconify-json" / _BODIES[name] / "icons.json").read_text())
    width, height = data.get("width", 16), data.get("height", 16)
    head = 'xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"'
    return {
        icon: f'<svg {head} viewBox="{one.get("left", 0)} {one.get("top", 0)} {one.get("width", width)} '
        f'{one.get("height", height)}">{one["body"]}</svg>'
        for icon, one in data["icons"].items()
    }


@cache
def drawings(name: str) -> dict[str, str]:
    """The drawings of a set, as SVG text by name, in the order of their names."""
    if name in _BODIES:
        found = _bodies(name)
    else:
        found = {path.stem: path.read_text() for path in FOLDER.glob(_FILES[name])}
    return {key: found[key] for key in sorted(found) if not _SIGNS.search(key)}


@cache
def font_files() -> tuple[Path, ...]:
    """Fonts that do not ship, one file a family."""
    return tuple(
        sorted(folder.rglob("*.ttf"))[0] for folder in sorted((FOLDER / "@expo-google-fonts").iterdir())
    )
