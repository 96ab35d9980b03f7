"""The computation of Velvet Heron: numpy arrays in, typed results out, no interface."""

__version__ = "0.1.0"
