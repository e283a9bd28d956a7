"""Functions of colours for formulas. A colour is CSS text; what these give is in hex.

OKLab and OKLCh are those of CSS Color 4, section 9: the matrices of its sample code.
"""

from __future__ import annotations

import math
from functools import lru_cache

from chalcedon.formula.table import Point, function
from chalcedon.formula.timing import MIX, between
from chalcedon.problems import ValueProblem
from chalcedon.scene.color import rgba, to_hex

Lab = tuple[float, float, float, float]


@function("colour", name="rgb")
def rgb(red: float, green: float, blue: float, alpha: float = 1) -> str:
    """A colour by red, green and blue, 0 to 255; alpha from 0 to 1."""
    return _hex((red / 255, green / 255, blue / 255), alpha)


@function("colour", name="hsl")
def hsl(hue: float, saturation: float, lightness: float, alpha: float = 1) -> str:
    """A colour by hue in degrees, saturation and lightness in percent, as in CSS."""
    s, light = _percent(saturation), _percent(lightness)

    def channel(n: float) -> float:
        k = (n + hue / 30) % 12
        return light - s * min(light, 1 - light) * max(-1.0, min(k - 3, 9 - k, 1.0))

    return _hex((channel(0), channel(8), channel(4)), alpha)


@function("colour", name="oklch")
def oklch(lightness: float, chroma: float, hue: float, alpha: float = 1) -> str:
    """A colour by lightness 0 to 1, chroma (0 grey to about 0.37) and hue in degrees, as in CSS; hues of one lightness
    look equally light."""
    h = math.radians(hue)
    return _from_lab((lightness, chroma * math.cos(h), chroma * math.sin(h), alpha))


@function("colour")
def alpha(colour: str, alpha: float) -> str:
    """A colour as clear as said: 0 is clear, 1 opaque."""
    r, g, b, _ = _read(colour)
    return to_hex((r, g, b, _byte(alpha)))


@function("colour")
def lighter(colour: str, by: float = 0.1) -> str:
    """A colour made lighter, in OKLab, where 1 is from black to white."""
    light, a, b, opaque = _lab(_read(colour))
    return _from_lab((min(light + by, 1.0), a, b, opaque))


@function("colour")
def darker(colour: str, by: float = 0.1) -> str:
    """A colour made darker, in OKLab, where 1 is from white to black."""
    light, a, b, opaque = _lab(_read(colour))
    return _from_lab((max(light - by, 0.0), a, b, opaque))


@function("colour", name="hue")
def hue_of(colour: str) -> float:
    """The hue of a colour in degrees, in OKLCh; 0 for greys."""
    _, a, b, _ = _lab(_read(colour))
    return math.degrees(math.atan2(b, a)) % 360 if math.hypot(a, b) > 1e-4 else 0.0


@function("ranges", same=True)
def mix(a: float | Point | str, b: float | Point | str, t: float) -> float | Point | str:
    """What lies between two numbers, points or colours: the first at t = 0, the second at 1. Colours are mixed in
    OKLab."""
    if isinstance(a, str) != isinstance(b, str):
        raise ValueProblem("a colour can't be mixed with a number.", hint="Give two of one sort.")
    if isinstance(a, str) and isinstance(b, str):
        return mixed(a, b, t)
    value: float | Point = between(a, b, t)
    return value


def mixed(a: str, b: str, t: float) -> str:
    """A colour between two, mixed in OKLab with its alpha taken into account (CSS Color 4, section 12.3)."""
    t = min(max(t, 0.0), 1.0)
    first, second = _lab(_read(a)), _lab(_read(b))
    opaque = first[3] + (second[3] - first[3]) * t
    if opaque == 0:
        return "#00000000"
    x, y, z = (
        (p * first[3] * (1 - t) + q * second[3] * t) / opaque for p, q in zip(first[:3], second[:3], strict=True)
    )
    return _from_lab((x, y, z, opaque))


MIX.append(mixed)


def tint_apart(a: tuple[float, float, float], b: tuple[float, float, float]) -> float:
    """How far two colours are apart in hue and chroma alone, in OKLab; red, green and blue from 0 to 255. Of all three
    axes a difference of 0.02 can just be seen (CSS Color 4, section 20.3)."""
    one, two = _lab((*a, 255.0)), _lab((*b, 255.0))
    return math.hypot(one[1] - two[1], one[2] - two[2])


def _read(colour: str) -> tuple[int, int, int, int]:
    return rgba(colour.strip())


def _percent(value: float) -> float:
    return min(max(value / 100, 0.0), 1.0)


def _byte(share: float) -> int:
    return round(min(max(share, 0.0), 1.0) * 255)


def _hex(channels: tuple[float, float, float], alpha: float) -> str:
    r, g, b = (_byte(c) for c in channels)
    return to_hex((r, g, b, _byte(alpha)))


@lru_cache(maxsize=4096)
def _lab(color: tuple[float, float, float, float]) -> Lab:
    r, g, b = (_linear(c / 255) for c in color[:3])
    l_ = math.cbrt(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b)
    m_ = math.cbrt(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b)
    s_ = math.cbrt(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b)
    return (
        0.2104542553 * l_ + 0.7936177850 * m_ - 0.0040720468 * s_,
        1.9779984951 * l_ - 2.4285922050 * m_ + 0.4505937099 * s_,
        0.0259040371 * l_ + 0.7827717662 * m_ - 0.8086757660 * s_,
        color[3] / 255,
    )


def _from_lab(lab: Lab) -> str:
    light, a, b, alpha = lab
    l_ = (light + 0.3963377774 * a + 0.2158037573 * b) ** 3
    m_ = (light - 0.1055613458 * a - 0.0638541728 * b) ** 3
    s_ = (light - 0.0894841775 * a - 1.2914855480 * b) ** 3
    return _hex(
        (
            _gamma(4.0767416621 * l_ - 3.3077115913 * m_ + 0.2309699292 * s_),
            _gamma(-1.2684380046 * l_ + 2.6097574011 * m_ - 0.3413193965 * s_),
            _gamma(-0.0041960863 * l_ - 0.7034186147 * m_ + 1.7076147010 * s_),
        ),
        alpha,
    )


def _linear(c: float) -> float:
    return c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4


def _gamma(c: float) -> float:
    return 12.92 * c if c <= 0.0031308 else 1.055 * c ** (1 / 2.4) - 0.055
