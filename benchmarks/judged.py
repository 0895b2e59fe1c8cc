"""Random designs of foreign art and fonts, exported and judged: `python -m benchmarks.judged COUNT SEED`.

Two processes with a limit on their memory work on them; what is wrong is printed with its seed, and
`--keep FOLDER` writes those design files. With `--chained` they have two to five lines more, with
`--anything` any lines and values that their kinds allow; with `--quick` neither sketched faces nor maps and
flags, as in the suite.
"""

from __future__ import annotations

import argparse
import json
import multiprocessing as mp
import resource
import sys
import time
import traceback
from contextlib import suppress
from functools import partial
from pathlib import Path

from tests.foreign.trial import Trial, anything_tried, font_ids, tried

#: Address space a process may take, in bytes.
MOST_MEMORY = 3_000_000_000
#: Seconds of CPU that are worth naming.
SLOW = 5.0


def _tried(way: str, quick: bool, seed: int) -> Trial:
    start = time.process_time()
    try:
        if way == "anything":
            return anything_tried(seed, quick)
        return tried(seed, quick=quick, chain=way == "chained")
    except (Exception, MemoryError):
        wrong = [f"CRASH {line.strip()}" for line in traceback.format_exc().splitlines()[-2:]]
        body = {"name": f"seed {seed} {way}", "recipe": []}
        return Trial(seed, body, time.process_time() - start, wrong=wrong)


def _start() -> None:
    resource.setrlimit(resource.RLIMIT_AS, (MOST_MEMORY, MOST_MEMORY))


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("count", type=int, nargs="?", default=300)
    parser.add_argument("seed", type=int, nargs="?", default=1)
    parser.add_argument("--keep", type=Path)
    way = parser.add_mutually_exclusive_group()
    way.add_argument("--chained", dest="way", action="store_const", const="chained", default="plain")
    way.add_argument("--anything", dest="way", action="store_const", const="anything")
    parser.add_argument("--quick", action="store_true")
    options = parser.parse_args()
    font_ids()
    done: list[Trial] = []
    # Stopped half way, it still says what came of those that were done.
    with suppress(KeyboardInterrupt), mp.get_context("spawn").Pool(2, _start, maxtasksperchild=200) as pool:
        seeds = range(options.seed, options.seed + options.count)
        for trial in pool.imap_unordered(partial(_tried, options.way, options.quick), seeds):
            done.append(trial)
            if not trial.wrong and trial.cpu <= SLOW:
                continue
            kinds = " ".join(line["kind"] for line in trial.body["recipe"])
            print(f"{trial.body['name']} ({kinds}) {trial.cpu:.1f} s {trial.wrong}", flush=True)
            if options.keep:
                options.keep.mkdir(parents=True, exist_ok=True)
                (options.keep / f"{trial.seed}.perigram.json").write_text(json.dumps(trial.body))
    cpu = sorted(trial.cpu for trial in done)
    most = max(done, key=lambda trial: trial.memory)
    crashed = sum(any(one.startswith("CRASH") for one in trial.wrong) for trial in done)
    wrong = sum(bool(trial.wrong) for trial in done)
    print(
        f"{len(done)} designs, {crashed} crashes, {wrong - crashed} with breaches, "
        f"{sum(bool(t.refused) for t in done)} refused; CPU median {cpu[len(cpu) // 2]:.2f} s, 95 % "
        f"{cpu[int(len(cpu) * 0.95)]:.2f} s, most {cpu[-1]:.2f} s; "
        f"most memory {most.memory:.0f} MB (seed {most.seed})"
    )
    for text in sorted({trial.refused for trial in done if trial.refused}):
        print("  refused:", text[:160])
    return int(wrong > 0)


if __name__ == "__main__":
    sys.exit(main())
