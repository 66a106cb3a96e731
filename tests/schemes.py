"""Schemes of tests, by the short names of their choices instead of the groups that these lie in."""

from __future__ import annotations

from ribpatch.core.record import evolve, evolve_in
from ribpatch.core.scheme import Scheme

_OWN_NAME = {
    "access": ("side", "marks", "part_depth"),
    "bond": ("factor", "preparation"),
    "laminate": ("plies", "order", "overlap", "crown", "target", "second", "backing", "tabbing"),
    "laying": ("process", "between", "peel_ply", "overhead"),
    "core": ("bedding", "scored", "clamp"),
}
PLACES = {name: (group, name) for group, names in _OWN_NAME.items() for name in names} | {
    "resin": ("resin", "main"),
    "later_resin": ("resin", "later"),
    "putty": ("resin", "putty"),
    "core": ("core", "material"),
    "core_thickness": ("core", "thickness"),
}


def rescheme(scheme: Scheme, **changes: object) -> Scheme:
    """The scheme with choices replaced, each checked."""
    for name, value in changes.items():
        group, part = PLACES.get(name, ("", name))
        scheme = evolve_in(scheme, group, **{part: value}) if group else evolve(scheme, **{part: value})
    return scheme


def a_scheme(**choices: object) -> Scheme:
    """A new scheme with some choices made."""
    return rescheme(Scheme(), **choices)
