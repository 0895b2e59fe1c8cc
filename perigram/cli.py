"""`perigram`: check and export a design file without a server or a database."""

from __future__ import annotations

import argparse
import gc
import os
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from perigram.core.errors import NOTHING_TO_CUT, PerigramError
from perigram.core.formats.bundle import FORMATS, cut_files, sheet_files, zipped
from perigram.core.formats.page import plain_name
from perigram.core.recipe.design import Design
from perigram.core.recipe.evaluate import Proof, evaluate
from perigram.core.recipe.values import limits
from perigram.core.sheet.layout import lay_out, to_pack
from perigram.core.sheet.machine import READS, Machine, as_fed
from perigram.core.sheet.packing import Room, nest
from perigram.library import DesignSources, load_design, load_font, own_font_id

_MARKS = {"holds": "holds  ", "look": "look at", "stop": "STOPS  "}


def main(arguments: Sequence[str] | None = None) -> int:
    parser = argparse.ArgumentParser(prog="perigram", description=__doc__)
    commands = parser.add_subparsers(dest="command", required=True)
    check = commands.add_parser("check", help="say whether a design is cut-ready")
    export = commands.add_parser("export", help="write a design's cut files")
    sheets = commands.add_parser("sheets", help="lay a design's plies on their sheets and write those")
    for command in (check, export, sheets):
        command.add_argument("file", type=Path, help="a .perigram.json design file")
        command.add_argument(
            "--font", type=Path, action="append", help="a font file the design uses that is not shipped"
        )
    export.add_argument(
        "--format", choices=FORMATS, action="append", help="may be given more than once; svg if not"
    )
    sheets.add_argument("--reads", choices=READS, default="svg-mm", help="what the cutter reads")
    sheets.add_argument("--copies", type=int, help="how often it is made, if not as often as the design says")
    sheets.add_argument("--blade", type=float, default=0.0, help="HP-GL: a drag knife's offset in mm")
    sheets.add_argument("--overcut", type=float, default=0.0, help="HP-GL: mm to cut past each start")
    sheets.add_argument(
        "--mat",
        type=float,
        nargs=2,
        metavar=("WIDTH", "LENGTH"),
        help="fed on a mat that can be cut on so far, in mm",
    )
    sheets.add_argument(
        "--nest", type=float, metavar="SECONDS", help="packed sheets: nest outlines for so long each ply"
    )
    for command in (export, sheets):
        command.add_argument("--out", type=Path, default=Path("."), help="the folder to write to")
        command.add_argument("--zip", action="store_true", help="one zip instead of single files")
    options = parser.parse_args(arguments)
    # What is loaded by now stays: looking through it again for garbage takes up to a tenth of the time.
    gc.freeze()
    try:
        design = load_design(options.file)
        fonts = [load_font(path) for path in options.font or []]
        for path, font in zip(options.font or [], fonts, strict=True):
            print(f"{path.name} is the font “{own_font_id(font.data)}”, or “{font.family}”", file=sys.stderr)
        proof = evaluate(design, DesignSources(design, fonts))
        if options.command == "check":
            return _check(proof)
        for finding in proof.findings:
            print(f"{_MARKS[finding.level]} {finding.text}", file=sys.stderr)
        if options.command == "sheets":
            machine = Machine.model_validate(
                {
                    "id": "m",
                    "name": "The cutter",
                    "reads": options.reads,
                    "blade": options.blade,
                    "overcut": options.overcut,
                    **(_mat(*options.mat) if options.mat else {}),
                }
            )
            files = _sheets(proof, design, machine, options.copies, options.nest)
        else:
            files = cut_files(design.name, proof.to_cut(), options.format or ["svg"])
        if options.zip:
            files = {f"{plain_name(design.name)}.zip": zipped(files)}
        options.out.mkdir(parents=True, exist_ok=True)
        for name, content in files.items():
            (options.out / name).write_bytes(content)
            print(options.out / name)
    except PerigramError as error:
        print(error, file=sys.stderr)
        return 1
    except BrokenPipeError:
        # Whoever was reading has seen enough: `perigram check ... | head`.
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return 1
    except OSError as error:
        print(f"{options.out} cannot be written to: {error.strerror}.", file=sys.stderr)
        return 1
    return 0


def _mat(width: float, length: float) -> dict[str, Any]:
    for value, name in ((width, "mat_width"), (length, "mat_length")):
        low, high = limits(Machine, name)
        if not low <= value <= high:
            raise PerigramError(f"A mat measures {low:g} to {high:g} mm each way, not {value:g}.")
    return {"fed": "mat", "mat_width": width, "mat_length": length}


def _sheets(
    proof: Proof, design: Design, machine: Machine, copies: int | None, seconds: float | None
) -> dict[str, bytes]:
    how = design.sheets
    if copies is not None:
        low, high = 1, 500
        if not low <= copies <= high:
            raise PerigramError(f"A design can be made {low} to {high} times, not {copies}.")
        how = how.model_copy(update={"copies": copies})
    nested, plies = None, as_fed(proof.to_cut(), machine)
    if seconds is not None and how.layout == "packed":
        nested = {
            ply.id: nest(items, wanted, Room.of(ply, how), seconds, lambda _: None)
            for ply, items, wanted in to_pack(plies, how)
        }
    laid = lay_out(plies, how, nested)
    for sheet in laid:
        print(
            f"{sheet.stock.name}: {len(sheet.placed)} on {sheet.stock.width:g} × {sheet.used:g} mm of "
            f"{sheet.stock.material}" + (f", cut {sheet.times} times" if sheet.times > 1 else ""),
            file=sys.stderr,
        )
    return sheet_files(design.name, laid, machine)


def _check(proof: Proof) -> int:
    for ply in proof.plies:
        m = ply.measures
        print(
            f"{ply.ply.name} ({ply.material.name}): {m.pieces} pieces, {m.area / 100:.1f} cm², "
            f"{m.length / 1000:.2f} m of cutting, {m.nodes} nodes"
        )
    if proof.bounds:
        x0, y0, x1, y1 = proof.bounds
        print(f"Finished size {x1 - x0:.1f} × {y1 - y0:.1f} mm")
    for finding in proof.findings:
        print(f"{_MARKS[finding.level]} {finding.text}")
    if not proof.plies:
        print(NOTHING_TO_CUT)
    print("Cut-ready." if proof.is_cuttable else "Not cut-ready.", flush=True)
    return 0 if proof.is_cuttable else 1


if __name__ == "__main__":
    sys.exit(main())
