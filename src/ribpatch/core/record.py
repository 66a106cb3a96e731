"""The base of every document record: frozen, validated, compared by parts.

``evolve`` is the one way to change a record: it validates what changes and shares what does not, so that ``is``
on a part tells whether that part changed.
"""

from __future__ import annotations

from functools import cache
from typing import Annotated, Any, Self, TypeVar

from pydantic import BaseModel, ConfigDict, TypeAdapter, ValidationError, model_validator
from pydantic_core import ErrorDetails

from ribpatch.core.errors import Fault, InvalidValue, ManyFaults, OutOfRange

MOST_FAULTS = 50  # listed of one document; more help nobody
_LONGEST_PART, _LONGEST_REASON = 60, 300
R = TypeVar("R", bound="Record")


class Record(BaseModel):
    """A frozen record. Unknown fields, NaN and infinities are refused."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    def check(self) -> None:
        """Raise ValueError or a pydantic error where the parts do not fit together."""

    @model_validator(mode="after")
    def _checked(self) -> Self:
        self.check()
        return self


@cache
def _adapter(model: type[Record], name: str) -> TypeAdapter[Any]:
    field = model.model_fields[name]
    annotation: Any = field.annotation
    for extra in field.metadata:
        annotation = Annotated[annotation, extra]
    return TypeAdapter(annotation, config=None)


def evolve(record: R, **changes: object) -> R:
    """A copy of ``record`` with ``changes``, each checked; raises Fault where one does not hold."""
    faults: list[Fault] = []
    checked: dict[str, object] = {}
    for name, value in changes.items():
        try:
            checked[name] = _adapter(type(record), name).validate_python(value)
        except ValidationError as error:
            faults.extend(faults_of(error, prefix=name))
    if faults:
        raise faults[0] if len(faults) == 1 else ManyFaults(tuple(faults))
    made = record.model_copy(update=checked)
    try:
        made.check()
    except ValueError as error:
        raise InvalidValue(next(iter(changes)), reason=str(error)) from None
    return made


def built(model: type[R], **fields: object) -> R:
    """A new record from what a person stated; raises Fault where a field does not hold."""
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
    reason = _short(reason, _LONGEST_REASON)
    return InvalidValue(where, reason=reason[:1].lower() + reason[1:].rstrip("."))


def _short(text: str, most: int) -> str:
    return text if len(text) <= most else f"{text[: most - 1]}…"
