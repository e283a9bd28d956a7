"""A scene with all it needs in one file: a ZIP archive of the scene file, its images, the fonts of its texts and the
scenes that it goes to. Unpacked anywhere it is a folder of scenes; it is opened as it is, too."""

from __future__ import annotations

import os
import posixpath
import shutil
import tempfile
import zipfile
import zlib
from collections.abc import Iterator
from io import BytesIO
from pathlib import Path
from typing import Any

from chalcedon.evaluate import DisplayList
from chalcedon.files.beside import SUFFIX, ZIP, scene_beside
from chalcedon.files.images import embedded, linked_file
from chalcedon.files.reader import LARGEST, Opened, read_scene
from chalcedon.files.safely import write_safely
from chalcedon.files.writer import scene_bytes
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Scene, Text
from chalcedon.scene.kinds.text import layout_of
from chalcedon.scene.paints import Picture
from chalcedon.text import fonts
from chalcedon.text.beside import FOLDER, faces_in
from chalcedon.text.fonts import GENERIC, SHIPPED

MOST_FILES = 2000
TIMES = 200
"""How much larger than the archive what is in it may be; real scenes get to about 20."""


def pack(scene: Scene, name: str, path: str | os.PathLike[str]) -> list[str]:
    """Writes a bundle of a scene as it is now, called `name`. Gives sentences about what could not be put in. Raises
    ChalcedonError."""
    target = Path(path)
    if target.suffix.lower() != ZIP:
        raise ChalcedonError("a bundle is a ZIP archive.", str(target), f"End the name in {ZIP}.")
    files: dict[str, bytes] = {}
    notes: list[str] = []
    waiting, seen = [(scene, name)], {name}
    while waiting:
        one, called = waiting.pop(0)
        files[f"{called}{SUFFIX}"] = scene_bytes(one)
        _add_images(one, files, notes)
        _add_fonts(one, files, notes)
        for word in _scenes(one):
            if word not in seen:
                seen.add(word)
                try:
                    beside = scene_beside(one, word)
                    opened = read_scene(beside.read_bytes(), str(beside)).scene
                except (ChalcedonError, OSError) as problem:
                    notes.append(f"{called} goes to {word}, which is not in it: {problem}")
                    continue
                opened.folder = one.folder
                waiting.append((opened, word))
    out = BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for file, data in files.items():
            archive.writestr(zipfile.ZipInfo(file, (1980, 1, 1, 0, 0, 0)), data, zipfile.ZIP_DEFLATED)
    notes += write_safely(target, out.getvalue(), "bundle", backup=False)
    return list(dict.fromkeys(notes))


def _add_images(scene: Scene, files: dict[str, bytes], notes: list[str]) -> None:
    for source in dict.fromkeys(images_of(scene)):
        try:
            data = linked_file(source, scene.folder).read_bytes()
        except (ChalcedonError, OSError) as problem:
            why = problem.sentence if isinstance(problem, ChalcedonError) else f"{source}: {problem.strerror}."
            notes.append(f"An image is not in it: {why}")
            continue
        files[posixpath.normpath(source)] = data


def images_of(scene: Scene) -> Iterator[str]:
    """The files that images and paints of a scene name, as they name them; the same one may come again."""
    for owner in (scene, *scene.walk()):
        for name, value in owner._values.items():
            if name in ("source", "reference") and isinstance(value, str):
                if value and not value.startswith("data:"):
                    yield value
            elif isinstance(value, Picture) and not value.source.startswith("data:"):
                yield value.source


def _add_fonts(scene: Scene, files: dict[str, bytes], notes: list[str]) -> None:
    """Puts the fonts in that texts are set in, also those that stand in for a character."""
    if not any(isinstance(shape, Text) for shape in scene.walk()):
        return
    display = DisplayList(scene)
    shipped = str(fonts.shipped_folder())
    for node in display.order:
        if not isinstance(node.shape, Text):
            continue
        layout = layout_of(node.values)
        family = node.values.get("family", SHIPPED)
        if layout.substitute:
            notes.append(f"The font {family} is not on this machine, so it isn't in it.")
        elif family.casefold() in GENERIC:
            notes.append(f"{family} is a font of each machine's own choice; name one for the same look everywhere.")
        for face in {id(p.face): p.face for p in layout.glyphs}.values():
            if not face.file.startswith(shipped):
                _add_font(face.file, files, notes)
    display.detach()


def _add_font(file: str, files: dict[str, bytes], notes: list[str]) -> None:
    name = f"{FOLDER}/{Path(file).name}"
    if name in files:
        return
    faces = faces_in(file)
    if not faces:
        notes.append(f"The font {Path(file).name} is not in it: what it says of its licence can't be read.")
    elif not all(face.embeds for face in faces):
        notes.append(f"The font {Path(file).name} is not in it: its licence doesn't let it be handed on.")
    else:
        files[name] = Path(file).read_bytes()


def _scenes(scene: Scene) -> list[str]:
    """The names of the scenes that its responses go to."""
    responses = (r for owner in (scene, *scene.walk()) for r in owner._values.get("responses", ()))
    return [act.target for response in responses for act in response.do if act.op == "goto" and act.target]


# opening


def open_bundle(path: str | os.PathLike[str]) -> Opened:
    """The scene in a bundle, its images embedded, so that it needs no folder. Raises ChalcedonError."""
    name = os.fspath(path)
    try:
        with zipfile.ZipFile(path) as archive:
            return _open(archive, name)
    except FileNotFoundError:
        raise ChalcedonError("there is no such file.", name) from None
    except (zipfile.BadZipFile, zlib.error, EOFError, NotImplementedError, RuntimeError, OSError, ValueError) as error:
        raise ChalcedonError(f"this is not a bundle that can be opened: {error}.", name) from None


def _open(archive: zipfile.ZipFile, name: str) -> Opened:
    entries = {i.filename: i for i in archive.infolist() if not i.is_dir()}
    whole = sum(i.file_size for i in entries.values())
    if len(entries) > MOST_FILES or whole > LARGEST or whole > TIMES * max(os.path.getsize(name), 1 << 16):
        raise ChalcedonError("the archive holds far more than it seems to.", name, "It is not opened.")
    scenes = [n for n in entries if n.endswith(SUFFIX) and "/" not in n]
    if not scenes:
        raise ChalcedonError("there is no scene in it.", name, f"A bundle holds a file that ends in {SUFFIX}.")
    opened = read_scene(archive.read(scenes[0]), f"{name}, {scenes[0]}")
    if scenes[1:]:
        opened.notices.append(f"There are {len(scenes) - 1} more scenes in it; unpack it to go from one to another.")
    _take_fonts(archive, entries)
    _embed(opened, archive, set(entries))
    return opened


def _embed(opened: Opened, archive: zipfile.ZipFile, names: set[str]) -> None:
    scene = opened.scene
    made = {}
    for source in set(images_of(scene)):
        file = posixpath.normpath(source)
        if file in names:
            made[source] = embedded(archive.read(file), file.rsplit(".", 1)[-1].lower().replace("jpg", "jpeg"))
        else:
            opened.notices.append(f"The image {source} is not in the bundle.")
    for owner in (scene, *scene.walk()):
        values: dict[str, Any] = owner._values
        for key, value in list(values.items()):
            if key in ("source", "reference") and value in made:
                values[key] = made[value]
            elif isinstance(value, Picture) and value.source in made:
                values[key] = value._replace(source=made[value.source])


def _take_fonts(archive: zipfile.ZipFile, names: dict[str, Any]) -> None:
    """Fonts are opened from files: they are put into a folder that goes when the program ends."""
    wanted = [n for n in names if posixpath.dirname(n) == FOLDER]
    if not wanted:
        return
    folder = Path(_folder())
    (folder / FOLDER).mkdir(exist_ok=True)
    for name in wanted:
        (folder / FOLDER / posixpath.basename(name)).write_bytes(archive.read(name))
    fonts.look_beside(folder)


def _folder() -> str:
    import atexit

    global _unpacked
    if not _unpacked:
        _unpacked = tempfile.mkdtemp(prefix="chalcedon-")
        atexit.register(shutil.rmtree, _unpacked, ignore_errors=True)
    return _unpacked


_unpacked = ""
