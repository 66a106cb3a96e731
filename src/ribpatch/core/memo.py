"""Remembering results by the identity of frozen arguments.

Documents are frozen and share unchanged parts between versions, so ``is`` tells whether a part changed.
Hashing a document by value would cost more than most of the work it saves. A function that reads only some parts of a
document says which, and is then not asked again when another part changes. Safe between threads: two that ask for the same
at once may both work it out, and get the same object from then on.
"""

from __future__ import annotations

from collections import OrderedDict
from functools import update_wrapper
from inspect import signature
from threading import Lock
from typing import TYPE_CHECKING, Generic, ParamSpec, TypeVar

if TYPE_CHECKING:
    from collections.abc import Callable

P = ParamSpec("P")
R = TypeVar("R")

_BY_VALUE = (str, int, float, bool, type(None))


class Memo(Generic[P, R]):
    """A function that remembers its last ``keep`` results by argument identity (plain scalars by value and type).

    ``parts`` names, for an argument, the attributes that the function reads: only they are told apart.
    """

    def __init__(self, function: Callable[P, R], keep: int, parts: dict[str, tuple[str, ...]]) -> None:
        self.function = function
        self.keep = keep
        self.parts = parts
        names = list(signature(function).parameters) if parts else []
        self._parts = {names.index(name): wanted for name, wanted in parts.items()}
        # What the key names is kept beside the result, so that an id cannot be reused while it is a key.
        self._known: OrderedDict[tuple[object, ...], tuple[tuple[object, ...], R]] = OrderedDict()
        self._lock = Lock()
        update_wrapper(self, function)

    def __call__(self, *args: P.args, **kwargs: P.kwargs) -> R:
        """The remembered result, or a new one."""
        held: tuple[object, ...] = (*args, *kwargs.values())
        if self._parts:
            held = tuple(
                part
                for n, a in enumerate(held)
                for part in ((getattr(a, name) for name in self._parts[n]) if n in self._parts else (a,))
            )
        # 1, 1.0 and True are equal and hash alike, and are different arguments.
        key = tuple((type(a), a) if isinstance(a, _BY_VALUE) else ("id", id(a)) for a in held) + tuple(kwargs)
        with self._lock:
            found = self._known.get(key)
            if found is not None:
                self._known.move_to_end(key)
                return found[1]
        result = self.function(*args, **kwargs)  # not under the lock: it may ask this same function for a part
        with self._lock:
            first = self._known.setdefault(key, (held, result))
            self._known.move_to_end(key)
            while len(self._known) > self.keep:
                self._known.popitem(last=False)
        return first[1]


def remembered(keep: int = 128, **parts: tuple[str, ...]) -> Callable[[Callable[P, R]], Memo[P, R]]:
    """Decorate a pure function so that it remembers its last ``keep`` results by identity of its arguments.

    ``zone=("survey", "outline")`` says that of its argument ``zone`` it reads these attributes and no other.
    """

    def wrap(function: Callable[P, R]) -> Memo[P, R]:
        return Memo(function, keep, parts)

    return wrap
