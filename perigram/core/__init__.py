"""The computation. Knows nothing of Django, the web, files, the clock or any global state."""
