"""Stacks as people say and type them: ``2 x biax 45 600, 3 x (mat 300, 0/90 600), light 200 @ 45``. Deepest first.

A fabric is named by its id, its trade code, or words of its name that fit one fabric only.
"""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

from ribpatch.core.errors import UnreadableStack
from ribpatch.core.numerals import general
from ribpatch.core.scheme import MOST_PLIES, Repeat, Stack, StackLine, unrolled

if TYPE_CHECKING:
    from ribpatch.core.materials.records import Fabric
    from ribpatch.core.materials.shelf import Shelf

_GROUP = r"(\d+)\s*[x×*]?\s*\(([^()]*)\)"
_LINE = r"(?:(\d+)\s*[x×*]\s*)?(.+?)(?:\s*@\s*([+\-−]?\d+(?:\.\d+)?)\s*°?)?"
_SAME = {
    "biaxial": "biax",
    "unidirectional": "uni",
    "triaxial": "triax",
    "light": "light",
    "cloth": "light",
    "csm": "mat",
    "roving": "woven",
}


def stack_from_text(text: str, shelf: Shelf) -> Stack:
    """The stack that a text says; empty text is no ply. Raises UnreadableStack with what was not understood."""
    made: list[StackLine | Repeat] = []
    for part in _parts(text):
        group = re.fullmatch(_GROUP, part)
        if group is None:
            made.append(_line(part, shelf))
            continue
        lines = tuple(_line(inner, shelf) for inner in _parts(group[2]))
        if not lines or not 1 <= int(group[1]) <= MOST_PLIES:
            raise UnreadableStack(text=part, reason=f"a sub-stack holds plies and repeats 1 to {MOST_PLIES} times")
        made.append(Repeat(times=int(group[1]), lines=lines))
    return tuple(made)


def _parts(text: str) -> list[str]:
    """The text cut at commas, semicolons, plus signs and line ends that stand outside brackets."""
    parts, depth, start = [], 0, 0
    for i, letter in enumerate(text):
        depth += (letter == "(") - (letter == ")")
        if depth < 0:
            break
        if letter in ",;+\n" and depth == 0:
            parts.append(text[start:i])
            start = i + 1
    if depth:
        raise UnreadableStack(text=text.strip(), reason="a bracket is missing")
    return [p.strip() for p in (*parts, text[start:]) if p.strip()]


def _line(text: str, shelf: Shelf) -> StackLine:
    match = re.fullmatch(_LINE, text)
    if match is None or "(" in text:
        raise UnreadableStack(text=text, reason="it is no ply, and brackets go with a count, like 3 x (...)")
    count, angle = int(match[1] or 1), float((match[3] or "0").replace("−", "-"))
    if not 1 <= count <= MOST_PLIES:
        raise UnreadableStack(text=text, reason=f"a count is 1 to {MOST_PLIES}")
    if not -90 <= angle <= 90:
        raise UnreadableStack(text=text, reason="an angle is from −90 to 90 degrees")
    return StackLine(fabric=fabric_from_words(match[2], shelf).id, count=count, angle=angle)


def _words(text: str) -> frozenset[str]:
    plain = text.lower().replace("±", " ").replace("+-", " ").replace("g/m2", " ").replace("g/m²", " ")
    found = re.findall(r"0/90|[a-z]+|\d+(?:\.\d+)?", plain)
    return frozenset(_SAME.get(word, word) for word in found if word not in ("g", "gsm", "with", "of"))


def fabric_from_words(text: str, shelf: Shelf) -> Fabric:
    """The one fabric that ``text`` names; raises UnreadableStack where none or several fit."""
    wanted = text.strip().lower()
    for fabric in shelf.fabrics:
        if wanted in (fabric.id, fabric.name.lower()) or fabric.id == f"code-{wanted}":
            return fabric
    words = _words(wanted)
    fits = [f for f in shelf.fabrics if words and words <= _words(f.name) | _words(f.id)]
    least = min((len(_words(f.name)) for f in fits), default=0)
    fits = [f for f in fits if len(_words(f.name)) == least]  # "biax 600" is the plain one, not the one with a mat
    if len(fits) == 1:
        return fits[0]
    if fits:
        raise UnreadableStack(text=text.strip(), reason=f"it may be {' or '.join(f.name for f in fits[:4])}")
    from difflib import get_close_matches

    near = get_close_matches(wanted, [f.name for f in shelf.fabrics] + [f.id for f in shelf.fabrics], n=2, cutoff=0.4)
    hint = f"; near it: {', '.join(near)}" if near else ""
    raise UnreadableStack(text=text.strip(), reason=f"no fabric on the shelf is called so{hint}")


def text_of(stack: Stack) -> str:
    """A stack as it would be typed: reading it back gives the same stack."""
    return ", ".join(
        f"{item.times} x ({', '.join(map(_one, item.lines))})" if isinstance(item, Repeat) else _one(item)
        for item in stack
    )


def named_text(stack: Stack, shelf: Shelf) -> str:
    """A stack by the names of its cloths, deepest first."""
    return ", ".join(
        (f"{line.count} × " if line.count > 1 else "")
        + shelf.fabric(line.fabric).name
        + (f" at {general(line.angle)}°" if line.angle else "")
        for line in unrolled(stack)
    )


def _one(line: StackLine) -> str:
    count = f"{line.count} x " if line.count > 1 else ""
    return f"{count}{line.fabric}" + (f" @ {line.angle:g}" if line.angle else "")
