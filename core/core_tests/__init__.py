"""The core's tests. Properties are never timed: a busy machine is no fault of the code. They are tried on the same
examples each time, so that what passed once passes again; HERON_EXPLORE=1 tries them on others."""

import os

from hypothesis import HealthCheck, settings

settings.register_profile(
    "untimed",
    deadline=None,
    suppress_health_check=[HealthCheck.too_slow],
    derandomize=not os.environ.get("HERON_EXPLORE"),
)
settings.load_profile("untimed")
