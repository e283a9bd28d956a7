"""Changes of the palette that go to all that refers to it. Each is one undo step."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from chalcedon.formula import Formula
from chalcedon.problems import ValueProblem, nearest
from chalcedon.scene.color import rgba
from chalcedon.scene.paints import Palette, Shadow, palette_name, with_colors

if TYPE_CHECKING:
    from chalcedon.scene.scene import Scene


def rename_color(scene: Scene, old: str, new: str) -> None:
    """Gives a colour of the palette another name, and changes every paint that refers to it."""
    pairs = _known(scene, old)
    if new in pairs and new != old:
        raise ValueProblem(f"the palette has a colour {new} already.")
    renamed = Palette().read([(new if n == old else n, c) for n, c in pairs.items()])
    with scene.step(f"Rename colour {old} to {new}"):
        scene.set(scene, "palette", renamed)
        _everywhere(scene, lambda c: c.replace(f"--{old}", f"--{new}", 1) if palette_name(c) == old else c)


def remove_color(scene: Scene, name: str) -> None:
    """Takes a colour out of the palette; what refers to it has the colour as its own from then on."""
    pairs = _known(scene, name)
    pairs.pop(name)
    color = dict(scene.palette)[name]
    with scene.step(f"Take {name} out of the palette"):
        _everywhere(scene, lambda c: color if palette_name(c) == name else c)
        scene.set(scene, "palette", tuple(pairs.items()))


def name_color(scene: Scene, color: str, name: str) -> None:
    """Puts a colour into the palette, and has everything that is painted with it refer to it."""
    pairs = dict(scene.stated("palette"))
    if name in pairs:
        raise ValueProblem(f"the palette has a colour {name} already.")
    if not isinstance(color, str) or palette_name(color):
        raise ValueProblem(f"{name} is not painted with a colour of its own.", hint="Give it one first.")
    wanted = rgba(color)
    with scene.step(f"Name the colour {name}"):
        scene.set(scene, "palette", Palette().read({**pairs, name: color}))
        _everywhere(scene, lambda c: f"var(--{name})" if not palette_name(c) and rgba(c) == wanted else c)


def _known(scene: Scene, name: str) -> dict[str, Any]:
    pairs = dict(scene.stated("palette"))
    if name not in pairs:
        raise ValueProblem(f"the palette has no {name}.", hint=nearest(name, pairs))
    return pairs


def _changed(name: str, value: Any, change: Callable[[str], str]) -> Any:
    """A value of a preset with its colours passed through `change`."""
    if isinstance(value, Shadow):
        return value._replace(color=with_colors(value.color, change))
    return with_colors(value, change) if name in ("fill", "stroke") else value


def _everywhere(scene: Scene, change: Callable[[str], str]) -> None:
    """Passes every colour of the scene through `change`."""
    if scene.presets:
        presets = tuple((p, tuple((n, _changed(n, v, change)) for n, v in pairs)) for p, pairs in scene.presets)
        scene.set(scene, "presets", presets)
    for owner in (scene, *scene.walk()):
        for name in ("fill", "stroke", "background"):
            if name in owner.properties and not isinstance(owner.stated(name), Formula):
                scene.set(owner, name, with_colors(owner.stated(name), change))
        if "runs" in owner._values:
            runs = owner.stated("runs")
            said = [r._replace(values=tuple((n, _changed(n, v, change)) for n, v in r.values)) for r in runs]
            scene.set(owner, "runs", said)
        shadow = owner.stated("shadow") if "shadow" in owner.properties else None
        if shadow is not None and not isinstance(shadow, Formula):
            scene.set(owner, "shadow", shadow._replace(color=with_colors(shadow.color, change)))
