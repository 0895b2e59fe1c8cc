"""All cut files of a design, and the zip that carries them."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from io import BytesIO
from typing import Literal, get_args
from zipfile import ZIP_DEFLATED, ZipFile, ZipInfo

from perigram.core.formats.dxf import outlines_dxf, write_dxf
from perigram.core.formats.hpgl import TOLERANCE, write_hpgl
from perigram.core.formats.page import CutPly, pages, plain_name
from perigram.core.formats.pdf import Layer, write_pdf
from perigram.core.formats.svg import write_sheet_svg, write_svg
from perigram.core.sheet.layout import Sheet
from perigram.core.sheet.machine import Reads
from perigram.core.sheet.order import outlines_in_order

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


def sheet_files(name: str, sheets: Sequence[Sheet], reads: Reads) -> dict[str, bytes]:
    """File names and contents of sheets as a machine reads them, one file a sheet."""
    return {
        file: _SHEETS[kind](f"{name}: {sheet.stock.name}", sheet, unit)
        for file, sheet in zip(sheet_names(name, sheets, reads), sheets, strict=True)
        for kind, _, unit in [reads.partition("-")]
    }


def sheet_names(name: str, sheets: Sequence[Sheet], reads: Reads) -> list[str]:
    """What the files of sheets are called, in the order they are cut."""
    extension = reads.partition("-")[0]
    names = []
    for number, sheet in enumerate(sheets, 1):
        stock = sheet.stock
        words = [name, f"{number} of {len(sheets)}", stock.name, stock.material]
        words += ["mirrored"] if stock.mirrored else []
        words += [f"sheet {sheet.number} of {sheet.count}"] if sheet.count > 1 else []
        words += [f"cut {sheet.times} times"] if sheet.times > 1 else []
        names.append(f"{plain_name(' - '.join(words))}.{extension}")
    return names


def _sheet_pdf(title: str, sheet: Sheet, _: str) -> bytes:
    stock = sheet.stock
    named = (
        (stock.name, stock.colour, sheet.work),
        ("Marks", "#26202B", sheet.marks),
        ("Weeding borders", "#6F6673", sheet.borders),
    )
    layers = [Layer(name, colour, region) for name, colour, region in named if not region.is_empty]
    return write_pdf(title, stock.width, sheet.used, layers)


_SHEETS: dict[str, Callable[[str, Sheet, str], bytes]] = {
    "svg": write_sheet_svg,
    "dxf": lambda _, sheet, unit: outlines_dxf(sheet.cut, sheet.stock.name, sheet.used, unit == "in"),
    "pdf": _sheet_pdf,
    "hpgl": lambda _, sheet, __: write_hpgl(outlines_in_order(sheet.cut, sheet.order, TOLERANCE), sheet.used),
}


def zipped(files: dict[str, bytes]) -> bytes:
    """A zip of the files whose bytes depend on nothing but them."""
    stream = BytesIO()
    with ZipFile(stream, "w", ZIP_DEFLATED) as archive:
        for name in sorted(files):
            archive.writestr(ZipInfo(name), files[name], ZIP_DEFLATED)
    return stream.getvalue()
