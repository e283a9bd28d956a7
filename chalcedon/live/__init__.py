"""A scene running without a screen: clock, pointer and keys, responses, recordings."""

from chalcedon.live.events import Event
from chalcedon.live.live import Live

__all__ = ["Event", "Live"]
