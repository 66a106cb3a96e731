"""The published JSON Schema of ``job.json``."""

from __future__ import annotations

import json

from ribpatch.core.job import VERSION, Job


def schema_text() -> str:
    """The schema as text, the same bytes for the same version."""
    schema = Job.model_json_schema(mode="serialization")
    schema = {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": f"Rib Patch job, version {VERSION}",
        "description": "SI throughout: m, kg, degC, shares 0 to 1. Points are [x, y] in the zone's own plane, in m.",
        **{k: v for k, v in schema.items() if k not in ("title", "description")},
    }
    return json.dumps(schema, indent=1, sort_keys=False) + "\n"
