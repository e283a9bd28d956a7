"""The text form: statements printed, parsed (never executed), completed and explained."""

from chalcedon.source.complete import Hint, hint_at
from chalcedon.source.line import parse_line
from chalcedon.source.sentence import sentence
from chalcedon.source.text import parse_text, print_shapes

__all__ = ["Hint", "hint_at", "parse_line", "parse_text", "print_shapes", "sentence"]
