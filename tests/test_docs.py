"""Generated pages are what the declarations say, and every example works."""

import re
from pathlib import Path

from chalcedon.files import read_scene
from chalcedon.source import parse_line
from scripts import make_docs

ROOT = Path(__file__).resolve().parent.parent


def test_generated_pages_are_current():
    assert (ROOT / "docs/reference.md").read_text() == make_docs.reference(), "run make docs"
    assert (ROOT / "docs/library.md").read_text() == make_docs.library(), "run make docs"
    assert (ROOT / "docs/scene.schema.json").read_text() == make_docs.schema_text(), "run make docs"
    assert (ROOT / "docs/scene-format.md").read_text() == make_docs.format_page(), "run make docs"
    assert make_docs.STUB.read_text() == make_docs.stub(), "run make docs"


def test_examples_work():
    for kind, line in make_docs.EXAMPLES.items():
        assert parse_line(line).kind == kind
    for line in re.findall(r"`((?:\w+ = )?circle [^`]+)`", (ROOT / "docs/guide.md").read_text()):
        assert parse_line(line).kind == "circle"
    (example,) = re.findall(r"```json\n(.*?)```", (ROOT / "docs/scene-format.md").read_text(), re.S)
    opened = read_scene(example.encode())
    assert not opened.problems and len(opened.scene) == 4


def test_the_readme_example_runs(tmp_path, monkeypatch):
    (code,) = re.findall(r"```python\n(.*?)```", (ROOT / "README.md").read_text(), re.S)
    monkeypatch.chdir(tmp_path)
    exec(compile(code, "README.md", "exec"), {})
    assert (tmp_path / "night.chal").exists()


def test_the_examples_of_the_guide_run(tmp_path, monkeypatch):
    monkeypatch.chdir(tmp_path)
    blocks = re.findall(r"```python\n(.*?)```", (ROOT / "docs/guide.md").read_text(), re.S)
    names = [{} for _ in blocks]
    for code, own in zip(blocks, names, strict=True):
        exec(compile(code, "guide.md", "exec"), own)
    assert (tmp_path / "inn.png").exists() and names[0]["barn"].id == "house_2"
    assert names[1]["ship"].id == "union" and names[1]["along"].length > 400
    assert names[2]["live"].faults == [] and names[2]["boat"].fill == "#ffffff"
    assert names[2]["picture"].shape == (300, 400, 4)
    assert names[3]["new"]["moon"].at == (40, 40)


def test_links_lead_somewhere():
    for page in (ROOT / "README.md", ROOT / "ARCHITECTURE.md", *(ROOT / "docs").glob("*.md")):
        for link in re.findall(r"\]\(([^)#]+)", page.read_text()):
            assert (page.parent / link).exists(), f"{page.name}: {link}"
