"""What is said of files that can't be read, or not all of them, as it was read through and found right."""

import pytest
from recorded import assert_as_recorded

from chalcedon.files import open_scene
from chalcedon.files.anything import open_any
from chalcedon.problems import ChalcedonError

HEAD = '{"chalcedon": 1, "shapes": ['
FILES = {
    "empty": b"",
    "blank": b" \n\t",
    "cut off": HEAD.encode() + b'\n{"kind": "circle", "radius": 4',
    "cut off in a text": HEAD.encode() + b'{"kind": "cir',
    "not JSON": b"circle 10 10 40",
    "a comma too many": HEAD.encode() + b'{"kind": "circle",}]}',
    "no list": b"3",
    "a list": b"[1, 2]",
    "NaN": HEAD.encode() + b'{"kind": "circle", "radius": NaN}]}',
    "Infinity": HEAD.encode() + b'{"kind": "circle", "radius": -Infinity}]}',
    "far too large": HEAD.encode() + b'{"kind": "circle", "radius": 1e999}]}',
    "long integers": HEAD.encode() + b'{"kind": "circle", "radius": 123456789012345678901234567890}]}',
    "UTF-16": (HEAD + "]}").encode("utf-16"),
    "Latin 1": HEAD.encode() + b'\n{"kind": "text", "content": "M\xf6we"}]}',
    "a PNG": b"\x89PNG\r\n\x1a\n\0\0\0\rIHDR",
    "a JPEG": b"\xff\xd8\xff\xe0\0\x10JFIF",
    "a GIF": b"GIF89a\1\0",
    "a WebP": b"RIFF\x24\0\0\0WEBPVP8 ",
    "a PDF": b"%PDF-1.7\n",
    "an archive": b"PK\x03\x04\x14\0",
    "gzip": b"\x1f\x8b\x08\0",
    "an SVG": b'<?xml version="1.0"?>\n<!-- <a> --><!----> <svg xmlns="http://www.w3.org/2000/svg"/>',
    "another XML": b"<!-- <svg> --><html/>",
    "half a character": HEAD.encode() + b'{"kind": "text", "content": "\\ud83d"}]}',
    "nested deeply": b"[" * 5000 + b"]" * 5000,
    "another key twice": HEAD.encode() + b'{"kind": "circle", "radius": 4, "radius": 5}]}',
    "no version": b'{"shapes": []}',
    "an odd version": b'{"chalcedon": "one", "shapes": []}',
    "a later version": b'{"chalcedon": 99, "shapes": []}',
    "no shapes": b'{"chalcedon": 1}',
    "shapes of nothing": b'{"chalcedon": 1, "shapes": null}',
    "a shape of nothing": HEAD.encode() + b"null, 3, []]}",
    "no kind": HEAD.encode() + b'{"id": "a"}]}',
    "another kind": HEAD.encode() + b'{"kind": "circel", "id": "a"}, {"kind": 4}, {"kind": "hologram"}]}',
    "ids": HEAD.encode() + b'{"kind": "rect", "id": "a b"}, {"kind": "rect", "id": 3}, {"kind": "rect", "id": null}, '
    b'{"kind": "rect", "id": "b"}, {"kind": "rect", "id": "b"}, {"kind": "rect", "id": "self"}, '
    b'{"kind": "rect", "id": ""}]}',
    "children": HEAD.encode() + b'{"kind": "rect", "children": []}, {"kind": "group", "children": 4}]}',
    "values": HEAD.encode() + b'\n{"kind": "rect", "size": [1],\n"corners": "x", "wears": 3, "odd": {"a": 1}}]}',
    "of the scene": b'{"chalcedon": 1,\n"size": [0, 4], "palette": 3, "inputs": {"tide": {"number": "x"}}, '
    b'"shapes": []}',
}


def test_what_is_said_of_a_file_is_as_it_was_found_right(tmp_path):
    lines = []
    for name, data in FILES.items():
        path = tmp_path / "a.chal"
        path.write_bytes(data)
        lines.append(f"{name}:")
        try:
            opened = open_scene(path)
        except ChalcedonError as problem:
            lines.append(f"    refused: {problem}")
            continue
        lines += [f"    notice: {notice}" for notice in opened.notices]
        lines += [f"    problem: {problem}" for problem in opened.problems]
        lines.append(f"    {[f'{s.kind} {s.id}' for s in opened.scene.walk()]}")
    path.with_suffix(".svg").write_bytes(FILES["no shapes"])
    with pytest.raises(ChalcedonError) as problem:
        open_any(path.with_suffix(".svg"))
    lines.append(f"a scene that is called an SVG:\n    refused: {problem.value}")
    assert_as_recorded("unreadable", [line.replace(str(tmp_path), "...") for line in lines])
