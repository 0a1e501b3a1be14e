"""How the C library hands memory back to the machine.

Results are arrays that are made in one thread and dropped in another. By default glibc gives every thread a heap of its
own and stops mapping large blocks one by one once some were freed, so that what is dropped stays with the process: 120
edits of the demo left 634 MB where 425 are in use.
"""

from __future__ import annotations

import contextlib
import ctypes
import gc

_MMAP_THRESHOLD, _ARENA_MAX = -3, -8
"""Numbers of the parameters in malloc.h of glibc."""


COLLECTED = (100_000, 20, 50)
"""After how many new objects circles of them are looked for, and how seldom among older ones: with a large family a look
through all of it stops the window for half a second, and there are hardly any circles."""


def give_back() -> None:
    """Look for circles of objects seldom. Map blocks of 128 kB and more one by one, and share two heaps; where the C library is another, nothing is done."""
    gc.set_threshold(*COLLECTED)
    with contextlib.suppress(OSError, AttributeError):
        library = ctypes.CDLL(None)
        library.mallopt(_MMAP_THRESHOLD, 128 * 1024)
        library.mallopt(_ARENA_MAX, 2)
