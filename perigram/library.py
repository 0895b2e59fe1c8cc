"""What ships with the application, and design files on disk: the core itself reads no files."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache, cached_property, lru_cache
from hashlib import sha256
from pathlib import Path

from perigram.core.art.svg import Drawing, read_svg
from perigram.core.errors import FontError, PerigramError, PictureError
from perigram.core.lettering.fontfile import FontFile, read_font_file
from perigram.core.lettering.fonts import Font
from perigram.core.recipe.design import Design, read_design

FONT_FOLDER = Path(__file__).parent / "fonts"


@dataclass(frozen=True)
class FontEntry:
    """A font of the catalogue: how it is named and what it is good for."""

    id: str
    name: str
    tags: tuple[str, ...]


@cache
def paper_fonts() -> tuple[bytes, bytes]:
    """The regular and the bold face that pages to print are set in."""
    folder = Path(__file__).parent / "paper" / "instrument-sans"
    return (folder / "regular.ttf").read_bytes(), (folder / "semibold.ttf").read_bytes()


@cache
def font_catalogue() -> tuple[FontEntry, ...]:
    entries = json.loads((FONT_FOLDER / "catalog.json").read_text())["fonts"]
    return tuple(FontEntry(e["id"], e["name"], tuple(e["tags"])) for e in entries)


@cache
def open_font(font_id: str) -> Font:
    """A font of the catalogue, opened once for the whole process."""
    if font_id not in {entry.id for entry in font_catalogue()}:
        raise FontError(f"There is no font “{font_id}” here. Choose another font.")
    return Font((FONT_FOLDER / font_id / "font.ttf").read_bytes())


def fonts_with(characters: str) -> list[str]:
    """Names of shipped fonts that have all of the characters, in the catalogue's order."""
    return [entry.name for entry in font_catalogue() if not open_font(entry.id).missing(characters)]


@lru_cache(maxsize=64)
def _instance(font: Font, axes: tuple[tuple[str, float], ...]) -> Font:
    return font.at(dict(axes))


def font_at(font: Font, axes: Mapping[str, float]) -> Font:
    """A font at a place on its axes, kept for the next time."""
    return _instance(font, tuple(sorted(axes.items()))) if font.axes and axes else font


def own_font_id(data: bytes) -> str:
    """How designs refer to a font that is not shipped: by its content, unpacked."""
    return f"own-{sha256(data).hexdigest()[:24]}"


@cache
def starts() -> dict[str, Design]:
    """Whole recipes to start from, by their ids, in the order they are shown."""
    files = sorted((Path(__file__).parent / "starts").glob("*.perigram.json"))
    return {file.name.partition(".")[0]: load_design(file) for file in files}


class DesignSources:
    """Shipped fonts, the pictures a design carries along, and fonts given as files.

    A font given as a file goes by its id or by its family's name.
    """

    def __init__(self, design: Design, fonts: Sequence[FontFile] = ()) -> None:
        self._fonts: dict[str, Font] = {}
        for one in fonts:
            font = Font(one.data)
            self._fonts[own_font_id(one.data)] = self._fonts[font.family] = font
        self._pictures = {picture.id: picture for picture in design.pictures}
        self._drawings: dict[str, Drawing] = {}

    @cached_property
    def state(self) -> str:
        given = [(name, sha256(font.data).hexdigest()) for name, font in sorted(self._fonts.items())]
        pictures = [(key, one.svg) for key, one in sorted(self._pictures.items())]
        return sha256(repr((given, pictures)).encode()).hexdigest()

    def font(self, font_id: str, axes: Mapping[str, float]) -> Font:
        own = self._fonts.get(font_id)
        if own is not None:
            return font_at(own, axes)
        if font_id.startswith("own-"):
            raise FontError("A font of this design is not here: give its file with --font.")
        return font_at(open_font(font_id), axes)

    def fonts_with(self, characters: str) -> list[str]:
        return fonts_with(characters)

    def drawing(self, picture_id: str) -> Drawing:
        if picture_id not in self._drawings:
            picture = self._pictures.get(picture_id)
            if picture is None or picture.svg is None:
                raise PictureError("The picture is missing from this design. Bring it in again.")
            self._drawings[picture_id] = read_svg(picture.svg)
        return self._drawings[picture_id]


def load_font(path: Path) -> FontFile:
    """A font file from disk, tried out.

    Raises:
        PerigramError: when it cannot be read or used.
    """
    try:
        return read_font_file(path.read_bytes(), path.name)
    except OSError as error:
        raise PerigramError(f"{path} cannot be opened: {error.strerror}.") from error


def load_design(path: Path) -> Design:
    """A design file from disk.

    Raises:
        PerigramError: when it cannot be read, with the reason in a sentence.
    """
    try:
        data = json.loads(path.read_text(encoding="utf-8"))
    except OSError as error:
        raise PerigramError(f"{path} cannot be opened: {error.strerror}.") from error
    except ValueError as error:
        raise PerigramError(f"{path} is not a design file: it is not valid JSON.") from error
    return read_design(data)
