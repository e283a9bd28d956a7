"""SVG files with bytes, words and numbers changed: each is read, painted, hit and saved, or refused in a sentence."""

from __future__ import annotations

import random
import re
import time
import traceback
from functools import lru_cache
from pathlib import Path

from chalcedon.demos import demo_names, demo_scene
from chalcedon.files import read_scene, scene_bytes
from chalcedon.files.svgin import read_svg
from chalcedon.files.svgout import svg_bytes
from chalcedon.hit import hit_test
from chalcedon.painter import render_image
from chalcedon.painter.export import headless
from chalcedon.problems import ChalcedonError

SLOW = 5.0
"""Seconds for one small file."""
WORDS = (
    b"url(#clip-1) url(#gradient-1) 1e308 -1 nan 0 inherit currentColor 100% none evenodd &amp; \xff "
    b"matrix(0,0,0,0,0,0) rotate(1e9) M0,0A <use/href='#boat'/> <svg/viewBox='0,0,1,1'> <mask/id='cut-1'/> "
    b"url(#m) url(#p) url(#q) url(#arrow) #way objectBoundingBox userSpaceOnUse auto middle"
).split(b" ")
WORDS = [word.replace(b"/h", b" h").replace(b"/v", b" v").replace(b"/i", b" i") for word in WORDS]


HAND_WRITTEN = b"""<svg xmlns="http://www.w3.org/2000/svg" width="96" height="64" viewBox="0 0 96 64">
<defs><linearGradient id="g"><stop stop-color="white"/><stop offset="1" stop-color="black"/></linearGradient>
<mask id="m" x="0" y="0" width="1" height="1"><rect width="60" height="40" fill="url(#g)"/></mask>
<mask id="a" mask-type="alpha" maskContentUnits="objectBoundingBox"><circle cx=".5" cy=".5" r=".5"/></mask>
<clipPath id="c" clipPathUnits="objectBoundingBox"><circle cx=".5" cy=".5" r=".5"/></clipPath>
<pattern id="p" x="1" width="9" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(30)">
<circle cx="5" cy="3" r="2.5" fill="url(#q)"/></pattern>
<pattern id="q" href="#p" width=".25" height=".25" viewBox="0 0 4 4"><path d="M0 0L4 4" stroke="#204060"/></pattern>
<marker id="arrow" viewBox="0 0 10 10" refX="5" refY="5" markerWidth="4" markerHeight="4" orient="auto-start-reverse">
<path d="M0 0L10 5L0 10z" fill="context-stroke" marker-mid="url(#arrow)"/></marker>
<path id="way" d="M10 20C30 0 60 40 90 20"/></defs>
<g mask="url(#m)"><rect width="60" height="44" fill="url(#p)" mask="url(#a)"/></g>
<rect x="50" y="30" width="40" height="30" fill="url(#q)" clip-path="url(#c)" paint-order="stroke"/>
<polyline points="8,34 30,40 30,56 12,58" fill="none" stroke="#b8482a" stroke-width="2" style="marker:url(#arrow)"/>
<text font-size="9"><textPath href="#way" startOffset="10%">along the quay</textPath></text>
<text x="5 15 25" y="50" dx="0 1 2" rotate="10 -10" textLength="60" lengthAdjust="spacingAndGlyphs">low water</text>
</svg>"""


@lru_cache
def bases() -> list[bytes]:
    """What is changed."""
    demos = [svg_bytes(demo_scene(name), outlines=i > 0).data for i, name in enumerate(demo_names())]
    return [*demos, HAND_WRITTEN, HAND_WRITTEN]


def mutated(seed: int) -> bytes:
    """A file with one to four changes."""
    chance = random.Random(seed)
    data = bytearray(chance.choice(bases()))
    for _ in range(chance.randint(1, 4)):
        kind = chance.random()
        at = chance.randrange(len(data))
        if kind < 0.45:  # a value
            values = list(re.finditer(rb'"[^"]*"', bytes(data)))
            value = chance.choice(values)
            data[value.start() + 1 : value.end() - 1] = chance.choice(WORDS).replace(b"<", b"").replace(b"&", b"")
        elif kind < 0.65:
            numbers = list(re.finditer(rb"\d+", bytes(data)))
            number = chance.choice(numbers)
            data[number.start() : number.end()] = chance.choice(
                [b"0", b"1e9", b"99999999", b".", b"-5", b"1e300", b"1e-12"]
            )
        elif kind < 0.8:  # a line that is elsewhere, or twice
            lines = bytes(data).split(b"\n")
            lines.insert(chance.randrange(len(lines)), chance.choice(lines))
            data = bytearray(b"\n".join(lines))
        elif kind < 0.9:
            data[at:at] = chance.choice(WORDS)
        else:
            data[at] = chance.randrange(256)
    return bytes(data)


def attack(data: bytes) -> bool:
    """Takes a file through everything; whether it could be read. Raises for whatever isn't said in a sentence, and when
    what was read is not what is saved."""
    try:
        scene = read_svg(data).scene
    except ChalcedonError:
        return False
    try:
        render_image(scene, min(1.0, 300 / max(scene.size)))
    except ChalcedonError:
        pass
    hit_test(scene, 100, 100)
    svg_bytes(scene)
    saved = scene_bytes(scene)
    again = read_scene(saved)
    if again.problems:
        raise ValueError(f"it was read, and can't be saved: {again.problems[0]}")
    if scene_bytes(again.scene) != saved:
        raise ValueError("saved, it is something else")
    return True


def run(count: int, first: int, seconds: float = 1e9, folder: Path | None = None) -> tuple[int, list[tuple[int, str]]]:
    """Attacks with files of seeds from `first` on. Gives how many were read, and what failed; failures are kept in a
    folder, if one is given."""
    app = headless()
    read, failures, end = 0, [], time.monotonic() + seconds
    for seed in range(first, first + count):
        data = mutated(seed)
        start = time.monotonic()
        try:
            read += attack(data)
            took = time.monotonic() - start
            text = f"took {took:.1f} s" if took > SLOW else ""
        except Exception:
            text = traceback.format_exc(limit=-3)
        if text:
            failures.append((seed, text))
            if folder is not None:
                folder.mkdir(parents=True, exist_ok=True)
                (folder / f"{seed}.svg").write_bytes(data)
        if time.monotonic() > end:
            break
    del app
    return read, failures
