"""Remembering results by the identity of frozen arguments.

Documents are frozen and share unchanged parts between versions, so ``is`` tells whether a part changed.
Hashing a document by value would cost more than most of the work it saves. A function that reads only some parts of a
document says which, and is then not asked again when another part changes. Safe between threads: two that ask for the
same at once may both work it out, and get the same object from then on.
"""

from __future__ import annotations

from collections import OrderedDict
from functools import update_wrapper
from inspect import signature
from operator import is_
from threading import Lock
from typing import TYPE_CHECKING, Any, Generic, ParamSpec, TypeVar
from weakref import WeakSet

from ribpatch.core.numerals import writing

if TYPE_CHECKING:
    from collections.abc import Callable

P = ParamSpec("P")
R = TypeVar("R")
T = TypeVar("T")

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
        _ALL.add(self)

    def __call__(self, *args: P.args, **kwargs: P.kwargs) -> R:
        """The remembered result, or a new one."""
        held: tuple[object, ...] = (*args, *kwargs.values(), *writing())  # results may be words with numbers in them
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

    def forget(self) -> None:
        """Forget all results."""
        with self._lock:
            self._known.clear()


_ALL: WeakSet[Memo[..., Any]] = WeakSet()
_KNOWN: WeakSet[Known[Any, Any]] = WeakSet()


def forget_all() -> None:
    """Forget what was worked out of one job: another is opened, and shares nothing with it."""
    for memo in list(_ALL):
        memo.forget()


def halve_all() -> None:
    """Forget the older half of all that is remembered: it takes more memory than it should."""
    stores: list[Memo[..., Any] | Known[Any, Any]] = [*_ALL, *_KNOWN]
    for kept in stores:
        with kept._lock:
            for _ in range(len(kept._known) // 2):
                kept._known.popitem(last=False)


def remembered(keep: int = 128, **parts: tuple[str, ...]) -> Callable[[Callable[P, R]], Memo[P, R]]:
    """Decorate a pure function so that it remembers its last ``keep`` results by identity of its arguments.

    ``zone=("survey", "outline")`` says that of its argument ``zone`` it reads these attributes and no other.
    """

    def wrap(function: Callable[P, R]) -> Memo[P, R]:
        return Memo(function, keep, parts)

    return wrap


class Known(Generic[T, R]):
    """The last ``keep`` results by a key that is compared by value. Safe between threads."""

    def __init__(self, keep: int) -> None:
        self._keep = keep
        self._known: OrderedDict[T, R] = OrderedDict()
        self._lock = Lock()
        _KNOWN.add(self)

    def of(self, key: T, work: Callable[[], R]) -> R:
        """The result under a key, worked out where it is not known."""
        with self._lock:
            if key in self._known:
                self._known.move_to_end(key)
                return self._known[key]
        made = work()
        with self._lock:
            first = self._known.setdefault(key, made)
            while len(self._known) > self._keep:
                self._known.popitem(last=False)
        return first


class Rows(Generic[T, R]):
    """What is worked out for each of a row of frozen items, where ever new rows differ from an earlier one in a few
    items.

    Items that stand before or after what changed keep their results. ``facts`` is what else the results depend on, told
    apart by equality. The last ``keep`` rows are remembered. Safe between threads.
    """

    def __init__(self, keep: int = 3) -> None:
        self._keep = keep
        self._known: list[tuple[object, tuple[T, ...], list[R]]] = []
        self._lock = Lock()

    def of(self, items: tuple[T, ...], facts: object, work: Callable[[tuple[T, ...]], list[R]]) -> list[R]:
        """The results of ``items``, one each and in their order; ``work`` gives those of the ones that are not
        known.
        """
        with self._lock:
            known = next(((i, r) for f, i, r in self._known if f == facts and (i is items or _alike(i, items))), None)
        if known is None:
            made = work(items)
        else:
            old, results = known
            if old is items:
                return results
            first = _common(old, items)
            last = _common(old[first:][::-1], items[first:][::-1])
            new = work(items[first : len(items) - last])
            made = [*results[:first], *new, *results[len(results) - last :]]
        with self._lock:
            rest = [k for k in self._known if k[0] != facts or k[1] is not (known[0] if known else None)]
            self._known = [(facts, items, made), *rest][: self._keep]
        return made


def _alike(old: tuple[object, ...], new: tuple[object, ...]) -> bool:
    """Whether two rows look like two states of one: they begin or end with the same item."""
    return bool(old) and bool(new) and (old[0] is new[0] or old[-1] is new[-1])


def _common(old: tuple[object, ...], new: tuple[object, ...]) -> int:
    """How many items the two rows share, by identity, from their beginning."""
    low, high = 0, min(len(old), len(new))
    # Stretch by stretch: the interpreter compares one a hundred times as fast as item by item.
    while low < high:
        middle = (low + high + 1) // 2
        if all(map(is_, old[low:middle], new[low:middle])):
            low = middle
        else:
            high = middle - 1
    return low
