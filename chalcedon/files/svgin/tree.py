"""The elements of an SVG file. Entities, document types and outside references are never followed."""

from __future__ import annotations

import re
from functools import lru_cache

from lxml import etree

from chalcedon.files.kinds import refuse_another
from chalcedon.problems import ChalcedonError

SVG = "http://www.w3.org/2000/svg"
LINK = "{http://www.w3.org/1999/xlink}href"
NOTHING = frozenset(
    """
    defs symbol clipPath mask pattern linearGradient radialGradient marker style title desc metadata
    filter script stop view cursor color-profile animate animateTransform animateMotion set
    """.split()  # noqa: SIM905
)
"""Elements that paint nothing where they stand."""
MOST = 200_000
"""Elements of a file."""


def parse(data: bytes, name: str = "SVG") -> etree._Element:
    """The root of a file. Raises ChalcedonError, with the line, for what is no SVG."""
    parser = etree.XMLParser(
        resolve_entities=False, no_network=True, load_dtd=False, huge_tree=False, remove_comments=True, remove_pis=False
    )
    try:
        root = etree.fromstring(data, parser)
    except etree.XMLSyntaxError as error:
        refuse_another(data, name, "an SVG file")
        line, _ = error.position
        raise ChalcedonError(f"this is not well-formed XML: {error.msg}.", f"{name}, line {line}") from None
    except ValueError as error:
        raise ChalcedonError(f"this can't be read: {error}.", name) from None
    if tag_of(root) != "svg":
        raise ChalcedonError("this is not an SVG file.", name, "The first element of one is <svg>.")
    count = sum(1 for _ in root.iter())
    if count > MOST:
        raise ChalcedonError(f"{count:,} elements are too many.", name, f"Up to {MOST:,} are read.")
    return root


def tag_of(element: etree._Element) -> str:
    """The name of an SVG element; empty for anything else."""
    tag = element.tag
    return _name(tag) if isinstance(tag, str) else ""


@lru_cache(maxsize=1024)
def _name(tag: str) -> str:
    if tag.startswith("{"):
        space, _, name = tag[1:].partition("}")
        return name if space == SVG else ""
    return tag


def href(element: etree._Element) -> str:
    """What an element refers to."""
    return (element.get("href") or element.get(LINK) or "").strip()


def reference(text: str) -> str:
    """The id in `url(#id)` or `#id`; empty for anything else."""
    match = re.match(r"""\s*(?:url\(\s*['"]?)?#([^'")\s]+)""", text)
    return match[1] if match else ""


def place(element: etree._Element) -> str:
    """Where an element stands, in words."""
    name = etree.QName(element).localname if isinstance(element.tag, str) else "?"
    id = element.get("id")
    return f"<{name}{f' id={id!r}' if id else ''}> in line {element.sourceline}"
