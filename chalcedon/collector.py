"""Python's garbage collector, kept out of the way while many small objects are made that all stay."""

from __future__ import annotations

import gc
from collections.abc import Iterator
from contextlib import contextmanager


@contextmanager
def collector_paused() -> Iterator[None]:
    """Inside, no collection is started; reference counting goes on. Nests.

    What was made is then put among the old objects at once. Otherwise the very next allocation would start a
    collection of all of it, which finds nothing and takes as long as the making did.
    """
    enabled = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if enabled:
            if gc.get_freeze_count() == 0:  # else the program has frozen objects of its own: leave them be
                gc.freeze()
                gc.unfreeze()
            gc.enable()
