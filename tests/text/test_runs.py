"""Words in another colour, weight, size or slant: one text all the same."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from chalcedon.evaluate import DisplayList
from chalcedon.files import read_scene, scene_bytes
from chalcedon.hit import hit_test
from chalcedon.painter.export import rgba_array
from chalcedon.problems import ValueProblem
from chalcedon.scene import Scene, Text, palette
from chalcedon.scene.kinds.text import layout_of
from chalcedon.scene.runs import after_edit, stretches, with_values
from chalcedon.source import parse_text, print_shapes

WORDS = "low water at six"
BIG = {"weight": 700, "italic": True, "size": 30}
RED, BLUE, INK = (184, 72, 42), (32, 96, 192), (34, 41, 46)

places = st.tuples(st.integers(0, 20), st.integers(0, 20)).filter(lambda p: p[0] != p[1]).map(sorted)
said = st.fixed_dictionaries(
    {}, optional={"weight": st.sampled_from([300, 700]), "size": st.sampled_from([12, 40]), "italic": st.booleans()}
).filter(bool)
some_runs = st.lists(st.tuples(places, said).map(lambda r: (*r[0], r[1])), max_size=5)


def laid(**values):
    return layout_of(Text(**values)._values)


def counted(scene, color):
    return int((np.abs(rgba_array(scene)[..., :3].astype(int) - color).max(axis=2) < 60).sum())


@given(some_runs, st.text(st.sampled_from("ab c\n"), max_size=20))
def test_every_character_is_set_as_the_last_run_about_it_says(runs, content):
    text = Text(content=content, size=20, runs=runs)
    by_hand = [{} for _ in content]
    for first, last, values in runs:
        for i in range(first, min(last, len(content))):
            by_hand[i] |= values
    found = [{} for _ in content]
    for s in stretches(text.runs, len(content)):
        for i in range(s.first, s.last):
            assert not found[i]
            found[i] = s.values
    assert found == by_hand
    layout = layout_of(text._values)
    sizes = sorted({g.size for g in layout.glyphs})
    assert set(sizes) <= {by.get("size", 20) for by in by_hand}
    points = sum(len(layout.marked({m}).coords) for m in {g.mark for g in layout.glyphs})
    assert points == len(layout.outline().coords), "every glyph belongs to one mark"


@given(
    st.text(st.sampled_from("abc de"), max_size=14),
    st.integers(0, 14),
    st.integers(0, 4),
    st.text("xy", max_size=3),
    some_runs,
)
def test_runs_keep_to_their_characters_while_the_words_are_edited(old, at, gone, put, runs):
    at = min(at, len(old))
    new = old[:at] + put + old[at + gone :]
    runs = Text(content=old, runs=[r for r in runs if r[1] <= len(old)]).runs
    # each character of its own, so that only one edit can have made one of the other
    names_old = [chr(200 + i) for i in range(len(old))]
    names_new = names_old[:at] + [chr(900 + i) for i in range(len(put))] + names_old[at + gone :]
    moved = after_edit(runs, "".join(names_old), "".join(names_new))

    def about(all_runs, names):
        found = {}
        for s in stretches(all_runs, len(names)):
            for i in range(s.first, min(s.last, len(names))):
                found[names[i]] = s.values
        return found

    before, after = about(runs, names_old), about(moved, names_new)
    assert {n: after.get(n) for n in names_new if n in names_old} == {
        n: before.get(n) for n in names_new if n in names_old
    }
    if old:
        like = at if gone and at < len(old) else max(0, at - 1)
        written = {n: after.get(n) for n in names_new if n not in names_old}
        assert written == dict.fromkeys(written, before.get(names_old[like])), "as what was there, or before it"
    assert len(new) == len(names_new)
    assert all(0 <= run.first < run.last <= len(new) for run in moved), "none of nothing"


@given(some_runs, places, said)
def test_what_is_set_over_runs_is_set_there_and_nowhere_else(runs, where, values):
    runs = Text(runs=runs).runs
    after = with_values(runs, *where, values)
    for i in range(22):
        one, two = (next((s.values for s in stretches(r, 22) if s.first <= i < s.last), {}) for r in (runs, after))
        assert two == (one | values if where[0] <= i < where[1] else one)
    plain = with_values(after, 0, 22, dict.fromkeys(("weight", "size", "italic")))
    assert plain == ()


def test_a_run_is_wider_taller_and_moves_what_follows():
    usual = laid(content=WORDS, size=20)
    bold = laid(content=WORDS, size=20, runs=[(0, 3, {"weight": 700})])
    large = laid(content=WORDS, size=20, runs=[(4, 9, {"size": 60})])
    assert bold.lines[0].width > usual.lines[0].width and bold.box[3] == usual.box[3]
    assert large.box[3] - large.box[1] == pytest.approx(3 * (usual.box[3] - usual.box[1]))
    assert large.lines[0].width > usual.lines[0].width * 1.5
    wrapped = laid(content=f"{WORDS}\n{WORDS}", size=20, width=400, runs=[(0, 3, {"size": 40})])
    assert len(wrapped.lines) == 2 and wrapped.box[3] - wrapped.box[1] == pytest.approx(1.25 * (40 + 20))


def test_the_same_style_said_by_runs_is_the_same_text():
    whole = laid(content=WORDS, size=30, weight=700, italic=True, kerning=False, ligatures=False)
    by_runs = laid(
        content=WORDS,
        size=20,
        kerning=False,
        ligatures=False,
        runs=[(0, 7, BIG), (7, 16, BIG)],
    )
    assert by_runs.outline().coords == pytest.approx(whole.outline().coords)


@pytest.mark.parametrize(
    ("content", "align"), [("low water at six and high at noon", "left"), ("שלום עולם שלום עולם שלום", "right")]
)
def test_the_first_line_of_each_paragraph_is_indented(content, align):
    plain = laid(content=f"{content}\n{content}", size=20, width=160)
    inner = laid(content=f"{content}\n{content}", size=20, width=160, indent=30, align=align)
    starts = {0, len(content) + 1}
    for line in inner.lines:
        edge = line.left if align == "left" else 160 - line.left - line.width
        assert edge == pytest.approx(30 if line.start in starts else 0, abs=1e-6)
        assert line.left >= -1e-9 and line.left + line.width <= 160 + 1e-6
    assert len(inner.lines) >= len(plain.lines)
    assert laid(content="low", size=20, indent=30).box[2] == pytest.approx(laid(content="low", size=20).box[2] + 30)


def test_words_are_painted_in_their_own_colours_and_hit_as_one_text():
    text = Text(
        id="sign",
        at=(20, 20),
        content=WORDS,
        size=60,
        runs=[(0, 3, {"fill": "#b8482a"}), (4, 9, {"fill": "var(--deep)"})],
    )
    scene = Scene([text], size=(520, 120), palette={"deep": "#2060c0"})
    red, blue, ink = (counted(scene, c) for c in (RED, BLUE, INK))
    assert min(red, blue, ink) > 300
    assert [h.shape.id for h in hit_test(scene, 40, 55)] == ["sign"] == [h.shape.id for h in hit_test(scene, 300, 55)]
    scene.palette = {"deep": "#b8482a"}
    assert counted(scene, BLUE) < blue / 3 and counted(scene, RED) > red + blue / 2, "it follows the palette"
    palette.rename_color(scene, "deep", "rust")
    assert dict(text.runs[1].values)["fill"] == "var(--rust)"
    text.fill_on = False
    assert counted(scene, RED) == 0 and not hit_test(scene, 40, 55)
    text.fill_on, text.runs = True, ()
    assert counted(scene, RED) == 0 and counted(scene, INK) > ink


def test_runs_are_saved_copied_and_written_as_text():
    text = Text(
        id="sign", content=WORDS, runs=[(0, 3, {"fill": "red", "weight": 700}), {"first": 5, "last": 9, "size": 50}]
    )
    scene = Scene([text])
    again = read_scene(scene_bytes(scene)).scene
    assert again.equals(scene) and again["sign"].runs == text.runs
    assert parse_text(print_shapes([text]))[0].runs == text.runs
    assert DisplayList(again).node(again["sign"]).letters


@pytest.mark.parametrize(
    ("runs", "said"),
    [
        ([(3, 3, {"weight": 700})], "holds no character"),
        ([(0, 3, {})], "says nothing"),
        ([(0, 3, {"radius": 4})], "a run has no radius"),
        ([(-1, 3, {"weight": 700})], "not a place between characters"),
        ([(0, 3, {"weight": 7000})], "too large"),
        ([(0, 3)], "is not a run"),
        (7, "is not a list of runs"),
        ([(0, 3, {"fill": {"formula": "x", "last": "red"}})], "takes no formula"),
    ],
)
def test_what_is_no_run_is_refused_with_a_sentence(runs, said):
    with pytest.raises(ValueProblem, match=said):
        Text(runs=runs)


def test_runs_beyond_the_end_do_nothing_and_come_back_with_the_words():
    text = Text(content="low", runs=[(0, 9, {"weight": 700})])
    assert layout_of(text._values).lines[0].end == 3
    text.content = WORDS
    assert {g.mark for g in layout_of(text._values).glyphs} == {0, -1}


def test_a_run_ends_where_what_it_ended_in_was_replaced():
    runs = Text(content="low water at six", runs=[(4, 9, {"weight": 700})]).runs
    for new, ends in (
        ("low watch at six", [(4, 9)]),  # "er" became "ch": what was written in it is in it
        ("low wat, oh, at six", [(4, 12)]),
        ("low wat at six", [(4, 7)]),
        ("low waterfall at six", [(4, 13)]),
        ("low at six", []),
    ):
        assert [(r.first, r.last) for r in after_edit(runs, "low water at six", new)] == ends, new
