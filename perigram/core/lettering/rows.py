"""Rows of letters set at a size, their letters and rows at clear gaps from one another."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal

import numpy as np
import shapely
from scipy.optimize import brentq
from shapely import affinity

from perigram.core.errors import GeometryError
from perigram.core.geometry.bezier import Bools, Floats, Ints
from perigram.core.geometry.region import Region
from perigram.core.lettering.fonts import GLYPH_CAP_HEIGHT
from perigram.core.lettering.letters import Letter
from perigram.core.lettering.spacing import Contacts, slide

Spacing = Literal["clear", "font"]
Fit = Literal["wide", "tall"]
Align = Literal["left", "centre", "right"]
#: What gives way so that a row fills a width: its word spaces, its letter gaps or its letters' own width.
Even = Literal["spaces", "gaps", "letters"]

#: How far script letters run into each other once a gap is closed, at `GLYPH_CAP_HEIGHT`: half a thin stroke.
_JOIN = 2.5
#: Letters are never set smaller than this over the size they are drawn at, nor larger than one over it.
LEAST_SCALE = 1e-5
#: Rows come out within this many mm of what was asked, or not at all.
_SETTLED = 0.005


@dataclass(frozen=True)
class Setting:
    """How a row is set.

    Attributes:
        size: width of the ink, or cap height, in mm.
        spacing: "clear": `gap` is the smallest distance between neighbours' outlines; "font": letters
            stand as the font sets them, `gap` mm farther apart.
        script: a joining script: its small letters that touch as the font sets them stay as they are.
        closed: gaps within the words of a script are closed too.
    """

    size: float
    fit: Fit = "wide"
    spacing: Spacing = "clear"
    gap: float = 0.0
    script: bool = False
    closed: bool = False


@dataclass(frozen=True)
class Lead:
    """How a row follows the one above: so many mm clear of it, or baseline to baseline."""

    mm: float
    of: Literal["clear", "baseline"] = "clear"


@dataclass(frozen=True, eq=False)
class SetRow:
    """A row as set, its baseline at y = 0 and its left edge at x = 0.

    Attributes:
        letters: in visual order.
        shifts: (n,) how far each stands from where the font sets it, in glyph units.
        scale: mm a glyph unit.
    """

    letters: Sequence[Letter]
    shifts: Floats
    scale: float

    @cached_property
    def bodies(self) -> list[Region]:
        """The letters where they stand, before a hand nudged them."""
        return [self._body(letter, x, 0.0) for letter, x in zip(self.letters, self._lefts, strict=True)]

    def placed(self, x: float, y: float) -> list[Region]:
        """The letters as a hand left them, the row's own origin at a place."""
        return [
            self._body(letter, x + left + letter.nudge[0], y + letter.nudge[1])
            for letter, left in zip(self.letters, self._lefts, strict=True)
        ]

    def _body(self, letter: Letter, x: float, y: float) -> Region:
        return letter.outline.region.transformed(np.array([[self.scale, 0.0, x], [0.0, self.scale, y]]))

    @cached_property
    def shape(self) -> shapely.MultiPolygon:
        """The letters before nudging, for distances to other rows; they may overlap."""

        def moved(letter: Letter, left: float) -> shapely.MultiPolygon:
            return shapely.transform(letter.outline.polygon, lambda xy: self.scale * xy + (left, 0.0))

        return shapely.multipolygons(shapely.get_parts(list(map(moved, self.letters, self._lefts))))

    @property
    def width(self) -> float:
        return self.scale * _spread(self.letters, self.shifts)

    @property
    def height(self) -> float:
        boxes = _boxes(self.letters)
        return self.scale * float(boxes[:, 3].max() - boxes[:, 1].min())

    @property
    def _lefts(self) -> list[float]:
        """How far in mm each letter is from where the font sets it, from the row's left edge."""
        left = (_boxes(self.letters)[:, 0] + self.shifts).min()
        moved: list[float] = (self.scale * (self.shifts - left)).tolist()
        return moved


def set_letters(letters: Sequence[Letter], setting: Setting) -> SetRow:
    """A row set at its size.

    Raises:
        GeometryError: when the gaps alone are wider than the row.
    """
    contacts = Contacts([letter.outline.polygon for letter in letters])
    if setting.fit == "tall" or not letters:
        scale = setting.size / GLYPH_CAP_HEIGHT
        return SetRow(letters, _shifts(letters, contacts, setting, scale), scale)
    # Word spaces only guess at the letters' own place: good enough to start from.
    scale = setting.size / max(_spread(letters, np.zeros(len(letters))), 1e-9)
    slope = setting.size / scale
    gaps = setting.gap * (len(letters) - 1)
    if setting.spacing == "clear" and 0.0 < gaps < 0.8 * setting.size:
        # Contacts at a wider gap are safe to go on from at every smaller one. Of a width, only the letters
        # grow with the scale: their gaps do not.
        wider = _shifts(letters, contacts, replace(setting, gap=1.5 * setting.gap), scale)
        slope = max(_spread(letters, wider) - 1.5 * gaps / scale, 0.1 * slope)
        scale = (setting.size - gaps) / slope
    row = SetRow(letters, np.zeros(len(letters)), scale)

    def miss(scale: float) -> float:
        nonlocal row
        row = SetRow(letters, _shifts(letters, contacts, setting, scale), scale)
        over = row.width - setting.size
        if (scale <= LEAST_SCALE and over > 0.0) or scale > 1.0 / LEAST_SCALE:
            raise GeometryError(_says_unfit(setting))
        return over

    root(miss, scale, slope, LEAST_SCALE)
    return row


def _says_unfit(setting: Setting) -> str:
    if setting.gap < 0.0:
        return (
            f"Letters that run {-setting.gap:g} mm into each other make no row {setting.size:.4g} mm wide; "
            "let them run less far, or use a wider row."
        )
    return (
        f"Letters {setting.gap:g} mm apart do not fit a row {setting.size:.4g} mm wide; "
        "use a wider row or a smaller gap."
    )


def set_even(row: SetRow, setting: Setting, width: float, even: Even) -> SetRow:
    """A row widened until it fills a width, its height as it was.

    A row without word spaces widens its gaps instead, one without gaps its letters.
    """
    letters, scale = row.letters, row.scale
    contacts = Contacts([letter.outline.polygon for letter in letters])
    if even == "spaces" and any(letter.space_before for letter in letters[1:]):

        def spaced(extra: float) -> Floats:
            return _shifts(letters, contacts, setting, scale, extra)

        extra = root(lambda by: scale * _spread(letters, spaced(by)) - width, 0.0, 1.0)
        return SetRow(letters, spaced(extra), scale)
    free = len(letters) - 1 - int(_joined(letters, setting).sum())
    if even != "letters" and free > 0:

        def gapped(gap: float) -> Floats:
            return _shifts(letters, contacts, replace(setting, gap=gap), scale)

        gap = root(lambda by: scale * _spread(letters, gapped(by)) - width, setting.gap, float(free))
        return SetRow(letters, gapped(gap), scale)

    def stretched(share: float) -> SetRow:
        wider = [letter.stretched(share) for letter in letters]
        own = Contacts([letter.outline.polygon for letter in wider])
        return SetRow(wider, _shifts(wider, own, setting, scale), scale)

    return stretched(root(lambda share: stretched(share).width - width, width / row.width, row.width))


def stack(rows: Sequence[SetRow], leads: Sequence[Lead], align: Align) -> list[tuple[float, float]]:
    """Where each row goes, one under another; the first one's lead counts for nothing."""
    places: list[tuple[float, float]] = []
    above: shapely.MultiPolygon | None = None
    for row, lead in zip(rows, leads, strict=True):
        x = -{"left": 0.0, "centre": 0.5, "right": 1.0}[align] * row.width
        y = 0.0
        shape = shapely.transform(row.shape, lambda xy, x=x: xy + (x, 0.0))
        if above is not None:
            if lead.of == "baseline":
                y = places[-1][1] + lead.mm
            else:
                y = float(slide(np.array([above]), np.array([shape]), np.array([lead.mm]), (0.0, 1.0))[0])
            shape = shapely.transform(shape, lambda xy, y=y: xy + (0.0, y))
        places.append((x, y))
        above = shape
    return places


def open_joins(row: SetRow) -> list[tuple[int, float]]:
    """Small letters of a word that do not reach the next one: which, and how far apart, in mm."""
    shape = [letter.outline.polygon for letter in row.letters]
    found = []
    for i, (a, b) in enumerate(zip(row.letters, row.letters[1:], strict=False)):
        if not (_may_join(a, b, script=True) and a.text[0].islower() and b.text[0].islower()):
            continue
        step = (float(row.shifts[i + 1] - row.shifts[i]), 0.0)
        apart = float(shapely.distance(shape[i], affinity.translate(shape[i + 1], *step)))
        if apart > 0.0:
            found.append((i, row.scale * apart))
    return found


def _may_join(a: Letter, b: Letter, script: bool) -> bool:
    """Whether two neighbours are of one word and of a kind that joins.

    Small letters of a joining script do, also to a capital before them; so do writing systems without
    capitals, where touching letters are meant to.
    """
    if b.space_before > 0.0 or not (_letter(a) and _letter(b)):
        return False
    caseless = not any(c.isupper() or c.islower() for c in a.text + b.text)
    return caseless or (script and not b.text[0].isupper())


def _letter(one: Letter) -> bool:
    return any(c.isalpha() for c in one.text)


def _joined(letters: Sequence[Letter], setting: Setting) -> Bools:
    """(n,) which letters hang together with the one before them, whatever the gap."""
    joined = np.zeros(len(letters), bool)
    if not (setting.closed or setting.spacing == "clear"):
        return joined
    for i, (a, b) in enumerate(zip(letters, letters[1:], strict=False), 1):
        if _may_join(a, b, setting.script):
            closed = setting.closed and setting.script
            joined[i] = closed or shapely.intersects(a.outline.polygon, b.outline.polygon)
    return joined


def _shifts(
    letters: Sequence[Letter], contacts: Contacts, setting: Setting, scale: float, extra: float = 0.0
) -> Floats:
    """How far each letter moves from where the font sets it, in glyph units (mm over scale).

    `extra` mm are added to each word space.
    """
    count = len(letters)
    spaces = np.array([letter.space_before for letter in letters])
    spaces = spaces + np.where(spaces > 0.0, extra / scale, 0.0)
    joined = _joined(letters, setting)
    if setting.spacing == "font":
        widened = np.where(spaces > 0.0, extra / scale, 0.0) + setting.gap / scale
        steps = np.where(joined, 0.0, widened)
    else:
        steps = np.zeros(count)
    steps[:1] = 0.0
    if joined.any() and setting.closed:
        reach = contacts.between(np.arange(1, count) - 1, np.arange(1, count), np.zeros(count - 1)) - _JOIN
        steps[1:] = np.where(joined[1:], np.minimum(steps[1:], np.maximum(reach, -200.0)), steps[1:])
    if setting.spacing == "font":
        return np.cumsum(steps)
    # Letters that hang together go as one; each keeps clear of its neighbour and, across small marks,
    # of the letter before that.
    group = np.cumsum(~joined) - 1
    within = _within(group, steps)
    pairs = [(i - 1, i) for i in range(1, count) if not joined[i]]
    at = _apart(contacts, pairs, setting.gap / scale, spaces, group, within)
    boxes = _boxes(letters)
    left, right = boxes[:, 0] + at, boxes[:, 2] + at
    near = np.flatnonzero(left[2:] - right[:-2] < setting.gap / scale + spaces[2:] + spaces[1:-1])
    beyond = [(int(i), int(i) + 2) for i in near if group[i] != group[i + 2]]
    return _apart(contacts, [*pairs, *beyond], setting.gap / scale, spaces, group, within) if beyond else at


def _apart(
    contacts: Contacts,
    pairs: Sequence[tuple[int, int]],
    gap: float,
    spaces: Floats,
    group: Ints,
    within: Floats,
) -> Floats:
    """(n,) shifts that keep the letters of each pair a gap and the spaces between them apart."""
    if not pairs:
        return within
    first, second = np.array(pairs).T
    wanted = gap + np.array([spaces[a + 1 : b + 1].sum() for a, b in pairs])
    reach = contacts.between(first, second, wanted) + within[first] - within[second]
    at = np.full(int(group[-1]) + 1, -np.inf)
    at[0] = 0.0
    for a, b, by in sorted(zip(group[first].tolist(), group[second].tolist(), reach.tolist(), strict=True)):
        at[b] = max(at[b], at[a] + by)
    return np.asarray(at[group] + within)


def _within(group: Ints, steps: Floats) -> Floats:
    """(n,) each letter's shift from the first of its group, `steps` adding up inside a group."""
    within = np.zeros(len(group))
    for i in range(1, len(group)):
        if group[i] == group[i - 1]:
            within[i] = within[i - 1] + steps[i]
    return within


def root(miss: Callable[[float], float], first: float, slope: float, least: float = -np.inf) -> float:
    """Where a nearly linear, rising function is zero, within 1e-4; `slope` is a guess at its slope.

    Secant steps get there in a few rounds; where the function has kinks they may not, and the place is
    bracketed and closed in on. Nowhere below `least` is it asked; if it is above zero even there, it is for
    the function to say so.

    Raises:
        GeometryError: where it is nowhere nearer to zero than `_SETTLED`: it jumps past it.
    """
    at, last = max(first, least), None
    for _ in range(14):
        value = miss(at)
        if abs(value) < 1e-4:
            return at
        found = (value - last[1]) / (at - last[0]) if last and last[0] != at else slope
        last = (at, value)
        at = max(at - value / (found if found > 0.1 * slope else slope), least)
    step = max(abs(value / slope), 1e-3)
    low = high = at
    while miss(low) > 0.0:
        low, step = max(low - step, least), 2.0 * step
    while miss(high) < 0.0:
        high, step = high + step, 2.0 * step
    at = float(brentq(miss, low, high, xtol=1e-9)) if low < high else low
    if abs(miss(at)) > _SETTLED:
        raise GeometryError(
            "This row cannot be set to exactly that width: its letters jump past each other there. "
            "Change the width or the gap a little."
        )
    return at


def _boxes(letters: Sequence[Letter]) -> Floats:
    return np.array([letter.outline.box for letter in letters])


def _spread(letters: Sequence[Letter], shifts: Floats) -> float:
    boxes = _boxes(letters)
    return float((boxes[:, 2] + shifts).max() - (boxes[:, 0] + shifts).min())
