"""What a process that reads files may take; nothing of the server is needed there."""

from __future__ import annotations

import math
import os
import resource
import time
from collections.abc import Callable
from pathlib import Path
from typing import ParamSpec, TypeVar

_Given = ParamSpec("_Given")
_Made = TypeVar("_Made")

#: Readers give way to the work on the bench.
_NICENESS = 10


def bound(most: int) -> None:
    """Keep this process's memory within so many bytes more than it has by now, and let others go first."""
    now = int(Path("/proc/self/statm").read_text().split()[0]) * os.sysconf("SC_PAGE_SIZE")
    resource.setrlimit(resource.RLIMIT_AS, (now + most, now + most))
    os.nice(_NICENESS)


def within(
    seconds: float, reader: Callable[_Given, _Made], *given: _Given.args, **named: _Given.kwargs
) -> _Made:
    """What a reader makes, this process being ended by SIGXCPU where that takes more seconds of CPU.

    Seconds on the clock would depend on how busy the machine is.
    """
    hard = resource.getrlimit(resource.RLIMIT_CPU)[1]
    resource.setrlimit(resource.RLIMIT_CPU, (math.ceil(time.process_time() + seconds), hard))
    return reader(*given, **named)
