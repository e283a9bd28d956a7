"""The cells of a value, one entry for each kind of value. One without an entry has no cells, or lines of its own."""

from __future__ import annotations

from collections.abc import Sequence
from functools import singledispatch
from typing import TYPE_CHECKING, Any

from chalcedon.craft.several import MIXED
from chalcedon.desk.ledger.formulacells import paint_now, problem_of
from chalcedon.desk.ledger.parts import paint_words, show
from chalcedon.formula import Formula
from chalcedon.scene import Shape
from chalcedon.scene.declare import Property
from chalcedon.scene.paints import Paint, ShadowValue
from chalcedon.scene.presets import Names, departures
from chalcedon.scene.proportions import Proportioned
from chalcedon.scene.responses import Response, Responses
from chalcedon.scene.runs import Runs
from chalcedon.scene.values import Anchor, Choice, Corners, Flag, Many, Number, Ref, TextValue, Tuple, Value
from chalcedon.source.answers import print_response
from chalcedon.source.settings import print_settings

if TYPE_CHECKING:
    from chalcedon.desk.ledger.cells import Flow, Owner

SENTENCE_X = 41.0
"""Where sentences begin, which need all the width there is."""
GAP = 7.0
"""From the last cell of a value to what comes next."""


@singledispatch
def put_value(kind: Value, flow: Flow, owner: Owner, prop: Property[Any], stated: Any) -> None:
    """Puts the cells of a stated value (not a formula) into a flow."""


def put_mixed(kind: Value, flow: Flow, owner: Owner, prop: Property[Any]) -> None:
    """Puts the cells of a value that isn't the same for several shapes."""
    role = "number"
    if isinstance(kind, Choice | Anchor):
        role = "choice"
    elif isinstance(kind, Flag):
        role = "flag"
    elif isinstance(kind, TextValue | Ref | Paint):
        role = "text"
    more: dict[str, Any] = {"owner": owner, "name": prop.name, "value": MIXED}
    if isinstance(kind, Paint):
        flow.put("paint", prop.name, 18, gap=4, **more)
    flow.put(role, "mixed", **more)


@put_value.register(Paint)
def _(kind: Paint, flow: Flow, owner: Owner, prop: Property[Any], stated: Any) -> None:
    formulas = kind.formulas(stated)
    shown = paint_now(owner, prop.name, stated)
    problem = problem_of(owner, prop.name) if formulas else None
    wrong = problem.sentence if problem is not None else ""
    flow.put("paint", prop.name, 18, gap=4, owner=owner, name=prop.name, value=shown)
    flow.put("text", paint_words(stated), owner=owner, name=prop.name, value=stated, wrong=wrong)
    switch = f"{prop.name}_on"
    if flow.wrap and switch in owner.properties and (stated is not None or not owner.stated(switch)):
        flow.put("switch-paint", "", 20, owner=owner, name=switch, value=owner.stated(switch))


@put_value.register(Flag)
def _(kind: Flag, flow: Flow, owner: Owner, prop: Property[Any], stated: Any) -> None:
    flow.put("flag", "yes" if stated else "no", owner=owner, name=prop.name, value=stated)


@put_value.register(Choice)
def _(kind: Choice, flow: Flow, owner: Owner, prop: Property[Any], stated: Any) -> None:
    flow.put("choice", stated, owner=owner, name=prop.name, value=stated)


@put_value.register(Anchor)
def _(kind: Anchor, flow: Flow, owner: Owner, prop: Property[Any], stated: Any) -> None:
    text = stated.replace("-", " ") if isinstance(stated, str) else ", ".join(show(v) for v in stated)
    flow.put("choice", text, owner=owner, name=prop.name, value=stated)


@put_value.register(Ref)
def _(kind: Ref, flow: Flow, owner: Owner, prop: Property[Any], stated: Any) -> None:
    flow.put("text", stated or "none", owner=owner, name=prop.name, value=stated)


@put_value.register(Names)
def _(kind: Names, flow: Flow, owner: Owner, prop: Property[Any], stated: Any) -> None:
    for i, name in enumerate(stated):
        flow.put("choice", name, owner=owner, name=prop.name, path=(i,), value=name)
    if not stated:
        flow.put("choice", "none", owner=owner, name=prop.name, value="")
    elif isinstance(owner, Shape) and owner.scene is not None and departures(owner.scene, owner):
        flow.put("more", "as it says again", value="renew", owner=owner, name=prop.name)


@put_value.register(Runs)
def _(kind: Runs, flow: Flow, owner: Owner, prop: Property[Any], stated: Any) -> None:
    more: dict[str, Any] = {"owner": owner, "name": prop.name}
    for i, run in enumerate(stated):
        if i:
            flow.new_line()
        flow.put(
            "text", f"{run.first}–{run.last} {print_settings(dict(run.values))}", gap=2, path=(i,), value=run, **more
        )
        flow.put("remove", "×", 16, path=(i,), value=run, **more)
    flow.put("add", "+ run", **more)


@put_value.register(Responses)
def _(kind: Responses, flow: Flow, owner: Owner, prop: Property[Any], stated: Any) -> None:
    flow.put("add", "+ response", owner=owner, name=prop.name)
    left, flow.left = flow.left, SENTENCE_X
    put_responses(flow, owner, stated)
    flow.left = left


def put_responses(flow: Flow, owner: Owner, stated: Sequence[Response]) -> None:
    """Puts each response on a line of its own, as a sentence."""
    more: dict[str, Any] = {"owner": owner, "name": "responses"}
    for i, response in enumerate(stated):
        flow.new_line()
        room = flow.right - flow.left - 78
        text = flow.metrics.cut(print_response(response), room)
        flow.put("text", text, min(room, flow.metrics.width(text) + 4), gap=4, path=(i,), value=response, **more)
        flow.put("more", "try it", value="try", path=(i,), gap=4, **more)
        flow.put("remove", "×", 16, path=(i,), value=response, **more)


@put_value.register(TextValue)
def _(kind: TextValue, flow: Flow, owner: Owner, prop: Property[Any], stated: Any) -> None:
    more: dict[str, Any] = {"owner": owner, "name": prop.name}
    shown = stated.replace("\n", " ⏎ ")
    if shown.startswith("data:"):
        shown = f"embedded, {len(shown) * 3 // 4096} KB"
    flow.put("text", shown[:200] or "–", value=stated, **more)
    if not flow.wrap:
        return
    if prop.name == "content":
        flow.put("more", "write on the canvas", value="write", **more)
    if prop.name == "source":
        flow.put("more", "choose…", value="file", **more)
    if kind.remark(stated):
        flow.put("remark", kind.remark(stated), **more)


@put_value.register(Number)
def _(kind: Number, flow: Flow, owner: Owner, prop: Property[Any], stated: Any) -> None:
    flow.number(owner, prop, ())


@put_value.register(Tuple)
def _(kind: Tuple, flow: Flow, owner: Owner, prop: Property[Any], stated: Any) -> None:
    between = "×" if kind.labels == ("width", "height") else ","
    for i in range(len(stated)):
        last = i == len(stated) - 1
        flow.number(owner, prop, (i,), gap=GAP if last else 0)
        if not last:
            flow.put("word", between, gap=2 if between == "×" else 1)
    if flow.wrap and isinstance(owner, Proportioned) and prop.name == owner.pair and not owner.stated("aspect_ratio"):
        flow.put("more", "keep ratio", value="ratio", owner=owner, name=prop.name, gap=GAP)


@put_value.register(ShadowValue)
def _(kind: ShadowValue, flow: Flow, owner: Owner, prop: Property[Any], stated: Any) -> None:
    more: dict[str, Any] = {"owner": owner, "name": prop.name}
    if stated is None:
        flow.put("more", "none", value="shadow", **more)
        return
    for i in range(3):
        if i == 2:
            flow.word("blur")
        flow.number(owner, prop, (i,), gap=3)
    if isinstance(stated.color, Formula):
        flow.formula(owner, prop, (3,), stated.color)
    else:
        flow.put("paint", "shadow", 18, gap=4, path=(3,), value=stated.color, **more)
        flow.put("text", paint_words(stated.color), path=(3,), value=stated.color, **more)
    flow.put("more", "take away", value="shadow", **more)


@put_value.register(Many)
def _(kind: Many, flow: Flow, owner: Owner, prop: Property[Any], stated: Any) -> None:
    if isinstance(kind.of, Number):  # lists of anything else have lines of their own
        _numbers(flow, owner, prop, stated)
        if stated:
            flow.put("more", "no dash", value="clear", owner=owner, name=prop.name, gap=GAP)
        else:
            flow.put("more", "none", value="dash", owner=owner, name=prop.name, gap=GAP)


@put_value.register(Corners)
def _(kind: Corners, flow: Flow, owner: Owner, prop: Property[Any], stated: Any) -> None:
    _numbers(flow, owner, prop, stated)
    text = "one each" if len(stated) == 1 else "one for all"
    flow.put("more", text, value="corners", owner=owner, name=prop.name, gap=GAP)


def _numbers(flow: Flow, owner: Owner, prop: Property[Any], stated: tuple[Any, ...]) -> None:
    for i in range(len(stated)):
        flow.number(owner, prop, (i,), gap=3 if i < len(stated) - 1 else GAP)  # what follows is no number
