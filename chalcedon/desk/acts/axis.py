"""Which way y runs, changed from the menu or from the head of the list."""

from __future__ import annotations

from chalcedon.desk.session import Session
from chalcedon.scene.over import run_y

NAMED = 3
"""So many of what can't be restated are named."""


def let_y_run(session: Session, way: str) -> None:
    """Has y run up or down with everything where it is, and says so; and what of it no numbers say."""
    if way == session.scene.y_axis:
        return
    left: list[str] = []
    with session.step("") as scene:
        left = run_y(scene, way)
    if session.scene.y_axis != way:
        return  # refused, which has been said
    corner = "bottom left" if way == "up" else "top left"
    if left:
        some = ", ".join(left[:NAMED]) + (f" and {len(left) - NAMED} more" if len(left) > NAMED else "")
        session.say(f"y runs {way} now. Not restated, as no numbers say it: {some}.", "problem")
    else:
        session.say(f"y runs {way} from the {corner} of the page; everything is where it was.")
