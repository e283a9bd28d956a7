"""Timing: medians of interleaved runs."""

import gc
import statistics
import time
from typing import NamedTuple


class Row(NamedTuple):
    what: str
    ours: str
    reference: str
    ratio: str
    target: str


def timed(act):
    """Seconds that a call takes."""
    start = time.perf_counter()
    act()
    return time.perf_counter() - start


def interleaved(*acts, runs=9):
    """The median seconds of each, run in turn so that a change of the machine's speed falls on all alike."""
    gc.collect()
    times = [[] for _ in acts]
    for _ in range(runs):
        for row, act in zip(times, acts, strict=True):
            row.append(timed(act))
    return [statistics.median(row) for row in times]


def each(act, arguments):
    """Median and 95th percentile of single calls, in seconds."""
    times = sorted(timed(lambda a=a: act(*a)) for a in arguments)
    return times[len(times) // 2], times[int(len(times) * 0.95)]


def show(seconds):
    return f"{seconds * 1e6:.0f} µs" if seconds < 1e-3 else f"{seconds * 1e3:.1f} ms"
