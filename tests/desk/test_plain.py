"""Nothing that a file or a hand gave is taken for markup, and none of it is shown at endless length."""

import re
from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QApplication, QLabel, QToolTip, QWidget

import chalcedon
from chalcedon.desk.ledger.tips import tip_of
from chalcedon.desk.looks.plain import LONGEST, tip_text

EVIL = "<img src=/dev/zero>&<b>quay</b>"
FILE = """{"chalcedon": 1, "size": [400, 300], "palette": {"<b>tide": "#3e7f8b"}, "shapes": [
{"kind":"text","id":"words","content":"EVIL","family":"EVIL","label":"EVIL","note":"EVIL","fill":"var(--<b>tide)"},
{"kind":"circle","id":"ring","radius":"EVIL","label":"EVIL","opacity":{"formula":"EVIL","last":0.5}},
{"kind":"EVIL","id":"odd"},
{"kind":"path","id":"broken","data":"EVIL","fill":{"image":"EVIL"}},
{"kind":"image","id":"net","source":"EVIL"},
{"kind":"circle","id":"EVIL"}
]}""".replace("EVIL", EVIL)


def walk():
    """Every widget of the application."""
    for top in QApplication.topLevelWidgets():
        yield top
        yield from top.findChildren(QWidget)


def check():
    """Labels take no markup, and tips that hold any hold it as text."""
    seen = 0
    for widget in walk():
        if isinstance(widget, QLabel) and not widget.inherits("QTipLabel"):
            assert widget.textFormat() == Qt.TextFormat.PlainText, widget.text()
            assert len(widget.text()) <= LONGEST
            seen += EVIL in widget.text()
        tip = widget.toolTip()
        assert "<img" not in tip and "<b>" not in tip, tip
        seen += "&lt;img" in tip
    return seen


def test_everything_shown_is_plain(desk, tmp_path):
    path = tmp_path / "quay <b>&x [*].chal"
    path.write_text(FILE)
    w = desk.w
    assert w.files.open_path(path)
    seen = check()
    assert seen >= 1 and EVIL[:20] in w.messages.label.text(), "the problems of the file are said, as they are"
    for id in ("words", "ring", "odd", "broken", "net"):
        w.session.select([desk[id]])
        w.checking.look()
        w.ledger.lay_open()
        index = w.ledger.index_of(desk[id])
        for cell in w.ledger.row_cells(index):
            top = w.ledger.top_of(index)
            w.ledger.reveal(desk[id])
            if cell.role == "text":
                w.ledger.acts.open_editor(cell)
                seen += check()
                w.ledger.acts.close_editor()
            tip = tip_text(tip_of(cell, w.session))
            assert "<img" not in tip and "<b>" not in tip, (tip, top)
    w.run_command("shape.palette")
    check()
    w.palette_panel.rows["<b>tide"]["chip"].click()
    check()
    w.palette_panel.picker.close()
    w.palette_panel.close()
    w.run_command("view.reference")
    check()
    w.reference_panel.close()
    w.finder.open("EVIL")
    check()
    w.finder.close_finder()
    w.run_command("outline.check")
    assert w.messages.asking
    check()
    w.files.open_recent(str(path))
    w._fill_recent()
    assert "&&x" in w.recent_menu.actions()[0].text(), "no letter of a file name is underlined"
    check()


def test_tips_hold_markup_as_text():
    assert tip_text("a & <img src=x>") == "<span>a &amp; &lt;img src=x&gt;</span>"
    assert tip_text("plain") == "plain" and len(tip_text("y" * 10**6)) < 700


def test_a_message_of_a_million_letters_is_cut(desk):
    desk.session.say("lamp " * 200_000, "problem")
    assert len(desk.w.messages.label.text()) <= LONGEST and "1,000,000 characters" in desk.w.messages.label.text()


def test_labels_and_tips_are_made_in_one_place():
    """A label or a tip made elsewhere would guess what its text is."""
    for file in (Path(chalcedon.__file__).parent / "desk").rglob("*.py"):
        if file.name != "plain.py":
            assert not re.search(
                r"\bQLabel\(|\.setToolTip\(|QToolTip\.showText\(|QMessageBox|setHtml", file.read_text()
            ), file


def test_a_tip_under_the_pointer_is_plain(desk):
    desk.session.scene["moon"].label = EVIL
    desk.session.select([desk["moon"]])
    cell, spot = desk.cell("moon", "text", "label")
    from PySide6.QtCore import QEvent
    from PySide6.QtGui import QHelpEvent

    at = desk.w.ledger.viewport().mapTo(desk.w.ledger, spot)
    QApplication.sendEvent(desk.w.ledger, QHelpEvent(QEvent.Type.ToolTip, at, desk.w.ledger.mapToGlobal(at)))
    assert "<img" not in QToolTip.text()
    QToolTip.hideText()
    assert cell.name == "label" and isinstance(at, QPoint)


@pytest.mark.parametrize("name", ["file.save", "help.about"])
def test_what_is_said_stays_plain(desk, name):
    desk.w.run_command(name) if name != "file.save" else desk.session.say(EVIL)
    check()
