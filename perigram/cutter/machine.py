"""The machine itself: a queue of jobs, a blade that takes its time, and a record of what it cut."""

from __future__ import annotations

import math
import threading
import time
from dataclasses import dataclass, field
from pathlib import Path
from typing import Literal

from perigram.cutter.hpgl import UNITS, Pen, Reader

State = Literal["waiting", "cutting", "paused", "out of material", "done"]
#: Seconds of cutting before the next look at whether to pause.
_SLICE = 0.05


@dataclass
class Job:
    """One job: the bytes it came in, and how far it is."""

    id: str
    name: str
    size: int
    state: State = "waiting"
    #: bytes that have arrived; a lost line goes on from here
    received: int = 0
    reader: Reader = field(default_factory=Reader)
    #: reads ahead; the other is where the blade is
    plan: Pen = field(default_factory=Pen)
    pen: Pen = field(default_factory=Pen)
    moves: list[tuple[tuple[float, float], bool]] = field(default_factory=list)
    done: int = 0

    @property
    def arrived(self) -> bool:
        return self.received >= self.size

    def told(self) -> dict[str, object]:
        """What is said of it to those who ask."""
        return {
            "id": self.id,
            "name": self.name,
            "state": self.state,
            "size": self.size,
            "received": self.received,
            "share": self.done / max(1, len(self.moves)) if self.arrived else 0.0,
        }

    def cut_so_far(self) -> list[list[tuple[float, float]]]:
        """What was cut, in mm, y up from the sheet's foot."""
        return [[(x / UNITS, y / UNITS) for x, y in line] for line in self.pen.lines]


class Machine:
    """Takes jobs and cuts one after the other.

    Args:
        width, length: of its bed in mm; it stops at its edges.
        speed: mm a second; `hurry` times as fast in this simulation.
        stick: the folder that stands for a memory stick in it.
    """

    def __init__(
        self, width: float, length: float, speed: float, hurry: float, stick: Path | None = None
    ) -> None:
        self.width, self.length, self.speed, self.hurry = width, length, speed, hurry
        self.stick = stick
        #: how far in mm the tip of the knife that is in it trails; one drawn by a pen or laser does not
        self.blade = 0.0
        self.jobs: dict[str, Job] = {}
        self.paused = False
        #: mm of material left to cut in, as if on a roll
        self.material = math.inf
        self._lock = threading.Lock()
        self._wake = threading.Event()

    def on_stick(self) -> list[str]:
        """The HP-GL files on the memory stick, folders and all."""
        if self.stick is None:
            return []
        return sorted(str(path.relative_to(self.stick)) for path in self.stick.rglob("*.hpgl"))

    def take_from_stick(self, job: str, file: str) -> bool:
        """Queue a file that is on the memory stick; False where there is none of that name."""
        if self.stick is None or file not in self.on_stick():
            return False
        data = (self.stick / file).read_bytes()
        self.take(job, Path(file).stem, len(data), 0, data)
        return True

    def fit(self, blade: float) -> None:
        """Put another knife in, for jobs that have not begun."""
        with self._lock:
            self.blade = blade

    def take(self, job: str, name: str, size: int, at: int, data: bytes) -> None:
        """Bytes of a job from a place on; what has arrived before is not taken twice."""
        with self._lock:
            one = self.jobs.setdefault(job, Job(job, name, size))
            fresh = data[max(0, one.received - at) :] if at <= one.received else b""
            one.received += len(fresh)
            for instruction in one.reader.feed(fresh):
                one.moves += one.plan.path(*instruction)
        self._wake.set()

    def status(self) -> dict[str, object]:
        with self._lock:
            return {
                "width": self.width,
                "length": self.length,
                "paused": self.paused,
                "blade": self.blade,
                "stick": self.on_stick(),
                "jobs": [job.told() for job in self.jobs.values()],
            }

    def pause(self, on: bool) -> None:
        with self._lock:
            self.paused = on
        self._wake.set()

    def load(self, length: float) -> None:
        """New material: jobs that ran out go on."""
        with self._lock:
            self.material = length
        self._wake.set()

    def run(self) -> None:
        """Cut what there is, for ever."""
        while True:
            self._wake.wait(0.2)
            self._wake.clear()
            while self._cut_a_little():
                pass

    def _next(self) -> Job | None:
        """The first job that has arrived whole and is not done."""
        return next((job for job in self.jobs.values() if job.arrived and job.state != "done"), None)

    def _cut_a_little(self) -> bool:
        """One slice of time of the job whose turn it is; False where there is nothing to do just now."""
        with self._lock:
            job = self._next()
            if job is None:
                return False
            if self.paused:
                job.state = "paused"
                return False
            if job.done == 0:
                job.pen.knife.offset = self.blade * UNITS
            left = _SLICE * self.speed * self.hurry
            while left > 0.0 and job.done < len(job.moves):
                (x, y), down = job.moves[job.done]
                to = (min(max(x, 0.0), self.width * UNITS), min(max(y, 0.0), self.length * UNITS))
                way = math.dist(job.pen.at, to) / UNITS
                if down and way > self.material:
                    job.state = "out of material"
                    return False
                self.material -= way if down else 0.0
                job.pen.go(to, down)
                job.done += 1
                left -= way
            job.state = "done" if job.done == len(job.moves) else "cutting"
        time.sleep(_SLICE)
        return True
