"""Completion of responses: the words that could come next in the sentence, so that it can be written by choosing."""

from __future__ import annotations

import re
from collections.abc import Iterable
from pathlib import Path

from chalcedon.formula.easing import NAMES as EASINGS
from chalcedon.scene import Scene, Shape
from chalcedon.scene.declare import Declared
from chalcedon.scene.responses import FACTS
from chalcedon.scene.values import Choice, Flag
from chalcedon.source.answers import HAPPENS, split
from chalcedon.source.formulahints import MOST, Candidate, FormulaHint, formula_hint

WHEN = "when "
_MORE = (
    ("key ", "a key by its name: key ArrowUp goes down"),
    ("any key goes down", "whatever key it is"),
    ("2 s have gone", "every so many seconds"),
    ("it becomes true that ", "a formula comes true"),
    ("touching ", "it comes to touch another shape"),
    ("parting from ", "it parts from another shape"),
)
_MEANS = {
    "click": "pressed and released on it",
    "dblclick": "clicked twice in a short time",
    "enter": "the pointer comes onto it, or onto what is in it",
    "leave": "the pointer leaves it and all that is in it",
    "over": "the pointer comes onto it; told to the groups around it too",
    "out": "the pointer leaves it; told to the groups around it too",
    "down": "a button goes down on it",
    "up": "a button comes up on it",
    "move": "the pointer moves on it",
    "wheel": "the wheel turns on it",
    "dragstart": "it begins to be dragged",
    "drag": "it is dragged, at every move",
    "dragend": "it is let go",
    "focus": "it hears the keys from now on",
    "blur": "it hears the keys no more",
    "start": "once, at the beginning",
    "step": "sixty times a second",
}
_BEGIN = (
    ("toggle ", "turn a switch over"),
    ("add ", "add to a number or a point"),
    ("put ", "a copy of a shape somewhere"),
    ("remove ", "let a shape go"),
    ("tell ", "have a named event happen"),
    ("clock ", "start, stop, reset or speed it"),
    ("go to ", "another scene of the folder"),
    ("stop there", "the groups around it hear nothing of this"),
)
_CLOCK = (
    ("start", "it goes on"),
    ("stop", "it stands"),
    ("reset", "back to the beginning"),
    ("speed 2", "twice as fast"),
)
_IDS = ("remove", "put", "touching", "parting from", "goes past")
_FORMULA = re.compile(r"(?:^|\s)(becomes|add|at|if|that|through|with)\s+(?P<rest>[^:;]*)$")
_NUMBER = re.compile(r"\d[\d.]*")
_ENDED = re.compile(r"[\w)\"'%]\s$")


def answer_hint(scene: Scene, owner: Declared, text: str, cursor: int) -> FormulaHint:
    """The hint for a response of a shape, or of the scene, with the cursor after so many characters."""
    before = text[:cursor]
    parts = split(before, ":", 1)
    if len(parts) == 1:
        return _head(scene, owner, before)
    act = split(parts[1], ";")[-1]
    return _act(scene, owner, before, act)


def _offer(before: str, typed: str, words: Iterable[tuple[str, str]], usage: str = "") -> FormulaHint:
    """Those of the words that begin with what is typed, then those that hold it."""
    typed = typed.lstrip()
    low = typed.lower()
    all_ = list(words)
    near = [w for w in all_ if w[0].lower().startswith(low) and w[0] != typed]
    near += [w for w in all_ if low and low in w[0].lower() and w not in near and w[0] != typed]
    return FormulaHint(len(before) - len(typed), tuple(Candidate(*w) for w in near[:MOST]), usage)


def _formula(scene: Scene, owner: Declared, before: str, rest: str) -> FormulaHint:
    """What could stand in a formula at the end of the sentence, whose text begins with `rest`."""
    hint = formula_hint(scene, owner, rest, len(rest))
    found = re.search(r"(?<![\w.])(ev\w*)$|(?<![\w.])event\.(\w*)$", rest)
    if found is not None and found[2] is not None:
        return _offer(before, found[2], FACTS.items())
    if found is not None and "event".startswith(found[1]):
        hint = hint._replace(candidates=(Candidate("event.", "what has happened"), *hint.candidates)[:MOST])
    return hint._replace(start=len(before) - len(rest) + hint.start)


def _head(scene: Scene, owner: Declared, before: str) -> FormulaHint:
    if not before.startswith(WHEN):
        return _offer(before, before, [(WHEN, "what happens, then a colon, then what is done")])
    said = before[len(WHEN) :]
    condition = re.search(r"\sif\s+([^:]*)$", said)
    if condition is not None:
        return _tail(_formula(scene, owner, before, condition[1]), condition[1], [(": ", "then …")], before)
    for word in ("touching ", "parting from "):
        if said.startswith(word):
            return _next(before, said[len(word) :], _shapes(scene, owner))
    if said.startswith("it becomes true that "):
        rest = said[len("it becomes true that ") :]
        return _tail(_formula(scene, owner, before, rest), rest, [(": ", "then …")], before)
    names = [(f"{name} is told", "a named event") for name in _told(scene)]
    events = [(said, _MEANS[on]) for on, said in HAPPENS.items()] + list(_MORE) + names
    if any(said.strip() == word for word, _ in events) or re.match(r"key \S+ (goes down|comes up)\s*$", said):
        return _offer(before, "", [(": ", "then …"), (" if ", "only when a formula holds")])
    if re.match(r"key \S+\s+[a-z ]*$", said):
        word = said.split(" ", 2)[2] if said.count(" ") > 1 else ""
        return _offer(before, word, [("goes down", ""), ("comes up", "")])
    _typed, begun = _begun(said, [e for e in events if _NUMBER.match(e[0])])
    return _offer(before, said, begun or events)


def _begun(text: str, phrases: Iterable[tuple[str, str]]) -> tuple[str, list[tuple[str, str]]]:
    """The end of a text that begins one of some phrases, and how these go on from there. A number in a phrase stands
    for any other."""
    typed = ""
    found: list[tuple[str, str]] = []
    for phrase, meaning in phrases:
        words = phrase.split()
        for n in range(len(words), 0, -1):
            parts = [*map(_any, words[: n - 1]), _beginning(words[n - 1], n > 1)]
            match = re.search(rf"(?:^|(?<=\s)){' '.join(parts)}$", text)
            if match is None or not match[0] or len(match[0]) < len(typed):
                continue
            said = [*match[0].split(" ")[: n - 1], *words[n - 1 :]]
            if _NUMBER.fullmatch(words[n - 1]) and match[0].rsplit(" ", 1)[-1]:
                said[n - 1] = match[0].rsplit(" ", 1)[-1]
            found = [] if len(match[0]) > len(typed) else found
            typed = match[0]
            if (whole := " ".join(said) + (" " if phrase.endswith(" ") else "")) != typed:
                found.append((whole, meaning))
            break
    return typed, found


def _any(word: str) -> str:
    return r"[\d.]+" if _NUMBER.fullmatch(word) else re.escape(word)


def _beginning(word: str, nothing: bool) -> str:
    if _NUMBER.fullmatch(word):
        return r"[\d.]*" if nothing else r"[\d.]+"
    begins = [re.escape(word[:k]) for k in range(len(word), 0, -1)]
    return f"(?:{'|'.join(begins)}{'|' if nothing else ''})"


def _next(before: str, typed: str, words: list[tuple[str, str]]) -> FormulaHint:
    """A word of a list; once it stands there, the colon."""
    if typed.strip() in [w for w, _ in words]:
        return _offer(before, "", [(": ", "then …"), (" if ", "only when a formula holds")])
    return _offer(before, typed, words)


def _tail(hint: FormulaHint, rest: str, words: list[tuple[str, str]], before: str) -> FormulaHint:
    """The hint of a formula; what can follow it, where the formula could end here."""
    typed, begun = _begun(rest, words)
    if begun and _ENDED.search(rest[: len(rest) - len(typed)]):
        phrases = _offer(before, typed, begun)
        same = hint.candidates if hint.start == phrases.start else ()
        return phrases._replace(candidates=(*phrases.candidates, *same)[:MOST], usage=hint.usage)
    if not hint.candidates and rest.strip() and _ENDED.search(rest):
        return _offer(before, "", words, hint.usage)
    return hint


def _act(scene: Scene, owner: Declared, before: str, act: str) -> FormulaHint:
    said = act.lstrip()
    if (timed := _time(before, said)) is not None:
        return timed
    word = said.split(" ", 1)[0]
    rest = said[len(word) + 1 :] if " " in said else None
    if rest is not None and word == "toggle":
        return _targets(scene, owner, before, rest, Flag)
    if rest is not None and word in ("remove", "put") and " at " not in said:
        if rest.endswith(" ") and word == "put":
            return _offer(before, "", [("at ", "a point: (event.x, event.y)")])
        return _offer(before, rest, _shapes(scene, owner))
    if rest is not None and word == "tell" and " with " not in said:
        return _offer(before, rest, [(name, "a named event that is answered") for name in _told(scene)])
    if said.startswith("clock "):
        return _offer(before, said[6:], _CLOCK)
    if said.startswith("go to "):
        return _offer(before, said[6:], [(name, "a scene of the folder") for name in _scenes(scene)])
    if " goes past " in said:
        return _offer(before, said.rsplit(" goes past ", 1)[1], _shapes(scene, owner))
    if word == "add" and " to " in said:
        return _targets(scene, owner, before, said.rsplit(" to ", 1)[1])
    found = _FORMULA.search(said)
    if found is not None:
        return _value(scene, owner, before, said, found)
    begins = any(b.startswith(said) for b, _ in _BEGIN)
    if not begins and rest is not None and (rest.strip() == "" or _verb_begins(rest)):
        return _offer(before, rest, _verbs(scene, word))
    return _begin(scene, owner, before, said)


def _verb_begins(rest: str) -> bool:
    return any(v.startswith(rest) for v in ("becomes ", "goes on", "goes to the ", "goes past ", "goes on through "))


def _verbs(scene: Scene, target: str) -> list[tuple[str, str]]:
    out = [("becomes ", "is set to a value or a formula"), ("goes on", "to the next of its words")]
    out.append(("goes on through ", "to the next of those that follow, commas between"))
    if target in scene or target == "self":
        out = [("goes to the front", "before its siblings"), ("goes to the back", "behind them")]
        out.append(("goes past ", "in front of another shape"))
    return out


def _time(before: str, said: str) -> FormulaHint | None:
    """What can follow an act that is complete: how long it takes, how it goes, what comes after it."""
    after = [("; ", "and then …")]
    if (found := re.search(r",\s*([a-z-]*)$", said)) and (" over " in said):
        if found[1] in EASINGS:
            return _offer(before, "", after)
        return _offer(before, found[1], [(name, "an easing of CSS") for name in EASINGS])
    if re.search(r"\s(over|after) [\d.]+ s\s?$", said):
        slow = [(", ", "how it goes: ease-out and the like")] if " over " in said else [(" over 0.3 s", "by and by")]
        return _offer(before, "", [*slow, *after])
    done = re.search(
        r"((^|\s)(toggle|remove|tell) [\w.]+|goes (on|to the (front|back))|stop there) (?P<rest>.*)$", said
    )
    if done is not None and not re.match(r"through |with ", done["rest"]):
        follow = [("after 1 s", "later"), *after]
        if done[3] == "tell":
            follow.insert(0, ("with ", "a value that goes along"))
        typed, begun = _begun(done["rest"], follow)
        if not done["rest"] or (begun and typed == done["rest"]):
            return _offer(before, typed, begun or follow)
    return None


def _value(scene: Scene, owner: Declared, before: str, said: str, found: re.Match[str]) -> FormulaHint:
    rest = found["rest"]
    target = said.split(" becomes ")[0].strip() if found[1] == "becomes" else ""
    words = _words(scene, owner, target)
    if found[1] == "through":
        return _through(before, rest, [(w.strip("'"), m) for w, m in _words(scene, owner, said.split(" goes on ")[0])])
    near = [w for w in words if w[0].lower().startswith(rest.strip().lower()) and w[0] != rest.strip()]
    if near and not rest.endswith(" " if rest.strip() else "."):
        return _offer(before, rest, near)
    follow = [("over 0.3 s", "by and by"), ("after 1 s", "later"), ("; ", "and then …")]
    if found[1] == "add":
        follow = [("to ", "what it is added to")]
    if found[1] == "at":
        follow = [("every 10 px", "no nearer to the last than this"), ("at most 40", "the oldest go"), *follow[1:]]
    return _tail(_formula(scene, owner, before, rest), rest, follow, before)


def _through(before: str, rest: str, words: list[tuple[str, str]]) -> FormulaHint:
    """The words that a target goes on through, with commas between them."""
    *_, typed = rest.split(",")
    if typed.strip() in [w for w, _ in words] or (typed.strip() and not words):
        return _offer(before, "", [(", ", "and the next"), ("after 1 s", "later"), ("; ", "and then …")])
    return _offer(before, typed, words)


def _words(scene: Scene, owner: Declared, target: str) -> list[tuple[str, str]]:
    """The words that a target can become, where it has such."""
    if target in scene.inputs:
        spec = scene.inputs.spec(target)
        kind = {"switch": Flag, "choice": Choice}.get(spec.kind)
        if kind is Flag:
            return [("yes", "on"), ("no", "off")]
        return [(repr(word), "one of its words") for word in spec.choices] if kind is Choice else []
    id, _, name = target.partition(".")
    shape = owner if id == "self" else scene.get(id)
    if not isinstance(shape, Shape) or name not in shape.properties:
        return []
    value = shape.properties[name].kind
    if isinstance(value, Flag):
        return [("yes", "true"), ("no", "false")]
    return [(repr(word), "one of its words") for word in value.words] if isinstance(value, Choice) else []


def _begin(scene: Scene, owner: Declared, before: str, said: str) -> FormulaHint:
    """The beginning of an act: what it is done to, or what is done."""
    targets = _targets(scene, owner, before, said)
    if "." in said:
        return targets
    doing = _offer(before, said, _BEGIN)
    return doing._replace(candidates=(*targets.candidates, *doing.candidates)[:MOST])


def _targets(scene: Scene, owner: Declared, before: str, typed: str, kind: type | None = None) -> FormulaHint:
    """Inputs, and values of shapes, that an act can change."""
    typed = typed.lstrip()
    if "." in typed:
        id, name = typed.split(".", 1)
        shape = owner if id == "self" else scene.get(id)
        if not isinstance(shape, Shape):
            return _offer(before, name, ())
        values = [(n, p.help) for n, p in shape.properties.items() if kind is None or isinstance(p.kind, kind)]
        return _offer(before, name, values)
    inputs = [
        (spec.name, f"input: {spec.title}")
        for spec in scene.inputs.specs()
        if kind is None or (kind is Flag and spec.kind == "switch")
    ]
    return _offer(before, typed, [*inputs, *_shapes(scene, owner)])


def _shapes(scene: Scene, owner: Declared) -> list[tuple[str, str]]:
    own = [("self", "this shape")] if isinstance(owner, Shape) else []
    return own + [(s.id, s.label or s.kind) for s in scene.walk() if s.id]


def _told(scene: Scene) -> list[str]:
    """The named events that somebody answers or tells."""
    out: dict[str, None] = {}
    for one in (scene, *scene.walk()):
        for response in one.stated("responses"):
            if response.on == "event":
                out[str(response.detail)] = None
            out.update((act.target, None) for act in response.do if act.op == "emit")
    return list(out)


def _scenes(scene: Scene) -> list[str]:
    return sorted(p.stem for p in Path(scene.folder).glob("*.chal"))[:MOST] if scene.folder else []
