"""Round trips against the running server on the demo's weekend shirt: a drag, typing, the font chooser.

Run bin/start with an empty state, then: python -m benchmarks.live [http://127.0.0.1:8000]
"""

from __future__ import annotations

import json
import math
import secrets
import sys
import time
from collections.abc import Callable
from http.cookiejar import CookieJar
from typing import Any
from urllib.parse import urlencode
from urllib.request import HTTPCookieProcessor, Request, build_opener

MOVES = 120
#: Typed and taken back letter by letter: what a person does to a name.
TYPED = ("WEEKEND", "REGATTA", "SALTMARSH", "ROWING", "CREW OF EIGHT")


class Shop:
    """A signed-in shop: the demo's, or a new account's where a name is given and accounts are open."""

    def __init__(self, address: str, name: str | None = None) -> None:
        self._address = address
        self._cookies = CookieJar()
        self._opener = build_opener(HTTPCookieProcessor(self._cookies))
        self.call("GET", "/")
        if name is None:
            self.call("POST", "/api/session/demo", {})
        else:
            self.call("POST", "/api/account", {"user": name, "password": secrets.token_urlsafe(12)})

    def call(self, method: str, path: str, body: Any = None, kind: str = "application/json") -> Any:
        token = next((c.value for c in self._cookies if c.name == "csrftoken"), "")
        headers = {"Content-Type": kind, "X-CSRFToken": token or ""}
        data = body if body is None or isinstance(body, bytes) else json.dumps(body).encode()
        with self._opener.open(Request(self._address + path, data, headers, method=method)) as answer:
            content = answer.read()
        return json.loads(content) if content[:1] in b"[{" else content


def timed(what: Callable[[], Any]) -> tuple[float, Any]:
    start = time.perf_counter()
    answer = what()
    return 1000 * (time.perf_counter() - start), answer


def say(what: str, times: list[float]) -> None:
    times = sorted(times)
    middle, high = times[len(times) // 2], times[int(len(times) * 0.95)]
    print(f"{what}: median {middle:.0f} ms, 95th percentile {high:.0f} ms, worst {times[-1]:.0f} ms")


def main(address: str) -> None:
    shop = Shop(address)
    entry = next(d for d in shop.call("GET", "/api/designs") if d["name"] == "Weekend shirt")
    design = shop.call("GET", f"/api/designs/{entry['id']}")["design"]
    held: set[str] = set()

    def prove() -> float:
        body = {"design": design, "have": sorted(held)[-100:], "care": "rough"}
        took, proof = timed(lambda: shop.call("POST", "/api/proof", body))
        held.update(thing["key"] for thing in proof["results"] + proof["plies"])
        return took

    place = design["recipe"][1]["place"]
    was = dict(place)
    for warm in range(8):
        place["x"] = warm / 7
        prove()
    times = []
    for move in range(MOVES):
        # A loop by hand: never twice in one place, so nothing comes from the cache.
        place["x"] = 40 * math.sin(move / 9) + move / 977
        place["y"] = 12 * math.cos(move / 7)
        times.append(prove())
    say(f"{MOVES} moves of the lighthouse, one request in flight at a time", times)

    place.update(was)
    row = design["recipe"][0]["rows"][0]
    times = []
    for word in TYPED:
        for end in range(1, len(word) + 1):
            row["text"] = word[:end]
            times.append(prove())
    say(f"{len(times)} keys typed into its first row", times)

    fonts = [font["id"] for font in shop.call("GET", "/api/fonts")][:24]
    for text in ("Saltmarsh Works", "Saltmarsh Works", "Boathouse 24"):
        took = 0.0
        for first in (0, 12):
            query = urlencode([("text", text), *(("font", font) for font in fonts[first : first + 12])])
            took += timed(lambda query=query: shop.call("GET", f"/api/font-previews?{query}"))[0]  # type: ignore[misc]
        print(f"“{text}” in 24 fonts, in two requests: {took:.0f} ms")


if __name__ == "__main__":
    main(sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8000")
