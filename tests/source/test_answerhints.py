"""Responses written by choosing: what could come next in the sentence is offered."""

import re

import pytest
from recorded import assert_as_recorded

from chalcedon.scene import Circle, Group, Scene
from chalcedon.source.answerhints import answer_hint
from chalcedon.source.answers import parse_response, print_response
from chalcedon.source.formulahints import formula_hint


@pytest.fixture
def quay(tmp_path):
    scene = Scene([Group(id="pier", label="the old pier", children=[Circle(id="lamp"), Circle(id="buoy")])])
    scene.inputs.add("tide", 0.5, low=0, high=1)
    scene.inputs.add("lit", True)
    scene.inputs.add("wind", "calm", choices=("calm", "storm"))
    scene["lamp"].responses = [parse_response("when clicked: tell bell")]
    scene.folder = str(tmp_path)
    (tmp_path / "greenhouse.chal").write_text("")
    return scene


# what is typed, and in brackets what is chosen from the list
SENTENCES = (
    ("w[when ]cl[clicked][: ]la[lamp].fi[fill] [becomes ]red [over 0.3 s][, ]ease-o[ease-out][; ]st[stop there]"),
    ("[when ][clicked][ if ]ti[tide] > 0.5 [: ]to[toggle ][lit]"),
    ("[when ]any[any key goes down][: ][wind] [becomes ]['storm']"),
    ("[when ]key ArrowUp [goes down][: ][add ]5 [to ][self].[at]"),
    ("[when ]tou[touching ][buoy][: ][remove ][self]"),
    ("[when ][it becomes true that ]tide > t[tide] [: ][clock ][stop]"),
    ("[when ]bell[bell is told][: ]pu[put ]bu[buoy] [at ](event.x, event.y) [every 10 px]"),
    ("[when ][entered][: ][lamp].vis[visible] [becomes ][no]"),
    ("[when ][left][: ][pier] [goes past ][lamp]"),
    ("[when ][2 s have gone][: ][go to ][greenhouse]"),
    ("[when ][pressed][: ][tell ][bell] [after 1 s]"),
    ("[when ][clicked][: ]buoy.bl[blend] [becomes ]['multiply']"),
)


@pytest.mark.parametrize("keys", SENTENCES)
def test_a_sentence_is_written_by_choosing(quay, keys):
    text = ""
    for part in keys.replace("]", "[").split("["):
        text += "" if keys.find(f"[{part}]") >= 0 and part else part
        if part and f"[{part}]" in keys:
            hint = answer_hint(quay, quay["lamp"], text, len(text))
            offered = [c.word for c in hint.candidates]
            assert part in offered, (text, offered)
            text = text[: hint.start] + part
    response = parse_response(text)
    assert parse_response(print_response(response)) == response


def test_what_is_offered_says_what_it_means_and_begins_as_what_is_typed(quay):
    hint = answer_hint(quay, quay, "when cl", 7)
    assert [c.word for c in hint.candidates][:2] == ["clicked", "double-clicked"] and hint.start == 5
    assert all(c.meaning for c in hint.candidates)
    assert answer_hint(quay, quay, "when clicked: lamp.no_such.", 27).candidates == ()
    for text in ("", ":", "when :;:", "when if", "a: b becomes ((", "when clicked: add to to", "x" * 400):
        for cursor in range(len(text) + 1):
            answer_hint(quay, quay["lamp"], text, cursor)


WRITTEN = (
    "when clicked: lamp.fill becomes 'red' over 0.3 s, ease-out; stop there",
    "when key Arrow goes down if tide > 0.5: add 5 to buoy.at",
    "when it becomes true that tide > tide / 2: clock pause",
    "when touching buoy: toggle lit after 1 s; toggle lamp.visible",
    "when entered: wind becomes 'storm'; lit becomes no; lamp.blend becomes 'multiply'; self.visible becomes no",
    "when pressed: pier goes past buoy; self goes to the front; wind goes on through calm, storm",
    "when bell is told: put buoy at (event.x, event.y) every 10 px at most 40; remove self",
    "when 2 s have gone: go to greenhouse; tell bell with tide; tide becomes 1",
)
FORMULAS = (
    "moon.", "lamp.at.", "self.ra", "parent.wi", "pointer.", "palette.", "palette.t", "scene.", "scene.center.",
    "spot.", "2 * ti", "clamp(tide, ", "mix('red', ", "ease(tide, 'ease-in-", "max(1, noise(", "tide >", "wind == '",
    "event.",
    "f'{ti", "(lamp.at + buoy.ce", "if ", "not li", "sin(ti", "key", "random(", "lamp.fi", "steps.",
    "pi", "bu", "lamp.at.x.",
)  # fmt: skip


def test_what_is_offered_at_each_place(quay):
    """At each word of some sentences, and behind it; and in formulas."""
    quay.palette = {"tide_colour": "#336699", "tar": "black"}
    quay.inputs.add("spot", (1, 2))

    def told(hint, text):
        words = ", ".join(f"{c.word!r}" for c in hint.candidates[:9])
        more = f" and {len(hint.candidates) - 9} more" if len(hint.candidates) > 9 else ""
        return f"    {text!r}: at {hint.start}: {words}{more}{' | ' + hint.usage if hint.usage else ''}"

    def lines():
        for owner in (quay["lamp"], quay):
            name = getattr(owner, "id", "the scene")
            for text in WRITTEN if owner is not quay else WRITTEN[:3]:
                yield f"== {name}: {text}"
                for end in sorted({m.start() + k for m in re.finditer(r"\w+", text) for k in (0, 2)} | {len(text)}):
                    yield told(answer_hint(quay, owner, text[:end], end), text[max(0, end - 24) : end])
            yield f"== formulas of {name}"
            for text in FORMULAS:
                yield told(formula_hint(quay, owner, text, len(text)), text)
        meanings = {c.word: c.meaning for t in FORMULAS for c in formula_hint(quay, quay["lamp"], t, len(t)).candidates}
        yield from ("== meanings", *(f"    {word}: {meaning}" for word, meaning in sorted(meanings.items())))

    assert_as_recorded("offered", lines())
