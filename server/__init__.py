"""The application behind the API. Each reading is worked by one thread, so that many readers share the processors: a
library that spread one over all of them would have them wait for each other."""

import os

for _library in ("OPENBLAS_NUM_THREADS", "OMP_NUM_THREADS", "MKL_NUM_THREADS"):
    os.environ.setdefault(_library, "1")
