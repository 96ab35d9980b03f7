"""The application as a server calls it."""

import gc
import os
from importlib import import_module
from threading import Thread

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.settings")
application = get_wsgi_application()


def _be_ready() -> None:
    """Import what is slow to import (seconds) before the first reading of normality asks for it.

    What is loaded by then stays for good, so the collector need not look through it again.
    """
    import_module("statsmodels.stats.diagnostic")
    gc.collect()
    gc.freeze()


Thread(target=_be_ready, daemon=True).start()
