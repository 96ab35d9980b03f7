"""Settings for ./dev: errors are shown where they happen, and the page comes from Vite."""

from server.settings import *  # noqa: F403
from server.settings import MIDDLEWARE as _SERVED

DEBUG = True
SECURE = SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = False
SECURE_HSTS_SECONDS = 0
MIDDLEWARE = [*_SERVED, "server.shell.SetsCookie"]
