"""HP-GL as a machine reads it: instructions one by one out of a stream of bytes, and the pen they move.

Source: Hewlett-Packard, HP 7475A Graphics Plotter, Interfacing and Programming Manual (1983), as remembered.
Nothing is shared with what writes HP-GL.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, field

from perigram.cutter.knife import Knife

#: Plotter units a mm.
UNITS = 40.0
_INSTRUCTION = re.compile(rb'\s*([A-Za-z]{2})((?:"[^"]*"|[^;A-Za-z"])*);?')
_NUMBER = re.compile(rb"[+-]?\d+(?:\.\d*)?")


@dataclass
class Reader:
    """Splits a stream into instructions; what is not whole yet waits for more."""

    rest: bytes = b""

    def feed(self, data: bytes) -> list[tuple[str, list[float]]]:
        self.rest += data
        found = []
        while b";" in self.rest:
            whole, _, self.rest = self.rest.partition(b";")
            match = _INSTRUCTION.fullmatch(whole + b";")
            if match:
                numbers = [float(one) for one in _NUMBER.findall(match[2])]
                found.append((match[1].decode().upper(), numbers))
        return found


@dataclass
class Pen:
    """Where the holder is, and the lines its blade has drawn, in plotter units."""

    at: tuple[float, float] = (0.0, 0.0)
    down: bool = False
    lines: list[list[tuple[float, float]]] = field(default_factory=list)
    knife: Knife = field(default_factory=Knife)
    lifted: bool = True

    def path(self, name: str, numbers: list[float]) -> list[tuple[tuple[float, float], bool]]:
        """The places an instruction leads to, and whether the blade is down on the way there."""
        if name == "IN":
            self.at, self.down = (0.0, 0.0), False
            return []
        if name in ("PU", "PD"):
            self.down = name == "PD"
        elif name != "PA":
            return []
        return [(place, self.down) for place in zip(numbers[::2], numbers[1::2], strict=False)]

    def go(self, to: tuple[float, float], down: bool) -> None:
        if down:
            if self.lifted:
                self.lines.append([self.knife.tip])
            self.lines[-1] += self.knife.cut(to)
        self.at, self.lifted = to, not down
        self.knife.holder = to
