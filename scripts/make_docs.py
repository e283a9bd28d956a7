"""Writes the generated pages of docs from the declarations and the code, and the screenshots with --pictures."""

import inspect
import json
import os
import sys
import tempfile
from pathlib import Path

import click

from chalcedon.__main__ import cli
from chalcedon.desk.commands import COMMANDS, MENUS
from chalcedon.evaluate.names import BOX, MOMENT, STATES
from chalcedon.files.schema import schema
from chalcedon.formula.table import FUNCTIONS
from chalcedon.scene import KINDS, OFFERED, Group, Scene
from chalcedon.scene.shapes import Shape
from chalcedon.scene.steps import OPS
from scripts.library_page import library
from scripts.make_stub import stub

ROOT = Path(__file__).resolve().parent.parent
DOCS = ROOT / "docs"
STUB = ROOT / "chalcedon" / "__init__.pyi"

EXAMPLES = {kind: KINDS[kind].example for kind in OFFERED}


def default(value):
    return "none" if value is None else json.dumps(value, ensure_ascii=False)


def table(properties):
    rows = ["| property | default | takes | |", "| --- | --- | --- | --- |"]
    for name, prop in properties.items():
        takes = prop.kind.describe().replace("|", "\\|")
        rows.append(f"| `{name}` | `{default(prop.kind.write(prop.default))}` | {takes} | {prop.help} |")
    return rows


def reference():
    """The reference page as text."""
    out = [
        "# Reference",
        "",
        "Made from the declarations by `make docs`; the same declarations check the file, lay out the",
        "ledger, complete the new line and give the library its signatures.",
        "",
        "Lengths are px, angles degrees from the positive x axis toward the positive y axis (down). Any number,",
        'colour, switch or word may be a formula, `{"formula": "text", "last": value}` in the file; until formulas',
        "run, the last value is used.",
        "",
        "## Scene",
        "",
        *table(Scene.properties),
        "",
        "## Every shape",
        "",
    ]
    out += table(Shape.properties)
    common = set(Shape.properties)
    for kind in OFFERED:
        cls = KINDS[kind]
        doc = " ".join((cls.__doc__ or "").split())
        picture = f"![{EXAMPLES[kind]}](kinds/{kind}.png)"
        out += ["", f"## {kind}", "", doc, "", picture, "", f"In a new line: `{EXAMPLES[kind]}`", ""]
        leading = ", ".join(f"`{n}`" for n in cls.leading)
        out += [f"Without a name, in this order: {leading}.", ""]
        own = {n: p for n, p in cls.properties.items() if n not in common or n in cls.__dict__}
        out += table(own) if own else ["Nothing of its own."]
        if cls.words:
            out += ["", "It can also be given, in a new line, in the text form and in the library, by:", ""]
            out += ["| word | numbers | |", "| --- | --- | --- |"]
            out += [f"| `{word}` | {', '.join(f.labels)} | {f.help} |" for word, f in cls.words.items()]
    out += [
        "",
        "## Steps",
        "",
        "Applied in reading order. `about` is a fixed point in the parent's space instead of the pivot;",
        "`off` keeps a step without applying it.",
        "",
        "| step | numbers |",
        "| --- | --- |",
    ]
    out += [f"| `{op}` | {', '.join(labels)} |" for op, labels in OPS.items()]
    out += ["", *formulas(), "", "## Commands", ""]
    for menu in MENUS:
        out += [f"### {menu}", "", "| command | keys |", "| --- | --- |"]
        for c in COMMANDS:
            if c.menu == menu:
                text = c.text if isinstance(c.text, str) else TITLES[c.name]
                out.append(f"| {text} | {', '.join(f'`{k}`' for k in c.keys)} |")
        out.append("")
    return "\n".join([*out, *command_line()]).rstrip() + "\n"


def command_line():
    """Every command of a terminal, with its options."""
    out = ["## The command line", "", "`chalcedon FILE` opens the desk. The other commands need no screen.", ""]
    for name, command in sorted(cli.commands.items()):
        around = click.Context(command, info_name=f"chalcedon {name}", help_option_names=[])
        usage = " ".join(command.collect_usage_pieces(around)).removeprefix("[OPTIONS] ")
        out += [f"### {name}", "", f"`{around.command_path} {usage}`", "", inspect.cleandoc(command.help or ""), ""]
        said = [p.get_help_record(around) for p in command.params if isinstance(p, click.Option)]
        cells = [[part.replace("|", "\\|").replace("  [", " [") for part in option] for option in said if option]
        rows = [f"| `{option}` | {help} |" for option, help in cells]
        out += ["| option | |", "| --- | --- |", *rows, ""] if rows else []
    return out


def formulas():
    """Names and functions that formulas can use."""
    out = ["## Formulas", "", "A Python expression of numbers, texts, tuples, arithmetic, comparison, `and or not`,"]
    out += ["`a if c else b`, `in`, f-strings, and the names and functions below; nothing else of Python.", ""]
    out += ["| name | is |", "| --- | --- |"]
    out += [f"| `{'.'.join(path)}` | {meaning} |" for path, (_kind, meaning) in MOMENT.items()]
    out += ["| an input's name | its value |", "| `palette.tide` | a colour of the palette |"]
    out += ["| `moon.radius`, `moon.at.x`, ... | a property of the shape moon, as it comes to |"]
    out += [
        f"| `moon.{name}` | {meaning}, in the space of the asking shape's parent |"
        for name, (_k, meaning) in BOX.items()
    ]
    out += [f"| `moon.{name}` | {meaning}, in a run |" for name, (_k, meaning) in STATES.items()]
    out += ["| `self`, `parent` | the asking shape, the group around it |", ""]
    for group in dict.fromkeys(f.group for f in FUNCTIONS.values()):
        out += [f"### {GROUPS[group]}", "", "| function | gives |", "| --- | --- |"]
        out += [f"| `{f.signature}` | {f.help} |" for f in FUNCTIONS.values() if f.group == group]
        out.append("")
    return out[:-1]


GROUPS = {
    "chance": "Chance",
    "shapes": "Outlines",
    "moment": "Keys",
    "maths": "Numbers",
    "ranges": "Ranges and mixing",
    "memory": "Memory",
    "points": "Points",
    "time": "Time",
    "colour": "Colours",
}
TITLES = {
    "live.clock": "Play, or pause",
    "edit.undo": "Undo, with the name of what it takes back",
    "edit.redo": "Redo, with the name of what it does again",
    "shape.visible": "Hide, or show",
    "shape.locked": "Lock, or unlock",
    "shape.fill": "Switch the fill off, or on",
    "shape.stroke": "Switch the stroke off, or on",
    "order.up": "One row up",
    "order.down": "One row down",
    "order.past_up": "Up, past the next shape that overlaps",
    "order.past_down": "Down, past the next shape that overlaps",
    "order.top": "To the top row of the group: the very back, or front",
    "order.bottom": "To the bottom row of the group",
}


BUOY = """circle 60 50 26 fill radial #ffd98a #b9772a stroke #5c3d12 4
rect 60 50 50 13 anchor center fill #f6efe0
line 60 24 0 -14 stroke #5c3d12 4 end_head dot"""


def pictures(folder):
    """One picture a kind, of its example, rendered by the same code as every scene."""
    from chalcedon.painter.pictures import Wanted, write_picture
    from chalcedon.source import parse_line

    folder.mkdir(exist_ok=True)
    with tempfile.TemporaryDirectory() as aside:
        buoy = Scene([parse_line(line) for line in BUOY.splitlines()], size=(120, 90), background="#c9dbe6")
        write_picture(buoy, f"{aside}/buoy.png", Wanted(2.0))
        for kind in OFFERED:
            shape = parse_line(EXAMPLES[kind])
            if isinstance(shape, Group):
                shape.attach(parse_line("rect -80 -30 70 60 8 fill #7fa3b8"), 0)
                shape.attach(parse_line("circle 40 0 30 fill #dca443"), 1)
            scene = Scene([shape], size=(280, 130), background="#F7F5F1")
            scene.folder = aside
            write_picture(scene, folder / f"{kind}.png", Wanted(1.5))


def kinds_section():
    """An example of each kind as it stands in a file."""
    from chalcedon.files.writer import shape_bytes
    from chalcedon.source import parse_line

    out = ["| kind | for example |", "| --- | --- |"]
    for kind in OFFERED:
        shape = parse_line(EXAMPLES[kind])
        if isinstance(shape, Group):
            shape.attach(parse_line("inside = circle 0 0 20 fill #b8482a"), 0)
        shape.id = kind
        text = shape_bytes(shape).decode().replace("\n", "").replace("|", "\\|")
        out.append(f"| [{kind}](reference.md#{kind}) | `{text}` |")
    return "\n".join(out)


def format_page():
    """The page about the scene file, with its generated part as it is to be."""
    before, _, rest = (DOCS / "scene-format.md").read_text().partition(MARK)
    after = rest.partition(MARK)[2]
    return f"{before}{MARK}\n{kinds_section()}\n{MARK}{after}"


MARK = "<!-- made by make docs -->"


def schema_text():
    return json.dumps(schema(), indent=1, ensure_ascii=False) + "\n"


def main():
    DOCS.mkdir(exist_ok=True)
    (DOCS / "reference.md").write_text(reference())
    (DOCS / "library.md").write_text(library())
    (DOCS / "scene-format.md").write_text(format_page())
    (DOCS / "scene.schema.json").write_text(schema_text())
    STUB.write_text(stub())
    if "--pictures" in sys.argv:
        os.environ["QT_QPA_PLATFORM"] = "offscreen"  # windows have the focus there, so carets and hints show

        from chalcedon.desk.app import make_app
        from scripts.make_screenshots import main as screenshots

        app = make_app()  # before anything that would make a lesser one
        pictures(DOCS / "kinds")
        screenshots(DOCS / "screenshots")
        app.processEvents()


if __name__ == "__main__":
    main()
