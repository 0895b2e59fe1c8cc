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
from perigram.core.geometry.region import Region
from perigram.core.sheet.blade import led
from perigram.core.sheet.machine import Machine, Reads
from perigram.core.sheet.sheet import Sheet

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


def sheet_files(name: str, sheets: Sequence[Sheet], machine: Machine) -> dict[str, bytes]:
    """File names and contents of sheets as a machine reads them, one file a sheet."""
    kind, _, unit = machine.reads.partition("-")
    files = {}
    for file, sheet in zip(sheet_names(name, sheets, machine.reads), sheets, strict=True):
        title = f"{name}: {sheet.stock.name}"
        files[file] = sheet_hpgl(sheet, machine) if kind == "hpgl" else _SHEETS[kind](title, sheet, unit)
    return files


def sheet_hpgl(sheet: Sheet, machine: Machine) -> bytes:
    """HP-GL of a sheet, the blade led as the machine's is."""
    ways = led(sheet.strokes(TOLERANCE), machine.blade, machine.overcut)
    return write_hpgl(ways, sheet.used)


def sheet_names(name: str, sheets: Sequence[Sheet], reads: Reads) -> list[str]:
    """What the files of sheets are called, in the order they are cut."""
    extension = reads.partition("-")[0]
    names = []
    for number, sheet in enumerate(sheets, 1):
        stock = sheet.stock
        words = [name, f"{number} of {len(sheets)}", stock.name, stock.material]
        words += ["mirrored"] if stock.mirrored else []
        words += [f"sheet {sheet.number} of {sheet.count}"] if sheet.count > 1 else []
        words += [sheet.part] if sheet.part else []
        words += [f"cut {sheet.times} times"] if sheet.times > 1 else []
        names.append(f"{plain_name(' - '.join(words))}.{extension}")
    return names


def _sheet_pdf(title: str, sheet: Sheet, _: str) -> bytes:
    stock = sheet.stock
    named = (
        (stock.name, stock.colour, sheet.work),
        ("Marks", "#26202B", sheet.marks),
        ("Weeding borders", "#6F6673", sheet.borders),
        ("Frame", "#6F6673", sheet.frame),
    )
    layers = [Layer(name, colour, region) for name, colour, region in named if not region.is_empty]
    if len(sheet.lines):
        layers.append(Layer("Weeding lines", "#6F6673", Region.empty(), sheet.lines))
    return write_pdf(title, stock.width, sheet.used, layers)


_SHEETS: dict[str, Callable[[str, Sheet, str], bytes]] = {
    "svg": write_sheet_svg,
    "dxf": lambda _, sheet, unit: outlines_dxf(
        sheet.cut, sheet.stock.name, sheet.used, unit == "in", sheet.lines
    ),
    "pdf": _sheet_pdf,
}


def zipped(files: dict[str, bytes]) -> bytes:
    """A zip of the files whose bytes depend on nothing but them."""
    stream = BytesIO()
    with ZipFile(stream, "w", ZIP_DEFLATED) as archive:
        for name in sorted(files):
            archive.writestr(ZipInfo(name), files[name], ZIP_DEFLATED)
    return stream.getvalue()
