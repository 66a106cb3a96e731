"""The base of every document record: frozen, checked, compared by parts.

A record is a plain class whose annotations are its only description. What reads documents, pydantic, derives its own
form of it from them when the first value has to be checked, so that a window that only shows what is known loads none
of it. ``evolve`` is the one way to change a record: it checks what changes and shares what does not, so that ``is`` on
a part tells whether that part changed.
"""

from __future__ import annotations

from dataclasses import MISSING, FrozenInstanceError, dataclass, fields
from typing import TYPE_CHECKING, Any, ClassVar, TypeVar, dataclass_transform, get_args, get_type_hints

from ribpatch.core.errors import Fault, InvalidValue, ManyFaults, OutOfRange

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from pydantic import GetCoreSchemaHandler, TypeAdapter, ValidationError
    from pydantic_core import CoreSchema, ErrorDetails

MOST_FAULTS = 50  # listed of one document; more help nobody
_LONGEST_PART, _LONGEST_REASON = 60, 300
R = TypeVar("R", bound="Record")


class Limits:
    """What a value must keep to, beside its annotation: any of ``ge gt le lt min_length max_length pattern fail_fast
    strict discriminator json_schema_extra``. Said to pydantic only when it reads.
    """

    __slots__ = ("_said",)
    __is_annotated_types_grouped_metadata__ = True  # the mark by which pydantic takes it apart

    def __init__(self, **said: Any) -> None:
        self._said = said

    def __iter__(self) -> Iterator[object]:
        from pydantic import Field

        yield Field(**self._said)


class Checked:
    """A value that ``check`` accepts, as it is or mended; it raises ValueError otherwise."""

    __slots__ = ("_check",)

    def __init__(self, check: Callable[[Any], Any]) -> None:
        self._check = check

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        """Check the value after it is read."""
        from pydantic_core.core_schema import no_info_after_validator_function

        return no_info_after_validator_function(self._check, handler(source))


@dataclass_transform(frozen_default=True, kw_only_default=True)
class Record:
    """A frozen record. Unknown fields, NaN and infinities are refused."""

    __pydantic_config__: ClassVar[dict[str, Any]] = {"extra": "forbid", "allow_inf_nan": False}

    def __init_subclass__(cls) -> None:
        # Of the decorator only the table of fields is wanted; the methods that it would compile for each class are
        # below.
        dataclass(init=False, repr=False, eq=False, match_args=False, kw_only=True)(cls)
        described = {"json_schema_extra": {"description": _plain(cls.__doc__ or "")}}
        cls.__pydantic_config__ = {**Record.__pydantic_config__, **described}

    def __init__(self, **stated: Any) -> None:
        from pydantic_core import ArgsKwargs

        reader(type(self)).validator.validate_python(ArgsKwargs((), stated), self_instance=self)

    def __post_init__(self) -> None:
        self.check()

    def check(self) -> None:
        """Raise ValueError where the parts do not fit together."""

    def __setattr__(self, name: str, value: object) -> None:
        raise FrozenInstanceError(f"{type(self).__name__} is frozen: evolve() makes another")

    def __delattr__(self, name: str) -> None:
        raise FrozenInstanceError(f"{type(self).__name__} is frozen: evolve() makes another")

    def __eq__(self, other: object) -> bool:
        return self.__dict__ == other.__dict__ if type(other) is type(self) else NotImplemented

    def __hash__(self) -> int:
        return hash((type(self), *self.__dict__.values()))

    def __repr__(self) -> str:
        return f"{type(self).__name__}({', '.join(f'{name}={value!r}' for name, value in self.__dict__.items())})"


def known(model: type[R], **stated: Any) -> R:
    """A record from what the program itself knows to hold, as a default: not checked."""
    made = object.__new__(model)
    for field in fields(model):  # type: ignore[arg-type]  # every record has a table of fields
        made.__dict__[field.name] = stated.pop(field.name) if field.name in stated else field.default
    assert not stated and MISSING not in made.__dict__.values(), (
        f"{model.__name__}: {', '.join(stated) or 'a field is missing'}"
    )
    return made


# ---- reading: all that needs pydantic ----

_READERS: dict[object, TypeAdapter[Any]] = {}  # by record, by record and field, by annotation


def reader(annotation: Any) -> TypeAdapter[Any]:
    """What reads, writes and describes values of a record or of any annotation that holds records."""
    from pydantic import TypeAdapter

    made = _READERS.get(annotation)
    if made is None:
        # The parts first: each then keeps its own form for whatever else holds it.
        record = annotation if isinstance(annotation, type) and issubclass(annotation, Record) else None
        for part in _hints(record).values() if record else (annotation,):
            for inner in _records_in(part):
                reader(inner)
        made = TypeAdapter(annotation)
        if record:
            record.__pydantic_core_schema__ = made.core_schema  # type: ignore[attr-defined]  # where pydantic looks
        _READERS[annotation] = made
    return made


def _field_reader(model: type[Record], name: str) -> TypeAdapter[Any]:
    made = _READERS.get((model, name))
    if made is None:
        made = _READERS[model, name] = reader(_hints(model)[name])
    return made


def _hints(model: type[Record]) -> dict[str, Any]:
    return get_type_hints(model, include_extras=True)


def _records_in(annotation: Any) -> Iterator[type[Record]]:
    if isinstance(annotation, type) and issubclass(annotation, Record):
        yield annotation
    for part in get_args(annotation):
        yield from _records_in(part)


def read_as(model: type[R], value: object) -> R:
    """The record that a mapping of plain values tells; raises pydantic's ValidationError with every fault in it."""
    made: R = reader(model).validate_python(value)
    return made


def as_json(record: Record) -> bytes:
    """A record as JSON, the same bytes for equal records."""
    return reader(type(record)).dump_json(record)


def evolve(record: R, **changes: object) -> R:
    """A copy of ``record`` with ``changes``, each checked; raises Fault where one does not hold."""
    from pydantic import ValidationError

    faults: list[Fault] = []
    checked: dict[str, object] = {}
    for name, value in changes.items():
        try:
            checked[name] = _field_reader(type(record), name).validate_python(value)
        except ValidationError as error:
            faults.extend(faults_of(error, prefix=name))
    if faults:
        raise faults[0] if len(faults) == 1 else ManyFaults(tuple(faults))
    made = object.__new__(type(record))
    made.__dict__.update(record.__dict__)
    made.__dict__.update(checked)
    try:
        made.check()
    except ValueError as error:
        raise InvalidValue(next(iter(changes)), reason=str(error)) from None
    return made


def evolve_in(record: R, group: str, **changes: object) -> R:
    """The record with parts of one of its groups replaced and checked: ``evolve_in(scheme, "taper", ratio=new)``."""
    return evolve(record, **{group: evolve(getattr(record, group), **changes)})


def built(model: type[R], **fields: object) -> R:
    """A new record from what a person stated; raises Fault where a field does not hold."""
    from pydantic import ValidationError

    try:
        return model(**fields)
    except ValidationError as error:
        faults = faults_of(error)
        raise faults[0] if len(faults) == 1 else ManyFaults(faults) from None


def faults_of(error: ValidationError, prefix: str = "") -> tuple[Fault, ...]:
    """The faults in a validation error, each with its path in the document, up to a few more than are ever listed."""
    details = error.errors(include_url=False, include_input=False)
    return tuple(_fault(detail, prefix) for detail in details[: MOST_FAULTS + 1])


def _fault(detail: ErrorDetails, prefix: str) -> Fault:
    where = ".".join([*([prefix] if prefix else []), *(_short(str(part), _LONGEST_PART) for part in detail["loc"])])
    context = detail.get("ctx") or {}
    if detail["type"] == "out_of_range":
        return OutOfRange(where, **{k: context[k] for k in ("value", "low", "high")})
    reason = str(context["error"]) if isinstance(context.get("error"), ValueError) else detail["msg"]
    if detail["type"] == "unexpected_keyword_argument":
        reason = "extra inputs are not permitted"
    reason = _short(reason, _LONGEST_REASON)
    return InvalidValue(where, reason=reason[:1].lower() + reason[1:].rstrip("."))


def _plain(docstring: str) -> str:
    return " ".join(docstring.split())


def _short(text: str, most: int) -> str:
    return text if len(text) <= most else f"{text[: most - 1]}…"
