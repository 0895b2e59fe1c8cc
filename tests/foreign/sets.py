"""Drawings and fonts from general-purpose sets of the npm registry; licences are named in README.md."""

from __future__ import annotations

import json
from functools import cache
from hashlib import sha256
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
#: Icons that are the sign of a firm or a service are left out, by sums of their names.
_SIGNS = {
    "17af7a46",
    "17d03e8c",
    "24e6654b",
    "33ad029f",
    "38ec9124",
    "3d59f754",
    "4fb538e0",
    "5ede5673",
    "6cce67ad",
    "7352f353",
    "84308bea",
    "8962d510",
    "9390ef32",
    "9d96d9d5",
    "c0b0109d",
    "da2e289e",
    "f68ae913",
}


def _is_sign(name: str) -> bool:
    return sha256(name.encode()).hexdigest()[:8] in _SIGNS


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
    return {key: found[key] for key in sorted(found) if not _is_sign(key)}


@cache
def font_files() -> tuple[Path, ...]:
    """Fonts that do not ship, one file a family."""
    return tuple(
        sorted(folder.rglob("*.ttf"))[0] for folder in sorted((FOLDER / "@expo-google-fonts").iterdir())
    )
