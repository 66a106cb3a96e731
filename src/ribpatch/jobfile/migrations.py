"""Bringing old job files up to date: dict to dict, one step a version.

A step is registered under the version that it starts from; it changes nothing in place.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

Document = dict[str, Any]
Step = Callable[[Document], Document]


def _to_2(document: Document) -> Document:
    """Version 2 added kinds of readings, sessions, photographs, runs, diagnosis: all absent from a version 1 file."""
    return document


# The elastic constants and bond strengths that a resin of each family got when version 3 began to hold them.
_RESIN: Mapping[str, Document] = {
    "epoxy": {"modulus": 3.1e9, "poisson": 0.36, "bond_shear": 12.0e6, "bond_peel": 3.5e6},
    "vinylester": {"modulus": 3.3e9, "poisson": 0.36, "bond_shear": 8.0e6, "bond_peel": 3.0e6},
    "polyester": {"modulus": 3.4e9, "poisson": 0.36, "bond_shear": 6.0e6, "bond_peel": 2.0e6},
}


def _to_3(document: Document) -> Document:
    """Version 3 opens a zone from a side instead of naming a skin, and resins carry moduli and bond strengths."""
    zones = [{**zone, "scheme": _sided(zone.get("scheme") or {})} for zone in document.get("zones") or []]
    own = document.get("own") or {}
    resins = [{**_RESIN.get(r.get("family", ""), {}), **r} for r in own.get("resins") or []]
    return {**document, "zones": zones, "own": {**own, "resins": resins}}


def _sided(scheme: Document) -> Document:
    kept = {key: value for key, value in scheme.items() if key != "skin"}
    return {**kept, "side": "inside"} if scheme.get("skin") == "inner" else kept


# Where each choice of a scheme lies since version 4 groups them as they are decided.
_GROUPS: Mapping[str, Mapping[str, str]] = {
    "access": {"side": "side", "marks": "marks", "part_depth": "part_depth"},
    "bond": {"factor": "factor", "preparation": "preparation"},
    "laminate": {n: n for n in ("plies", "order", "overlap", "crown", "target", "second", "backing", "tabbing")},
    "laying": {n: n for n in ("process", "between", "peel_ply", "overhead")},
    "resin": {"resin": "main", "later_resin": "later", "putty": "putty"},
    "core": {
        "core": "material",
        "core_thickness": "thickness",
        "bedding": "bedding",
        "scored": "scored",
        "clamp": "clamp",
    },
}
_MOST_NOTES = 2000
_UNGROUPED = ("id", "name", "cut", "taper", "parts", "note")


# Rules of the survey of scored readings that version 4 does without: by name, or by what they end in.
_RETIRED = ("field.prior", "field.threshold", "field.lean", "push.bond", ".noise", ".bias")


def _to_4(document: Document) -> Document:
    """Version 4 groups what a scheme decides, says fibre fraction where a skin said psi, and judges readings by how
    likely they are: a rule of the job's own that no longer means anything is kept in words, in the notes.
    """
    zones = [
        {
            **zone,
            "build": {name: _burnt(layer) for name, layer in (zone.get("build") or {}).items()},
            "scheme": _grouped(zone.get("scheme") or {}),
            "others": [_grouped(scheme) for scheme in zone.get("others") or []],
        }
        for zone in document.get("zones") or []
    ]
    return _without({**document, "zones": zones}, _RETIRED)


def _to_5(document: Document) -> Document:
    """Version 5 added seams, soles and the shape of a recorded tap, all absent from a version 4 file, and measures how
    far a tap lies from its references in another way.
    """
    return _without(document, ("strike.unlike",))


def _to_6(document: Document) -> Document:
    """Version 6 added what is stated of a zone's structure, its loads and tests: absent from a version 5 file."""
    return document


def _to_7(document: Document) -> Document:
    """Version 7 keeps the strip beside a run with the scheme that lays it, no longer with the run."""
    zones = []
    for zone in document.get("zones") or []:
        proof = zone.get("proof") or {}
        run = proof.get("run") or {}
        sister = run.get("sister")
        bare = {**proof, "run": {k: v for k, v in run.items() if k != "sister"}} if "sister" in run else proof
        moved = {**zone, "proof": bare} if "proof" in zone else zone
        if sister is not None:
            moved["scheme"] = _sistered(zone.get("scheme") or {}, sister)
            moved["others"] = [_sistered(scheme, sister) for scheme in zone.get("others") or []]
        zones.append(moved)
    return {**document, "zones": zones} if zones else document


def _sistered(scheme: Document, sister: Any) -> Document:
    return {**scheme, "support": {"sister": sister}}


def _without(document: Document, retired: tuple[str, ...]) -> Document:
    """The document without own rules of these names (or ends of names, with a dot), told in the notes."""
    own = document.get("own") or {}
    rules = own.get("rules") or []
    ends = tuple(name for name in retired if name.startswith("."))
    gone = [r for r in rules if r.get("id", "") in retired or str(r.get("id", "")).endswith(ends or "\0")]
    if not gone:
        return document
    told = "; ".join(f"{r.get('name') or r['id']} {r.get('value')}" for r in gone)
    notes = f"{document.get('notes') or ''}\nOwn rules that no longer apply: {told}.".strip()
    return {**document, "notes": notes[:_MOST_NOTES], "own": {**own, "rules": [r for r in rules if r not in gone]}}


def _burnt(layer: Any) -> Any:
    if not isinstance(layer, dict) or "psi" not in layer:
        return layer
    return {**{k: v for k, v in layer.items() if k != "psi"}, "fibre_fraction": layer["psi"]}


def _grouped(scheme: Document) -> Document:
    found: Document = {name: scheme[name] for name in _UNGROUPED if name in scheme}
    for group, names in _GROUPS.items():
        found[group] = {new: scheme[old] for old, new in names.items() if old in scheme}
    return found


def _to_8(document: Document) -> Document:
    """Version 8 knows a well, a bracket's mass and height, what a beam on posts is made of, and what resin is worked
    from: absent before. Cups go by the heat that they make, not by a power of their mass.
    """
    return _without(document, ("cup.exponent",))


def _to_9(document: Document) -> Document:
    """Version 9 knows stock, how the job is bought, layouts of cloth that are kept, packs and lead times: absent
    before.
    """
    return document


def _to_10(document: Document) -> Document:
    """Version 10 knows when the work is done: people, shed, air, steps, the schedule kept; the log, coupons of a
    bond and preparations of one's own: absent before."""
    return document


def _to_11(document: Document) -> Document:
    """Version 11 knows keels, bulkheads and frames, what craft she is, what was wrong with a zone, what of it is
    assumed, and stages that are done for now: absent before.
    """
    return document


def _to_12(document: Document) -> Document:
    """Version 12 knows photographs that are set straight: absent before."""
    return document


def _to_13(document: Document) -> Document:
    """Version 13 knows whether a person chose the side to open from: before, only another than usual tells."""
    return document


STEPS: Mapping[int, Step] = {
    1: _to_2,
    2: _to_3,
    3: _to_4,
    4: _to_5,
    5: _to_6,
    6: _to_7,
    7: _to_8,
    8: _to_9,
    9: _to_10,
    10: _to_11,
    11: _to_12,
    12: _to_13,
}


def migrated(document: Document, target: int, steps: Mapping[int, Step] = STEPS) -> Document:
    """The document brought to version ``target``, one step at a time; raises KeyError where a step is missing."""
    while document["version"] < target:
        version = document["version"]
        document = {**steps[version](document), "version": version + 1}
    return document
