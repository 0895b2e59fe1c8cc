"""What a line makes: a region that knows its parts."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import cache

import numpy as np

from perigram.core.geometry.bezier import Floats
from perigram.core.geometry.region import Region

#: Where a part is found again whatever else changes: a letter by its row and its first character's place in
#: that row as typed, a shape of a picture by its number; all from 0.
Path = tuple[int, ...]


@dataclass(frozen=True, eq=False)
class Part:
    """One thing of a result that can be told from the others: a letter, a shape of a picture.

    Attributes:
        path: names it within its result; what begins alike belongs together, as the letters of a row do.
        name: what it is called: the characters a letter stands for, a shape's name in its picture.
        region: where it lies, in mm. Neighbours may overlap: they are not welded yet.
        frame: (2, 3), the map from its own frame to where it lies. A letter stands with its middle on its
            baseline at the origin of its frame, upright; its unit is the mm it was set in.
    """

    path: Path
    name: str
    region: Region
    frame: Floats


@dataclass(frozen=True, eq=False)
class Made:
    """A result of a line.

    Attributes:
        region: all of it, welded.
        parts: what it consists of, worked out when asked for; none where it cannot be told apart.
        levels: heights (y in mm) that other things may be lined up with: of each row its baseline and the
            line of its capitals.
    """

    region: Region
    parts: Callable[[], Sequence[Part]] = tuple
    levels: Sequence[float] = ()

    def moved(self, matrix: Floats) -> Made:
        """All of it under an affine map (2, 3); levels only hold while it leaves upright what is upright."""
        upright = matrix[0, 1] == 0.0 and matrix[1, 0] == 0.0 and matrix[1, 1] > 0.0
        levels = [float(matrix[1, 1] * y + matrix[1, 2]) for y in self.levels] if upright else []

        def put(region: Region) -> Region:
            # Made smaller, a loop of one or two curves may come to nothing.
            return region.transformed(matrix).without_flat_loops()

        def parts() -> list[Part]:
            square = np.vstack([matrix, [0.0, 0.0, 1.0]])
            return [
                replace(
                    part,
                    region=put(part.region),
                    frame=(square @ np.vstack([part.frame, [0.0, 0.0, 1.0]]))[:2],
                )
                for part in self.parts()
            ]

        return Made(put(self.region), parts, levels)

    def roughly(self) -> Made:
        """The same by chords, for what is only looked at."""

        @cache
        def parts() -> list[Part]:
            return [replace(part, region=part.region.roughly()) for part in self.parts()]

        return replace(self, region=self.region.roughly(), parts=parts)

    def reduced(self, region: Region, remains: Callable[[Region], Region]) -> Made:
        """What is left of it: `region` of all of it, `remains` of each part; parts nothing is left of go."""

        def parts() -> list[Part]:
            left = [replace(part, region=remains(part.region)) for part in self.parts()]
            return [part for part in left if not part.region.is_empty]

        return Made(region, parts, self.levels)
