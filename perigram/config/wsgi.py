"""The WSGI entry point."""

import gc
import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "perigram.config.settings")
application = get_wsgi_application()

# What is loaded by now stays: looking through it again for garbage takes over 100 ms at a time.
gc.collect()
gc.freeze()
