"""In which order formulas are worked out: each after those that it depends on, and none that depend on themselves.

The graph has the formulas as vertices, and between them the boxes and worlds of nodes, which depend on formulas
too: `box` of a node on its own properties and, for a group, on the boxes in it; `size` on the same without `at`;
`world` on where it stands and on the world around it.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from typing import TYPE_CHECKING, Any

from chalcedon.evaluate.node import Node

if TYPE_CHECKING:
    from chalcedon.evaluate.formulas import Cell

Vertex = Any
"""A cell, or (what, node) of some geometry."""

_SHAPING = frozenset(("outline", "place"))


class Graph:
    """What depends on what, looked up as far as it is asked for."""

    def __init__(self, cell_of: Callable[[Node, str], Cell | None], cells_of: Callable[[Node], Sequence[Cell]]) -> None:
        self._cell_of, self._cells_of = cell_of, cells_of

    def before(self, vertex: Vertex) -> Iterable[Vertex]:
        """What a vertex depends on directly."""
        if not isinstance(vertex, tuple):
            for node, name in vertex.reads_cells:
                found = self._cell_of(node, name)
                if found is not None:
                    yield found
            yield from vertex.reads_geometry
            return
        what, node = vertex
        for cell in self._cells_of(node):
            if cell.affects in _SHAPING and not (what == "size" and cell.name == "at"):
                yield cell
        if node.group and (what != "world" or node.needs_box()):
            yield from (("box", child) for child in node.children)
        if what == "world" and node.parent is not None:
            yield "world", node.parent
        if node.host is not None and what != "size":
            yield "box", node.host
            yield "world", node.host


def order(cells: Iterable[Cell], graph: Graph) -> list[tuple[Cell, ...]]:
    """Gives every cell its level, 1 for those that depend on no other, and says which depend on themselves: each loop
    in the order in which one reads the next. (Tarjan, Depth-first search and linear graph algorithms, 1972.)"""
    index: dict[Any, int] = {}
    low: dict[Any, int] = {}
    level: dict[Any, int] = {}
    held: dict[Any, None] = {}
    loops: list[tuple[Cell, ...]] = []
    for root in cells:
        if _key(root) in index:
            continue
        stack = [(root, iter(tuple(graph.before(root))))]
        index[_key(root)] = low[_key(root)] = len(index)
        held[_key(root)] = None
        names = {_key(root): root}
        while stack:
            vertex, todo = stack[-1]
            key = _key(vertex)
            following = next(todo, None)
            if following is not None:
                other = _key(following)
                names[other] = following
                if other not in index:
                    index[other] = low[other] = len(index)
                    held[other] = None
                    stack.append((following, iter(tuple(graph.before(following)))))
                elif other in held:
                    low[key] = min(low[key], index[other])
                continue
            stack.pop()
            if stack:
                parent = _key(stack[-1][0])
                low[parent] = min(low[parent], low[key])
            if low[key] != index[key]:
                continue
            members = []
            while True:
                last = next(reversed(held))
                del held[last]
                members.append(names[last])
                if last == key:
                    break
            _settle(members, graph, level, loops)
    return loops


def _settle(members: list[Vertex], graph: Graph, level: dict[Any, int], loops: list[tuple[Cell, ...]]) -> None:
    inside = {_key(m) for m in members}
    found = [level.get(_key(v), 0) for m in members for v in graph.before(m) if _key(v) not in inside]
    base = max(found, default=0)
    around = any(_key(v) in inside for v in graph.before(members[0]))
    for member in members:
        if not isinstance(member, tuple):
            member.level = base + 1
            member.loop = ()
            level[_key(member)] = base + 1
        else:
            level[_key(member)] = base
    if around:
        way = _way(members, graph, inside)
        for member in members:
            if not isinstance(member, tuple):
                member.loop = way
        loops.append(way)


def _way(members: list[Vertex], graph: Graph, inside: set[Any]) -> tuple[Cell, ...]:
    """The cells of one way round a loop."""
    start = next(m for m in members if not isinstance(m, tuple))
    came: dict[Any, Vertex] = {}
    todo = [start]
    while todo:
        vertex = todo.pop(0)
        for other in graph.before(vertex):
            if _key(other) == _key(start):
                way = [vertex]
                while _key(way[-1]) != _key(start):
                    way.append(came[_key(way[-1])])
                return tuple(v for v in reversed(way) if not isinstance(v, tuple))
            if _key(other) in inside and _key(other) not in came:
                came[_key(other)] = vertex
                todo.append(other)
    return (start,)


def _key(vertex: Vertex) -> Any:
    return (vertex[0], id(vertex[1])) if isinstance(vertex, tuple) else id(vertex)
