"""Pages as a browser shows and hits them, where one is installed: pictures, and elementsFromPoint (CSSOM View)."""

import html
import json
import re
import shutil
import subprocess

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from pages import pages
from PIL import Image
from second import far, ours

from chalcedon import hit_test
from chalcedon.files.svgout import svg_bytes

BROWSER = shutil.which("chromium") or shutil.which("chromium-browser")
STEP, PAGES = 4, 12
ASK = """<script>const out=[];document.querySelectorAll("div").forEach(d=>{const b=d.getBoundingClientRect(),one=[];
for(let y=2;y<64;y+=%d)for(let x=2;x<64;x+=%d)one.push(document.elementsFromPoint(b.x+x,b.y+y).map(e=>{
while(e&&e!==d&&!(e.dataset&&e.dataset.id))e=e.parentNode;return e&&e!==d?e.dataset.id:""}).filter(i=>i));
out.push(one)});document.body.append(Object.assign(document.createElement("pre"),{textContent:JSON.stringify(out)}))
</script>"""


def shown(made, folder):
    """What a browser shows of SVG pages below one another, and the ids at points of each, front to back."""
    body = []
    for number, data in enumerate(made):
        text = re.sub(r'\bid="([^"]*)"', rf'id="s{number}-\1" data-id="\1"', data.decode())
        body.append("<div>" + text.replace("url(#", f"url(#s{number}-") + "</div>")
    page = folder / "page.html"
    style = "<style>body{margin:0}div{width:64px;height:64px;overflow:hidden}svg{display:block}</style>"
    page.write_text(f"<!DOCTYPE html>{style}<body>{''.join(body)}{ASK % (STEP, STEP)}</body>")
    start = [
        BROWSER,
        "--headless",
        "--no-sandbox",
        "--disable-gpu",
        "--hide-scrollbars",
        f"--window-size=200,{64 * len(made) + 120}",
    ]
    picture = folder / "page.png"
    subprocess.run([*start, f"--screenshot={picture}", page.as_uri()], capture_output=True, timeout=120, check=True)
    dumped = subprocess.run([*start, "--dump-dom", page.as_uri()], capture_output=True, timeout=120, check=True)
    found = json.loads(html.unescape(re.search(r"<pre>(.*?)</pre>", dumped.stdout.decode(), re.S)[1]))
    return np.asarray(Image.open(picture).convert("RGB")).astype(int), found


@pytest.mark.skipif(BROWSER is None, reason="there is no browser here")
def test_random_pages_are_shown_and_hit_as_in_a_browser(tmp_path):
    scenes = []

    @settings(max_examples=4 * PAGES, database=None, suppress_health_check=list(HealthCheck))
    @given(pages())
    def collect(scene):
        for shape in scene.walk():
            if "stroke_width" in shape.properties:  # what is written as areas has no stroke to be hit
                shape.stroke_width = min(shape.stroke_width, 5)
                shape.stroke_align, shape.start_head, shape.mid_head, shape.end_head = "center", "none", "none", "none"
        made = svg_bytes(scene)
        if not made.notes and len(scenes) < PAGES:
            scenes.append((scene, made.data))

    collect()
    picture, found = shown([data for _, data in scenes], tmp_path)
    compared = 0
    for number, (scene, data) in enumerate(scenes):
        assert far(ours(scene), picture[64 * number : 64 * number + 64, :64]) <= 40, data.decode()
        points = [(x, y) for y in range(2, 64, STEP) for x in range(2, 64, STEP)]
        groups = {s.id for s in scene.walk() if s.kind == "group"}
        masks = {s.clip for s in scene.walk() if s.kind == "group"} | {
            s.id for s in scene.walk() if getattr(s, "cuts", 0)
        }
        if masks - {""}:
            continue  # a mask doesn't keep the pointer off in SVG; here what isn't seen isn't hit
        for point, theirs in zip(points, found[number], strict=True):
            near = {h.id for h in hit_test(scene, *point, radius=0.7)}
            mine = [h.id for h in hit_test(scene, *point)]
            other = list(dict.fromkeys(i for i in theirs if i not in groups))
            if not near - set(mine):
                compared += 1
                assert mine == other, (point, data.decode())
    assert compared > 500
