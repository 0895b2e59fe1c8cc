"""Round trips of the proof while the demo's lighthouse is dragged, against the running server.

Run bin/start, then: python -m benchmarks.drag [http://127.0.0.1:8000]
"""

from __future__ import annotations

import json
import math
import sys
import time
from http.cookiejar import CookieJar
from typing import Any
from urllib.request import HTTPCookieProcessor, Request, build_opener

MOVES = 120


def main(address: str) -> None:
    cookies = CookieJar()
    opener = build_opener(HTTPCookieProcessor(cookies))

    def call(method: str, path: str, body: Any = None) -> Any:
        token = next((c.value for c in cookies if c.name == "csrftoken"), "")
        headers = {"Content-Type": "application/json", "X-CSRFToken": token or ""}
        data = None if body is None else json.dumps(body).encode()
        with opener.open(Request(address + path, data, headers, method=method)) as answer:
            content = answer.read()
        return json.loads(content) if content[:1] in b"[{" else content

    call("GET", "/")
    call("POST", "/api/session/demo", {})
    entry = next(d for d in call("GET", "/api/designs") if d["name"] == "Weekend shirt")
    design = call("GET", f"/api/designs/{entry['id']}")["design"]
    held: set[str] = set()

    def prove() -> float:
        start = time.perf_counter()
        proof = call("POST", "/api/proof", {"design": design, "have": sorted(held)[-100:]})
        took = time.perf_counter() - start
        held.update(thing["key"] for thing in proof["results"] + proof["plies"])
        return 1000 * took

    place = design["recipe"][1]["place"]
    for warm in range(8):
        place["x"] = warm / 7
        prove()
    times = []
    for move in range(MOVES):
        # A loop by hand: never twice in one place, so nothing comes from the cache.
        place["x"] = 40 * math.sin(move / 9) + move / 977
        place["y"] = 12 * math.cos(move / 7)
        times.append(prove())
    times.sort()
    print(f"{MOVES} moves of the lighthouse, one request in flight at a time")
    middle, high = times[MOVES // 2], times[int(MOVES * 0.95)]
    print(f"median {middle:.0f} ms, 95th percentile {high:.0f} ms, worst {times[-1]:.0f} ms")


if __name__ == "__main__":
    main(sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8000")
