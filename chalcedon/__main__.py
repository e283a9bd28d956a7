"""The command line: open the desk, render, hit, check, new, diff, merge, replay, shelf, sheet, pack, tour."""

from __future__ import annotations

import os
import sys
from pathlib import Path
from typing import Any

import click

import chalcedon
from chalcedon.problems import ChalcedonError


class _Commands(click.Group):
    """`chalcedon FILE` opens the desk; any other first word is a command."""

    def parse_args(self, ctx: click.Context, args: list[str]) -> list[str]:
        if not args or (args[0] not in self.commands and not args[0].startswith("-")):
            args = ["desk", *args]
        return super().parse_args(ctx, args)


@click.group(cls=_Commands, context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(chalcedon.__version__)
def cli() -> None:
    """Scenes of persistent shapes: seen, hit, changed, saved and reloaded.

    `chalcedon [FILE]` opens the desk. The other commands need no screen.
    """


@cli.command()
@click.argument("file", required=False)
@click.option("--theme", type=click.Choice(["plaster", "basalt"]), help="Light or dark; remembered.")
def desk(file: str | None, theme: str | None) -> None:
    """Open the desk, with FILE if given (the command may be left out)."""
    from chalcedon.collector import collector_paused

    with collector_paused():  # all that is made here stays
        from chalcedon.desk.app import run

    sys.exit(run(file, theme))


@cli.command()
@click.argument("file")
@click.argument("out")
@click.option("--scale", default=1.0, show_default=True, help="Picture px per scene px, for PNG and WebP.")
@click.option("--only", multiple=True, metavar="ID", help="Show this shape, without the page; may be repeated.")
@click.option("--clear", is_flag=True, help="Leave the page's own paint out.")
@click.option("--outlines", is_flag=True, help="Write text as outlines, in an SVG.")
@click.option("--set", "sets", multiple=True, metavar="NAME=VALUE", help="Give an input a value; may be repeated.")
def render(
    file: str, out: str, scale: float, only: tuple[str, ...], clear: bool, outlines: bool, sets: tuple[str, ...]
) -> None:
    """Write the page of FILE as a picture OUT.png, .webp, .svg or .pdf."""
    scene = _open(file).scene
    for name, value in _sets(sets):
        scene.inputs[name] = value
    shapes = [scene[id] for id in only]
    for note in chalcedon.render(scene, out, scale, only=shapes, clear=clear, outlines=outlines):
        click.echo(note, err=True)


@cli.command()
@click.argument("file")
@click.argument("out")
@click.option("--outlines", is_flag=True, help="Write text as outlines, in an SVG.")
def convert(file: str, out: str, outlines: bool) -> None:
    """Make a scene file OUT.chal of an SVG file, or an SVG, PDF, PNG or WebP file of either."""
    from chalcedon.painter.pictures import KINDS

    suffix = Path(out).suffix.lower()
    if suffix not in (".chal", *KINDS):
        hint = f"End the name in .chal for a scene, or in {', '.join(KINDS)} for a picture."
        raise ChalcedonError(f"{suffix or 'no suffix'} is no kind of file that is written.", out, hint)
    scene = _open(file).scene
    if suffix == ".chal":
        for note in chalcedon.save_scene(scene, out):
            click.echo(note, err=True)
        return
    for note in chalcedon.render(scene, out, outlines=outlines):
        click.echo(note, err=True)


@cli.command()
@click.argument("file")
@click.argument("x", type=float, required=False)
@click.argument("y", type=float, required=False)
@click.option("--points", help="A JSON file holding a list of [x, y].")
def hit(file: str, x: float | None, y: float | None, points: str | None) -> None:
    """Print what is hit at X Y of the scene, or at every point of a list, as JSON.

    Per point: the list of hits from front to back, each with id, part and distance (scene px from the point to
    the outline).
    """
    import orjson

    if (points is None) == (x is None or y is None):
        raise click.UsageError("give either X and Y, or --points.")
    where = _points(points) if points is not None else [(x or 0.0, y or 0.0)]
    scene = _open(file).scene
    found = [
        [{"id": h.id, "part": h.part, "distance": h.distance} for h in chalcedon.hit_test(scene, px, py)]
        for px, py in where
    ]
    click.echo(orjson.dumps(found if points is not None else found[0]).decode())


@cli.command()
@click.argument("file")
def check(file: str) -> None:
    """Print the problems in FILE, one a line; exit status 1 when there are any. What only looks odd goes to stderr."""
    from chalcedon.evaluate import DisplayList
    from chalcedon.files import open_scene
    from chalcedon.files.check import check_scene

    opened = open_scene(file)
    for notice in opened.notices:
        click.echo(notice, err=True)
    problems = [str(p) for p in opened.problems]
    for remark in check_scene(DisplayList(opened.scene)):
        if remark.grave:
            problems.append(str(remark))
        else:
            click.echo(f"{remark} ({remark.what})", err=True)
    for line in problems:
        click.echo(line)
    if problems:
        sys.exit(1)
    click.echo(f"{file}: {len(opened.scene)} shapes, no problems.", err=True)


@cli.command()
@click.argument("file")
@click.option("--demo", help="Start from a scene that ships, such as harbour.")
@click.option("--force", is_flag=True, help="Replace FILE when it exists.")
def new(file: str, demo: str | None, force: bool) -> None:
    """Write a new scene to FILE, empty or from a demo."""
    from chalcedon.demos import demo_scene

    if Path(file).exists() and not force:
        raise ChalcedonError("the file exists already.", file, "Choose another name, or give --force.")
    chalcedon.save_scene(demo_scene(demo) if demo else chalcedon.Scene(), file)


@cli.command()
@click.argument("before")
@click.argument("after")
@click.option("--picture", metavar="OUT.png", help="Also write both pages side by side, what differs outlined.")
def diff(before: str, after: str, picture: str | None) -> None:
    """Print what differs between the scenes in BEFORE and AFTER, shape by shape; exit status 1 when anything does.

    An empty file, or none at /dev/null, counts as an empty scene, as version control gives it.
    """
    from chalcedon.scene.compare import compare
    from chalcedon.source.told import tell

    one, two = (_open(f, may_be_empty=True).scene for f in (before, after))
    changes = compare(one, two)
    for change in changes:
        click.echo(str(tell(change, two)))
    if picture is not None:
        from chalcedon.painter.compared import write_compared

        write_compared(one, two, changes, picture)
    sys.exit(1 if changes else 0)


@cli.command()
@click.argument("base")
@click.argument("ours")
@click.argument("theirs")
@click.argument("out")
def merge(base: str, ours: str, theirs: str, out: str) -> None:
    """Write to OUT what OURS and THEIRS have both made of BASE; exit status 1 when they disagree anywhere.

    What both changed differently stays as in OURS; it is printed, and noted at the shape. OUT may be any of the others.
    """
    from chalcedon.files.safely import write_safely
    from chalcedon.files.writer import scene_bytes
    from chalcedon.scene.merge import merge as put_together
    from chalcedon.source.merged import mark, said

    one, two, three = (_open(f, may_be_empty=True).scene for f in (base, ours, theirs))
    conflicts = put_together(one, two, three)
    mark(two, conflicts)
    write_safely(Path(out), scene_bytes(two), "scene", backup=False)
    for conflict in conflicts:
        click.echo(said(conflict, two))
    sys.exit(1 if conflicts else 0)


@cli.command()
@click.argument("file")
@click.option("--full", is_flag=True, help="On the whole screen.")
@click.option("--set", "sets", multiple=True, metavar="NAME=VALUE", help="Give an input a value at the start.")
@click.option("--osc", type=click.IntRange(0, 65535), metavar="PORT", help="Hear Open Sound Control at this UDP port.")
@click.option("--osc-address", default="", help="Hear other machines too: an address of this one, such as 0.0.0.0.")
@click.option("--osc-to", metavar="[HOST:]PORT", help="Send what the scene emits there by Open Sound Control.")
def play(file: str, full: bool, sets: tuple[str, ...], osc: int | None, osc_address: str, osc_to: str | None) -> None:
    """Open only the picture of FILE, alive. Escape leaves.

    With --osc, messages /input/NAME VALUE set inputs and /event/NAME VALUE... have named events happen.
    """
    from chalcedon.desk.live.playwindow import play as run_window
    from chalcedon.live.osc import LOOPBACK, OscDoor, OscTeller

    if osc_address and osc is None:
        raise ChalcedonError("an address needs a port.", "--osc-address", "Give --osc 9000 as well.")
    scene = _open(file).scene
    for name, value in _sets(sets):
        scene.inputs[name] = value
    door = teller = None
    if osc is not None:
        door = OscDoor(osc, osc_address or LOOPBACK, lambda sentence: click.echo(sentence, err=True))
        click.echo(f"Hearing Open Sound Control at {osc_address or LOOPBACK}:{door.port}.", err=True)
    if osc_to is not None:
        host, _, port = osc_to.rpartition(":")
        if not port.isdigit() or not 0 < int(port) < 65536:
            raise ChalcedonError(
                f"{osc_to} is no port.", "--osc-to", "Write 9001, or a host and a port: 10.0.0.7:9001."
            )
        teller = OscTeller(int(port), host or LOOPBACK)
    sys.exit(run_window(scene, Path(file).stem, full, door, teller))


@cli.command()
@click.argument("file")
@click.argument("recording")
@click.option("--expect", metavar="LOG", help="A log that the run has to have; exit status 1 when it hasn't.")
@click.option("--log", "log_file", metavar="OUT", help="Write the log of the run, a line of JSON an event.")
@click.option("--picture", metavar="OUT.png", help="Write what the run looks like at its end.")
@click.option("--set", "sets", multiple=True, metavar="NAME=VALUE", help="Give an input a value at the start.")
def replay(
    file: str, recording: str, expect: str | None, log_file: str | None, picture: str | None, sets: tuple[str, ...]
) -> None:
    """Run the scene in FILE through RECORDING, without a screen.

    What went wrong in the run is printed; with --expect the first event that is another than expected.
    """
    from chalcedon.live.recording import first_difference, log_lines, read_recording
    from chalcedon.live.recording import replay as run_through

    live = run_through(_open(file).scene, read_recording(recording), _sets(sets))
    lines = log_lines(live.log)
    for fault in live.faults:
        click.echo(fault, err=True)
    if log_file is not None:
        Path(log_file).write_text("".join(f"{line}\n" for line in lines))
    if picture is not None:
        from chalcedon.painter.export import write_png
        from chalcedon.painter.render import render_image

        write_png(picture, lambda: render_image(live.display))
    if expect is not None:
        different = first_difference(lines, Path(expect).read_text().splitlines())
        if different:
            click.echo(different)
            sys.exit(1)
    click.echo(f"{live.frame} steps, {len(lines)} events.", err=True)


@cli.command()
@click.argument("file")
@click.argument("out")
@click.option("--from", "first", default=0.0, show_default=True, help="Seconds of the run at which it begins.")
@click.option("--to", "last", default=2.0, show_default=True, help="Seconds at which it ends.")
@click.option("--rate", default=30.0, show_default=True, help="Frames a second, at most 60.")
@click.option("--scale", default=1.0, show_default=True, help="Picture px per scene px.")
@click.option("--recording", metavar="FILE", help="What comes into the run meanwhile.")
@click.option("--set", "sets", multiple=True, metavar="NAME=VALUE", help="Give an input a value at the start.")
def frames(
    file: str,
    out: str,
    first: float,
    last: float,
    rate: float,
    scale: float,
    recording: str | None,
    sets: tuple[str, ...],
) -> None:
    """Write the run of FILE as pictures: OUT.gif or OUT.webp that moves, or OUT.png as OUT-0001.png and so on."""
    from chalcedon.live import Live
    from chalcedon.live.recording import check_fits, read_recording
    from chalcedon.painter.frames import Take, write_frames

    scene = _open(file).scene
    for name, value in _sets(sets):
        scene.inputs[name] = value
    items = None if recording is None else read_recording(recording)
    if items is not None:
        check_fits(items, scene)
    live = Live(scene, seed=0 if items is None else items.seed)
    count = write_frames(live, out, Take(first, last, rate, scale), items)
    click.echo(f"{count} frames of {live.time:.2f} s.", err=True)


@cli.command()
@click.argument("folders", nargs=-1, required=True, metavar="FOLDER...")
@click.option("--search", default="", metavar="WORDS", help="Only scenes with these words in their name or in them.")
@click.option("--newest", is_flag=True, help="The newest first, instead of by name.")
def shelf(folders: tuple[str, ...], search: str, newest: bool) -> None:
    """List the scenes in FOLDER and below: file, page, shapes, bytes, day; exit status 1 when there are none."""
    import time

    from chalcedon.files import shelf as shelves

    found = [shelves.scenes_in(folder) for folder in folders]
    sums = [shelves.summary_of(file) for one in found for file in one.files]
    shown = [s for s in sums if s.has(search)]
    for one in sorted(shown, key=lambda s: -s.changed) if newest else shown:
        day = time.strftime("%Y-%m-%d", time.localtime(one.changed / 1e9))
        told = one.problem or f"{one.page[0]:g}x{one.page[1]:g}\t{one.shapes}\t{one.size}\t{day}"
        click.echo(f"{one.path}\t{told}")
    if any(one.more for one in found):
        click.echo(f"There are more: up to {shelves.MOST_FILES:,} scenes of a folder are listed.", err=True)
    if not shown:
        sys.exit(1)


@cli.command()
@click.argument("files", nargs=-1, required=True, metavar="FILE... OUT")
@click.option("--columns", default=0, help="Pictures side by side; without it the sheet is about as wide as high.")
@click.option("--px", default=320.0, show_default=True, help="Width of each picture.")
def sheet(files: tuple[str, ...], columns: int, px: float) -> None:
    """Write a contact sheet OUT.png or OUT.webp of the scenes in FILE..."""
    from chalcedon.painter.sheet import write_sheet

    *given, out = files
    for note in write_sheet(given, out, columns, px):
        click.echo(note, err=True)


@cli.command()
@click.argument("file")
@click.argument("out", metavar="OUT.zip")
def pack(file: str, out: str) -> None:
    """Put the scene in FILE and all it needs (images, fonts, scenes it goes to) into one bundle OUT.zip.

    What can't be put in is printed. A bundle is opened as it is, or unpacked anywhere.
    """
    from chalcedon.files.packed import pack as write

    for note in write(_open(file).scene, Path(file).stem, out):
        click.echo(note, err=True)


@cli.command()
@click.argument("file")
@click.argument("folder")
def tour(file: str, folder: str) -> None:
    """Without a screen: render FILE, hit-test it, save and reload it, and write the results to FOLDER."""
    from chalcedon.tour import tour as run

    for line in run(file, Path(folder)):
        click.echo(line)


def _open(file: str, may_be_empty: bool = False) -> Any:
    from chalcedon.files.anything import open_any
    from chalcedon.files.reader import Opened

    if may_be_empty and (file == os.devnull or (Path(file).is_file() and not Path(file).stat().st_size)):
        return Opened(chalcedon.Scene())
    opened = open_any(file)
    for line in (*opened.notices, *map(str, opened.problems)):
        click.echo(line, err=True)
    return opened


def _sets(sets: tuple[str, ...]) -> list[tuple[str, Any]]:
    """Inputs and their values from NAME=VALUE; values are JSON, or texts."""
    import orjson

    out: list[tuple[str, Any]] = []
    for one in sets:
        name, sign, raw = one.partition("=")
        if not sign:
            raise ChalcedonError(f"{one} gives no input a value.", "--set", "Write --set tide=0.4.")
        try:
            out.append((name.strip(), orjson.loads(raw)))
        except orjson.JSONDecodeError:
            out.append((name.strip(), raw))
    return out


def _points(file: str) -> list[tuple[float, float]]:
    import orjson

    try:
        raw = orjson.loads(Path(file).read_bytes())
        if not isinstance(raw, list):
            raise ValueError("it is not a list")
        return [(float(p[0]), float(p[1])) for p in raw]
    except OSError as error:
        raise ChalcedonError(f"the points can't be read: {error.strerror}.", file) from None
    except (ValueError, TypeError, IndexError, KeyError) as error:
        raise ChalcedonError(f"the points can't be read: {error}.", file, "Write [[10, 20], [30, 40]].") from None


def main() -> None:
    try:
        cli()
    except ChalcedonError as error:
        click.echo(str(error), err=True)
        sys.exit(2)


if __name__ == "__main__":
    main()
