"""The simulated cutter: what it is sent is what it cuts, once, whatever happens on the way."""

from __future__ import annotations

import json
import socket
import time
from collections.abc import Iterator
from pathlib import Path
from random import Random
from urllib.error import HTTPError
from urllib.request import Request, urlopen

import numpy as np
import pytest

from perigram.core.formats.hpgl import TOLERANCE, write_hpgl
from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.region import Region
from perigram.core.sheet.blade import led
from perigram.core.sheet.compare import Comparison, compare
from perigram.core.sheet.order import cut_order, outlines_in_order
from perigram.cutter.machine import Machine
from perigram.cutter.server import HOST
from tests.cutting import running

from .material import EVERY, row

LENGTH = 200.0


class Wired:
    """A machine on the wire and the two ways to reach it."""

    def __init__(self, machine: Machine, port: int) -> None:
        self.machine, self.port = machine, port

    def asked(self, path: str, method: str = "GET") -> dict[str, object]:
        with urlopen(Request(f"http://{HOST}:{self.port + 1}{path}", method=method)) as answer:
            return dict(json.load(answer))

    def send(self, job: str, content: bytes, at: int = 0, cut_off: int | None = None) -> None:
        with socket.create_connection((HOST, self.port)) as wire:
            wire.sendall(f'CO"job {job} {len(content)} {at} Test";'.encode() + content[at:cut_off])
            wire.shutdown(socket.SHUT_WR)
            wire.recv(1)

    def wait(self, job: str, state: str = "done") -> dict[str, object]:
        for _ in range(400):
            told = self.asked(f"/jobs/{job}")
            if told["state"] == state:
                return told
            time.sleep(0.02)
        raise AssertionError(f"{job} is {told['state']}, not {state}")


@pytest.fixture
def cutter(tmp_path: Path) -> Iterator[Wired]:
    machine = Machine(610.0, 3000.0, 40.0, 100_000.0, tmp_path)
    with running(machine) as port:
        yield Wired(machine, port)


def words(seed: int) -> Region:
    random = Random(seed)
    text = random.choice(["Salt", "REED", "boat & 8", "Quay"])
    return row(random.choice(EVERY), text, 120.0).translated(10.0, 90.0)


def job_of(region: Region) -> bytes:
    return write_hpgl(outlines_in_order(region, cut_order(region), TOLERANCE), LENGTH)


def cut_lines(told: dict[str, object]) -> list[Floats]:
    return [np.array(line) * [1.0, -1.0] + [0.0, LENGTH] for line in told["cut"]]  # type: ignore[attr-defined]


def compared(region: Region, told: dict[str, object], mirrored: bool = False) -> Comparison:
    flat = region.flattened(0.001)
    wanted = [
        np.vstack([flat.xy[a:b], flat.xy[a : a + 1]])
        for a, b in zip(flat.ring_offsets[:-1], flat.ring_offsets[1:], strict=True)
    ]
    return compare(wanted, cut_lines(told), 140.0)


@pytest.mark.parametrize("seed", range(12))
def test_what_is_cut_is_what_was_designed(cutter: Wired, seed: int) -> None:
    region = words(seed)
    cutter.send(f"whole-{seed}", job_of(region))
    found = compared(region, cutter.wait(f"whole-{seed}"))
    assert found.as_designed
    # Half a plotter unit for chords, and rounding to one (0.0125 each way, across at most).
    assert found.deviation <= 0.03


def test_a_line_dropped_at_random_is_taken_up_where_it_broke(cutter: Wired) -> None:
    random = Random(5)
    for turn in range(60):
        region = words(turn % 6)
        content = job_of(region)
        at, job = 0, f"dropped-{turn}"
        while at < len(content):
            cutter.send(job, content, at, min(len(content), at + random.randint(1, len(content))))
            at = int(str(cutter.asked(f"/jobs/{job}")["received"]))
            # Some senders go back further than they have to.
            at = max(0, at - random.choice([0, 0, 50])) if at < len(content) else at
        if turn % 6 == 0:
            found = compared(region, cutter.wait(job))
            assert found.as_designed
            assert found.deviation <= 0.03


def test_paused_and_out_of_material_jobs_go_on_and_others_wait(cutter: Wired) -> None:
    region = words(3)
    cutter.asked("/pause", "POST")
    cutter.send("first", job_of(region))
    cutter.send("second", job_of(region))
    assert cutter.wait("first", "paused")["cut"] == []
    cutter.asked("/load?length=150", "POST")
    cutter.asked("/go-on", "POST")
    short = cutter.wait("first", "out of material")
    assert compared(region, short).missing > 10.0
    assert cutter.asked("/jobs/second")["state"] == "waiting"
    cutter.asked("/load", "POST")
    for job in ("first", "second"):
        assert compared(region, cutter.wait(job)).as_designed


def test_a_knife_that_is_led_cuts_what_was_designed_and_one_that_is_not_does_not(cutter: Wired) -> None:
    region = words(4)
    strokes = outlines_in_order(region, cut_order(region), TOLERANCE)
    cutter.asked("/blade?offset=0.4", "POST")
    cutter.send("led", write_hpgl(led(strokes, 0.4, 1.5), LENGTH))
    cutter.send("bare", write_hpgl(strokes, LENGTH))
    wanted = led(strokes, 0.0, 1.5)
    pulled, *cut = cut_lines(cutter.wait("led"))
    assert np.hypot(*pulled[-1]) < 4.0
    found = compare(wanted, cut, 140.0)
    assert found.as_designed
    assert found.deviation <= 0.05
    assert not compare(strokes, cut_lines(cutter.wait("bare")), 140.0).as_designed


def test_the_bed_ends_where_it_ends_and_what_is_beyond_is_missing(cutter: Wired) -> None:
    cutter.machine.width = 60.0
    region = words(2)
    cutter.send("wide", job_of(region))
    told = cutter.wait("wide")
    assert max(x for line in cut_lines(told) for x in line[:, 0]) == 60.0
    found = compared(region, told)
    assert found.missing > 10.0
    assert min(x for x, _ in found.missed) > 55.0


def test_a_memory_stick_is_read_folders_and_all_and_nothing_beside_it(cutter: Wired, tmp_path: Path) -> None:
    region = words(1)
    (tmp_path / "Weekend shirt").mkdir()
    (tmp_path / "Weekend shirt" / "1 of 1.hpgl").write_bytes(job_of(region))
    (tmp_path / "notes.txt").write_text("not for cutting")
    assert cutter.asked("/status")["stick"] == ["Weekend shirt/1 of 1.hpgl"]
    cutter.asked("/stick?job=from-stick&file=Weekend+shirt%2F1+of+1.hpgl", "POST")
    assert compared(region, cutter.wait("from-stick")).as_designed
    for wrong in ("notes.txt", "../secret.hpgl", "%2Fetc%2Fpasswd"):
        with pytest.raises(HTTPError, match="404"):
            cutter.asked(f"/stick?job=wrong&file={wrong}", "POST")


def test_comparing_sees_what_is_wrong() -> None:
    square = [np.array([[10.0, 10.0], [60.0, 10.0], [60.0, 40.0], [10.0, 40.0], [10.0, 10.0]])]
    shape = [np.array([[80.0, 10.0], [120.0, 10.0], [80.0, 40.0], [80.0, 10.0]])]
    wanted = square + shape
    assert compare(wanted, wanted, 140.0).as_designed
    assert compare(wanted, square, 140.0).missing == pytest.approx(40.0 + 30.0 + 50.0, rel=0.01)
    assert compare(wanted, [*wanted, *shape], 140.0).twice == pytest.approx(120.0, rel=0.01)
    assert compare(wanted, [line * [-1.0, 1.0] + [140.0, 0.0] for line in wanted], 140.0).mirrored
    moved = compare(wanted, [line + [0.05, 0.0] for line in wanted], 140.0)
    assert moved.deviation == pytest.approx(0.05, abs=1e-6)
    assert compare(wanted, [], 140.0).missing == pytest.approx(280.0)
