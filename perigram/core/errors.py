"""Errors the core raises for input it cannot use, each with a sentence a designer understands."""

NOTHING_TO_CUT = "There is nothing to cut yet: give a ply a result to cut."


class PerigramError(ValueError):
    """Something given to the core is unusable; `str(error)` says what and what would work."""


class GeometryError(PerigramError):
    """A path or a measure that no region can be made from."""


class PictureError(PerigramError):
    """A picture file that cannot be read as cuttable shapes."""


class FontError(PerigramError):
    """A font that is missing or cannot be read."""
