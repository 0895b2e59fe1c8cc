"""`perigram-cutter`: run the simulated cutting machine by itself."""

from __future__ import annotations

import argparse
import signal
from pathlib import Path

from perigram.cutter.machine import Machine
from perigram.cutter.server import HOST, serve


def main() -> None:
    reads = argparse.ArgumentParser(prog="perigram-cutter", description="A simulated cutting machine.")
    reads.add_argument("--port", type=int, default=8031, help="HP-GL comes in here; questions on the next")
    reads.add_argument("--width", type=float, default=610.0, help="of the bed in mm")
    reads.add_argument("--length", type=float, default=3000.0, help="of the bed in mm")
    reads.add_argument("--speed", type=float, default=40.0, help="mm a second")
    reads.add_argument("--hurry", type=float, default=20.0, help="how many times faster than real")
    reads.add_argument("--stick", type=Path, help="the folder that stands for a memory stick in it")
    given = reads.parse_args()
    serve(Machine(given.width, given.length, given.speed, given.hurry, given.stick), given.port)
    print(f"The cutter listens at {HOST}:{given.port}   (Ctrl-C stops it)", flush=True)
    signal.signal(signal.SIGTERM, lambda *_: exit(0))
    try:
        signal.pause()
    except KeyboardInterrupt:
        return


if __name__ == "__main__":
    main()
