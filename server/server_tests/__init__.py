"""The server's tests. Properties are tried as in the core's: the same examples each time, never timed."""

import core_tests  # noqa: F401  its profile of properties
