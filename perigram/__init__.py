"""Perigram: words and pictures into cut-ready plies."""

__version__ = "0.1.0"
