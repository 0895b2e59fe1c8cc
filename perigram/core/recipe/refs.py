"""References to results: "line id/result name", written and read here alone.

A result named after another one has that one's reference for its name: "l5/l1/letters".
"""

from __future__ import annotations


def ref_to(line: str, result: str) -> str:
    return f"{line}/{result}"


def line_of(ref: str) -> str:
    """The id of the line that makes a result; empty for the empty reference."""
    return ref.split("/")[0]


def is_lettering(ref: str) -> bool:
    """Whether a result is words, or stands for words: what is left of them, the same bent."""
    return ref.rpartition("/")[2] == "letters"


def result_of(ref: str) -> str:
    """What its line calls a result."""
    return ref.partition("/")[2]
