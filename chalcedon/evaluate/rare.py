"""What few nodes have, kept apart from them, so that it costs the others nothing."""

from __future__ import annotations

from functools import lru_cache
from operator import attrgetter
from typing import TYPE_CHECKING, Any, Generic, NamedTuple, TypeVar

if TYPE_CHECKING:
    from chalcedon.evaluate.node import Node
    from chalcedon.scene.paints import Look, Picture, Shadow


class State(NamedTuple):
    """Whether a node is visible, locked, and where it is hit."""

    visible: bool = True
    locked: bool = False
    pointer: str = "painted"


USUAL = State()
"""Nothing to hand down to what is inside."""


@lru_cache(maxsize=64)
def state_of(visible: bool, locked: bool, pointer: str) -> State:
    """One state for all nodes that are alike; `USUAL` itself for the usual one."""
    state = State(visible, locked, pointer)
    return USUAL if state == USUAL else state


class Rare:
    """Effects and ties. One of these is shared by every node that has none; whoever sets one gets a Rare of its own."""

    __slots__ = ("blend", "clip", "copied", "cuts", "host", "letters", "picture", "shadow", "tiles")

    def __init__(self) -> None:
        self.blend = "normal"
        self.clip: Node | None = None
        """Of a group: the shape on whose fill it is seen."""
        self.copied = False
        """Of a group: whether its children are its copies."""
        self.cuts = False
        self.host: Node | None = None
        """Of a text: the shape in whose middle it sits."""
        self.letters: tuple[tuple[int, Look | None], ...] = ()
        """Of a text: which spans of its layout have a paint of their own, and that."""
        self.picture: Picture | None = None
        """Of an image: its own."""
        self.shadow: Shadow | None = None
        self.tiles: tuple[Node | None, Node | None] = (None, None)
        """What is repeated by the patterns of its fill and its stroke."""


NONE_RARE = Rare()


T = TypeVar("T")

if TYPE_CHECKING:

    class rare(Generic[T]):
        """A property of a node that stands in its `rare`: rare[str]("blend")."""

        def __init__(self, name: str) -> None: ...
        def __get__(self, node: Any, cls: Any) -> T: ...
        def __set__(self, node: Any, value: T) -> None: ...

else:

    class _Makers:
        """Properties that are read without any Python in between: nodes are asked for these at every shape."""

        def __getitem__(self, _kind):
            return _property

    def _property(name):
        def put(node, value):
            now = getattr(node.rare, name)
            if now is value or now == value:
                return
            if node.rare is NONE_RARE:
                node.rare = Rare()
            setattr(node.rare, name, value)

        return property(attrgetter(f"rare.{name}"), put)

    rare = _Makers()
