"""Patterns: another shape as a tile, repeated without a seam, followed, told of, renamed."""

import numpy as np
import pytest
from second import far, ours, theirs

from chalcedon import (
    ChalcedonError,
    Circle,
    Group,
    Polyline,
    Rect,
    Scene,
    Step,
    Text,
    check_scene,
    hit_test,
    print_shapes,
)
from chalcedon.evaluate import DisplayList
from chalcedon.files.svgout import svg_bytes
from chalcedon.scene.paints import Pattern
from chalcedon.source import parse_line, parse_text


def quilt(*steps, **values):
    """A wall of 120 x 60 tiled with two squares of 10 px, red and blue."""
    tile = Group(
        Rect(id="red", size=(10, 10), fill="#ff0000"),
        Rect(id="blue", at=(10, 0), size=(10, 10), fill="#0000ff"),
        id="tile",
        at=(300, 300),
        visible=False,
    )
    wall = Rect(id="wall", at=(20, 10), size=(120, 60), fill=Pattern("tile", steps), **values)
    return Scene([tile, wall], size=(160, 80), background="#ffffff")


RED, BLUE, WHITE = [255, 0, 0], [0, 0, 255], [255, 255, 255]


def test_tiles_begin_at_the_corner_of_the_box_and_meet_without_a_seam():
    picture = ours(quilt())
    wanted = np.where((np.arange(120) // 10 % 2 == 0)[None, :, None], RED, BLUE)
    assert (picture[10:70, 20:140] == wanted).all()
    assert picture[40, 10].tolist() == picture[5, 60].tolist() == WHITE
    moved = ours(quilt(Step("translate", 10, 0)))
    assert (moved[10:70, 20:140] == wanted[:, ::-1]).all()
    double = ours(quilt(Step("scale", 2, 2)))
    assert double[40, 30].tolist() == RED and double[40, 50].tolist() == BLUE
    turned = ours(quilt(Step("rotate", 90)))
    assert turned[14, 80].tolist() == RED and turned[24, 80].tolist() == BLUE
    fine = ours(quilt(Step("scale", 0.37, 0.37)))
    assert np.abs(fine[12:68, 22:138].mean((0, 1)) - (127.5, 0, 127.5)).max() < 8, "no background between tiles"


def test_a_clip_says_how_large_a_tile_is():
    scene = quilt()
    scene.add(Rect(id="cell", at=(300, 300), size=(30, 20), visible=False, fill="#000000"))
    scene["tile"].clip = "cell"
    picture = ours(scene)
    assert [picture[y, x].tolist() for y, x in ((15, 25), (15, 35), (15, 45), (25, 25))] == [RED, BLUE, WHITE, WHITE]
    assert picture[35, 55].tolist() == RED


def test_what_is_repeated_is_followed_and_may_not_repeat_itself():
    scene = quilt()
    display = DisplayList(scene)
    display.update()
    scene["blue"].fill = "#00ff00"
    assert any(b[0] <= 20 and b[2] >= 140 for b in display.update().boxes), "the wall looks otherwise"
    assert ours(scene)[40, 35].tolist() == [0, 255, 0]
    scene.rename(scene["tile"], "weave")
    assert scene["wall"].fill.shape == "weave" and [s.id for s, _ in scene.references("weave")] == ["wall"]
    scene["red"].fill = Pattern("weave")
    display.update()
    assert ours(scene)[40, 35].tolist() == [0, 255, 0] and ours(scene)[40, 25].tolist() == WHITE
    scene.undo()
    both = Scene([Group(*(s.copy() for s in scene.top.children), id="both")])
    copy = both.add(both["both"].copy())
    assert copy.children[1].fill.shape == copy.children[0].id == "weave_2"
    scene["weave"].remove()
    display.update()
    assert ours(scene)[40, 25].tolist() == WHITE
    assert any("fill names weave" in str(r) for r in check_scene(scene))


def test_the_whole_of_it_is_hit_and_strokes_and_letters_take_patterns():
    scene = quilt(stroke=Pattern("tile"), stroke_width=10)
    scene.add(Circle(id="gap", at=(100, 40), radius=20, fill=None, stroke=Pattern("tile"), stroke_width=8))
    scene.add(Text("W", id="w", at=(30, 20), size=40, fill=Pattern("tile", (Step("scale", 3, 3),))))
    assert [h.id for h in hit_test(scene, 130, 65)] == ["wall"]
    picture = ours(scene)
    assert picture[40, 17].tolist() in (RED, BLUE) and picture[40, 10].tolist() == WHITE
    # the stroke's tiles begin at its own corner, 5 px further out
    assert picture[7, 16].tolist() == RED and picture[7, 26].tolist() == BLUE


def test_patterns_in_every_text_form_and_what_is_none():
    wall = quilt(Step("rotate", 45), Step("scale", 0.5, 0.5))["wall"]
    (again,) = parse_text(print_shapes([wall]))
    assert again.fill == wall.fill
    assert parse_line("rect 0 0 10 10 fill pattern tile 45 0.5").fill == wall.fill
    assert parse_line("circle 0 0 10 stroke pattern tile 3").stroke == Pattern("tile", (Step("rotate", 3),))
    for wrong, why in (
        ({"pattern": "no id"}, "can't be the id"),
        ({"pattern": "a", "fit": "tile"}, "does not belong"),
        ({"pattern": "a", "steps": [{"rotate": {"formula": "time"}}]}, "no formulas"),
    ):
        with pytest.raises(ChalcedonError, match=why):
            Rect(fill=wrong)
    with pytest.raises(ChalcedonError, match="laid on a shape"):
        Scene(background=Pattern("tile"))
    with pytest.raises(ChalcedonError, match="names no shape"):
        parse_line("rect 0 0 10 10 fill pattern")


def test_what_is_repeated_stands_upright_where_y_runs_up():
    scene = quilt(Step("rotate", 20), Step("translate", 3, 4), stroke=Pattern("tile"), stroke_width=6)
    before = ours(scene)
    scene.y_axis = "up"
    assert (np.abs(ours(scene) - before).max(-1) > 40).sum() <= 6
    assert theirs(svg_bytes(scene).data).shape == before.shape
    assert far(theirs(svg_bytes(scene).data), before) <= 30


def test_a_stroke_without_its_tile_or_beyond_its_box_shows_nothing_else():
    spike = [(0, 0), (60, 20), (0, 40)]
    for fill in (Pattern("none"), Pattern("tile"), {"image": "", "fit": "cover"}):
        scene = quilt()
        scene["wall"].remove()
        scene.add(Polyline(id="v", at=(30, 20), points=spike, stroke=fill, stroke_width=10, miter_limit=20))
        assert (ours(scene).sum(-1) < 60).sum() == 0, "nothing of it is black"


@pytest.mark.parametrize("side", [0.4, 0.9, 1.5])
def test_tiles_smaller_than_a_px_show_both_their_colours(side):
    scene = quilt()
    scene["red"].size, scene["blue"].size, scene["blue"].at = (side / 2, side), (side / 2, side), (side / 2, 0)
    picture = ours(scene)
    assert np.abs(picture[12:68, 22:138].mean((0, 1)) - (127.5, 0, 127.5)).max() < 66  # of less than a px some is paper
