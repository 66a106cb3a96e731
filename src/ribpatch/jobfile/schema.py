"""The published JSON Schema of ``job.json``: what it lets through by itself the program reads, but for what no schema
can say.

Every property is described, with its unit where it is a number; the words lie in ``resources/schema/words.json``.
"""

from __future__ import annotations

import json
from typing import Any

from ribpatch import resources
from ribpatch.core.job import VERSION, Job
from ribpatch.core.record import reader

IDENTITY = f"urn:ribpatch:job:{VERSION}"
ABOUT = (
    "SI throughout: m, kg, degC, shares 0 to 1. Points are [x, y] in the zone's own plane, in m. A schema cannot say, "
    "and the "
    "program checks as well: ids of one list are all different; sessions, references and photographs that a reading "
    "names are there; "
    "materials, rules and words that are named are on the shelf (ribpatch materials lists their ids); rings do not "
    "cross themselves; "
    "a test cut has one state a stretch; the waterline is no longer than the boat; a skin has a thickness or plies; "
    "a photograph set straight has as many sizes as its way wants, and four marks that differ."
)


def schema_text() -> str:
    """The schema as text, the same bytes for the same version."""
    schema = reader(Job).json_schema(mode="validation")
    words: dict[str, str] = json.loads(resources.data("schema/words.json"))
    for name, record in (("Job", schema), *schema["$defs"].items()):
        _describe(name, record, words)
    _drop_units(schema)
    schema["required"] = ["format", "version", *schema["required"]]
    schema = {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "$id": IDENTITY,
        "title": f"Rib Patch job, version {VERSION}",
        "description": ABOUT,
        **{k: v for k, v in schema.items() if k not in ("title", "description")},
    }
    return json.dumps(schema, indent=1, sort_keys=False) + "\n"


def _describe(name: str, record: dict[str, Any], words: dict[str, str]) -> None:
    for key, part in record.get("properties", {}).items():
        unit = _unit(part)
        said = words.get(f"{name}.{key}", words.get(key, ""))
        part["description"] = f"{said}; si in {unit}" if unit else said


def _unit(part: dict[str, Any]) -> str:
    """The unit of a Measure, wherever in a property it stands."""
    if "x-unit" in part:
        return str(part["x-unit"])
    inside = (*part.get("anyOf", ()), *([part["items"]] if isinstance(part.get("items"), dict) else ()))
    return next((unit for inner in inside if (unit := _unit(inner))), "")


def _drop_units(part: Any) -> None:
    """Take the marks of units out again: they are in the words now."""
    if isinstance(part, dict):
        part.pop("x-unit", None)
        for inner in part.values():
            _drop_units(inner)
    elif isinstance(part, list):
        for inner in part:
            _drop_units(inner)
