"""The computation of Velvet Heron: numpy arrays in, typed results out, no interface."""
