"""Functions of numbers. Angles are in degrees; points are taken number by number."""

from __future__ import annotations

import math
from typing import Any

from chalcedon.formula.table import function

LARGEST = 1024
"""Binary digits of the largest whole number that a power gives; a double has a range of as many."""


@function("maths", name="abs", each=True, column=abs)
def abs_(x: float) -> float:
    """The size of a number without its sign."""
    return abs(x)


@function("maths", name="min", same=True)
def min_(a: float, *more: float) -> float:
    """The least of some numbers."""
    return min(a, *more) if more else a


@function("maths", name="max", same=True)
def max_(a: float, *more: float) -> float:
    """The largest of some numbers."""
    return max(a, *more) if more else a


@function("maths", name="round", each=True)
def round_(x: float, digits: float = 0) -> float:
    """The nearest whole number, or the nearest with some decimals; a half goes to the even one."""
    return round(x, int(digits)) if digits else round(x)


@function("maths", each=True)
def floor(x: float) -> float:
    """The next whole number below."""
    return math.floor(x)


@function("maths", each=True)
def ceil(x: float) -> float:
    """The next whole number above."""
    return math.ceil(x)


@function("maths", each=True)
def sqrt(x: float) -> float:
    """The square root. x must not be negative."""
    return math.sqrt(x)


@function("maths", name="pow")
def power(x: float, exponent: float) -> float:
    """A number to the power of another, as x ** exponent."""
    if isinstance(x, int) and isinstance(exponent, int) and exponent > 0:
        if x.bit_length() * exponent > LARGEST + 64:
            raise OverflowError
        return x**exponent
    if not (isinstance(x, int) and isinstance(exponent, int)):
        x, exponent = float(x), float(exponent)  # an integer may have more digits than a double
    value: Any = x**exponent
    if isinstance(value, complex):
        raise ValueError("a negative number to a broken power")
    result: float = value
    return result


@function("maths", each=True)
def exp(x: float) -> float:
    """e to the power of x."""
    return math.exp(x)


@function("maths")
def log(x: float, base: float = math.e) -> float:
    """The logarithm, natural unless a base is given. x must be above 0."""
    return math.log(x) if base == math.e else math.log(x, base)


@function("maths", each=True)
def sin(x: float) -> float:
    """The sine of an angle in degrees."""
    return math.sin(math.radians(x))


@function("maths", each=True)
def cos(x: float) -> float:
    """The cosine of an angle in degrees."""
    return math.cos(math.radians(x))


@function("maths", each=True)
def tan(x: float) -> float:
    """The tangent of an angle in degrees."""
    return math.tan(math.radians(x))


@function("maths", each=True)
def asin(x: float) -> float:
    """The angle, -90 to 90 degrees, that has a sine. x goes from -1 to 1."""
    return math.degrees(math.asin(x))


@function("maths", each=True)
def acos(x: float) -> float:
    """The angle, 0 to 180 degrees, that has a cosine. x goes from -1 to 1."""
    return math.degrees(math.acos(x))


@function("maths", each=True)
def atan(x: float) -> float:
    """The angle, -90 to 90 degrees, that has a tangent."""
    return math.degrees(math.atan(x))


@function("maths")
def atan2(y: float, x: float) -> float:
    """The angle in degrees of the way to x, y: y comes first, as everywhere."""
    return math.degrees(math.atan2(y, x))


@function("maths")
def hypot(x: float, y: float) -> float:
    """The length of the way to x, y."""
    return math.hypot(x, y)


@function("maths", each=True)
def sign(x: float) -> float:
    """-1, 0 or 1: which side of zero x is on."""
    return (x > 0) - (x < 0)


@function("maths")
def mod(x: float, by: float) -> float:
    """What is left when x is divided, as x % by: with the sign of `by`."""
    return x % by


@function("ranges", each=True)
def clamp(x: float, low: float, high: float) -> float:
    """x kept between two limits."""
    return min(max(x, low), high)


@function("ranges", each=True)
def remap(x: float, a: float, b: float, c: float, d: float) -> float:
    """x taken from the range a to b into the range c to d; it isn't kept between them."""
    return c + (d - c) * ((x - a) / (b - a))


@function("ranges", each=True)
def step(edge: float, x: float) -> float:
    """0 below an edge, 1 from it on."""
    return 0 if x < edge else 1


@function("ranges", each=True)
def smoothstep(a: float, b: float, x: float) -> float:
    """0 up to a, 1 from b on, and a smooth way between them: 3t² - 2t³."""
    if a == b:
        return 0 if x < a else 1
    t = min(max((x - a) / (b - a), 0.0), 1.0)
    return t * t * (3.0 - 2.0 * t)


@function("ranges", each=True)
def snap(x: float, grid: float) -> float:
    """The nearest whole multiple of a grid."""
    return round(x / grid) * grid
