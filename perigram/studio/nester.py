"""What the process does that nests; nothing of the server is needed there."""

from __future__ import annotations

from multiprocessing.connection import Connection

from perigram.core.sheet.packing import Layouts, Room, length_used, nest
from perigram.core.sheet.sheet import Item, Placed
from perigram.studio.bounds import bound

#: A ply by its id, the items it is laid in, which of them, and where.
Work = tuple[str, tuple[Item, ...], list[int], Room]
#: Sheets of item, x, y and quarters.
Written = list[list[list[float]]]


def nest_ply(theirs: Connection, work: Work, seconds: float, most: int) -> None:
    """Nest a ply, telling of everything better as it is found: ply, layouts, mm of roll.

    Args:
        most: bytes of memory it may take.
    """
    bound(most)
    ply, items, wanted, room = work

    def tell(layouts: Layouts) -> None:
        theirs.send((ply, written(layouts), length_used(layouts, items, room)))

    nest(items, wanted, room, seconds, tell)
    theirs.close()


def written(layouts: Layouts) -> Written:
    return [[[one.item, one.x, one.y, one.quarters] for one in sheet] for sheet in layouts]


def read(layouts: Written) -> Layouts:
    return [tuple(Placed(int(item), x, y, int(turns)) for item, x, y, turns in sheet) for sheet in layouts]
