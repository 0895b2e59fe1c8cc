"""Sheets: how plies lie in the machine, and the order they are cut in."""
