"""Scenes that live: formulas worked out, a step of the harbour, pointers over many shapes, noise."""

import statistics

from benchmarks.measure import Row, show, timed
from chalcedon.demos import demo_scene
from chalcedon.evaluate import DisplayList
from chalcedon.formula import Formula
from chalcedon.formula.chance import raw_noise
from chalcedon.live import Live
from chalcedon.scene import Circle, Scene

COUNT = 10_000


def rows():
    own, alike, places, bare = many()
    step = harbour()
    moved, scan = pointers()
    noise = median(lambda: [raw_noise(i * 0.37, 0.5, 0.2) for i in range(3000)], 5)
    name = "calls of as many plain functions"
    return [
        _row("10,000 formulas of their own worked out", own, name, bare, "10 ms"),
        _row("10,000 formulas alike worked out", alike, name, bare, "3 ms"),
        _row("the same with what hangs on them: places, boxes", places, name, bare, ""),
        _row("a step of the harbour alive, painting left out", step, name, bare, "8 ms"),
        _row("1,000 pointer moves over 10,000 shapes", moved, "a scan of their boxes for one", scan, "1 s"),
        _row("3,000 points of noise, one by one", noise, name, bare, "1 ms"),
    ]


def _row(what, ours, name, reference, target):
    return Row(what, show(ours), f"{name} {show(reference)}", f"{ours / reference:.1f}", target)


def median(act, times):
    return statistics.median(timed(act) for _ in range(times))


def many():
    """All cells worked out, without and with the places of their shapes; and a call each of as many functions."""
    out = []
    for texts in (
        [f"{'abs(' * (i % 4)}time * {i} + {i % 7}{')' * (i % 4)}" for i in range(COUNT)],
        ["time * 3 + 1"] * COUNT,
    ):
        scene = Scene([Circle(at=(Formula(t), 5), radius=3) for t in texts])
        display = DisplayList(scene)
        cells = list(display.formulas.every())
        frames = iter(range(1, 1000))

        def work(cells=cells, display=display, frames=frames):
            frame = next(frames)
            display.moment = display.moment._replace(time=frame / 60, frame=frame)
            for cell in cells:
                cell.work_out(display)

        out.append(median(work, 7))

        def whole(display=display, frames=frames):
            frame = next(frames)
            display.to(display.moment._replace(time=frame / 60, frame=frame))
            display.update()

        places = median(whole, 5)
    functions = [eval(f"lambda t: t * {i} + {i % 7}") for i in range(COUNT)]
    bare = median(lambda: [f(0.5) for f in functions], 7)
    return (*out, places, bare)


def harbour():
    live = Live(demo_scene("harbour"))
    frames = iter(range(10_000))

    def step():
        live.pointer_move(300 + next(frames) % 400, 300)
        live.advance()

    for _ in range(60):
        step()
    return median(step, 60)


def pointers():
    scene = Scene([Circle(at=(i % 100 * 9.6, i // 100 * 6), radius=5) for i in range(COUNT)])
    live = Live(scene)
    live.advance()
    boxes = [n.cull for n in live.display.order]

    def second():
        for i in range(60):
            for k in range(17):
                live.pointer_move((i * 17 + k) * 0.9 % 960, (i * 7 + k) % 600)
            live.advance()

    scan = median(lambda: [b for b in boxes if b[0] <= 400 <= b[2] and b[1] <= 300 <= b[3]], 7)
    return median(second, 3), scan
