"""The shipped shelf with the user's own data files over it.

User files have the shipped files' names and form and live in the XDG data folder under ``ribpatch/library``. A file
that cannot be read is left out and told, never half used.
"""

from __future__ import annotations

import json
from functools import cache
from itertools import islice
from typing import TYPE_CHECKING, Any, TypeVar

from msgspec.structs import replace

from ribpatch import resources
from ribpatch.core.errors import Fault, FileProblem, ManyFaults
from ribpatch.core.materials.cause_records import CauseCard, FindingCard
from ribpatch.core.materials.finish_records import FinishSystem
from ribpatch.core.materials.records import (
    Caution,
    Core,
    Era,
    Fabric,
    Fibre,
    InstrumentCard,
    Preparation,
    Price,
    Putty,
    Resin,
    Rule,
    StrikeClass,
)
from ribpatch.core.materials.repair_records import BeforeItem, Compatibility, SideCriterion, ZoneRank
from ribpatch.core.materials.shelf import Shelf, merged
from ribpatch.core.materials.step_records import StepKind
from ribpatch.core.record import MOST_FAULTS, Record, faults_of, reader
from ribpatch.folders import user_folder
from ribpatch.library.kept import kept

if TYPE_CHECKING:
    from collections.abc import Mapping
    from pathlib import Path

R = TypeVar("R", bound=Record)
FILES: Mapping[str, type[Record]] = {
    "fibres": Fibre,
    "fabrics": Fabric,
    "resins": Resin,
    "cores": Core,
    "putties": Putty,
    "rules": Rule,
    "prices": Price,
    "instruments": InstrumentCard,
    "strikes": StrikeClass,
    "causes": CauseCard,
    "findings": FindingCard,
    "cautions": Caution,
    "eras": Era,
    "preparations": Preparation,
    "sides": SideCriterion,
    "before": BeforeItem,
    "zone_order": ZoneRank,
    "compatibility": Compatibility,
    "finishes": FinishSystem,
    "steps": StepKind,
}
DATA_VERSION = 1
SHOP = "shop.json"  # what was learned of jobs
MOST_BYTES, MOST_ITEMS = 4 * 2**20, 2000


def read_items(name: str, raw: bytes, where: str) -> tuple[Any, ...]:
    """The records of one data file of the shelf; raises FileProblem that names the file, the place, what is wrong."""
    return items_of(FILES[name], raw, where)


def items_of(model: type[R], raw: bytes, where: str) -> tuple[R, ...]:
    """The records of one kind in a data file; raises FileProblem that names the file, the place and what is wrong."""
    advice = "Mend it, or take it out of the library folder."
    try:
        document = json.loads(raw)
    except (ValueError, RecursionError) as error:
        why = "nested too deep" if isinstance(error, RecursionError) else str(error)
        raise FileProblem(where, reason=f"is no JSON ({why})", advice=advice) from None
    if not isinstance(document, dict) or document.get("version") != DATA_VERSION:
        raise FileProblem(where, reason=f"is no data file of version {DATA_VERSION}", advice=advice)
    rows = document.get("items")
    if isinstance(rows, list) and len(rows) > MOST_ITEMS:
        raise FileProblem(where, reason=f"holds {len(rows)} records, more than {MOST_ITEMS}", advice=advice)
    from pydantic import ValidationError

    many: Any = tuple[model, ...]  # type: ignore[valid-type]  # a kind of record that only the caller knows
    try:
        items: tuple[Any, ...] = reader(many).validate_python(rows)
    except ValidationError as error:
        raise _faulty(where, faults_of(error, "items"), advice) from None
    ids = [item.id for item in items]
    if len(set(ids)) != len(ids):
        twice = next(i for i in ids if ids.count(i) > 1)
        raise FileProblem(where, reason=f"two records carry the id {twice}", advice=advice)
    return items


def _faulty(where: str, faults: tuple[Fault, ...], advice: str) -> FileProblem:
    """One fault of a file from all that is wrong in it, each with its place."""
    return FileProblem(where, reason=ManyFaults(faults).sentence.rstrip("."), advice=advice)


def _raw(path: Path) -> bytes:
    """The bytes of a data file; raises FileProblem where there are far too many."""
    with open(path, "rb") as stream:
        raw = stream.read(MOST_BYTES + 1)
    if len(raw) > MOST_BYTES:
        raise FileProblem(
            str(path), reason=f"is larger than {MOST_BYTES >> 20} MiB", advice="Take it out of the library folder."
        )
    return raw


@cache
def shipped_shelf() -> Shelf:
    """The shelf as shipped."""
    return kept("shelf", tuple(f"resources/data/{name}.json" for name in FILES), _read_shipped, Shelf)


def _read_shipped() -> Shelf:
    items: dict[str, Any] = {name: read_items(name, resources.data(f"data/{name}.json"), name) for name in FILES}
    from ribpatch.core.diagnosis.network import check_data

    check_data(items["causes"], items["findings"])
    return Shelf(**items)


def library_folder() -> Path:
    """Where the user's own data files live."""
    return user_folder("DATA") / "library"


def user_shelf(folder: Path | None = None) -> tuple[Shelf, tuple[Fault, ...]]:
    """The shipped shelf with the user's files over it, and what was wrong with any of them."""
    folder = folder or library_folder()
    shelf = shipped_shelf()
    faults: list[Fault] = []
    if folder.exists() and not folder.is_dir():
        advice = "Move it away, and put your own materials into a folder of that name."
        faults.append(FileProblem(str(folder), reason="is a file where the library's folder should be", advice=advice))
    for name in FILES:
        path = folder / f"{name}.json"
        if not path.is_file():
            continue
        try:
            from ribpatch.core.references import shelf_faults

            more = merged(shelf, **{name: read_items(name, _raw(path), str(path))})
            wrong = tuple(islice(shelf_faults(more, shipped_shelf()), MOST_FAULTS))
            if wrong:
                raise _faulty(str(path), wrong, "Mend it, or take it out of the library folder.")
            shelf = more
        except FileProblem as fault:
            faults.append(fault)
        except OSError as error:
            faults.append(
                FileProblem(str(path), reason=error.strerror or "cannot be read", advice="Check its permissions.")
            )
    if (folder / SHOP).is_file():
        from ribpatch.core.shop import applied
        from ribpatch.library.shop import read_shop

        try:
            shelf = applied(shelf, read_shop(folder))
        except Fault as fault:
            faults.append(fault)
    shipped = shipped_shelf()
    try:
        if shelf.causes is not shipped.causes or shelf.findings is not shipped.findings:
            from ribpatch.core.diagnosis.network import check_data

            check_data(shelf.causes, shelf.findings)
    except Fault as fault:  # the two files belong together: either both are used or neither
        shelf = replace(shelf, causes=shipped.causes, findings=shipped.findings)
        faults.append(fault)
    return shelf, tuple(faults)
