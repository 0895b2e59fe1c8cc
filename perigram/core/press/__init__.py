"""The press plan: what is pressed when, for how long and how hot."""
