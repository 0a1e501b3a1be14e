"""Architectonic from Python: open or create a family, edit it, evaluate it, read results as plain data.

`import architectonic` costs nothing; what is asked for is imported then. See docs/scripting.md.
"""

from __future__ import annotations

import os
from typing import Any

for _name in ("OPENBLAS_NUM_THREADS", "OMP_NUM_THREADS", "MKL_NUM_THREADS"):
    # Two BLAS pools on few cores make small solves a thousand times slower; numpy reads this at its first import.
    os.environ.setdefault(_name, "1")

_FROM_API = {
    "open": "open_family",
    "new": "new",
    "OpenFamily": "OpenFamily",
    "UserFault": "UserFault",
    "EnvironmentFault": "EnvironmentFault",
}


def __getattr__(name: str) -> Any:
    if name not in _FROM_API:
        raise AttributeError(f"module 'architectonic' has no attribute {name!r}")
    from architectonic import api

    return getattr(api, _FROM_API[name])
