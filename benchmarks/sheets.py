"""Sheets: how closely things are nested beside boxes, and how true the simulated cutter cuts.

`python -m benchmarks.sheets` nests the demo shirt and random figures, then cuts random words over the wire
and compares them, some with the line dropped on the way. `--seconds`, `--jobs` and `--dropped` bound it.
"""

from __future__ import annotations

import argparse
import socket
import time
from pathlib import Path
from random import Random

import numpy as np

from perigram.core.formats.hpgl import TOLERANCE, write_hpgl
from perigram.core.formats.page import CutPly
from perigram.core.geometry import measure
from perigram.core.recipe.evaluate import evaluate
from perigram.core.recipe.making import Sheets
from perigram.core.sheet.blade import led
from perigram.core.sheet.compare import compare
from perigram.core.sheet.layout import to_pack
from perigram.core.sheet.order import cut_order, outlines_in_order
from perigram.core.sheet.packing import Layouts, Room, length_used, nest
from perigram.cutter.machine import Machine
from perigram.cutter.server import HOST, serve
from perigram.library import DesignSources, load_design
from tests.core.material import EVERY, row
from tests.core.test_sheets import pieces

DEMO = Path(__file__).parents[1] / "demo" / "weekend-shirt.perigram.json"


def nested(name: str, ply: CutPly, how: Sheets, seconds: float) -> None:
    """Length of roll and how much of it is material kept, by boxes and by outlines."""
    ((_, items, wanted),) = to_pack([ply], how)
    room = Room.of(ply, how)
    found: list[Layouts] = []
    start = time.monotonic()
    best = nest(items, wanted, room, seconds, found.append)
    took = time.monotonic() - start
    area = how.copies * measure.area(ply.region)
    lengths = [length_used(layouts, items, room) for layouts in (found[0], best)]
    shares = [100.0 * area / (ply.width * length) for length in lengths]
    print(
        f"{name:24s} {len(wanted):4d} pieces   boxes {lengths[0]:7.0f} mm {shares[0]:3.0f} %   "
        f"outlines {lengths[1]:7.0f} mm {shares[1]:3.0f} %   {took:5.1f} s",
        flush=True,
    )


def cut(jobs: int, dropped: int) -> None:
    """Random words sent, cut and compared; of some the line drops at random and is taken up."""
    with socket.socket() as probe:
        probe.bind((HOST, 0))
        port = probe.getsockname()[1]
    machine = Machine(610.0, 3000.0, 40.0, 1e6)
    serve(machine, port)
    random = Random(7)
    worst, wrong, breaks = 0.0, 0, 0
    for job in range(jobs):
        text = (
            "".join(random.choices("ABCDEGHKMORSTWabcdefghknopqrs&8 ", k=random.randint(1, 6))).strip() or "O"
        )
        region = row(random.choice(EVERY), text, random.uniform(20.0, 150.0))
        box = measure.bounds(region)
        if box is None:
            continue
        # On the sheet, whatever its letters reach to: the machine stops at its bed's edges.
        region = region.translated(10.0 - box[0], 10.0 - box[1])
        length = box[3] - box[1] + 20.0
        strokes = outlines_in_order(region, cut_order(region), TOLERANCE)
        blade = random.choice([0.0, 0.0, 0.25])
        machine.fit(blade)
        content = write_hpgl(led(strokes, blade, 0.0), length)
        at, name = 0, f"job-{job}"
        while at < len(content):
            stop = len(content)
            if job < dropped:
                stop = min(stop, at + random.randint(1, len(content)))
                breaks += stop < len(content)
            with socket.create_connection((HOST, port)) as wire:
                wire.sendall(f'CO"job {name} {len(content)} {at} b";'.encode() + content[at:stop])
                wire.shutdown(socket.SHUT_WR)
                wire.recv(1)
            at = machine.jobs[name].received
        while machine.jobs[name].state != "done":
            time.sleep(0.005)
        lines = [np.array(line) * [1.0, -1.0] + [0.0, length] for line in machine.jobs.pop(name).cut_so_far()]
        found = compare(strokes, lines[1:] if blade else lines, 610.0)
        worst = max(worst, found.deviation) if not blade else worst
        wrong += not found.as_designed
    print(
        f"{jobs} jobs, the line dropped {breaks} times: {wrong} not as designed, at most {worst:.4f} mm off"
    )


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--seconds", type=float, default=20.0)
    parser.add_argument("--jobs", type=int, default=1000)
    parser.add_argument("--dropped", type=int, default=200)
    options = parser.parse_args()
    how = Sheets(copies=6, layout="packed", keeps="pieces", apart=2.0, edge=5.0, marks="none")
    design = load_design(DEMO)
    for ply in evaluate(design, DesignSources(design)).to_cut():
        nested(ply.name, ply, how, options.seconds)
    for count in (50, 200):
        figures = CutPly("Figures", "Reed", "#5E7F57", False, pieces(1, count), 600.0, 50_000.0, "p")
        nested("random figures", figures, how.model_copy(update={"copies": 1}), options.seconds)
    cut(options.jobs, options.dropped)


if __name__ == "__main__":
    main()
