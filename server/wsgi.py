"""The application as gunicorn serves it."""

import os
from importlib import import_module
from threading import Thread

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.settings")
application = get_wsgi_application()

# Slow to import (seconds), needed by the first reading of normality: be ready before it is asked for.
Thread(target=import_module, args=("statsmodels.stats.diagnostic",), daemon=True).start()
