"""Responses written by choosing: what could come next in the sentence is offered."""

import pytest

from chalcedon.scene import Circle, Group, Scene
from chalcedon.source.answerhints import answer_hint
from chalcedon.source.answers import parse_response, print_response


@pytest.fixture
def quay(tmp_path):
    scene = Scene([Group(id="pier", children=[Circle(id="lamp"), Circle(id="buoy")])])
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
