"""Art and fonts that nobody here drew, random designs of them, and a judge of the files written.

Nothing in this folder uses the core's geometry: files are read, flattened and judged anew.
"""
