"""Settings of the tests: those of the server, with what would only cost time made cheap."""

import os

from server.settings import *  # noqa: F403

# Each test makes persons; a password that is slow to guess is tested where it matters, with the server's own hasher.
PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
PREVIEW_SECONDS = 60.0  # however busy the machine is; the tests of what takes longer say so
if os.environ.get("HERON_LATE"):
    MIDDLEWARE.insert(0, "server.server_tests.late.Late")  # noqa: F405
