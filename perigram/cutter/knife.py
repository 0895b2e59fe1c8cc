"""A drag knife: its tip is pulled along behind its holder and stands still in the air."""

from __future__ import annotations

import math
from dataclasses import dataclass

Place = tuple[float, float]

#: The tip's way is kept in steps of this share of its offset, until it runs straight behind.
_STEP = 0.1
_STRAIGHT = 9.0


@dataclass
class Knife:
    """Where the holder and the tip are, in any one unit; the tip trails by `offset`."""

    offset: float = 0.0
    holder: Place = (0.0, 0.0)
    #: radians from the tip to the holder
    angle: float = 0.0

    @property
    def tip(self) -> Place:
        (x, y), a = self.holder, self.angle
        return x - self.offset * math.cos(a), y - self.offset * math.sin(a)

    def cut(self, to: Place) -> list[Place]:
        """The tip's way while the holder goes straight to a place.

        The angle between blade and way falls as tan(a/2) e^(-s/offset): the tractrix of a straight line.
        """
        (x, y), way = self.holder, math.dist(self.holder, to)
        if self.offset == 0.0 or way == 0.0:
            self.holder = to
            return [to]
        ahead = math.atan2(to[1] - y, to[0] - x)
        half = math.tan(math.remainder(self.angle - ahead, math.tau) / 2.0)
        reach = min(way, _STRAIGHT * self.offset) if abs(half) > 1e-4 else 0.0
        steps = [reach * k / n for n in [math.ceil(reach / (_STEP * self.offset))] for k in range(1, n + 1)]
        made = []
        for gone in [*steps, way]:
            self.holder = (x + gone * math.cos(ahead), y + gone * math.sin(ahead))
            self.angle = ahead + 2.0 * math.atan(half * math.exp(-gone / self.offset))
            made.append(self.tip)
        self.holder = to
        return made
