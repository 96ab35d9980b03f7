"""The core's tests. Properties are never timed: a busy machine is no fault of the code."""

from hypothesis import HealthCheck, settings

settings.register_profile("untimed", deadline=None, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("untimed")
