"""Yellow Sill. One thread for linear algebra: the matrices are small, and more threads only get into each other's way."""

import os

for _name in ("OPENBLAS_NUM_THREADS", "OMP_NUM_THREADS", "MKL_NUM_THREADS"):
    os.environ.setdefault(_name, "1")
