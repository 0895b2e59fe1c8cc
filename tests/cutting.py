"""A simulated cutter that runs while a test does."""

from __future__ import annotations

import socket
from collections.abc import Iterator
from contextlib import contextmanager

from perigram.cutter.machine import Machine
from perigram.cutter.server import HOST, serve


@contextmanager
def running(machine: Machine) -> Iterator[int]:
    """The cutter on two ports that follow each other; the first of them.

    Another process may take one between asking and listening: then it is two others.
    """
    for left in reversed(range(20)):
        with socket.socket() as probe:
            probe.bind((HOST, 0))
            port = probe.getsockname()[1]
        try:
            servers = serve(machine, port)
            break
        except (OSError, OverflowError):
            if not left:
                raise
    yield port
    for one in servers:
        one.shutdown()
        one.server_close()
