"""Results of earlier work by key: each worked out once, kept within so many bytes."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable, Mapping
from concurrent.futures import Future
from threading import Lock
from typing import Any, Protocol

import numpy as np
import shapely

from perigram.core.geometry.region import Region

#: Bytes of results kept unless said otherwise.
MOST = 256_000_000
#: What a region takes a node, its chords and GEOS's included once it was laid over others: about eight
#: vertices of 80 bytes beside the arrays.
_A_NODE = 800
#: And one that is rough, where each node is a vertex.
_A_ROUGH_NODE = 280
_AN_OBJECT = 64


class Kept(Protocol):
    """Somewhere results are kept by key."""

    def get(self, key: Hashable, make: Callable[[], Any]) -> Any:
        """What is kept under a key, worked out first where there is nothing."""
        ...

    def held(self, key: Hashable) -> Any | None:
        """What is kept under a key; None where there is nothing."""
        ...


class Cache:
    """Results by key, the least recently used dropped beyond `most` bytes.

    Whoever asks for what another thread is just working out waits for that. What fails is not kept.
    """

    def __init__(self, most: int = MOST) -> None:
        self._most = most
        self._weight = 0
        self._held: OrderedDict[Hashable, tuple[Any, int]] = OrderedDict()
        self._running: dict[Hashable, Future[Any]] = {}
        self._lock = Lock()

    def get(self, key: Hashable, make: Callable[[], Any]) -> Any:
        with self._lock:
            if key in self._held:
                self._held.move_to_end(key)
                return self._held[key][0]
            running = self._running.get(key)
            if running is None:
                mine: Future[Any] = Future()
                self._running[key] = mine
        if running is not None:
            return running.result()
        try:
            value = make()
        except BaseException as error:
            with self._lock:
                del self._running[key]
            mine.set_exception(error)
            raise
        with self._lock:
            del self._running[key]
            self._keep(key, value)
        mine.set_result(value)
        return value

    def held(self, key: Hashable) -> Any | None:
        """What is kept under a key; None where there is nothing."""
        with self._lock:
            return self._held[key][0] if key in self._held else None

    @property
    def weight(self) -> int:
        """About how many bytes are kept."""
        return self._weight

    def _keep(self, key: Hashable, value: Any) -> None:
        size = weight(value)
        self._held[key] = value, size
        self._weight += size
        while self._weight > self._most and len(self._held) > 1:
            _, (_, gone) = self._held.popitem(last=False)
            self._weight -= gone


def weight(value: Any) -> int:
    """About how many bytes a value keeps alive; what it holds twice counts once."""
    return _weight(value, set())


def _weight(value: Any, seen: set[int]) -> int:
    if value is None or isinstance(value, bool | int | float) or id(value) in seen:
        return 0
    seen.add(id(value))
    if isinstance(value, Region):
        return _AN_OBJECT + value.node_count * (_A_ROUGH_NODE if value.rough else _A_NODE)
    if isinstance(value, np.ndarray):
        return int(value.nbytes) + _AN_OBJECT
    if isinstance(value, shapely.Geometry):
        return int(shapely.get_num_coordinates(value)) * 24 + _AN_OBJECT
    if isinstance(value, str | bytes):
        return len(value) + _AN_OBJECT
    if isinstance(value, Mapping):
        return _AN_OBJECT + sum(_weight(part, seen) for pair in value.items() for part in pair)
    if isinstance(value, list | tuple | set | frozenset):
        return _AN_OBJECT + sum(_weight(part, seen) for part in value)
    fields = getattr(value, "__dict__", None)
    return _AN_OBJECT + (sum(_weight(part, seen) for part in fields.values()) if fields else 0)
