"""What a process that reads files may take; nothing of the server is needed there."""

from __future__ import annotations

import os
import resource
from pathlib import Path

#: Readers give way to the work on the bench.
_NICENESS = 10


def bound(most: int) -> None:
    """Keep this process's memory within so many bytes more than it has by now, and let others go first."""
    now = int(Path("/proc/self/statm").read_text().split()[0]) * os.sysconf("SC_PAGE_SIZE")
    resource.setrlimit(resource.RLIMIT_AS, (now + most, now + most))
    os.nice(_NICENESS)
