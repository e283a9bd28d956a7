"""python -m fuzz [files|svgs|walk|kills] [--seconds N] [--seed S]: runs, reports, ends with 1 when anything failed."""

import os
import tempfile
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
_home = tempfile.TemporaryDirectory()
os.environ["XDG_CONFIG_HOME"] = os.environ["XDG_STATE_HOME"] = _home.name

import click  # noqa: E402

from fuzz import files, kills, svgs, walk  # noqa: E402


@click.command()
@click.argument("what", type=click.Choice(["all", "files", "svgs", "walk", "kills"]), default="all")
@click.option("--seconds", default=300.0, show_default=True, help="For each kind of attack.")
@click.option("--seed", default=1, show_default=True)
def main(what: str, seconds: float, seed: int) -> None:
    failures: list[str] = []
    if what in ("all", "files"):
        opened, found = files.run(10**6, seed * 10**6, seconds, Path("out/fuzz"), files.SLOW)
        click.echo(f"files: {opened} opened and went through everything, {len(found)} failed")
        failures += [f"file {s} (kept in out/fuzz): {t}" for s, t in found]
    if what in ("all", "svgs"):
        read, found = svgs.run(10**6, seed * 10**6, seconds, Path("out/fuzz"))
        click.echo(f"SVG files: {read} read, {len(found)} failed")
        failures += [f"SVG file {s} (kept in out/fuzz): {t}" for s, t in found]
    if what in ("all", "walk"):
        import time

        start, walks = time.monotonic(), 0
        while time.monotonic() - start < seconds:
            with tempfile.TemporaryDirectory() as folder:
                failures += walk.run(seed + walks, 400, Path(folder), seconds)
            walks += 1
        click.echo(f"walks: {walks} of 400 acts")
    if what in ("all", "kills"):
        with tempfile.TemporaryDirectory() as folder:
            failures += kills.run(seed, max(1, int(seconds / 1.5)), Path(folder))
        click.echo(f"kills: {max(1, int(seconds / 1.5))}")
    for text in failures:
        click.echo(text, err=True)
    click.echo(f"{len(failures)} failures")
    raise SystemExit(bool(failures))


main()
