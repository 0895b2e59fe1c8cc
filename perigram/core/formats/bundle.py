"""All cut files of a design, and the zip that carries them."""

from __future__ import annotations

from collections.abc import Sequence
from io import BytesIO
from typing import Literal, get_args
from zipfile import ZIP_DEFLATED, ZipFile, ZipInfo

from perigram.core.formats.dxf import write_dxf
from perigram.core.formats.page import CutPly, pages, plain_name
from perigram.core.formats.svg import write_svg

Format = Literal["svg", "dxf"]
FORMATS: tuple[Format, ...] = get_args(Format)


def cut_files(name: str, plies: Sequence[CutPly], formats: Sequence[Format]) -> dict[str, bytes]:
    """File names and contents: one file a ply and format, and one SVG with all plies.

    Raises:
        PerigramError: when there is nothing to cut.
    """
    laid = pages(plies)
    files: dict[str, bytes] = {}
    if "svg" in formats:
        for ply in laid:
            files[ply.file_name(name, "svg")] = write_svg(f"{name}: {ply.name}", [ply])
        files[f"{plain_name(name)} - all plies.svg"] = write_svg(name, laid)
    if "dxf" in formats:
        for ply in laid:
            files[ply.file_name(name, "dxf")] = write_dxf(ply)
    return files


def zipped(files: dict[str, bytes]) -> bytes:
    """A zip of the files whose bytes depend on nothing but them."""
    stream = BytesIO()
    with ZipFile(stream, "w", ZIP_DEFLATED) as archive:
        for name in sorted(files):
            archive.writestr(ZipInfo(name), files[name], ZIP_DEFLATED)
    return stream.getvalue()
