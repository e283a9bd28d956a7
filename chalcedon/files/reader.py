"""Reading a scene file. What can be opened is opened; what can't is listed with line and property."""

from __future__ import annotations

import os
import stat
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import orjson

from chalcedon import exact
from chalcedon.collector import collector_paused
from chalcedon.files import migrate
from chalcedon.files.kinds import refuse_another
from chalcedon.files.places import Place, Places, is_as_written, may_repeat
from chalcedon.problems import ChalcedonError, Problem, ValueProblem, nearest, shorten, shorten_name
from chalcedon.scene import KINDS, Group, Scene, Shape
from chalcedon.scene.declare import Declared
from chalcedon.scene.ids import LONGEST, check_id
from chalcedon.scene.scene import MAX_DEPTH
from chalcedon.scene.shapes import OFFERED, Unknown
from chalcedon.scene.tidy import article

LARGEST = 512 * 1024 * 1024
"""Bytes; a larger file is refused rather than swallowing the memory."""


@dataclass(slots=True)
class Opened:
    """A scene read from a file, and what was wrong or unknown in it."""

    scene: Scene
    problems: list[Problem] = field(default_factory=list)
    notices: list[str] = field(default_factory=list)


def open_scene(path: str | os.PathLike[str]) -> Opened:
    """Reads a scene file. Raises ChalcedonError, with a sentence, when it can't be opened at all."""
    return read_scene_of(path, read_file(path))


def read_scene_of(path: str | os.PathLike[str], data: bytes) -> Opened:
    """The scene in the bytes of a file; its links lead on from there."""
    opened = read_scene(data, os.fspath(path))
    opened.scene.folder = folder = os.path.dirname(os.path.abspath(path))
    if os.path.isdir(os.path.join(folder, "fonts")):
        from chalcedon.text.fonts import look_beside  # NumPy and shaping, which start-up does without

        look_beside(folder)
    return opened


def read_file(path: str | os.PathLike[str]) -> bytes:
    """The bytes of a scene file. Raises ChalcedonError when they can't be had."""
    name = os.fspath(path)
    try:
        about = os.stat(name)
        if not stat.S_ISREG(about.st_mode) and not stat.S_ISDIR(about.st_mode):
            raise ChalcedonError("this is a device or a pipe, not a file.", name)
        size = about.st_size
        if size > LARGEST:
            raise ChalcedonError(
                f"the file has {size / 2**20:.4g} MB; scenes up to {LARGEST // 2**20} MB are opened.", name
            )
        return Path(name).read_bytes()
    except FileNotFoundError:
        raise ChalcedonError("there is no such file.", name) from None
    except IsADirectoryError:
        raise ChalcedonError("this is a folder, not a scene file.", name) from None
    except PermissionError:
        raise ChalcedonError("the file may not be read.", name, "Its permissions don't allow it.") from None
    except (OSError, ValueError) as error:
        reason = getattr(error, "strerror", None) or error
        raise ChalcedonError(f"the file can't be read: {reason}.", name) from None


def read_scene(data: bytes, name: str = "scene") -> Opened:
    """The scene that UTF-8 JSON describes. `name` is used in messages."""
    with collector_paused():
        raw, clean = _decode(data, name)
        return _read(raw, data, name, clean)


def _read(raw: Any, data: bytes, name: str, clean: bool) -> Opened:
    if not isinstance(raw, dict):
        raise ChalcedonError(
            "this is JSON, but not a scene.", f"{name}, line 1", 'A scene starts with {"chalcedon": 1.'
        )
    if "chalcedon" not in raw:
        raise ChalcedonError(
            "this JSON is not a scene: it has no chalcedon version.",
            f"{name}, line 1",
            'A scene starts with {"chalcedon": 1.',
        )
    opened = Opened(Scene())
    _Reader(opened, b"formula" in data or b"\\u" in data, spend=clean).read(raw)
    if opened.problems or (not clean and may_repeat(data, raw)):
        places = Places(data, [p.path for p in opened.problems])
        for problem in opened.problems:
            line = places.line(problem.path)
            problem.where = f"{name}, line {line}" + (f", {problem.where}" if problem.where else "")
        opened.problems += _repeated(places, raw, name)
    return opened


def _repeated(places: Places, raw: Any, name: str) -> list[Problem]:
    """A problem for every key that stands twice in one object."""
    out = []
    for place, line in places.repeated:
        owner, spot = "scene", raw
        for step in (*place[:-1], None):
            if isinstance(spot, dict) and isinstance(called := spot.get("id", spot.get("kind")), str):
                owner = called
            try:
                spot = spot[step]
            except (LookupError, TypeError):  # it stands in a value that a later one took the place of
                break
        out.append(
            Problem(
                "this key stands twice; only the last counts, and the first is lost when the scene is saved.",
                f"{name}, line {line}, {shorten_name(owner)}.{shorten_name(str(place[-1]))}",
                path=place,
            )
        )
    return out


def _decode(data: bytes, name: str) -> tuple[Any, bool]:
    """What the text says, and whether it surely says nothing else."""
    try:
        raw = orjson.loads(data)
        clean = is_as_written(data, raw)
        return (_exactly(data, name) if not clean and exact.beyond(data) else raw), clean
    except orjson.JSONDecodeError as error:
        refuse_another(data, name, "a scene file")
        message = str(error).split(": line")[0]
        if "infinity" in message:
            return _exactly(data, name), False
        if "depth" in message:
            raise ChalcedonError("the file is nested too deeply to be read.", name) from None
        if b"NaN" in data or b"Infinity" in data:
            message += " (NaN and Infinity are not JSON numbers)"
        if not data.strip():
            raise ChalcedonError("the file is empty.", name) from None
        where = f"{name}, line {error.lineno}, column {error.colno}"
        try:
            data.decode()
        except UnicodeDecodeError as bad:
            line = data.count(b"\n", 0, bad.start) + 1
            raise ChalcedonError("this is not UTF-8 text.", f"{name}, line {line}") from None
        hint = ""
        if error.pos >= len(error.doc.rstrip()) or "end of" in message:
            hint = "The file seems to be cut off."
        if os.path.exists(name + "~"):
            hint += f" The version before it is in {name}~."
        raise ChalcedonError(f"this is not valid JSON: {message}.", where, hint.strip()) from None


def _exactly(data: bytes, name: str) -> Any:
    """The value with numbers that no double holds, kept as they are."""
    try:
        raw = exact.decode(data)
        exact.require_json(raw)
        return raw
    except RecursionError:
        raise ChalcedonError("the file is nested too deeply to be read.", name) from None
    except (ValueError, ValueProblem) as error:
        raise ChalcedonError(f"this is not valid JSON: {error}", name) from None


_PropertyReader = tuple[Callable[[Any], Any], Any, dict[str, Any]]
"""What reads a property, its default, and what texts were read as: each once in a file."""


class _Reader:
    def __init__(self, opened: Opened, formulas: bool, spend: bool) -> None:
        self.opened = opened
        self.readers: dict[type[Declared], dict[str, _PropertyReader]] = {}
        self.spend = spend  # whether what was read may go at once: a large file is in memory once, not twice
        self.formulas = formulas  # whether the file can hold any
        self.scene = opened.scene
        self.shapes: list[Any] = []
        self.stated: set[str] | None = None
        """Ids that stand in the file, once they are asked for: none of them is given to a shape without one."""

    def problem(self, place: Place, error: ChalcedonError) -> None:
        self.opened.problems.append(Problem(error.message, error.where, error.hint, place))

    def read(self, raw: dict[str, Any]) -> None:
        version = raw.get("chalcedon")
        if type(version) is not int or version < 1:
            self.problem(("chalcedon",), ValueProblem(f"{shorten(version)} is not a version.", "scene.chalcedon"))
            self.scene.extra["chalcedon"] = version
        elif version < migrate.VERSION:
            migrate.to_now(raw, version)
        elif version > migrate.VERSION:
            self.opened.notices.append(
                f"This scene was written by a newer Chalcedon (file version {version}, this one knows "
                f"{migrate.VERSION}). "
                "What is not known here is kept and written back."
            )
            self.scene.extra["chalcedon"] = version
        own = {k: v for k, v in raw.items() if k not in ("chalcedon", "shapes")}
        self._values(self.scene, own, (), "scene")
        shapes = raw.get("shapes", [])
        if not isinstance(shapes, list):
            self.problem(("shapes",), ValueProblem(f"{shorten(shapes)} is not a list of shapes.", "scene.shapes"))
            self.scene.extra["shapes"] = shapes
            return
        self.shapes = shapes
        for i, item in enumerate(shapes):
            self.scene.top.receive(self._shape(item, ("shapes", i), 1))
            if self.spend:
                shapes[i] = None

    def _shape(self, raw: Any, place: Place, depth: int) -> Shape:
        if type(raw) is not dict:
            self.problem(
                place, ValueProblem(f"{shorten(raw)} is not a shape.", hint='A shape is {"kind": ..., "id": ...}.')
            )
            return self._unknown(raw, "shape", place)
        kind = raw.get("kind")
        cls = KINDS.get(kind) if isinstance(kind, str) else None
        if cls is None or cls is Unknown:
            word = shorten(kind) if "kind" in raw else "a shape without a kind"
            self.problem(
                (*place, "kind"),
                ValueProblem(
                    f"{word} is not known here; it is kept but not painted.",
                    str(raw.get("id", "")),
                    nearest(kind, OFFERED) if isinstance(kind, str) else "",
                ),
            )
            return self._unknown(raw, kind if isinstance(kind, str) else "shape", place)
        shape = cls.bare(self._id(raw, kind or "shape", place))
        self._values(shape, raw, place, shape._id)
        self.scene.enrol((shape,))
        if isinstance(shape, Group):
            self._children(shape, raw, place, depth)
        elif "children" in raw:
            self.problem(
                (*place, "children"),
                ValueProblem(
                    f"{article(cls.kind)} holds no shapes; what stands there is kept but not shown.", shape._id
                ),
            )
            shape.extra["children"] = raw["children"]
        return shape

    def _children(self, group: Group, raw: dict[str, Any], place: Place, depth: int) -> None:
        children = raw.get("children", [])
        if not isinstance(children, list):
            self.problem(
                (*place, "children"),
                ValueProblem(f"{shorten(children)} is not a list of shapes.", f"{group._id}.children"),
            )
            group.extra["children"] = children
            return
        if depth >= MAX_DEPTH and children:
            self.problem(
                (*place, "children"),
                ValueProblem(f"groups nest deeper than {MAX_DEPTH}; what is inside is kept but not shown.", group._id),
            )
            group.extra["children"] = children
            return
        for i, item in enumerate(children):
            group.receive(self._shape(item, (*place, "children", i), depth + 1))
            if self.spend:
                children[i] = None

    def _unknown(self, raw: Any, word: str, place: Place) -> Unknown:
        """A shape that can't be read: a stand-in without paint, holding what was written."""
        id = self._id(raw, "unknown", place) if isinstance(raw, dict) else self._free("unknown")
        shape = Unknown.bare(id)
        shape.written_kind = word
        # the id is the shape's own: it may be changed here
        shape.extra["raw"] = {k: v for k, v in raw.items() if k != "id"} if isinstance(raw, dict) else raw
        self.scene.enrol((shape,))
        return shape

    def _free(self, wanted: str) -> str:
        """An id that neither a shape read before has nor one that comes later in the file."""
        if self.stated is None:
            self.stated = _stated_ids(self.shapes)
        return self.scene.free_id(wanted, self.stated)

    def _id(self, raw: dict[str, Any], kind: str, place: Place) -> str:
        id = raw.get("id")
        if type(id) is str and self.scene.get(id) is None and id.isidentifier() and len(id) <= LONGEST:
            try:
                return check_id(id)
            except ValueProblem as error:  # a word that formulas use
                return self._renamed(error, self._free(f"{id}_1"), place)
        if "id" not in raw:
            return self._free(kind)
        if isinstance(id, str) and id in self.scene:
            new = self._free(id)
            return self._renamed(ValueProblem(f"the id {id} stands twice.", id), new, place)
        try:
            check_id(id)
        except ValueProblem as error:
            if isinstance(id, str) and id.isidentifier():
                return self._renamed(error, self._free(id[: LONGEST - 12]), place)
            return self._renamed(error, self._free(kind), place)
        raise AssertionError("an id that is fine was not taken")

    def _renamed(self, error: ValueProblem, new: str, place: Place) -> str:
        error.message += f" This shape is {new} now."
        self.problem((*place, "id"), error)
        return new

    def _values(self, owner: Declared, raw: dict[str, Any], place: Place, name: str) -> None:
        readers = self.readers.get(type(owner)) or self._readers(type(owner))
        values: dict[str, Any] = {}
        formulas: set[str] | None = None
        any_formulas = self.formulas
        for key, value in raw.items():
            known = readers.get(key)
            if known is None:
                if key not in _STRUCTURE:
                    owner.extra[key] = value
                continue
            read, default, texts = known
            try:
                if type(value) is str:  # colours and words come again and again
                    stored = texts.get(value)
                    if stored is None:
                        stored = texts[value] = read(value)
                else:
                    stored = read(value)
            except ChalcedonError as error:
                error.where = f"{name}.{key}" + (f", {error.where}" if error.where else "")
                self.problem((*place, key), error)
                owner.extra[key] = value  # written back as it was until the property is set anew
                continue
            except RecursionError:
                self.problem((*place, key), ValueProblem("nested too deeply.", f"{name}.{key}"))
                owner.extra[key] = value
                continue
            if stored != default:
                values[key] = stored
                if any_formulas and owner.properties[key].kind.formulas(stored):
                    formulas = formulas or set()
                    formulas.add(key)
        owner.take(values, formulas)

    def _readers(self, cls: type[Declared]) -> dict[str, _PropertyReader]:
        self.readers[cls] = {n: (p.kind.read, p.default, {}) for n, p in cls.properties.items()}
        return self.readers[cls]


def _stated_ids(shapes: list[Any]) -> set[str]:
    """Every text that stands as an id of a shape, also in what can't be read."""
    out: set[str] = set()
    stack = [shapes]
    while stack:
        for item in stack.pop():
            if type(item) is dict:
                id = item.get("id")
                if type(id) is str:
                    out.add(id)
                inner = item.get("children")
                if type(inner) is list:
                    stack.append(inner)
    return out


_STRUCTURE = frozenset(("kind", "id", "children"))
