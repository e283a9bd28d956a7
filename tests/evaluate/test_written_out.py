"""What scenes come to, shape by shape, and what an edit changes of that and what it leaves alone."""

from recorded import assert_as_recorded, number, numbers

from chalcedon.evaluate import DisplayList
from chalcedon.formula import Formula
from chalcedon.scene import Circle, Gradient, Group, Image, Rect, Scene, Text
from chalcedon.scene.paints import Pattern
from tests.greenhouse import greenhouse
from tests.harbour import harbour


def told(node):
    """What is known of a node."""
    yield f"{node.shape.id} {list(node.copy) or ''}: box {numbers(node.box)}, world {numbers(node.world)}"
    state = [name for name in ("visible", "locked", "special", "even_odd", "cuts") if getattr(node, name)]
    yield f"  {' '.join(state)}; pointer {node.pointer}, blend {node.blend}, opacity {number(node.opacity)}"
    yield f"  cull {numbers(node.cull)}, bounds {numbers(node.bounds())}, painted {numbers(node.painted_bounds())}"
    if not node.group:
        pen = node.pen and f"{number(node.pen.width)} {node.pen.cap} {node.pen.join} {numbers(node.pen.dash)}"
        yield f"  fill {node.fill}, stroke {node.stroke}, pen {pen}, {tuple(node.manner)}"
        yield f"  {len(node.outline.verbs)} segments, {len(node.edges)} edges"
    more = [f"clipped by {' '.join(g.shape.id for g in node.clips)}"] if node.clips else []
    more += [f"shades {[tuple(s) for s in node.shades]}"] if node.shades else []
    more += [f"at {numbers(node.at)} pivot {numbers(node.pivot)} reach {number(node.reach_of_pen())}"]
    yield "  " + ", ".join(more)


def test_what_shapes_come_to():
    lines = []
    for scene in (harbour(), greenhouse()):
        display = DisplayList(scene)
        for shape in scene.walk():
            for node in display.nodes(shape):
                lines += told(node)
        lines.append("order " + " ".join(n.shape.id for n in display.order))
        lines += [f"layer of {x.group.shape.id}: {x.first} to {x.last}" for x in display.layers]
        lines += [f"{n.shape.id} cuts {a} to {b}" for n, a, b in display.cutters]
    assert_as_recorded("nodes", lines, 0.002)


def loom():
    """Where each is made of others by formulas, copies and links."""
    spool = Circle(id="spool", at=(20, 20), radius=10, fill="var(--wool)")
    return Scene(
        [
            spool,
            Rect(id="beam", at=Formula("spool.right, 20"), size=Formula("40, spool.height"), fill="#8a8f98"),
            Group(
                Rect(id="thread", size=(4, Formula("10 + time")), fill="#b8482a", stroke=None),
                id="warp", at=(100, 20),
            ),
            Group(
                Rect(id="shuttle", at=(Formula("time * 10"), 0), size=(20, 8)),
                Circle(id="eye", at=Formula("shuttle.center"), radius=2),
                id="shed", at=(20, 80), clip="reed",
            ),
            Rect(id="reed", at=(30, 70), size=(60, 30), fill=None, visible=False),
            Rect(id="cloth", at=(20, 120), size=(60, 30), fill=Pattern("knot")),
            Circle(id="knot", at=(200, 10), radius=3),
            Text(id="label", content=Formula("text(round(time, 1))"), inside="cloth", size=10),
            Image(id="card", at=(120, 100), size=(20, 20), source="none.png"),
            Group(Group(Rect(id="peg", at=(5, 5), size=(5, 5)), id="rack", at=(10, 0)), id="wall", at=(100, 60)),
        ],
        size=(240, 160), palette={"wool": "#3e7f65"},
    )  # fmt: skip


OF_THE_SCENE = Gradient("linear", (0, 0, 9, 0), ((0, "red"), (1, "blue")), "pad", "scene")
EDITS = {
    "nothing": lambda s: None,
    "another fill": lambda s: s["peg"].assign("fill", "#123456"),
    "the same fill": lambda s: s["peg"].assign("fill", "#123456"),
    "a wider stroke": lambda s: s["peg"].assign("stroke_width", 4),
    "elsewhere": lambda s: s["peg"].assign("at", (6, 5)),
    "larger": lambda s: s["peg"].assign("size", (9, 5)),
    "its group elsewhere": lambda s: s["rack"].assign("at", (12, 0)),
    "the outer group turned": lambda s: s["wall"].assign("steps", [{"rotate": 30}]),
    "the group hidden": lambda s: s["rack"].assign("visible", False),
    "what is hidden moves": lambda s: s["peg"].assign("at", (7, 5)),
    "the group shown": lambda s: s["rack"].assign("visible", True),
    "the group locked": lambda s: s["wall"].assign("locked", True),
    "the group fades": lambda s: s["wall"].assign("opacity", 0.5),
    "the group fades more": lambda s: s["wall"].assign("opacity", 0.4),
    "the group has a shadow": lambda s: s["rack"].assign("shadow", (2, 2, 2, "#000")),
    "a note": lambda s: s["peg"].assign("note", "loose"),
    "what others follow moves": lambda s: s["spool"].assign("at", (24, 20)),
    "what others follow grows": lambda s: s["spool"].assign("radius", 12),
    "a colour of the palette": lambda s: s.assign("palette", {"wool": "#2f6b4f"}),
    "the thread": lambda s: s["thread"].assign("fill", "#000"),
    "the clip": lambda s: s["reed"].assign("size", (50, 30)),
    "no clip": lambda s: s["shed"].assign("clip", ""),
    "the host": lambda s: s["cloth"].assign("size", (80, 30)),
    "the tile": lambda s: s["knot"].assign("radius", 4),
    "it multiplies": lambda s: s["card"].assign("blend", "multiply"),
    "a gradient": lambda s: s["cloth"].assign("fill", OF_THE_SCENE),
    "what has a gradient of the scene moves": lambda s: s["cloth"].assign("at", (22, 120)),
    "to the front": lambda s: s.move(s["spool"], s.top, 9),
    "to where it is": lambda s: s.move(s["spool"], s.top, s.top.children.index(s["spool"])),
    "into a group": lambda s: s.move(s["knot"], s["rack"], 0),
    "out of it": lambda s: s.move(s["peg"], s.top, 0),
    "a new shape": lambda s: s.add(Rect(id="comb", at=(1, 1))),
    "a group less": lambda s: s.remove(s["wall"]),
    "the page": lambda s: s.assign("background", "#fff"),
    "a larger page": lambda s: s.assign("size", (300, 160)),
    "another name": lambda s: s.rename(s["comb"], "rake"),
    "it cuts": lambda s: s["rake"].assign("cuts", True),
    "undone": lambda s: s.undo(),
    "done again": lambda s: s.redo(),
}  # fmt: skip


def changed(display):
    found = display.update()
    if not found:
        return "  nothing"
    parts = [f"{len(found.boxes)} boxes"] if found.boxes else []
    for name in ("nodes", "groups", "came", "left"):
        ids = sorted({n.shape.id + "".join(map(str, n.copy)) for n in getattr(found, name)})
        parts += [f"{name} {' '.join(ids)}"] if ids else []
    parts += [name for name in ("order", "moved", "layers", "page") if getattr(found, name)]
    return "  " + "; ".join(parts)


def test_what_an_edit_changes():
    scene = loom()
    display = DisplayList(scene)
    lines = []
    for name, edit in EDITS.items():
        versions = {n: (n.outline_version, n.paint_version) for n in display.order}
        edit(scene)
        lines += [f"{name}:", changed(display)]
        now = {n: (n.outline_version, n.paint_version) for n in display.order}
        for what, i in (("outlines", 0), ("paints", 1)):
            anew = sorted({n.shape.id for n, v in now.items() if n in versions and v[i] != versions[n][i]})
            lines += [f"  other {what}: {' '.join(anew)}"] if anew else []
        lines.append(f"  {numbers(v for n in display.order[:3] for v in n.cull)}")
    for node in display.order:
        lines += told(node)
    assert_as_recorded("edits", lines, 0.002)
