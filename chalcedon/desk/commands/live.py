"""The commands for a scene that lives: modes, clock, inputs."""

from __future__ import annotations

from typing import TYPE_CHECKING

from chalcedon.desk.commands.command import Command

if TYPE_CHECKING:
    from chalcedon.desk.window import Window


def _lives(w: Window) -> bool:
    return w.session.document.player.live is not None


def _number_in_focus(w: Window) -> bool:
    return w.living.literal() is not None


LIVE = (
    Command("live.mode", "Live", "Live", lambda w: w.living.toggle(), ("F5",), checked=_lives),
    Command(
        "live.clock",
        lambda w: "Pause" if w.session.document.player.playing else "Play",
        "Live",
        lambda w: w.session.document.player.toggle_clock(),
        ("Shift+F5",),
        rule=True,
    ),
    Command("live.step", "One step", "Live", lambda w: w.session.document.player.step(), ("Ctrl+F5",)),
    Command("live.zero", "Back to time 0", "Live", lambda w: w.session.document.player.zero(), ("Ctrl+Shift+F5",)),
    Command("live.keep", "Keep what the run came to", "Live", lambda w: w.living.keep(), (), _lives),
    Command("live.inputs", "Inputs…", "Live", lambda w: w.living.show_inputs(), ("Ctrl+I",), rule=True),
    Command(
        "live.make_input",
        "Make an input of the value in focus",
        "Live",
        lambda w: w.living.make_input(),
        ("Ctrl+Alt+I",),
        _number_in_focus,
    ),
    Command("live.response", "Response of the scene", "Live", lambda w: w.living.add_response()),
    Command("live.record", "Write what came into the run…", "Live", lambda w: w.living.write_recording(), rule=True),
    Command("live.frames", "Write the frames of a run…", "Live", lambda w: w.picturing.frames()),
    Command("live.replay", "Run through a recording…", "Live", lambda w: w.living.replay()),
)
