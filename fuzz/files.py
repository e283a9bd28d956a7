"""Mutated files through opening, evaluation, the check-up, hits, painting, saving and reopening."""

import json
import random
import time
import traceback

from chalcedon.demos import demo_path
from chalcedon.evaluate import DisplayList
from chalcedon.files import read_scene, scene_bytes
from chalcedon.files.check import check_scene
from chalcedon.hit import HitTester, probe
from chalcedon.painter import render_image
from chalcedon.painter.export import headless
from chalcedon.problems import ChalcedonError
from chalcedon.source import parse_text, print_shapes, sentence
from fuzz.scenes import EDGES, random_file

SLOW = 2.0
"""Seconds that a file of the size that is made here may take."""
JUNK = (
    "null", "true", "-1", "0", "1e999", "1e-400", "9" * 30, '""', '"x"', '"\\u0000"', "[]", "{}", "[[]]", "[1,2,3]",
    '{"formula":"x","last":1}', '{"formula":"a.b","last":[1,2]}', '"<img src=/dev/zero>"', '"var(--a)"', '"none"',
    "[" * 300 + "]" * 300, '"M0 0 L1e9 1e9"', '"' + "y" * 5000 + '"', *map(str, EDGES),
)  # fmt: skip


def spots(value, path=()):
    yield path
    items = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
    for key, inner in items:
        yield from spots(inner, (*path, key))


def mutated(seed):
    """The bytes of a scene with one to four things wrong."""
    chance = random.Random(seed)
    raw = json.loads(demo_path("harbour").read_bytes()) if seed % 7 == 0 else random_file(seed)
    marks = {}
    for _ in range(chance.randint(1, 4)):
        path = chance.choice([p for p in spots(raw) if p])
        spot = raw
        for step in path[:-1]:
            spot = spot[step]
        key = path[-1]
        what = chance.random()
        if what < 0.55:
            spot[key] = f"@{len(marks)}@"
            marks[spot[key]] = chance.choice(JUNK)
        elif what < 0.7:
            del spot[key]
        elif what < 0.85 and isinstance(spot, list):
            spot.insert(key, spot[key])
        elif isinstance(spot, dict):
            spot[chance.choice(["id", "kind", "children", "steps", "clip", "inside", "z"])] = spot[key]
    text = json.dumps(raw, indent=chance.choice([None, None, 1]))
    for mark, junk in marks.items():
        text = text.replace(f'"{mark}"', junk)
    data = bytearray(text.encode())
    if chance.random() < 0.15:
        for _ in range(chance.randint(1, 3)):
            at = chance.randrange(len(data))
            data[at : at + chance.randint(0, 2)] = chance.randbytes(chance.randint(0, 2))
    return bytes(data)


def attack(data, seed=0):
    """Does with a file all that is done with files. Raises when something is not as it should be."""
    chance = random.Random(seed)
    try:
        opened = read_scene(data, "f.chal")
    except ChalcedonError as refusal:
        assert len(str(refusal)) < 2000
        return False
    for problem in opened.problems:
        assert 0 < len(str(problem)) < 2000
    scene = opened.scene
    display = DisplayList(scene)
    for remark in check_scene(display):
        assert str(remark)
        if remark.repairs and chance.random() < 0.5 and remark.shape.scene is scene:
            before = scene_bytes(scene)
            try:
                remark.repairs[0].act(display)
            except ChalcedonError:
                pass
            display.update()
            while scene.undo():
                pass
            display.update()
            assert scene_bytes(scene) == before, f"undo of {remark.repairs[0].words}"
    tester = HitTester(scene, display)
    for _ in range(12):
        x, y = chance.uniform(-50, 300), chance.uniform(-50, 250)
        for hit in tester.hit_test(x, y):
            assert hit.distance >= 0
        probe(tester, x, y)
    for shape in scene.walk():
        assert sentence(shape)
        display.node(shape).painted_bounds()
    width, height = scene.size
    render_image(display, min(1.0, 300 / max(width, height)))
    written = scene_bytes(scene)
    again = read_scene(written).scene
    assert again.equals(scene) and scene_bytes(again) == written
    text = print_shapes(scene.shapes)
    try:
        assert print_shapes(parse_text(text)) == text
    except ChalcedonError as refusal:
        assert "nested" in str(refusal) or "deep" in str(refusal) or "times" in str(refusal), refusal
    return True


def run(count, first=0, seconds=float("inf"), out=None, slow=float("inf")):
    """Attacks with so many files; gives (how many opened, failures as (seed, text)). Taking longer than `slow` seconds
    a megabyte, and at least that, is a failure."""
    headless()
    opened, failures, start = 0, [], time.monotonic()
    for seed in range(first, first + count):
        if time.monotonic() - start > seconds:
            break
        data = mutated(seed)
        began = time.monotonic()
        try:
            opened += attack(data, seed)
            took = time.monotonic() - began
            if took > slow * max(1.0, len(data) / 2**20):
                failures.append((seed, f"took {took:.1f} s"))
        except Exception:
            failures.append((seed, traceback.format_exc()))
        if failures and failures[-1][0] == seed and out is not None:
            out.mkdir(parents=True, exist_ok=True)
            (out / f"file-{seed}.chal").write_bytes(data)
    return opened, failures
