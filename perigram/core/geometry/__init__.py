"""Regions: closed paths of lines and cubic Bezier curves, and what is done with them.

Unit: millimetre, y down. `Region` is the one type; functions take regions and return new ones.
"""

from perigram.core.geometry.overlay import cut_away, divide, exclude, overlap, weld
from perigram.core.geometry.region import Region
from perigram.core.geometry.regularise import regularise

__all__ = ["Region", "cut_away", "divide", "exclude", "overlap", "regularise", "weld"]
