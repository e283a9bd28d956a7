"""The commands that line shapes up."""

from __future__ import annotations

from chalcedon.desk.commands.command import Act, Command, several, some


def _align(edge: str) -> Act:
    return lambda w: w.placing.align(edge)


def _spread(axis: str, by: str) -> Act:
    return lambda w: w.placing.distribute(axis, by)


PLACE: tuple[Command, ...] = (
    Command("place.left", "Align left edges", "Place", _align("left"), ("Alt+Shift+Left",), some),
    Command("place.center", "Align centers across", "Place", _align("center"), ("Alt+Shift+C",), some),
    Command("place.right", "Align right edges", "Place", _align("right"), ("Alt+Shift+Right",), some),
    Command("place.upper", "Align top edges", "Place", _align("top"), ("Alt+Shift+Up",), some, rule=True),
    Command("place.middle", "Align middles down", "Place", _align("middle"), ("Alt+Shift+M",), some),
    Command("place.lower", "Align bottom edges", "Place", _align("bottom"), ("Alt+Shift+Down",), some),
    Command("place.gaps_x", "Equal gaps across", "Place", _spread("x", "gaps"), (), several, rule=True),
    Command("place.gaps_y", "Equal gaps down", "Place", _spread("y", "gaps"), (), several),
    Command("place.centers_x", "Equal steps between centers, across", "Place", _spread("x", "centers"), (), several),
    Command("place.centers_y", "Equal steps between centers, down", "Place", _spread("y", "centers"), (), several),
    Command("place.gap_x", "A gap across of…", "Place", lambda w: w.placing.gap("x"), (), several),
    Command("place.gap_y", "A gap down of…", "Place", lambda w: w.placing.gap("y"), (), several),
    Command(
        "place.width", "Same width as the last", "Place", lambda w: w.placing.size("width"), (), several, rule=True
    ),
    Command("place.height", "Same height as the last", "Place", lambda w: w.placing.size("height"), (), several),
    Command("place.size", "Same size as the last", "Place", lambda w: w.placing.size("both"), (), several),
    Command("place.at", "Same place as the last", "Place", lambda w: w.placing.match("both"), (), several),
    Command("place.scale", "Size by a factor…", "Place", lambda w: w.placing.scale(), (), some, rule=True),
    Command("place.turn", "Rotate by degrees…", "Place", lambda w: w.placing.turn(), (), some),
    Command("place.mirror_x", "Mirror left to right", "Place", lambda w: w.placing.mirror("x"), ("Alt+Shift+X",), some),
    Command("place.mirror_y", "Mirror top to bottom", "Place", lambda w: w.placing.mirror("y"), ("Alt+Shift+Y",), some),
    Command(
        "place.strokes",
        "Strokes grow with what is sized",
        "Place",
        lambda w: w.placing.grow_strokes(),
        checked=lambda w: w.session.strokes_grow,
    ),
    Command("place.ratio", "Keep proportions", "Place", lambda w: w.placing.keep_ratio(), ("Alt+Shift+P",), some),
    Command("place.apart", "Colours easily told apart", "Place", lambda w: w.placing.tell_apart(), (), several),
    Command(
        "place.copies",
        "A copy at each corner of the last",
        "Place",
        lambda w: w.placing.copies(),
        (),
        several,
        rule=True,
    ),
)
