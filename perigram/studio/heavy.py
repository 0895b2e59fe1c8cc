"""Reading what somebody brings in, in processes of its own: bounded in time and memory, a few at a time.

A file can take any time to be read and a broken one can crash what reads it; neither must be noticed by those
who work in other shops.
"""

from __future__ import annotations

import multiprocessing
import signal
from collections import Counter
from collections.abc import Callable, Iterator
from concurrent.futures import TimeoutError as OutOfTime
from contextlib import contextmanager
from functools import cache
from threading import Lock
from typing import ParamSpec, TypeVar

from django.conf import settings
from django.contrib.auth.models import AbstractBaseUser
from pebble import ProcessExpired, ProcessPool

from perigram.core.errors import PerigramError
from perigram.studio.bounds import bound, within
from perigram.studio.problems import Problem

_Given = ParamSpec("_Given")
_Made = TypeVar("_Made")

#: Files one shop has read at a time, by each worker of the server.
_AT_A_TIME = 2
#: On the clock reading may take so many times as long as it may take of the processor.
_PATIENCE = 6.0
_BETTER = "Save it with fewer shapes and nodes."
_WAIT = "are being read just now. Try again in a moment."
#: A reader is replaced after so many files, with whatever memory it holds.
_FILES = 200

_reading: Counter[int] = Counter()
_lock = Lock()


def read(
    owner: AbstractBaseUser,
    called: str,
    reader: Callable[_Given, _Made],
    *given: _Given.args,
    **named: _Given.kwargs,
) -> _Made:
    """What a reader makes of a file.

    Args:
        called: what the file is, for what is said when it takes too much.

    Raises:
        Problem: 429 where the shop has several files read already.
        PerigramError: the reader's own, and where reading takes too long or too much memory.
    """
    with _turn(owner):
        return _bounded(called, settings.READING_SECONDS, reader, *given, **named)


def read_again(
    called: str, reader: Callable[_Given, _Made], *given: _Given.args, **named: _Given.kwargs
) -> _Made:
    """What a reader makes of a file that was taken before: it waits, and may take twice as long.

    Raises:
        PerigramError: the reader's own, and where it takes too much even so.
    """
    return _bounded(called, 2.0 * settings.READING_SECONDS, reader, *given, **named)


def _bounded(
    called: str, most: float, reader: Callable[_Given, _Made], *given: _Given.args, **named: _Given.kwargs
) -> _Made:
    too_long = f"{called} takes more than {most:g} seconds to read, so it was given up. "
    too_much = f"{called} takes too much memory to read, so it was given up. "
    try:
        bounds = {"args": (most, reader, *given), "kwargs": named, "timeout": _PATIENCE * most}
        made: _Made = _pool().schedule(within, **bounds).result()
        return made
    except OutOfTime as error:
        raise PerigramError(too_long + _BETTER) from error
    except ProcessExpired as error:
        ran_out = error.exitcode == -signal.SIGXCPU
        raise PerigramError((too_long if ran_out else too_much) + _BETTER) from error
    except MemoryError as error:
        raise PerigramError(too_much + _BETTER) from error


@contextmanager
def _turn(owner: AbstractBaseUser) -> Iterator[None]:
    with _lock:
        if _reading[owner.pk] >= _AT_A_TIME:
            raise Problem(429, "One at a time", f"Other files of yours {_WAIT}")
        if _reading.total() >= settings.MOST_READING:
            raise Problem(429, "Busy", f"Many files {_WAIT}")
        _reading[owner.pk] += 1
    try:
        yield
    finally:
        with _lock:
            _reading[owner.pk] -= 1


@cache
def _pool() -> ProcessPool:
    # Not forked from a server that runs threads: they would be copied with their locks held.
    context = multiprocessing.get_context("forkserver")
    context.set_forkserver_preload(["perigram.core.art.svg", "perigram.core.lettering.fontfile"])
    return ProcessPool(
        max_workers=settings.READERS,
        max_tasks=_FILES,
        initializer=bound,
        context=context,
        initargs=(settings.READING_BYTES,),
    )
