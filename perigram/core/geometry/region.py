"""`Region`: a set of closed loops of line and cubic segments, solid inside."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from functools import cached_property
from hashlib import blake2b

import numpy as np
import shapely
from numpy.typing import NDArray

from perigram.core.errors import GeometryError
from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Bools, Floats, Ints
from perigram.core.geometry.candidates import CLOSE, HALVINGS, MANY_LOOPS, near_pairs, pairs_like
from perigram.core.geometry.flat import Flat
from perigram.core.geometry.flatten import closely, flatten

#: Largest distance in mm between a curve and the chords that stand for it while overlaying.
TOLERANCE = 0.005
#: The chords that promises are checked on, in mm: a tenth of what overlays need.
FINE = TOLERANCE / 10.0
#: The chords that rough regions are drawn by, in mm: far less than a pixel of the whole proof.
ROUGH = 0.01
#: Coordinates beyond this many mm are refused: 20 m is longer than any roll is cut in one go.
LIMIT = 20_000.0
#: Regions that need more vertices than this at `TOLERANCE` are refused: about 3,500 letters' worth.
MOST_VERTICES = 400_000


@dataclass(frozen=True, eq=False)
class Region:
    """Closed loops of line and cubic segments in mm, y down.

    What it promises: loops are closed and simple, cross no other loop and share no edge with one
    (touching in single points is allowed). Each polygon is one outer loop of positive area followed
    by its holes of negative area, so the solid always lies on the same side of a segment.

    A segment does not hold its own control points but says which *curve* it runs on and from which
    parameter to which. Cutting a curve and welding the parts again therefore gives the whole curve
    back bit for bit, and parts of one curve flatten to the same vertices wherever they end up.

    A `rough` region is drawn by chords, to be looked at while something is dragged, not to be cut: what is
    made of it by overlays and offsets is rough as well, takes a fraction of the time, and keeps no promise.

    Attributes:
        curves: (k, 4, 2) the cubics that segments run on; a line has its controls at thirds.
        curved: (k,) false for lines.
        curve: (n,) which curve each segment runs on.
        span: (n, 2) its parameters at the start and end of the segment; backwards is allowed.
        start: (n, 2) the node each segment starts at; it ends at the start of the next in its loop.
        loop_offsets: (m + 1,) offsets of loops in the segments.
        polygon_offsets: (p + 1,) offsets of polygons in the loops.
    """

    curves: Floats
    curved: Bools
    curve: Ints
    span: Floats
    start: Floats
    loop_offsets: Ints
    polygon_offsets: Ints
    rough: bool = False

    @staticmethod
    def empty() -> Region:
        none = np.zeros(0, np.intp)
        zero = np.zeros(1, np.intp)
        return Region(
            np.zeros((0, 4, 2)), np.zeros(0, bool), none, np.zeros((0, 2)), np.zeros((0, 2)), zero, zero
        )

    @staticmethod
    def from_loops(
        segments: Floats, curved: Bools, loop_offsets: Ints, polygon_offsets: Ints, rough: bool = False
    ) -> Region:
        """A region of segments (n, 4, 2) that already keep the promises; see `regularise` otherwise."""
        check_coordinates(segments)
        n = len(segments)
        span = np.tile(np.array([0.0, 1.0]), (n, 1))
        return Region(
            segments, curved, np.arange(n), span, segments[:, 0].copy(), loop_offsets, polygon_offsets, rough
        )

    @staticmethod
    def from_rings(xy: Floats, ring_offsets: Ints, polygon_offsets: Ints, rough: bool = False) -> Region:
        """A region of straight lines from each vertex (v, 2) of its rings to the next."""
        following = np.arange(1, len(xy) + 1)
        following[ring_offsets[1:] - 1] = ring_offsets[:-1]
        lines = bezier.line_controls(xy, xy.take(following, axis=0))
        return Region.from_loops(lines, np.zeros(len(xy), bool), ring_offsets, polygon_offsets, rough)

    @staticmethod
    def joined(regions: Iterable[Region]) -> Region:
        """Regions known not to touch, side by side as one; `weld` is for those that may."""
        parts = [r for r in regions if not r.is_empty]
        if not parts:
            return Region.empty()
        if len(parts) == 1:
            return parts[0]

        def offsets(arrays: list[Ints]) -> Ints:
            sizes = np.concatenate([np.diff(a) for a in arrays])
            return np.concatenate([[0], np.cumsum(sizes)]).astype(np.intp)

        shift = np.cumsum([0] + [len(r.curves) for r in parts[:-1]])
        return Region(
            np.concatenate([r.curves for r in parts]),
            np.concatenate([r.curved for r in parts]),
            np.concatenate([r.curve + s for r, s in zip(parts, shift, strict=True)]),
            np.concatenate([r.span for r in parts]),
            np.concatenate([r.start for r in parts]),
            offsets([r.loop_offsets for r in parts]),
            offsets([r.polygon_offsets for r in parts]),
            any(r.rough for r in parts),
        )

    @property
    def is_empty(self) -> bool:
        return len(self.curve) == 0

    @property
    def node_count(self) -> int:
        return len(self.curve)

    @property
    def piece_count(self) -> int:
        return len(self.polygon_offsets) - 1

    @property
    def loop_count(self) -> int:
        return len(self.loop_offsets) - 1

    @cached_property
    def following(self) -> Ints:
        """(n,) the segment that comes after each one in its loop."""
        following = np.arange(1, len(self.curve) + 1)
        following[self.loop_offsets[1:] - 1] = self.loop_offsets[:-1]
        return following

    @cached_property
    def end(self) -> Floats:
        """(n, 2) the node each segment ends at."""
        return self.start.take(self.following, axis=0)

    @cached_property
    def straight(self) -> Bools:
        """(n,) which segments are lines."""
        return ~self.curved[self.curve]

    @cached_property
    def segments(self) -> Floats:
        """(n, 4, 2) the control points of every segment; a whole curve's are its own, unchanged."""
        parents = self.curves.take(self.curve, axis=0)
        forward = (self.span[:, 0] == 0.0) & (self.span[:, 1] == 1.0)
        backward = (self.span[:, 0] == 1.0) & (self.span[:, 1] == 0.0)
        out = parents.copy()
        out[backward] = parents[backward, ::-1]
        part = ~(forward | backward)
        out[part] = bezier.subcurve(parents[part], self.span[part, 0], self.span[part, 1])
        # A crossing lies on two curves at once only to within rounding: move the handles with the node.
        start_shift = self.start - out[:, 0]
        end_shift = self.end - out[:, 3]
        out[:, 1] += start_shift
        out[:, 2] += end_shift
        out[:, 0] = self.start
        out[:, 3] = self.end
        straight = self.straight
        out[straight] = bezier.line_controls(self.start[straight], self.end[straight])
        return out

    @property
    def halvings(self) -> int:
        """How often segments are worth halving to tell which may come near each other."""
        return HALVINGS if self.loop_count > MANY_LOOPS else 0

    @cached_property
    def close_pairs(self) -> tuple[Ints, Ints]:
        """Pairs i <= j of segments that may come nearer than `CLOSE` to each other, or to themselves."""
        return near_pairs(self.segments, self.following, CLOSE, halvings=self.halvings)

    def akin(self, other: Region) -> Region:
        """The region itself, its close pairs taken from another that most of its segments come from."""
        if "close_pairs" in other.__dict__ and "close_pairs" not in self.__dict__:
            known = other._keys, other.close_pairs
            # Where a cached property keeps its value.
            self.__dict__["close_pairs"] = pairs_like(
                self.segments, self.following, CLOSE, self._keys, known, self.halvings
            )
        return self

    @cached_property
    def _keys(self) -> NDArray[np.uint64]:
        """(n,) a key for every segment between the one before it and the one after it."""
        own = bezier.row_hash(self.segments.reshape(-1, 8))
        before = np.empty_like(own)
        before[self.following] = own
        return bezier.row_hash(np.stack([before, own, own[self.following]], axis=1).view(np.float64))

    @cached_property
    def flat(self) -> Flat:
        """The vertices that stand for this region while overlaying, within `TOLERANCE`.

        Raises:
            GeometryError: for more than `MOST_VERTICES`.
        """
        flat = self.flattened(TOLERANCE)
        if len(flat.xy) > MOST_VERTICES:
            raise GeometryError(
                f"These outlines need {len(flat.xy):,} points; up to {MOST_VERTICES:,} can be worked on. "
                "Use less of the picture, or smooth it first."
            )
        return flat

    @cached_property
    def is_sound(self) -> bool:
        """Whether the promises hold when looked at ten times finer than overlays look.

        Only where segments come near each other: chords of others cannot cross whatever they are.
        """
        if len(self.close_pairs[0]) == 0:
            return self.is_valid
        flat = closely(self, self.close_pairs, CLOSE, TOLERANCE, FINE)
        return bool(shapely.is_valid(flat.multipolygon()))

    @cached_property
    def is_valid(self) -> bool:
        """Whether the region as flattened for overlays is what GEOS takes for valid."""
        return bool(shapely.is_valid(self.multipolygon))

    def flattened(self, tolerance: float | Floats) -> Flat:
        """By chords within `tolerance` mm of the curves, or of each (k,) within its own."""
        return flatten(self, tolerance)

    @cached_property
    def multipolygon(self) -> shapely.MultiPolygon:
        """The flattened region as one GEOS geometry."""
        return self.flat.multipolygon()

    def roughly(self) -> Region:
        """The same by chords within `ROUGH`, for what is only looked at."""
        if self.rough or self.is_empty:
            return self
        flat = self.flattened(ROUGH)
        return Region.from_rings(flat.xy, flat.ring_offsets, flat.polygon_offsets, rough=True)

    def transformed(self, matrix: Floats) -> Region:
        """The region under an affine map, a (2, 3) matrix: x' = m00 x + m01 y + m02."""
        if self.is_empty:
            return self
        linear, shift = matrix[:, :2], matrix[:, 2]
        determinant = linear[0, 0] * linear[1, 1] - linear[0, 1] * linear[1, 0]
        if not np.isfinite(matrix).all() or abs(determinant) < 1e-12:
            raise GeometryError("A size of zero leaves nothing to cut; give a size above zero.")

        def apply(points: Floats) -> Floats:
            x, y = points[..., 0], points[..., 1]
            return np.stack(
                [
                    linear[0, 0] * x + linear[0, 1] * y + shift[0],
                    linear[1, 0] * x + linear[1, 1] * y + shift[1],
                ],
                axis=-1,
            )

        curves = apply(self.curves)
        check_coordinates(curves)
        moved = replace(self, curves=curves, start=apply(self.start))
        return moved if determinant > 0 else moved.reversed()

    def translated(self, dx: float, dy: float) -> Region:
        return self.transformed(np.array([[1.0, 0.0, dx], [0.0, 1.0, dy]]))

    def scaled(self, sx: float, sy: float) -> Region:
        return self.transformed(np.array([[sx, 0.0, 0.0], [0.0, sy, 0.0]]))

    def rotated(self, degrees: float, cx: float = 0.0, cy: float = 0.0) -> Region:
        """Turned clockwise as seen on the proof (y down) about a point."""
        c, s = np.cos(np.radians(degrees)), np.sin(np.radians(degrees))
        return self.transformed(np.array([[c, -s, cx - c * cx + s * cy], [s, c, cy - s * cx - c * cy]]))

    def at_origin(self) -> tuple[Region, float, float]:
        """The region with its first node at the origin, to a billionth of a mm, and where that node was.

        Regions that are the same but for where they lie so become one to the bit.
        """
        if self.is_empty:
            return self, 0.0, 0.0
        x, y = (float(v) for v in self.start[0])
        home = np.array([x, y])
        # Adding zero turns -0.0 into 0.0.
        curves, start = (np.round(points - home, 9) + 0.0 for points in (self.curves, self.start))
        return replace(self, curves=curves, start=start), x, y

    def digest(self) -> bytes:
        """The same for regions that are the same to the bit."""
        parts = (
            self.curves,
            self.curved,
            self.curve,
            self.span,
            self.start,
            self.loop_offsets,
            self.polygon_offsets,
            np.array(self.rough),
        )
        return blake2b(b"".join(np.ascontiguousarray(part).tobytes() for part in parts)).digest()

    def reversed(self) -> Region:
        """Every loop run the other way round, as a mirror image needs it."""
        loop, place = bezier.expand(np.diff(self.loop_offsets))
        order = self.loop_offsets[loop + 1] - 1 - place
        return Region(
            self.curves,
            self.curved,
            self.curve[order],
            self.span[order, ::-1],
            self.end[order],
            self.loop_offsets,
            self.polygon_offsets,
            self.rough,
        )

    def loop_slices(self) -> list[slice]:
        return [slice(a, b) for a, b in zip(self.loop_offsets[:-1], self.loop_offsets[1:], strict=True)]

    def loop_boxes(self) -> Floats:
        """A box (m, 4) round every loop and the handles of its curves: min x, min y, max x, max y."""
        low, high = bezier.boxes(self.curves.take(self.curve, axis=0))
        first = self.loop_offsets[:-1]
        return np.hstack([np.minimum.reduceat(low, first, axis=0), np.maximum.reduceat(high, first, axis=0)])

    def piece_boxes(self) -> Floats:
        """Those boxes (p, 4) of the loops round every polygon."""
        return self.loop_boxes()[self.polygon_offsets[:-1]]

    def select_polygons(self, keep: Bools) -> Region:
        """Only the polygons marked in `keep` (p,)."""
        polygon, _ = bezier.expand(np.diff(self.polygon_offsets))
        return self.select_loops(keep[polygon])

    def without_flat_loops(self) -> Region:
        """The region without loops so thin that their chords lie on top of each other."""
        # Three segments flatten to three vertices or more.
        if self.is_empty or np.diff(self.loop_offsets).min() > 2:
            return self
        seen = np.diff(self.flat.ring_offsets) >= 3
        if seen.all():
            return self
        polygon, _ = bezier.expand(np.diff(self.polygon_offsets))
        return self.select_loops(seen & seen[self.polygon_offsets[:-1]][polygon])

    def select_loops(self, keep: Bools) -> Region:
        """Only the loops marked in `keep` (m,); a polygon whose outer loop goes must go whole."""
        if keep.all():
            return self
        polygon, _ = bezier.expand(np.diff(self.polygon_offsets))
        per_polygon = np.bincount(polygon[keep], minlength=self.piece_count)
        polygons = np.concatenate([[0], np.cumsum(per_polygon[per_polygon > 0])]).astype(np.intp)
        return self.with_loops(np.flatnonzero(keep), polygons)

    def with_loops(self, order: Ints, polygon_offsets: Ints) -> Region:
        """Only some loops, in that order, put together to polygons anew."""
        sizes = np.diff(self.loop_offsets)[order]
        loop, place = bezier.expand(sizes)
        segment = self.loop_offsets[order][loop] + place
        used, curve = np.unique(self.curve[segment], return_inverse=True)
        return Region(
            self.curves.take(used, axis=0),
            self.curved[used],
            curve,
            self.span.take(segment, axis=0),
            self.start.take(segment, axis=0),
            np.concatenate([[0], np.cumsum(sizes)]).astype(np.intp),
            polygon_offsets,
            self.rough,
        )

    def without_holes(self) -> Region:
        """The region with every hole filled; pieces that lay in a hole must be welded afterwards."""
        outer = np.zeros(self.loop_count, bool)
        outer[self.polygon_offsets[:-1]] = True
        return self.select_loops(outer)

    def pieces(self) -> list[Region]:
        """Each polygon as a region of its own."""
        if self.piece_count < 2:
            return [self] if self.piece_count else []
        pieces = []
        plain = len(self.curves) == len(self.curve) and (self.curve == np.arange(len(self.curve))).all()
        for first, last in zip(self.polygon_offsets[:-1], self.polygon_offsets[1:], strict=True):
            loops = self.loop_offsets[first : last + 1]
            own = slice(loops[0], loops[-1])
            used: slice | Ints = own
            if plain:
                curve = np.arange(own.stop - own.start)
            else:
                used, curve = np.unique(self.curve[own], return_inverse=True)
            pieces.append(
                Region(
                    self.curves[used],
                    self.curved[used],
                    curve,
                    self.span[own],
                    self.start[own],
                    loops - loops[0],
                    np.array([0, last - first]),
                    self.rough,
                )
            )
        return pieces


def check_coordinates(points: Floats) -> None:
    """Refuse what no cutter could follow: NaN, infinity, and places farther out than `LIMIT`."""
    if not np.isfinite(points).all():
        raise GeometryError("A coordinate is not a number; the shape cannot be cut.")
    if points.size and np.abs(points).max() > LIMIT:
        raise GeometryError(
            f"A coordinate lies beyond {LIMIT / 1000:.0f} m; make it smaller or move it nearer."
        )
