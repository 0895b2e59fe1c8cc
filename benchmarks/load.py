"""Many people dragging at once, and one while hostile files are brought in elsewhere.

Run bin/start with an empty state and PERIGRAM_SIGN_UP=open, then:
    python -m benchmarks.load [http://127.0.0.1:8000] [--users 64]

CPU is that of the server's processes, from /proc, so this runs on the server's own machine.
"""

from __future__ import annotations

import argparse
import json
import math
import os
import secrets
import threading
import time
from collections.abc import Callable, Iterable
from pathlib import Path
from urllib.error import HTTPError, URLError
from urllib.parse import urlsplit

from benchmarks.live import Shop, say, timed
from benchmarks.reading import DRAWINGS

DEMO = Path(__file__).parents[1] / "demo" / "weekend-shirt.perigram.json"
MOVES = 25
_TICK = os.sysconf("SC_CLK_TCK")


def server_cpu(port: int) -> float:
    """Seconds of CPU that the server's processes have used so far."""
    total = 0.0
    for stat in Path("/proc").glob("[0-9]*/stat"):
        try:
            command = (stat.parent / "cmdline").read_bytes()
            fields = stat.read_text().rsplit(")", 1)[1].split()
        except OSError:
            continue
        if b"gunicorn" in command and f":{port}".encode() in command:
            total += (int(fields[11]) + int(fields[12])) / _TICK
    return total


class Dragger:
    """Somebody with the weekend shirt on the bench, moving its picture about."""

    def __init__(self, address: str) -> None:
        self.shop = Shop(address, f"load-{secrets.token_hex(6)}")
        made = self.shop.call("POST", "/api/designs", json.loads(DEMO.read_text()))
        self.design, self.held, self.step = made["design"], set[str](), 0
        self.times: list[float] = []

    def move(self) -> None:
        self.step += 1
        place = self.design["recipe"][1]["place"]
        place["x"] = 40 * math.sin(self.step / 9) + self.step / 977
        place["y"] = 12 * math.cos(self.step / 7)
        body = {"design": self.design, "have": sorted(self.held)[-100:], "care": "rough"}
        took, proof = timed(lambda: self.shop.call("POST", "/api/proof", body))
        self.held.update(thing["key"] for thing in proof["results"] + proof["plies"])
        self.times.append(took)

    def drag(self, until: Callable[[], bool]) -> None:
        while not until():
            self.move()


def together(work: Iterable[Callable[[], None]]) -> None:
    threads = [threading.Thread(target=one) for one in work]
    for one in threads:
        one.start()
    for one in threads:
        one.join()


def crowd(address: str, users: int, port: int) -> None:
    def cost(draggers: list[Dragger]) -> float:
        for one in draggers:
            one.times = []
        before = server_cpu(port)
        together(
            [lambda one=one: one.drag(lambda: len(one.times) >= MOVES) for one in draggers]  # type: ignore[misc]
        )
        spent = server_cpu(port) - before
        say(f"{len(draggers)} dragging", [t for one in draggers for t in one.times])
        return 1000 * spent / (MOVES * len(draggers))

    draggers = [Dragger(address) for _ in range(users)]
    alone = cost(draggers[:1])
    alone = min(alone, cost(draggers[:1]))
    many = cost(draggers)
    print(f"CPU a request: {alone:.0f} ms alone, {many:.0f} ms of {users}: {many / alone:.2f} times")


def hostile(address: str, uploads: int) -> None:
    """One drags while others keep bringing in drawings that take long to read."""
    dragger = Dragger(address)
    dragger.drag(lambda: len(dragger.times) >= MOVES)
    say("Dragging, nothing else", dragger.times[5:])
    shops = [Shop(address, f"load-{secrets.token_hex(6)}") for _ in range(uploads)]
    done, outcomes = threading.Event(), dict[str, int]()

    def bring_in(shop: Shop, number: int) -> None:
        drawings = list(DRAWINGS.items())
        turn = number
        while not done.is_set():
            name, drawing = drawings[turn % len(drawings)]
            turn += uploads
            content = (
                b'--x\r\nContent-Disposition: form-data; name="file"; filename="d.svg"\r\n\r\n'
                + drawing().encode()
                + b"\r\n--x--\r\n"
            )
            try:
                shop.call("POST", "/api/pictures", content, "multipart/form-data; boundary=x")
                said = "read"
            except HTTPError as error:
                said = str(error.code)
            except URLError as error:
                said = str(error.reason)
            outcomes[f"{name}: {said}"] = outcomes.get(f"{name}: {said}", 0) + 1

    threads = [threading.Thread(target=bring_in, args=(shop, k)) for k, shop in enumerate(shops)]
    for one in threads:
        one.start()
    time.sleep(2)
    dragger.times = []
    end = time.monotonic() + 45
    dragger.drag(lambda: time.monotonic() > end)
    say(f"Dragging, while {uploads} bring in hostile drawings", dragger.times)
    done.set()
    for one in threads:
        one.join()
    print(", ".join(f"{what} {count}" for what, count in sorted(outcomes.items())))


if __name__ == "__main__":
    reads = argparse.ArgumentParser(description=__doc__)
    reads.add_argument("address", nargs="?", default="http://127.0.0.1:8000")
    reads.add_argument("--users", type=int, default=64)
    given = reads.parse_args()
    hostile(given.address, 8)
    crowd(given.address, given.users, urlsplit(given.address).port or 80)
