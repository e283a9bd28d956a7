"""Python's garbage collector, kept out of the way while many small objects are made that all stay."""

from __future__ import annotations

import gc
from collections.abc import Iterator
from contextlib import contextmanager

MANY = 20_000
"""Objects made while the collector was paused from which on they are put among the old ones at once."""
SHARE, LEAST = 0.5, 1_500_000
"""A collection of everything is due when so large a share of the objects, and so many, came since the last one."""


class _Count:
    """How many objects there were after the last collection of everything, and how many were put among the old ones
    since. Python counts only those that grow old by themselves, so it would never collect these."""

    known = 0
    added = 0


@contextmanager
def collector_paused() -> Iterator[None]:
    """Inside, no collection is started; reference counting goes on. Nests.

    When many objects were made they are put among the old ones at once. Otherwise the very next allocation would start
    a collection of all of them, which finds nothing and takes as long as the making did.
    """
    enabled = gc.isenabled()
    gc.disable()
    before = gc.get_count()[0]
    try:
        yield
    finally:
        if enabled:
            made = gc.get_count()[0] - before
            if made > MANY and gc.get_freeze_count() == 0:  # else the program has frozen objects of its own
                _grow_old(made)
            gc.enable()


def _grow_old(made: int) -> None:
    _Count.added += made
    if _Count.added > max(LEAST, SHARE * _Count.known):
        gc.collect()
        _Count.known, _Count.added = len(gc.get_objects()), 0
    gc.freeze()
    gc.unfreeze()
