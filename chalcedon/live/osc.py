"""Inputs and named events from and to other programs, by Open Sound Control over UDP.

`/input/tide 0.4` sets an input; a point has two numbers. `/event/lit` has the named event happen, with one value as
`event.value`, or with names and values by turns: `/event/lit side "left" level 0.5`. What the scene emits goes out in
the same form. (Wright, The Open Sound Control 1.0 Specification, 2002.)
"""

from __future__ import annotations

import math
import socket
from collections.abc import Callable, Sequence
from typing import Any

from pythonosc.osc_message import OscMessage
from pythonosc.osc_packet import OscPacket, ParseError
from pythonosc.udp_client import SimpleUDPClient

from chalcedon.live.events import Event
from chalcedon.live.live import Live
from chalcedon.problems import ChalcedonError, ValueProblem, shorten, shorten_name

LOOPBACK = "127.0.0.1"
MOST = 1000
"""Packets that are taken between two steps; more wait."""
_LARGEST = 65_535


class OscDoor:
    """A port that a run listens at. Nothing is heard from other machines unless an address of this one is named."""

    def __init__(self, port: int, address: str = LOOPBACK, complain: Callable[[str], object] = print) -> None:
        """`port` 0 takes a free one; `complain` is told of every message that doesn't fit. Raises ChalcedonError when
        the port can't be had."""
        self._complain = complain
        self._socket = socket.socket(socket.AF_INET6 if ":" in address else socket.AF_INET, socket.SOCK_DGRAM)
        try:
            self._socket.bind((address, port))
        except (OSError, OverflowError) as error:
            self._socket.close()
            why = getattr(error, "strerror", None) or error
            raise ChalcedonError(f"the port can't be listened at: {why}.", f"{address}:{port}") from None
        self._socket.setblocking(False)
        self.port: int = self._socket.getsockname()[1]

    def pour(self, live: Live) -> None:
        """Gives the run what has arrived, for its next step."""
        for _ in range(MOST):
            try:
                packet, _sender = self._socket.recvfrom(_LARGEST)
            except OSError:  # there is nothing, or a sender has gone
                return
            try:
                for timed in OscPacket(packet).messages:
                    self._take(live, timed.message)
            except ParseError:
                self._complain("a packet came that is no message of Open Sound Control.")
            except ValueProblem as problem:
                self._complain(str(problem))

    def _take(self, live: Live, message: OscMessage) -> None:
        _, what, name = (*str(message.address).split("/", 2), "", "")[:3]
        values = list(message.params)
        try:
            if what == "input" and name:
                live.set_input(name, _one(values, live.inputs[name]))
            elif what == "event" and name:
                live.happen(name, _named(values))
            else:
                raise ValueProblem(
                    "it is neither of an input nor of an event.", hint="Send /input/NAME or /event/NAME."
                )
        except ValueProblem as problem:
            raise ValueProblem(problem.message, shorten_name(str(message.address)), problem.hint) from None

    def close(self) -> None:
        """Gives the port back."""
        self._socket.close()


def _one(values: Sequence[Any], now: Any) -> Any:
    """The value for an input that has another now: switches take 0 and 1 too."""
    if isinstance(now, tuple):
        return tuple(values)
    if len(values) != 1:
        raise ValueProblem(f"{len(values)} values came.", hint="An input takes one, a point two numbers.")
    if isinstance(now, bool) and values[0] in (0, 1):
        return bool(values[0])
    return values[0]


def _named(values: Sequence[Any]) -> dict[str, Any]:
    """The values of an event by name."""
    if len(values) == 1:
        return {"value": _plain(values[0])}
    names = values[::2]
    if len(values) % 2 or not all(isinstance(n, str) and n.isidentifier() for n in names):
        raise ValueProblem(
            "its values have no names.", hint='Send one value, or names and values by turns: "level" 0.5.'
        )
    return {n: _plain(v) for n, v in zip(names, values[1::2], strict=True)}


def _plain(value: Any) -> Any:
    if not isinstance(value, bool | int | float | str) or (isinstance(value, float) and not math.isfinite(value)):
        raise ValueProblem(f"{shorten(value)} is no value of an event.", hint="Numbers, texts, true and false are.")
    return value


class OscTeller:
    """Sends what a scene emits to another program."""

    def __init__(self, port: int, address: str = LOOPBACK) -> None:
        """Raises ChalcedonError for a machine that can't be found."""
        try:
            self._client = SimpleUDPClient(address, port)
        except OSError as error:
            raise ChalcedonError(f"that machine can't be found: {error.strerror}.", f"{address}:{port}") from None

    def follow(self, live: Live) -> Callable[[], None]:
        """Sends every named event of a run from now on. Gives what ends that."""
        return live.on_emitted(self.tell)

    def tell(self, event: Event) -> None:
        """Sends a named event. A value that the protocol has no form for goes as text."""
        values = list((event.values or {}).items())
        parts = [part for name, value in values for part in (name, _plain_or_text(value))]
        self._client.send_message(f"/event/{event.name}", parts[1:] if [n for n, _ in values] == ["value"] else parts)


def _plain_or_text(value: Any) -> bool | int | float | str:
    return value if isinstance(value, bool | int | float | str) else str(value)
