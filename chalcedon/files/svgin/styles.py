"""What style sheets, style attributes and presentation attributes come to (CSS Cascade 4)."""

from __future__ import annotations

import re
from typing import Any, NamedTuple

import cssselect2
import tinycss2
from lxml import etree

from chalcedon.files.svgin.measures import extent
from chalcedon.files.svgin.tree import tag_of

INHERITED = frozenset(
    """
    fill fill-opacity fill-rule stroke stroke-width stroke-opacity stroke-linecap stroke-linejoin
    stroke-miterlimit stroke-dasharray stroke-dashoffset color clip-rule visibility font-family
    font-size font-weight font-style text-anchor letter-spacing word-spacing direction pointer-events
    white-space marker-start marker-mid marker-end paint-order
    """.split()  # noqa: SIM905
)
OWN = frozenset(
    """
    opacity display mix-blend-mode isolation clip-path mask filter transform transform-origin stop-color
    stop-opacity vector-effect mask-type x y cx cy r rx ry width height d overflow
    """.split()  # noqa: SIM905
)
MARKERS = ("marker-start", "marker-mid", "marker-end")
"""What the shorthand `marker` says."""
KNOWN = INHERITED | OWN
_KEYWORDS = frozenset(("inherit", "initial", "unset", "revert", ""))
Style = dict[str, str]
SIZES = {
    "xx-small": 9.0, "x-small": 10.0, "small": 13.0, "medium": 16.0, "large": 18.0, "x-large": 24.0, "xx-large": 32.0,
    "xxx-large": 48.0,
}  # fmt: skip
"""Px of the words for a size (CSS Fonts 4, section 2.5), as browsers have them."""
_FONT = re.compile(
    r"((?:(?:normal|italic|oblique|small-caps|bold|bolder|lighter|[1-9]00)\s+)*)"
    rf"([-+.\d]\S*?|larger|smaller|{'|'.join(SIZES)})(?:\s*/\s*\S+)?\s+(.+)",
    re.IGNORECASE | re.DOTALL,
)
"""The shorthand `font`: style and weight, size, families."""


class _Declared(NamedTuple):
    important: bool
    specificity: tuple[int, ...]
    number: int
    name: str
    value: str


class Sheets:
    """The rules of all style sheets in a file."""

    def __init__(self, root: etree._Element) -> None:
        self._matcher = cssselect2.Matcher()
        self._count = 0
        self.unread: list[str] = []
        for element in root.iter():
            if tag_of(element) == "style" and (element.get("type") or "text/css") == "text/css":
                self._add("".join(element.itertext()))
        self._wrapped: dict[Any, Any] = {}
        if self._count:
            wrapper = cssselect2.ElementWrapper.from_xml_root(root)
            self._wrapped = {w.etree_element: w for w in wrapper.iter_subtree()}

    def _add(self, text: str) -> None:
        for rule in tinycss2.parse_stylesheet(text, skip_comments=True, skip_whitespace=True):
            if rule.type == "at-rule":
                self.unread.append(f"@{rule.at_keyword}")
                continue
            if rule.type != "qualified-rule":
                continue
            try:
                selectors = cssselect2.compile_selector_list(rule.prelude)
            except cssselect2.SelectorError:
                self.unread.append(tinycss2.serialize(rule.prelude).strip())
                continue
            declared = declarations(rule.content)
            for selector in selectors:
                self._matcher.add_selector(selector, declared)
                self._count += 1

    def rules(self, element: etree._Element) -> list[tuple[tuple[int, ...], int, list[tuple[str, str, bool]]]]:
        """What matches an element: specificity, order, declarations."""
        wrapped = self._wrapped.get(element)
        if wrapped is None:
            return []
        return [(specificity, order, payload) for specificity, order, _, payload in self._matcher.match(wrapped)]


def declarations(content: Any) -> list[tuple[str, str, bool]]:
    """Names, values and whether they are important."""
    out = []
    for node in tinycss2.parse_blocks_contents(content, skip_comments=True, skip_whitespace=True):
        if node.type != "declaration":
            continue
        name, value = node.lower_name, tinycss2.serialize(node.value).strip()
        if name == "marker":
            out += [(each, value, node.important) for each in MARKERS]
        elif name == "font":
            out += [(each, said, node.important) for each, said in _font(value)]
        elif name in KNOWN:
            out.append((name, value, node.important))
    return out


def _font(text: str) -> list[tuple[str, str]]:
    """What the shorthand `font` says (CSS Fonts 4, section 2.7); nothing when it isn't one."""
    match = _FONT.fullmatch(text)
    if match is None:
        return []
    words = match[1].lower().split()
    style = next((w for w in words if w in ("italic", "oblique")), "normal")
    weight = next((w for w in words if w[0].isdigit() or w in ("bold", "bolder", "lighter")), "normal")
    return [("font-style", style), ("font-weight", weight), ("font-size", match[2]), ("font-family", match[3])]


def _sized(style: Style, parent: Style) -> Style:
    """The same with the size of its font in px, which is what its own children inherit."""
    said, around = style.get("font-size"), float(parent.get("font-size", 16.0))
    if said is not None and said is not parent.get("font-size"):
        usual = {"larger": around * 1.2, "smaller": around / 1.2, **SIZES}.get(said.lower(), around)
        style["font-size"] = repr(max(0.01, extent(said, usual, around, around)))
    return style


def style_of(element: etree._Element, sheets: Sheets, parent: Style) -> Style:
    """What an element's properties come to, inherited ones included."""
    out = {name: value for name, value in parent.items() if name in INHERITED}
    said = {name: value.strip() for name, value in element.items() if name in KNOWN}
    text, rules = element.get("style"), sheets.rules(element)
    if not text and not rules and _KEYWORDS.isdisjoint(said.values()):
        out.update(said)  # as most are
        return _sized(out, parent)
    found = [_Declared(False, (), 0, name, value) for name, value in said.items()]
    for specificity, order, declared in rules:
        found += [_Declared(important, (0, *specificity), order, name, value) for name, value, important in declared]
    if text:
        found += [_Declared(important, (1,), 0, name, value) for name, value, important in declarations(text)]
    found.sort(key=lambda d: d[:3])
    for _important, _specificity, _number, name, value in found:
        taken = value
        if value == "inherit" or (value == "unset" and name in INHERITED):
            taken = parent.get(name, "")
        elif value in _KEYWORDS:
            taken = ""
        if taken:
            out[name] = taken
        else:
            out.pop(name, None)
    return _sized(out, parent)
