"""HP-GL: pen up and pen down moves in plotter units of 0.025 mm.

Source: Hewlett-Packard, HP 7475A Graphics Plotter, Interfacing and Programming Manual (1983): instructions
IN, SP, PU, PD and the plotter unit; as remembered, not looked up.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from perigram.core.geometry.bezier import Floats

UNITS_PER_MM = 40.0
#: How far in mm chords may be from curves: half a plotter unit.
TOLERANCE = 0.0125
#: Coordinates to one instruction, so that lines stay within a cutter's buffer.
_EACH = 100


def write_hpgl(ways: Sequence[Floats], length: float) -> bytes:
    """Polylines (k, 2) cut in the order given, y down in mm on a sheet of the given length.

    HP-GL's y runs up, so the sheet's foot is at 0.
    """
    lines = ["IN;SP1;"]
    for way in ways:
        steps = np.round((way * [1.0, -1.0] + [0.0, length]) * UNITS_PER_MM).astype(int)
        moved = np.append(True, (np.diff(steps, axis=0) != 0).any(axis=1))
        steps = steps[moved]
        if len(steps) < 2:
            continue
        lines.append(f"PU{steps[0, 0]},{steps[0, 1]};")
        lines += [
            f"PD{','.join(map(str, steps[first : first + _EACH].ravel().tolist()))};"
            for first in range(1, len(steps), _EACH)
        ]
    lines.append("PU0,0;SP0;")
    return ("\n".join(lines) + "\n").encode("ascii")
