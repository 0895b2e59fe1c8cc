"""Plain figures of our own drawing, each about as large as a circle of radius 100; y points down.

Each is a function of how many points it has and how deep it is cut in, from 0 to 1; what has neither leaves
them alone.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np

from perigram.core.geometry import bezier
from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.overlay import cut_away, weld
from perigram.core.geometry.pen import Point, RegionPen
from perigram.core.geometry.region import Region

_R = 100.0
#: Curves drawn through computed points have so many a full turn.
_A_TURN = 96


def polygon(points: Sequence[Point] | Floats) -> Region:
    pen = RegionPen()
    first, *others = ((float(x), float(y)) for x, y in points)
    pen.move_to(first)
    for to in others:
        pen.line_to(to)
    return pen.region()


def disc(x: float = 0.0, y: float = 0.0, r: float = _R, ry: float | None = None) -> Region:
    arcs, _ = bezier.unit_arcs(np.array([0.0]), np.array([2.0 * np.pi]), bezier.widest_arc(10.0 * r, 0.002))
    segments = arcs * [r, r if ry is None else ry] + [x, y]
    segments[-1, 3] = segments[0, 0]
    return Region.from_loops(
        segments, np.ones(len(segments), bool), np.array([0, len(segments)]), np.array([0, 1])
    )


def box(x0: float, y0: float, x1: float, y1: float) -> Region:
    return polygon([(x0, y0), (x1, y0), (x1, y1), (x0, y1)])


def turned(region: Region, angle: float, x: float = 0.0, y: float = 0.0) -> Region:
    """Turned clockwise about the origin, in radians, after it was moved."""
    c, s = np.cos(angle), np.sin(angle)
    return region.translated(x, y).transformed(np.array([[c, -s, 0.0], [s, c, 0.0]]))


def around(region: Region, count: int) -> list[Region]:
    return [turned(region, 2.0 * np.pi * i / count) for i in range(count)]


def closed_curve(points: Floats, velocities: Floats, step: float) -> Region:
    """A closed smooth outline through points (n, 2), with velocities per unit of a parameter `step` apart."""
    after, third = np.roll(points, -1, axis=0), velocities * step / 3.0
    segments = np.stack([points, points + third, after - np.roll(third, -1, axis=0), after], axis=1)
    return Region.from_loops(
        segments, np.ones(len(points), bool), np.array([0, len(points)]), np.array([0, 1])
    )


def _star(points: int, depth: float) -> Region:
    n = max(3, points)
    angle = np.pi * np.arange(2 * n) / n - np.pi / 2.0
    radius = np.where(np.arange(2 * n) % 2, 1.0 - depth, 1.0) * _R
    return polygon(np.stack([radius * np.cos(angle), radius * np.sin(angle)], axis=1))


def _regular(points: int, depth: float) -> Region:
    angle = 2.0 * np.pi * np.arange(max(3, points)) / max(3, points) - np.pi / 2.0
    return polygon(_R * np.stack([np.cos(angle), np.sin(angle)], axis=1))


def _flower(points: int, depth: float) -> Region:
    """R = 1 - d (1 - cos n a) / 2."""
    n = max(3, points)
    a = 2.0 * np.pi * np.arange(max(_A_TURN, 12 * n)) / max(_A_TURN, 12 * n)
    r, slope = 1.0 - 0.5 * depth * (1.0 - np.cos(n * a)), -0.5 * depth * n * np.sin(n * a)
    c, s = np.cos(a - np.pi / 2.0), np.sin(a - np.pi / 2.0)
    xy = _R * np.stack([r * c, r * s], axis=1)
    way = _R * np.stack([slope * c - r * s, slope * s + r * c], axis=1)
    return closed_curve(xy, way, 2.0 * np.pi / len(a))


def _sun(points: int, depth: float) -> Region:
    n, core = max(4, points), _R * (1.0 - depth) * 0.9
    wide = 0.55 * np.pi * core / n + 2.0
    ray = polygon([(-wide, -core * 1.12 - 4.0), (0.0, -_R - 10.0), (wide, -core * 1.12 - 4.0)])
    return weld([disc(r=core), *around(ray, n)])


def _cog(points: int, depth: float) -> Region:
    n, root = max(5, points), _R * (1.0 - 0.35 * depth - 0.05)
    wide = 0.5 * np.pi * root / n
    tooth = polygon(
        [(-1.1 * wide, -root + 5.0), (-0.75 * wide, -_R), (0.75 * wide, -_R), (1.1 * wide, -root + 5.0)]
    )
    return cut_away(weld([disc(r=root), *around(tooth, n)]), disc(r=0.4 * root))


def _cross(points: int, depth: float) -> Region:
    t = _R * (0.75 - 0.7 * depth)
    return weld([box(-_R, -t, _R, t), box(-t, -_R, t, _R)])


def _arrow(points: int, depth: float) -> Region:
    head, t = _R - 1.4 * depth * _R, 0.34 * _R
    return polygon(
        [(-_R, -t), (head, -t), (head, -0.8 * _R), (_R, 0.0), (head, 0.8 * _R), (head, t), (-_R, t)]
    )


def _bolt(points: int, depth: float) -> Region:
    return polygon([(20, -100), (-55, 15), (-8, 15), (-30, 100), (55, -25), (8, -25), (48, -100)])


def _pennant(points: int, depth: float) -> Region:
    return polygon([(-_R, -55.0), (_R, 0.0), (-_R, 55.0), (-_R + 80.0 * depth, 0.0)])


def _banner(points: int, depth: float) -> Region:
    notch = 60.0 * depth
    return polygon([(-_R, -30), (_R, -30), (_R - notch, 0), (_R, 30), (-_R, 30), (-_R + notch, 0)])


def _ribbon(points: int, depth: float) -> Region:
    """A band before two swallow tails that hang lower, a line clear of it."""
    notch = 40.0 * depth
    tails = [
        polygon(
            [(side * 100, -6), (side * 48, -6), (side * 48, 42), (side * 100, 42), (side * (100 - notch), 18)]
        )
        for side in (-1, 1)
    ]
    band, clear = box(-66, -32, 66, 24), box(-69, -35, 69, 27)
    return weld([band, cut_away(weld(tails), clear)])


def _ticket(points: int, depth: float) -> Region:
    r = 10.0 + 45.0 * depth
    return cut_away(box(-_R, -62, _R, 62), weld([disc(x, y, r) for x in (-_R, _R) for y in (-62.0, 62.0)]))


def _frame(points: int, depth: float) -> Region:
    """A ticket's outline as a band."""
    t, r = 4.0 + 20.0 * depth, 34.0
    outer = cut_away(box(-_R, -62, _R, 62), weld([disc(x, y, r) for x in (-_R, _R) for y in (-62.0, 62.0)]))
    corners = weld([disc(x, y, r + t) for x in (-_R, _R) for y in (-62.0, 62.0)])
    return cut_away(outer, cut_away(box(-_R + t, -62 + t, _R - t, 62 - t), corners))


def _scallop(points: int, depth: float) -> Region:
    n = max(6, points)
    half = np.pi / n
    body = _R / (1.0 + np.sin(half))
    lobe = disc(0.0, -body, body * np.sin(half) * (1.02 + 0.35 * depth))
    return weld([disc(r=body), *around(lobe, n)])


def _burst(points: int, depth: float) -> Region:
    return _star(max(8, points), 0.5 * depth)


def _curve(start: Point, *strokes: tuple[Point, ...]) -> Region:
    """Lines (one point) and cubics (three) from a start."""
    pen = RegionPen()
    pen.move_to(start)
    for stroke in strokes:
        if len(stroke) == 1:
            pen.line_to(stroke[0])
        else:
            pen.cubic_to(*stroke)
    return pen.region()


def _heart(points: int, depth: float) -> Region:
    """Two lobes over a point."""
    half = [
        ((6, -86), (24, -100), (50, -100)),
        ((78, -100), (100, -77), (100, -46)),
        ((100, 14), (42, 56), (0, 100)),
    ]
    ends = [(0, -62), *(stroke[2] for stroke in half)]
    back = [
        ((-b[0], b[1]), (-a[0], a[1]), (-to[0], to[1]))
        for (a, b, _), to in zip(half[::-1], ends[2::-1], strict=True)
    ]
    return _curve((0, -62), *half, *back)


def _shield(points: int, depth: float) -> Region:
    return _curve(
        (-80, -90),
        ((-50, -76), (-25, -80), (0, -98)),
        ((25, -80), (50, -76), (80, -90)),
        ((88, -40), (92, 50), (0, 100)),
        ((-92, 50), (-88, -40), (-80, -90)),
    )


def _drop(points: int, depth: float) -> Region:
    return _curve(
        (0, -100),
        ((10, -60), (62, -10), (62, 36)),
        ((62, 72), (34, 100), (0, 100)),
        ((-34, 100), (-62, 72), (-62, 36)),
        ((-62, -10), (-10, -60), (0, -100)),
    )


def _leaf(points: int, depth: float) -> Region:
    lens = _curve((-100, 0), ((-50, -70), (40, -62), (100, 0)), ((40, 62), (-50, 70), (-100, 0)))
    vein = _curve((-101, -3), ((-30, -5), (20, -3), (60, 0)), ((20, 3), (-30, 5), (-101, 3)), ((-101, -3),))
    return cut_away(lens, vein)


def _crescent(points: int, depth: float) -> Region:
    return cut_away(disc(), disc(_R * (0.25 + 0.5 * (1.0 - depth)), 0.0, 0.86 * _R))


def _ring(points: int, depth: float) -> Region:
    return cut_away(disc(), disc(r=_R * (1.0 - 0.9 * depth)))


def _arc_band(points: int, depth: float) -> Region:
    reach = 4.0 * _R
    wedge = polygon([(0, 0), (-reach, -reach * 0.75), (reach, -reach * 0.75)])
    outer, inner = disc(r=2.0 * _R), disc(r=2.0 * _R - 0.3 * _R - depth * _R)
    band = cut_away(outer, inner)
    return cut_away(band, cut_away(box(-reach, -reach, reach, reach), wedge))


def _bubble(points: int, depth: float) -> Region:
    tail = _curve((-40, 40), ((-42, 70), (-56, 88), (-78, 98)), ((-40, 96), (-8, 80), (4, 40)), ((-40, 40),))
    body = weld([disc(0, -12, 100, 66), box(-1, -1, 1, 1)])
    return weld([body, tail])


def _cloud(points: int, depth: float) -> Region:
    puffs = [(-62, 22, 36), (-28, -14, 42), (24, -24, 50), (68, 20, 38)]
    return weld([*(disc(*puff) for puff in puffs), box(-62, 10, 68, 58)])


def _waved_bar(points: int, depth: float) -> Region:
    """A bar between two sine waves, so many times up and down."""
    n = max(1, points)
    count = 8 * n
    x = np.linspace(-_R, _R, count + 1)
    rate, rise = 2.0 * np.pi * n / (2.0 * _R), 6.0 + 34.0 * depth / n**0.5
    y, slope = rise * np.sin(rate * x), rise * rate * np.cos(rate * x)
    third = 2.0 * _R / count / 3.0
    pen = RegionPen()
    pen.move_to((-_R, float(y[0]) - 16.0))
    for i in range(count):
        a, b = slope[i] * third, slope[i + 1] * third
        to = (float(x[i + 1]), float(y[i + 1]) - 16.0)
        pen.cubic_to((float(x[i]) + third, float(y[i] + a) - 16.0), (to[0] - third, to[1] - float(b)), to)
    pen.line_to((_R, float(y[-1]) + 16.0))
    for i in range(count, 0, -1):
        a, b = slope[i] * third, slope[i - 1] * third
        to = (float(x[i - 1]), float(y[i - 1]) + 16.0)
        pen.cubic_to((float(x[i]) - third, float(y[i] - a) + 16.0), (to[0] + third, to[1] + float(b)), to)
    return pen.region()


FIGURES: dict[str, Callable[[int, float], Region]] = {
    "heart": _heart,
    "polygon": _regular,
    "star": _star,
    "burst": _burst,
    "sun": _sun,
    "flower": _flower,
    "cog": _cog,
    "cross": _cross,
    "arrow": _arrow,
    "bolt": _bolt,
    "pennant": _pennant,
    "banner": _banner,
    "ribbon": _ribbon,
    "ticket": _ticket,
    "frame": _frame,
    "scallop": _scallop,
    "shield": _shield,
    "drop": _drop,
    "leaf": _leaf,
    "crescent": _crescent,
    "ring": _ring,
    "arc band": _arc_band,
    "bubble": _bubble,
    "cloud": _cloud,
    "waved bar": _waved_bar,
}
