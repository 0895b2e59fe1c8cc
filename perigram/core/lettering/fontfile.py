"""A font file somebody brings in: what it is, whether it can be used, and what it says about itself."""

from __future__ import annotations

import struct
from dataclasses import dataclass
from io import BytesIO

import brotli
from fontTools.ttLib import TTFont
from fontTools.ttLib.woff2 import WOFF2DirectoryEntry, woff2DirectorySize

from perigram.core.errors import FontError
from perigram.core.lettering.fonts import Axis, Font

#: The largest file taken, packed and unpacked, in bytes.
MOST_BYTES = 12_000_000
MOST_UNPACKED = 15_000_000

_KINDS = {
    b"\x00\x01\x00\x00": "TrueType",
    b"true": "TrueType",
    b"OTTO": "OpenType",
    b"wOF2": "WOFF2",
}
_TRIED = "HAMBURGefonsiv0158&"

#: Characters a designer asks for by these names; the Latin ranges are Unicode's blocks.
COVERED = {
    "capitals": "".join(map(chr, range(0x41, 0x5B))),
    "small letters": "".join(map(chr, range(0x61, 0x7B))),
    "figures": "0123456789",
    "signs": ".,:;!?’“”&@#%()+-–/*",
    "Western accents": "ÀÁÂÃÄÅÆÇÈÉÊËÌÍÎÏÑÒÓÔÕÖØÙÚÛÜÝßàáâãäåæçèéêëìíîïñòóôõöøùúûüýÿ",
    "Central European accents": "ĄąĆćČčĎďĘęĚěŁłŃńŇňŐőŘřŚśŠšŤťŮůŰűŹźŻżŽž",
    "Turkish": "ĞğİıŞş",
    "Greek": "".join(map(chr, [*range(0x391, 0x3A2), *range(0x3A3, 0x3AA), *range(0x3B1, 0x3CA)])),
    "Cyrillic": "".join(map(chr, range(0x410, 0x450))),
    "Hebrew": "".join(map(chr, range(0x5D0, 0x5EB))),
    "Arabic": "".join(map(chr, [*range(0x621, 0x63B), *range(0x641, 0x64B)])),
}


@dataclass(frozen=True)
class FontFile:
    """A font file as it was found: the font itself unpacked, and what to tell about it."""

    data: bytes
    kind: str
    family: str
    name: str
    embedding: str
    licence: str
    characters: int
    #: every one of them; see `Font.covers`
    covers: str
    #: what it has of the groups of `COVERED`: name -> (has, of)
    coverage: dict[str, tuple[int, int]]
    axes: tuple[Axis, ...]
    tags: tuple[str, ...]


def read_font_file(data: bytes, called: str) -> FontFile:
    """What a font file holds, after trying it out.

    Args:
        called: the file's name, for what is said when it cannot be used.

    Raises:
        FontError: saying what is wrong with the file and what would work.
    """
    refuse_large(len(data), called)
    kind = _KINDS.get(data[:4])
    if data[:4] == b"ttcf":
        raise FontError(f"{called} holds several fonts in one. Save the one you want as TTF or OTF.")
    if kind is None:
        raise FontError(f"{called} is not a font. TTF, OTF and WOFF2 files work here.")
    try:
        data = _unpacked(data) if kind == "WOFF2" else data
        return _looked_at(data, kind)
    except _Unfit as reason:
        raise FontError(f"{called} {reason}") from reason
    except Exception as error:
        # Font tables are parsed by others' code, which raises anything at all on a broken one.
        raise FontError(
            f"{called} is damaged: its tables cannot be read. Download or export it once more."
        ) from error


class _Unfit(Exception):
    """Why a font that can be read cannot be used."""


def refuse_large(size: int, called: str) -> None:
    """Refuse a file of more bytes than a lettering font has any reason to have."""
    if size > MOST_BYTES:
        raise FontError(
            f"{called} is {size / 1e6:.1f} MB; fonts up to {MOST_BYTES / 1e6:.0f} MB can be used. "
            "A version for fewer languages is smaller."
        )


def embedding(fs_type: int) -> str:
    """What a font's own embedding bits allow, in words (OpenType specification, OS/2 fsType)."""
    usage = fs_type & 0x000F
    if usage == 0:
        return "May be embedded and installed"
    # Where an old font sets several, the most permissive one counts.
    if usage & 0x8:
        return "May be embedded for editing"
    if usage & 0x4:
        return "May be embedded for viewing and printing only"
    return "May not be embedded without its owner's permission"


def _looked_at(data: bytes, kind: str) -> FontFile:
    tables = TTFont(BytesIO(data), lazy=True)
    reader = tables.reader
    if any(entry.offset + entry.length > len(data) for entry in reader.tables.values()):
        raise _Unfit("is cut short: parts of it are missing. Download or export it once more.")
    if not any(tag in tables for tag in ("glyf", "CFF ", "CFF2")):
        raise _Unfit("holds pictures of letters, not outlines, so there is nothing to cut.")
    font = Font(data)
    tried = [c for c in _TRIED if ord(c) in font.coverage] or [chr(c) for c in sorted(font.coverage)[:12]]
    drawn = [font.glyph(g.index) for c in tried for g in font.shape(c)]
    if all(region.is_empty for region in drawn):
        raise _Unfit("has no letters with outlines, so there is nothing to cut.")
    names, os2 = tables["name"], tables.get("OS/2")
    weight = getattr(os2, "usWeightClass", 400)
    tags = [tag for tag, true in (("heavy", weight >= 700), ("script", font.joins)) if true]
    return FontFile(
        data=data,
        kind=kind,
        family=font.family,
        name=(names.getBestFullName() or font.family)[:120],
        embedding=embedding(getattr(os2, "fsType", 0)),
        licence=(names.getDebugName(13) or names.getDebugName(0) or "").strip()[:300],
        characters=sum(map(font.draws, map(chr, font.coverage))),
        covers=font.covers,
        coverage=_coverage(font),
        axes=font.axes,
        tags=tuple(tags),
    )


def _coverage(font: Font) -> dict[str, tuple[int, int]]:
    return {
        name: (sum(font.draws(c) for c in characters), len(characters))
        for name, characters in COVERED.items()
    }


def _unpacked(data: bytes) -> bytes:
    """The font inside a WOFF2 file, never unpacking more than `MOST_UNPACKED` bytes of it."""
    count, packed = struct.unpack_from(">H", data, 12)[0], struct.unpack_from(">L", data, 20)[0]
    rest = data[woff2DirectorySize:]
    for _ in range(count):
        rest = WOFF2DirectoryEntry().fromString(rest)
    unpacker, unpacked = brotli.Decompressor(), 0
    todo = rest[:packed]
    while not unpacker.is_finished():
        part = unpacker.process(todo, output_buffer_limit=1 << 20)
        unpacked, todo = unpacked + len(part), b""
        if unpacked > MOST_UNPACKED:
            raise _Unfit(
                f"is larger than {MOST_UNPACKED / 1e6:.0f} MB unpacked. "
                "A version for fewer languages is smaller."
            )
        if not part and unpacker.can_accept_more_data():
            break
    # The same file has to come out the same to the byte: designs know fonts by their content.
    font = TTFont(BytesIO(data), recalcTimestamp=False)
    font.flavor = None
    made = BytesIO()
    font.save(made)
    return made.getvalue()
