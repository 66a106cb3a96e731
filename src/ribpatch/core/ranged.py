"""Limits of a stated quantity, in validation and in the published schema alike."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from msgspec import Struct

from ribpatch.core.units import Kind, in_range, si_unit

if TYPE_CHECKING:
    from pydantic import GetCoreSchemaHandler, GetJsonSchemaHandler
    from pydantic.json_schema import JsonSchemaValue
    from pydantic_core import CoreSchema


class Ranged(Struct, frozen=True):
    """A Measure between two SI values, in validation and in the published schema alike."""

    low: float
    high: float
    kind: Kind

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        """Check the value after the Measure is made."""
        from pydantic_core.core_schema import no_info_after_validator_function

        return no_info_after_validator_function(in_range(self.kind, self.low, self.high), handler(source))

    def __get_pydantic_json_schema__(self, core: CoreSchema, handler: GetJsonSchemaHandler) -> JsonSchemaValue:
        """Say the limits, and the unit that they are in."""
        limits = {"minimum": self.low, "maximum": self.high}
        return {"allOf": [handler(core), {"properties": {"si": limits}}], "x-unit": si_unit(self.kind)}


def ranged(low: float, high: float, kind: Kind = Kind.SIZE) -> Ranged:
    """A validator of a Measure between two SI values."""
    return Ranged(low, high, kind)
