"""Vellumcut: from body to flat panels, to cut and bevelled foam, to armour that fits."""

import os

# Threads of the matrix library spin while they wait: on the small matrices here they gain nothing, and beside any
# other busy process (a browser that draws, a helper) they cost ten times the work. Set before numpy is first loaded.
for _name in ("OMP_NUM_THREADS", "OPENBLAS_NUM_THREADS"):
    os.environ.setdefault(_name, "1")


__version__ = "0.1.0"
