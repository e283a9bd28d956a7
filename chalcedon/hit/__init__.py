"""Which shapes are at a point, and why the others are not."""

from chalcedon.hit.index import HitIndex
from chalcedon.hit.probe import Finding, probe
from chalcedon.hit.tester import Hit, HitTester, hit_test

__all__ = ["Finding", "Hit", "HitIndex", "HitTester", "hit_test", "probe"]
