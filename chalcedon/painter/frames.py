"""The frames of a run as pictures: a GIF or WebP that moves, or numbered PNGs."""

from __future__ import annotations

import io
import math
from collections.abc import Callable, Iterator, Sequence
from itertools import pairwise
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from PySide6.QtGui import QImage

from chalcedon.files.safely import write_safely
from chalcedon.live.live import STEP, Live
from chalcedon.live.recording import Recording
from chalcedon.painter.export import headless, write_png
from chalcedon.painter.render import render_image
from chalcedon.problems import ChalcedonError

if TYPE_CHECKING:
    from PIL import Image as Pillow

SUFFIXES = (".gif", ".webp", ".png")
MOST_FRAMES = 3600
MOST_PX = 1_500_000_000
"""Px of all frames together."""


class Take(NamedTuple):
    """Which frames: from one time of the run to another, in seconds, so many a second, at a scale."""

    first: float = 0.0
    last: float = 2.0
    rate: float = 30.0
    scale: float = 1.0

    def steps(self) -> list[int]:
        """The step of the run that each frame shows. Raises ChalcedonError for what can't be."""
        for what, value, low, high in (
            ("from", self.first, 0.0, 36_000.0),
            ("to", self.last, 0.0, 36_000.0),
            ("rate", self.rate, 0.1, 60.0),
            ("scale", self.scale, 0.01, 100.0),
        ):
            if not (math.isfinite(value) and low <= value <= high):
                raise ChalcedonError(f"{value:g} is not possible.", what, f"It goes from {low:g} to {high:g}.")
        count = max(1, round((self.last - self.first) * self.rate))
        if self.last < self.first:
            raise ChalcedonError("the end lies before the beginning.", f"{self.first:g} to {self.last:g}")
        if count > MOST_FRAMES:
            raise ChalcedonError(
                f"{count} frames are too many.", hint=f"At most {MOST_FRAMES}: a shorter time, or fewer."
            )
        return [round((self.first + i / self.rate) / STEP) for i in range(count)]

    def check(self, size: tuple[float, float]) -> None:
        """Raises ChalcedonError for what can't be written of a page of a size."""
        count = len(self.steps())
        if size[0] * size[1] * self.scale**2 * count > MOST_PX:
            raise ChalcedonError(f"{count} frames of that size are too much.", hint="A smaller scale, or fewer frames.")


Progress = Callable[[int, int], object]
"""Is told which of how many is begun, from 1."""


def no_progress(_at: int, _of: int) -> None:
    """For whom it may take as long as it does."""


def frames(
    live: Live, take: Take, recording: Recording | None = None, progress: Progress = no_progress
) -> Iterator[QImage]:
    """The pictures of a run that goes on from its beginning, with what a recording has come in."""
    app = headless()
    waiting = list(recording.items if recording is not None else ())
    steps = take.steps()
    for number, step in enumerate(steps, 1):
        progress(number, len(steps))
        while live.frame < step:
            while waiting and waiting[0].frame <= live.frame + 1:
                live.come_in(waiting.pop(0))
            live.advance()
        yield render_image(live.display, take.scale)
    del app


def write_frames(
    live: Live, path: str, take: Take, recording: Recording | None = None, progress: Progress = no_progress
) -> int:
    """Writes the frames of a run, and says how many there are: as one file that moves (.gif, .webp) and begins anew for
    ever, or as PNGs numbered from 0001 (name-0001.png). Raises ChalcedonError."""
    target = Path(path)
    suffix = target.suffix.lower()
    if suffix not in SUFFIXES:
        what = target.suffix or "no suffix"
        raise ChalcedonError(
            f"{what} is not a kind of picture that moves.", path, "End the name in .gif, .webp or .png."
        )
    count = len(take.steps())
    take.check(live.scene.size)
    made = frames(live, take, recording, progress)
    if suffix == ".png":
        digits = max(4, len(str(count)))
        for i, image in enumerate(made, 1):
            write_png(str(target.with_name(f"{target.stem}-{i:0{digits}}.png")), lambda image=image: image)  # type: ignore[misc]
        return count
    write_safely(
        target,
        _moving((_pillow(image) for image in made), suffix, durations(count, take.rate)),
        "picture",
        backup=False,
    )
    return count


def durations(count: int, rate: float) -> list[int]:
    """Milliseconds that each frame is shown: whole hundredths of a second, as GIF counts them, that keep to the rate on
    the whole."""
    ends = [round(i * 100 / rate) for i in range(count + 1)]
    return [max(1, b - a) * 10 for a, b in pairwise(ends)]


def _moving(images: Iterator[Pillow.Image], suffix: str, shown: Sequence[int]) -> bytes:
    first = next(images)
    out = io.BytesIO()
    more = {"lossless": True, "method": 2} if suffix == ".webp" else {"optimize": False}
    kind = suffix[1:].upper()
    first.save(out, kind, save_all=True, append_images=images, duration=list(shown), loop=0, **more)
    return out.getvalue()


def _pillow(image: QImage) -> Pillow.Image:
    from PIL import Image as Pillow  # the window knows of frames from its start on, and writes few

    plain = image.convertToFormat(QImage.Format.Format_RGB888)
    size = plain.width(), plain.height()
    return Pillow.frombuffer("RGB", size, bytes(plain.constBits()), "raw", "RGB", plain.bytesPerLine(), 1)
