"""Properties declared once: the file, its schema, the ledger, the text form and the reference read this."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from inspect import Parameter, Signature
from types import MappingProxyType
from typing import Any, ClassVar, Generic, TypeVar, overload

from chalcedon.formula import Formula
from chalcedon.formula.value import UNKNOWN
from chalcedon.problems import ValueProblem, nearest
from chalcedon.scene.foreign import as_plain
from chalcedon.scene.roles import PLAIN, Role
from chalcedon.scene.synonyms import word_for
from chalcedon.scene.values import Value

T = TypeVar("T")

Stored = dict[str, Any]


class Property(Generic[T]):
    """One property of a shape or of the scene.

    `affects` says what must be evaluated again when it changes: "outline", "place", "paint", "state"
    (visible, locked, pointer) or "nothing". `always` properties are written to the file even at their
    default, so that a file can be read by itself. `section` is its place in an opened ledger row, `role` what it
    means on the canvas.
    """

    name: str

    def __init__(
        self,
        kind: Value,
        default: Any,
        help: str,
        *,
        affects: str = "outline",
        section: str = "geometry",
        always: bool = False,
        word: str = "",
        role: Role = PLAIN,
    ) -> None:
        self.kind, self.default, self.help, self.role = kind, default, help, role
        self.affects, self.section, self.always = affects, section, always
        self.word = word

    def __set_name__(self, owner: type, name: str) -> None:
        self.name = name
        self.word = self.word or name.replace("_", " ")

    @overload
    def __get__(self, obj: None, owner: type) -> Property[T]: ...
    @overload
    def __get__(self, obj: Declared, owner: type) -> T: ...
    def __get__(self, obj: Declared | None, owner: type) -> Any:
        if obj is None:
            return self
        if obj._formulas and self.name in obj._formulas:
            return obj.comes_to(self.name)
        return obj._values.get(self.name, self.default)

    def __set__(self, obj: Declared, value: T) -> None:
        obj.put(self.name, value)

    def read(self, raw: Any, owner: str, now: Any = UNKNOWN) -> Any:
        """The stored form of `raw`; formulas without a last value take it from what is there `now`, or from the
        default. The ValueProblem names the owner and the property."""
        try:
            if isinstance(raw, Formula | tuple | list):
                raw = _begun(raw, self.default if now is UNKNOWN else now)
            return self.kind.read(raw)
        except ValueProblem as problem:
            plain = as_plain(raw)
            if plain is not raw:
                return self.read(plain, owner, now)
            within = f", {problem.where}" if problem.where else ""
            raise ValueProblem(problem.message, f"{owner}.{self.name}{within}", problem.hint) from None


NOTHING: Mapping[str, Any] = MappingProxyType({})
"""What is unknown of nearly every shape: one for all, since they are many."""


class Declared:
    """Something with declared properties. Holds only what differs from the defaults.

    Invariant: `_formulas` names exactly the properties whose stored value contains a formula.
    """

    __slots__ = ("_extra", "_formulas", "_values")

    properties: ClassVar[dict[str, Property[Any]]] = {}

    _values: Stored
    _formulas: set[str] | None
    _extra: Mapping[str, Any]

    def __init_subclass__(cls) -> None:
        """Collects the properties of the class and its bases and gives the class a signature made from them."""
        found: dict[str, Property[Any]] = {}
        for base in reversed(cls.__mro__):
            for value in vars(base).values():
                if isinstance(value, Property):
                    found[value.name] = value
        first = getattr(cls, "leading", ())
        cls.properties = {n: found[n] for n in sorted(found, key=lambda n: n not in first)}
        keyword = Parameter.KEYWORD_ONLY
        cls.__signature__ = Signature(  # type: ignore[attr-defined]
            [Parameter("id", keyword, default=None)]
            + [Parameter(n, keyword, default=p.default) for n, p in cls.properties.items()]
        )

    @classmethod
    def declared(cls, name: str) -> Property[Any]:
        """The property called `name`. Raises ValueProblem with the nearest valid word."""
        try:
            return cls.properties[name]
        except KeyError:
            word = getattr(cls, "kind", "scene")
            hint = word_for(name, cls) or nearest(name, cls.properties)
            raise ValueProblem(f"{word} has no property {name}.", hint=hint) from None

    def stated(self, name: str) -> Any:
        """The stored value of a property, formulas included; its default when it isn't set."""
        values = self._values
        return values[name] if name in values else self.declared(name).default

    def comes_to(self, name: str) -> Any:
        """What a property comes to, by its formulas where it has any. Raises ValueProblem for what there isn't."""
        return self.declared(name).kind.plain(self.stated(name))

    def plain_values(self) -> Stored:
        """What is set, with every formula replaced by what it comes to. Not to be changed."""
        if not self._formulas:
            return self._values
        return {n: self.comes_to(n) if n in self._formulas else v for n, v in self._values.items()}

    def stated_plain(self) -> Stored:
        """What is set, with the last value that was stated in the place of every formula. Not to be changed."""
        if not self._formulas:
            return self._values
        return {n: self.properties[n].kind.plain(v) if n in self._formulas else v for n, v in self._values.items()}

    @property
    def extra(self) -> dict[str, Any]:
        """What a file says of this that isn't known here, by name; it is written back as it was."""
        if self._extra is NOTHING:
            self._extra = {}
        return self._extra  # type: ignore[return-value]

    def take(self, values: Stored, formulas: set[str] | None) -> None:
        """Takes over all that is stated: checked values other than the defaults, and the names of those that hold
        formulas. For readers only."""
        self._values, self._formulas = values, formulas

    def assign(self, name: str, value: Any) -> None:
        """Checks and sets a property, as an edit when this belongs to a scene."""
        raise NotImplementedError

    def put(self, name: str, value: Any) -> None:
        """What `owner.name = value` does."""
        self.assign(name, value)

    def store(self, name: str, value: Any) -> None:
        """Puts a checked value in place, without an edit. For edits and readers only."""
        prop = self.properties[name]
        if value == prop.default:
            self._values.pop(name, None)
        else:
            self._values[name] = value
        if self._formulas is not None:
            self._formulas.discard(name)
        if prop.kind.formulas(value):
            self._formulas = self._formulas or set()
            self._formulas.add(name)
        elif not self._formulas:
            self._formulas = None

    def formulas(self) -> dict[str, list[Formula]]:
        """Every formula of this, by property."""
        return {n: self.properties[n].kind.formulas(self._values[n]) for n in sorted(self._formulas or ())}

    def rewrite_formulas(self, name: str, change: Callable[[Formula], Formula]) -> Any:
        """The stored value of a property with every formula passed through `change`."""
        return rewritten(self._values[name], change)


def _begun(raw: Any, now: Any) -> Any:
    """A value whose formulas have last values, those that stand at the same place now."""
    if isinstance(raw, Formula):
        return Formula(raw.text, now) if raw.last is UNKNOWN and not isinstance(now, Formula) else raw
    pairs = type(raw) in (tuple, list) and type(now) is tuple and len(raw) == len(now)
    if pairs and any(isinstance(r, Formula) for r in raw):
        return [_begun(r, n) if isinstance(r, Formula) else r for r, n in zip(raw, now, strict=True)]
    return raw


def told_now(stated: Any, now: Any) -> Any:
    """A stored value whose formulas are told what they come to now, as their last value."""
    if isinstance(stated, Formula):
        return Formula(stated.text, now)
    if isinstance(stated, tuple) and isinstance(now, tuple) and len(stated) == len(now):
        inner = [told_now(s, n) for s, n in zip(stated, now, strict=True)]
        return type(stated)(*inner) if hasattr(stated, "_fields") else tuple(inner)
    return stated


def rewritten(value: Any, change: Callable[[Formula], Any]) -> Any:
    """A stored value with every formula in it passed through `change`, in the order of `Value.formulas`."""
    if isinstance(value, Formula):
        return change(value)
    if isinstance(value, tuple):
        inner = [rewritten(v, change) for v in value]
        return type(value)(*inner) if hasattr(value, "_fields") else tuple(inner)
    return value
