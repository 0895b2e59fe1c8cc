"""Live lettering: fonts, shaping, spacing by clear gap, and rows."""
