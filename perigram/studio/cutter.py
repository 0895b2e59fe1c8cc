"""The shop's line to its cutter: sending HP-GL, asking how far it is, fetching what it cut.

Everything goes to loopback: the cutter that ships is a simulated one that bin/start runs beside the server.
"""

from __future__ import annotations

import json
import socket
from typing import Any
from urllib.error import HTTPError, URLError
from urllib.parse import urlencode
from urllib.request import Request, urlopen

from django.conf import settings

from perigram.core.errors import PerigramError

_HOST = "127.0.0.1"
#: A line that breaks is taken up so often.
_TRIES = 5
_PATIENCE = 5.0


class NoCutter(PerigramError):
    """The cutter cannot be reached."""

    def __init__(self) -> None:
        super().__init__(
            "The cutter does not answer. Is it switched on? Download the sheets to carry them over."
        )


def send(job: str, name: str, content: bytes) -> None:
    """Send a job whole; where the line breaks, from where the cutter has it.

    Raises:
        NoCutter: where it cannot be reached.
    """
    at = 0
    for _ in range(_TRIES):
        header = f'CO"job {job} {len(content)} {at} {_plain(name)}";'.encode()
        try:
            with socket.create_connection((_HOST, settings.CUTTER_PORT), timeout=_PATIENCE) as wire:
                wire.sendall(header + content[at:])
                wire.shutdown(socket.SHUT_WR)
                wire.recv(1)
        except OSError:
            pass
        at = int(told(job).get("received", 0))
        if at >= len(content):
            return
    raise NoCutter


def take_from_stick(job: str, file: str) -> None:
    """Have a file cut that is on the memory stick.

    Raises:
        PerigramError: where the cutter cannot be reached or finds no such file.
    """
    if not press("stick?" + urlencode({"job": job, "file": file})):
        raise PerigramError(
            "The cutter finds no such file on the memory stick: write the sheets to it first, as HP-GL."
        )


def status() -> dict[str, Any]:
    return _asked("/status")


def told(job: str) -> dict[str, Any]:
    """How far a job is and what of it was cut; empty where the cutter does not know it."""
    return _asked(f"/jobs/{job}")


def press(button: str) -> dict[str, Any]:
    """Press one of its buttons: pause, go-on, load."""
    return _asked(f"/{button}", "POST")


def _asked(path: str, method: str = "GET") -> dict[str, Any]:
    try:
        address = f"http://{_HOST}:{settings.CUTTER_PORT + 1}{path}"
        with urlopen(Request(address, method=method), timeout=_PATIENCE) as answer:
            return dict(json.load(answer))
    except HTTPError:
        return {}
    except (URLError, OSError, ValueError) as error:
        raise NoCutter from error


def _plain(name: str) -> str:
    return "".join(c for c in name if c not in '";\n')[:80]
