"""Items laid close together on sheets: at once by the boxes round them, or nested by their outlines."""

from __future__ import annotations

import threading
import time
from collections import Counter
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

import numpy as np
import rectpack  # type: ignore[import-untyped]
import shapely
import spyrrow

from perigram.core.formats.page import CutPly
from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.union import united
from perigram.core.recipe.making import LEAST, Sheets
from perigram.core.sheet.counters import bundled, unbundled
from perigram.core.sheet.sheet import Item, Placed, placing, sides

#: Places on sheets are multiples of so many mm, which keeps numbers on the grid plies were checked on.
STEP = 0.01
#: So many pieces at most are packed loosely: the packer takes seconds for more.
MOST_PIECES = 3_000
#: So many at most are nested by their outlines.
MOST_NESTED = 400

#: The sheets of one ply, and what lies where on each.
Layouts = Sequence[tuple[Placed, ...]]

#: Outlines are nested as rings of at most so many nodes, the finest of these tolerances in mm that allows it.
_MOST_NODES = 60
_COARSE = (0.05, 0.1, 0.2, 0.4, 0.8)
#: Chords to a quarter of an arc, and mm that gaps within an item are closed by to make one outline of it.
_QUARTER = 8
_CLOSED = (0.0, 4.0, 16.0)
#: Share of the time that filling holes may take.
_FILLING = 0.3
#: Seconds between looks at how far nesting is, and at least given to each sheet.
_OFTEN = 0.25
_SHORTEST = 2.0


@dataclass(frozen=True)
class Room:
    """Where things are laid: a sheet in mm, what stays free along its edges and between, and turning."""

    width: float
    length: float
    edge: float
    apart: float
    turned: bool

    @classmethod
    def of(cls, ply: CutPly, how: Sheets) -> Room:
        how = settled(how)
        return cls(ply.width, ply.length, how.edge, how.apart, how.turned)

    @property
    def inner(self) -> tuple[float, float]:
        return self.width - 2.0 * self.edge, self.length - 2.0 * self.edge


def settled(how: Sheets) -> Sheets:
    """Distances on the grid, and none so small that an outline, a border or the frame is cut twice."""
    edge = max(how.edge, 2.0 * LEAST) if how.frame else how.edge
    on_grid = {"edge": edge, "apart": max(how.apart, LEAST), "overlap": how.overlap}
    return how.model_copy(update={name: round(_steps(value) * STEP, 4) for name, value in on_grid.items()})


def fits(width: float, height: float, wide: float, long: float) -> bool:
    return width <= wide + 1e-9 and height <= long + 1e-9


def by_boxes(items: Sequence[Item], wanted: Sequence[int], room: Room) -> Layouts:
    """Boxes packed by maximal rectangles, so that nothing lies within anything else.

    Source: Jylänki, A thousand ways to pack the bin (2010), best short side fit.
    """
    packer = rectpack.newPacker(rotation=room.turned)
    wide, long = room.inner
    steps = [(_steps(item.width + room.apart), _steps(item.height + room.apart)) for item in items]
    for k in wanted:
        packer.add_rect(*steps[k], k)
    packer.add_bin(_steps(wide + room.apart), _steps(long + room.apart), count=float("inf"))
    packer.pack()
    bins: dict[int, list[Placed]] = {}
    for number, x, y, w, h, k in packer.rect_list():
        turned = (w, h) != steps[k]
        at = room.edge + round(x * STEP, 4), room.edge + round(y * STEP, 4)
        bins.setdefault(number, []).append(Placed(k, *at, int(turned)))
    return [tuple(placed) for placed in bins.values()]


def nest(
    items: Sequence[Item],
    wanted: Sequence[int],
    room: Room,
    seconds: float,
    found: Callable[[Layouts], None],
) -> Layouts:
    """Outlines laid into each other's bays, as close as some seconds allow; never worse than boxes.

    Laying irregular shapes on a strip is left to sparrow: Gardeyn and Vanden Berghe, An open-source heuristic
    to reboot 2D nesting research (2025). What it finds is looked at here before it is believed: everything
    on its sheet, the distance kept. Where a strip is longer than a sheet, what lies within the sheet stays on
    it and the rest is nested anew. Small pieces go into the holes of larger ones first.

    Args:
        seconds: it looks for, in all; twice as many may go by.
        found: told of every better layout as it is found.

    Returns:
        The best layout; how good it is may differ from one time to the next, so keep it.
    """
    best = by_boxes(items, wanted, room)
    length = length_used(best, items, room)
    found(best)
    deadline = time.monotonic() + seconds
    until = time.monotonic() + _FILLING * seconds
    bundles, left = bundled(items, wanted, room.apart, room.turned, STEP, until)
    loose, items = items, [bundle.item for bundle in bundles]
    rings = [_ring(loose[bundle.host], room.apart) for bundle in bundles]
    done: list[tuple[Placed, ...]] = []
    while left:
        share = max(_SHORTEST, (deadline - time.monotonic()) / max(1, len(best) - len(done)))
        strip: tuple[Placed, ...] | None = None
        for candidate in _strips(rings, items, left, room, share):
            layouts = _with(done, candidate, left, items, room)
            if layouts is None:
                continue
            strip = candidate
            now = length_used(layouts, items, room)
            if now < length - STEP:
                length = now
                best = [
                    tuple(part for one in laid for part in unbundled(one, bundles[one.item], loose))
                    for laid in layouts
                ]
                found(best)
        if strip is None:
            break
        here = _on_first(strip, items, room)
        done.append(here)
        for one in here:
            left.remove(one.item)
        if time.monotonic() > deadline:
            break
    return best


def _with(
    done: Sequence[tuple[Placed, ...]],
    strip: tuple[Placed, ...],
    left: Sequence[int],
    items: Sequence[Item],
    room: Room,
) -> Layouts | None:
    """Sheets done, the first one of a strip, and the rest by boxes; None where it does not hold."""
    here = _on_first(strip, items, room)
    if not here or not _holds(here, items, room):
        return None
    rest = list(left)
    for one in here:
        rest.remove(one.item)
    return [*done, here, *(by_boxes(items, rest, room) if rest else [])]


def _on_first(strip: tuple[Placed, ...], items: Sequence[Item], room: Room) -> tuple[Placed, ...]:
    end = room.length - room.edge + 1e-9
    return tuple(one for one in strip if one.y + sides(one, items[one.item])[1] <= end)


def length_used(layouts: Layouts, items: Sequence[Item], room: Room) -> float:
    """How much in mm of the roll layouts use; a sheet that is followed by another counts whole."""
    last = max(one.y + sides(one, items[one.item])[1] for one in layouts[-1])
    return (len(layouts) - 1) * room.length + last


def _body(item: Item) -> shapely.Geometry:
    """All of an item that others keep away from, filled."""
    parts = [region.multipolygon for region in (item.work, item.marks, item.border) if not region.is_empty]
    return united(np.array(parts, object))


def _ring(item: Item, apart: float) -> Floats:
    """(k, 2) a ring round an item that lies farther off it than half the distance, in few nodes.

    Pieces that stay together are closed to one, or nested as the hull round them where they lie far apart.
    """
    body = _body(item)
    for closed in _CLOSED:
        near = shapely.buffer(shapely.buffer(body, closed), -closed) if closed else body
        if len(shapely.get_parts(shapely.buffer(near, apart / 2.0))) == 1:
            break
    else:
        near = shapely.convex_hull(body)
    # Chords of the arcs at corners lie inside them; rounding to the grid takes up to half a step each way.
    half = (apart / 2.0 + STEP) / np.cos(np.pi / (4.0 * _QUARTER))
    for coarse in _COARSE:
        grown = shapely.simplify(shapely.buffer(near, half + coarse, quad_segs=_QUARTER), coarse)
        ring = shapely.get_exterior_ring(grown)
        if shapely.get_num_coordinates(ring) <= _MOST_NODES:
            break
    return np.asarray(shapely.get_coordinates(ring)[:-1])


def _strips(
    rings: Sequence[Floats], items: Sequence[Item], left: Sequence[int], room: Room, seconds: float
) -> Iterator[tuple[Placed, ...]]:
    """Layouts on an endless strip as wide as the sheet, as they are found, better and better."""
    # The packer's strip runs along its x, the sheet along its y: all is turned by a quarter on the way back.
    angles = [0.0, 90.0, 180.0, 270.0] if room.turned else [270.0]
    shapes = [
        spyrrow.Item(str(k), list(map(tuple, rings[k].tolist())), count, angles)
        for k, count in sorted(Counter(left).items())
    ]
    strip = spyrrow.StripPackingInstance("sheet", room.inner[0] + room.apart, shapes)
    # Without a seed it draws one; one worker makes the same way through the same shapes.
    whole = max(2, round(seconds))
    config = spyrrow.StripPackingConfig(total_computation_time=whole, num_workers=1, seed=1)
    reports = spyrrow.ProgressQueue()
    solver = threading.Thread(target=strip.solve, args=(config, reports), daemon=True)
    solver.start()
    # It takes longer than it is told to; what it has by then has to do.
    given_up = time.monotonic() + 2.0 * whole
    working = True
    while working and time.monotonic() < given_up:
        solver.join(_OFTEN)
        working = solver.is_alive()
        for kind, solution in reports.drain():
            if kind in _FEASIBLE:
                yield tuple(_placed(one, items, room) for one in solution.placed_items)


_FEASIBLE = (spyrrow.ReportType.ExplFeas, spyrrow.ReportType.CmprFeas, spyrrow.ReportType.Final)


def _placed(one: spyrrow.PlacedItem, items: Sequence[Item], room: Room) -> Placed:
    """Where on the sheet something lies that was laid on the strip."""
    number = int(one.id)
    quarters = round(one.rotation / 90.0 + 1.0) % 4
    along, across = one.translation
    off = room.edge - room.apart / 2.0
    corner = placing(Placed(number, 0.0, 0.0, quarters), items[number])[:, 2]
    x = off + room.inner[0] + room.apart - across - corner[0]
    y = off + along - corner[1]
    return Placed(number, round(round(x / STEP) * STEP, 4), round(round(y / STEP) * STEP, 4), quarters)


def _holds(placed: Sequence[Placed], items: Sequence[Item], room: Room) -> bool:
    """Whether all lie on the sheet and keep their distance, by GEOS."""
    bodies = []
    for one in placed:
        x1, y1 = (at + side for at, side in zip((one.x, one.y), sides(one, items[one.item]), strict=True))
        if one.x < room.edge - 1e-6 or one.y < room.edge - 1e-6:
            return False
        if x1 > room.width - room.edge + 1e-6 or y1 > room.length - room.edge + 1e-6:
            return False
        matrix = placing(one, items[one.item])
        body = shapely.transform(_body(items[one.item]), lambda xy, m=matrix: xy @ m[:, :2].T + m[:, 2])
        bodies.append(body)
    tree = shapely.STRtree(bodies)
    first, second = tree.query(bodies, predicate="dwithin", distance=room.apart - 1e-6)
    return bool((first == second).all())


def _steps(mm: float) -> int:
    return int(np.ceil(mm / STEP - 1e-9))
