"""The commands that work on outlines."""

from __future__ import annotations

from chalcedon.desk.commands.command import Act, Command, one, several, some, two


def _combine(operation: str) -> Act:
    return lambda w: w.outlining.combine(operation)


def _act(what: str) -> Act:
    return lambda w: w.outlining.act(what)


OUTLINE: tuple[Command, ...] = (
    Command("outline.points", "Edit points", "Outline", lambda w: w.outlining.edit_points(), ("Shift+E",), one),
    Command("outline.smooth", "Smooth the chosen points", "Outline", _act("smooth"), ("Shift+S",), one),
    Command("outline.corner", "Corners at the chosen points", "Outline", _act("corner"), ("Shift+C",), one),
    Command("outline.split", "Split at the chosen point", "Outline", _act("split"), ("Shift+X",), one),
    Command("outline.join", "Join ends", "Outline", lambda w: w.outlining.join(), ("Ctrl+J",), some, rule=True),
    Command("outline.close", "Close", "Outline", lambda w: w.outlining.close(), ("Shift+Z",), some),
    Command("outline.reverse", "Reverse", "Outline", lambda w: w.outlining.reverse(), ("Shift+R",), some),
    Command("outline.union", "Unite", "Outline", _combine("union"), ("Ctrl+Shift+U",), several, rule=True),
    Command(
        "outline.difference",
        "Subtract from the rearmost",
        "Outline",
        _combine("difference"),
        ("Ctrl+Shift+D",),
        several,
    ),
    Command("outline.intersection", "Intersect", "Outline", _combine("intersection"), ("Ctrl+Shift+I",), several),
    Command(
        "outline.exclusion", "Exclude where they overlap", "Outline", _combine("exclusion"), ("Ctrl+Shift+X",), several
    ),
    Command("outline.stroke", "Outline of the stroke", "Outline", lambda w: w.outlining.stroke(), (), some, rule=True),
    Command("outline.polyline", "Make a polyline…", "Outline", lambda w: w.outlining.to_polyline(), (), some),
    Command("outline.offset", "Offset the outline…", "Outline", lambda w: w.outlining.offset(), ("Ctrl+Shift+O",), one),
    Command("outline.compare", "Same and different…", "Outline", lambda w: w.compare(), ("Shift+F3",), two, rule=True),
    Command("outline.where", "Where is it?", "Outline", lambda w: w.checking.where(), ("F4",), some),
    Command("outline.check", "Check up on everything", "Outline", lambda w: w.checking.round(), ("F9",)),
    Command("outline.path", "Make it a path", "Outline", lambda w: w.outlining.to_path(), (), some),
)
