"""Pictures written and copied from the window."""

import pytest
from PySide6.QtCore import QMimeData, Qt, QUrl
from PySide6.QtGui import QGuiApplication, QImage
from PySide6.QtWidgets import QFileDialog

Key = Qt.Key


@pytest.fixture
def chosen(monkeypatch, tmp_path):
    """What the file dialog answers."""
    answer = {"name": "", "filter": "PNG pictures (*.png)"}

    def ask(_owner, _title, start, _filters):
        answer["start"] = start
        return answer["name"], answer["filter"]

    monkeypatch.setattr(QFileDialog, "getSaveFileName", ask)
    return answer


def test_a_picture_of_the_page_or_of_what_is_selected_is_written(desk, chosen, tmp_path):
    panel = desk.w.picturing.panel
    desk.w.run_command("file.picture")
    width, height = desk.session.scene.size
    panel.scale.setText("3/2")
    assert panel.measures.text() == f"{width * 1.5:.0f} × {height * 1.5:.0f} px"
    panel.scale.setText("nought")
    assert panel.complaint.text() and not panel.choose.isEnabled()
    panel.scale.setText("2")
    chosen["name"] = str(tmp_path / "page.png")
    desk.key(Key.Key_Return, widget=panel.scale)
    assert not panel.isVisible() and QImage(chosen["name"]).width() == 2 * width and "Wrote page.png" in desk.said
    desk.session.select([desk["moon"]])
    desk.w.run_command("file.picture")
    panel.only.click()
    assert panel.measures.text() == "200 × 200 px"
    chosen.update(name=str(tmp_path / "moon"), filter="SVG pictures (*.svg)")
    panel.choose.click()
    assert b'id="moon"' in (tmp_path / "moon.svg").read_bytes() and "Wrote moon.svg" in desk.said
    chosen["name"] = str(tmp_path / "none" / "moon.pdf")
    desk.w.run_command("file.picture")
    panel.choose.click()
    assert "no such folder" in desk.said


def test_pictures_and_svg_are_copied(desk):
    clipboard = QGuiApplication.clipboard()
    desk.session.select([desk["moon"]])
    desk.w.run_command("edit.copy_picture")
    assert clipboard.image().width() == 200 and "a picture of moon, 200 × 200 px" in desk.said
    desk.w.run_command("edit.copy_svg")
    assert '<circle id="moon"' in clipboard.text() and "Copied moon as SVG." in desk.said
    desk.session.select([])
    desk.w.run_command("edit.copy_svg")
    assert 'id="boat"' in clipboard.text() and "Copied the page as SVG." in desk.said
    clipboard.clear()


SVG = (
    '<svg xmlns="http://www.w3.org/2000/svg" width="100" height="60"><clipPath id="c"><circle cx="20" cy="20" r="15"/>'
    '</clipPath><rect id="moon" width="40" height="40" clip-path="url(#c)"/><foreignObject/></svg>'
)


def test_svg_is_opened_imported_pasted_and_dropped(desk, chosen, monkeypatch, tmp_path, qtbot):
    file = tmp_path / "night sky.svg"
    file.write_text(SVG)
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_args: (str(file), ""))
    before = desk.order
    desk.w.run_command("file.import")
    group = desk.session.selection[0]
    assert group.kind == "group" and group.id == "night_sky" and "<foreignObject>" in desk.said
    clipped = group.children[0]
    assert clipped.clip in {s.id for s in clipped.children}, "its clip is found under its new id"
    desk.session.undo()
    assert desk.order == before
    QGuiApplication.clipboard().setText(SVG)
    desk.w.run_command("edit.paste")
    assert desk.session.selection[0].id == "pasted" and len(desk.session.selection) == 1
    desk.session.select([desk["boat"]])
    place = desk.session.node(desk["boat"]).bounds()
    desk.w.run_command("edit.copy_svg")
    desk.w.run_command("edit.paste")
    assert desk.session.node(desk.session.selection[0]).bounds() == pytest.approx(place), "where it was copied"
    QGuiApplication.clipboard().setText("<svg")
    desk.w.run_command("edit.paste")
    assert "not well-formed XML" in desk.said
    QGuiApplication.clipboard().clear()
    mime = QMimeData()
    mime.setUrls([QUrl.fromLocalFile(str(file))])
    desk.w.dropping.take(mime, None)
    x0, _, x1, _ = desk.session.node(desk.session.selection[0]).bounds()
    assert desk.session.selection[0].id == "night_sky" and x1 - x0 == 40
    desk.session.scene.history.mark_saved()
    assert desk.w.files.open_path(file)
    assert desk.session.path is None and desk.session.title == "night sky" and desk.session.scene.size == (100, 60)
    desk.w.run_command("file.save")
    assert chosen["start"] == str(file.with_suffix(".chal")), "asked for beside what was opened"
    assert "moon" in desk.session.scene and "Opened, with things to look at" in desk.said
    file.write_text("<html/>")
    assert not desk.w.files.open_path(file) and "not an SVG file" in desk.said
