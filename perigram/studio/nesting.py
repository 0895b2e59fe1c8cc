"""Nesting a design's plies by their outlines: in a process of its own, watched, and kept.

It takes as long as it is given and comes out a little different each time, so what was found is stored and
sheets, files and cuts all speak of that. Any worker of the server sees it and can stop it.
"""

from __future__ import annotations

import hashlib
import multiprocessing
import threading
import time
from collections.abc import Generator, Sequence
from contextlib import closing
from datetime import timedelta
from multiprocessing.connection import Connection
from typing import Any

from django.conf import settings
from django.contrib.auth.models import AbstractBaseUser
from django.db import connection
from django.utils import timezone

from perigram.core.errors import PerigramError
from perigram.core.formats.page import CutPly
from perigram.core.recipe.design import Design
from perigram.core.recipe.making import Sheets
from perigram.core.sheet.layout import lay_out, to_pack
from perigram.core.sheet.machine import as_fed
from perigram.core.sheet.packing import MOST_NESTED, Room
from perigram.core.sheet.sheet import Sheet
from perigram.studio import services
from perigram.studio.machines import machine_of
from perigram.studio.models import Nest
from perigram.studio.nester import Work, nest_ply, read
from perigram.studio.problems import Problem

#: By ply: where its items lie, and mm of roll taken by boxes and nested.
Found = dict[str, tuple[Any, float, float]]

#: Seconds between looks at what was found and whether to stop; after so many without one nobody watches.
_OFTEN = 0.5
_ABANDONED = timedelta(seconds=15)
#: The packer may take longer than it is told to: after so many times that, and seconds, a ply is left at what
#: was found.
_OVERTIME, _GRACE = 1.1, 2.0
#: Seconds that a process may take to begin.
_STARTING = 30.0
#: Seconds that all plies of a design are nested in together at most.
_LONGEST = 900.0
#: What a shop has nested lately is kept.
_KEPT = 30


def laid(owner: AbstractBaseUser, design: Design) -> tuple[list[Sheet], dict[str, Any]]:
    """The sheets of a design, nested where it has been, and how nesting stands.

    Raises:
        PerigramError: where it cannot be cut or does not fit.
    """
    plies, how = _plies(owner, design), design.sheets
    if how.layout != "packed":
        return lay_out(plies, how), _state("no")
    found = Nest.objects.filter(owner=owner, key=_key(plies, how)).first()
    if found is None:
        return lay_out(plies, how), _state("boxes")
    nested = {ply: read(layouts) for ply, layouts in found.layouts.items()}
    return lay_out(plies, how, nested), _state(_how(found), found.share, found.before, found.after)


def start(owner: AbstractBaseUser, design: Design, seconds: float) -> None:
    """Nest a design's plies one after the other, so many seconds each.

    Raises:
        PerigramError: where it cannot be cut or does not fit, or has too many pieces.
        Problem: 429 where the shop or the server nests already.
    """
    plies, how = _plies(owner, design), design.sheets
    if how.layout != "packed":
        raise PerigramError("Plies are nested where they are packed: choose that first.")
    work: list[Work] = [
        (ply.id, items, wanted, Room.of(ply, how)) for ply, items, wanted in to_pack(plies, how)
    ]
    most = max(len(wanted) for _, _, wanted, _ in work)
    if most > MOST_NESTED:
        raise PerigramError(
            f"{most:,} pieces of one ply are too many to nest; up to {MOST_NESTED} are. "
            "They stay packed by boxes."
        )
    working = [one for one in Nest.objects.filter(working=True) if _is_watched(one)]
    if any(one.owner_id == owner.pk for one in working):
        raise Problem(429, "One at a time", "Another design of yours is being nested. Stop that first.")
    if len(working) >= settings.READERS:
        raise Problem(429, "Busy", "Other shops nest just now. Try again in a moment.")
    fresh = {"layouts": {}, "before": 0.0, "after": 0.0, "share": 0.0, "working": True, "stopped": False}
    kept, _ = Nest.objects.update_or_create(owner=owner, key=_key(plies, how), defaults=fresh)
    old = Nest.objects.filter(owner=owner).values_list("pk", flat=True)[_KEPT:]
    Nest.objects.filter(pk__in=list(old)).delete()
    seconds = min(seconds, _LONGEST / len(work))
    threading.Thread(target=_watch, args=(kept.pk, work, seconds), daemon=True).start()


def stop(owner: AbstractBaseUser, design: Design) -> None:
    """Leave it at what was found so far."""
    key = _key(_plies(owner, design), design.sheets)
    Nest.objects.filter(owner=owner, key=key).update(stopped=True)


def _plies(owner: AbstractBaseUser, design: Design) -> list[CutPly]:
    """What is cut, from sheets as they go into the shop's machine."""
    return as_fed(services.prove(owner, design).to_cut(), machine_of(owner))


def _state(state: str, share: float = 0.0, before: float = 0.0, after: float = 0.0) -> dict[str, Any]:
    return {"state": state, "share": share, "before": before, "after": after}


def _how(found: Nest) -> str:
    if _is_watched(found):
        return "working"
    if found.layouts:
        return "done"
    return "boxes" if found.stopped else "failed"


def _is_watched(one: Nest) -> bool:
    return one.working and timezone.now() - one.updated < _ABANDONED


def _key(plies: Sequence[CutPly], how: Sheets) -> str:
    """A digest of all that how plies are nested depends on."""
    digest = hashlib.sha256(how.model_dump_json().encode())
    for ply in plies:
        digest.update(repr((ply.id, ply.mirrored, ply.width, ply.length)).encode())
        digest.update(ply.region.digest())
    return digest.hexdigest()


def _watch(pk: int, work: list[Work], seconds: float) -> None:
    """Have one ply after the other nested until all are or it is stopped, and keep what is found."""
    found: Found = {}
    began, expected = time.monotonic(), max(1.0, seconds * len(work))
    try:
        for one in work:
            with closing(_nested(one, seconds, found)) as looks:
                for _ in looks:
                    if not _keep(pk, found, (time.monotonic() - began) / expected):
                        return
    except Nest.DoesNotExist:
        # Removed meanwhile: nobody waits for it.
        return
    finally:
        Nest.objects.filter(pk=pk).update(working=False, share=1.0)
        connection.close()


def _keep(pk: int, found: Found, share: float) -> bool:
    """Keep what was found by now; False where it is to be left at that."""
    row = Nest.objects.get(pk=pk)
    row.layouts = {ply: layouts for ply, (layouts, _, _) in found.items()}
    row.before = sum(before for _, before, _ in found.values())
    row.after = sum(after for _, _, after in found.values())
    row.share = min(0.99, share)
    row.save(update_fields=["layouts", "before", "after", "share", "updated"])
    return not row.stopped


def _nested(one: Work, seconds: float, found: Found) -> Generator[None, None, None]:
    """Nest a ply in a process of its own, pausing for a look now and then; ended when its time is up."""
    context = multiprocessing.get_context("forkserver")
    ours, theirs = context.Pipe(duplex=False)
    process = context.Process(
        target=nest_ply, args=(theirs, one, seconds, settings.READING_BYTES), daemon=True
    )
    until = time.monotonic() + _STARTING
    begun, alive = False, True
    try:
        process.start()
        theirs.close()
        while alive and time.monotonic() < until:
            # What it said last is heard though it has ended by then.
            alive = process.is_alive()
            alive &= _heard(ours, found)
            if not begun and one[0] in found:
                begun, until = True, time.monotonic() + _OVERTIME * seconds + _GRACE
            yield
    finally:
        if process.pid is not None:
            process.kill()
        ours.close()


def _heard(ours: Connection, found: Found) -> bool:
    """Take in all that a process has found within a while; False once it has hung up."""
    try:
        wait = _OFTEN
        while ours.poll(wait):
            ply, layouts, used = ours.recv()
            _, before, _ = found.get(ply, (None, used, used))
            found[ply] = layouts, before, used
            wait = 0.0
    except (EOFError, OSError):
        return False
    return True
