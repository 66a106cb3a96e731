"""What is the same at every start, made once and kept in the cache folder.

Reading the shipped data checks every value of it, and building the demo job reads its typed quantities: both take
longer than all else of a start. What comes of them is kept beside a digest of whatever it was made from, so that
another version, another Python or a changed data file makes it anew. Only records are ever read back; anything else in
the file, or a damaged one, is as if there were none.
"""

from __future__ import annotations

import contextlib
import os
import pickle
import struct
import sys
from enum import Enum
from io import BytesIO
from pathlib import Path
from typing import IO, TYPE_CHECKING, Any, TypeVar
from zlib import adler32, crc32

import ribpatch
from ribpatch.core.job import Job
from ribpatch.core.materials.shelf import Shelf
from ribpatch.core.record import Record
from ribpatch.folders import private_folder, user_folder

if TYPE_CHECKING:
    from collections.abc import Callable, Iterable

T = TypeVar("T")
_PACKAGE = Path(ribpatch.__file__).parent
# What decides the form of a record, by path below the package.
_FORMS = (
    "core/record.py",
    "core/units.py",
    "core/ranged.py",
    "core/set_straight.py",
    "core/readings.py",
    "core/scheme.py",
    "core/proof.py",
    "core/stock.py",
    "core/timetable.py",
    "core/logged.py",
    "core/finishing.py",
    "core/said.py",
    "core/job.py",
    "core/materials/records.py",
    "core/materials/cause_records.py",
    "core/materials/repair_records.py",
    "core/materials/finish_records.py",
    "core/materials/step_records.py",
    "core/materials/shelf.py",
)
_DEMO = ("library/demo.py", "library/demo_readings.py", "core/quantity.py", "core/geometry.py")
_DIGEST = 16  # bytes


def kept(name: str, sources: Iterable[str], make: Callable[[], T], kind: type[T]) -> T:
    """What ``make`` makes of ``sources`` (paths below the package): from the cache folder, or made and put there."""
    try:
        stamp = _digest((*_FORMS, *sources))
    except OSError:  # the package is not in a folder of its own
        return make()
    path = user_folder("CACHE") / f"{name}.kept"
    found = _read(path, stamp)
    if isinstance(found, kind):
        return found
    made = make()
    _write(path, stamp, made)
    return made


def kept_demo_job() -> Job:
    """The demo job."""

    def make() -> Job:
        from ribpatch.library.demo import demo_job

        return demo_job()

    return kept("demo", _DEMO, make, Job)


def _digest(sources: Iterable[str]) -> bytes:
    read = [f"{ribpatch.__version__} {sys.version}".encode()]
    for source in sources:
        read += (source.encode(), (_PACKAGE / source).read_bytes())
    return _sum(b"".join(read))


def _sum(data: bytes | memoryview) -> bytes:
    """A check against change by accident; what is read back is limited to records by other means. A cryptographic one
    would load a library that the start does without.
    """
    return struct.pack("<QII", len(data), crc32(data), adler32(data))


def _read(path: Path, stamp: bytes) -> object:
    """What is kept, or None: it was made of these sources, and its own digest holds, before any of it is believed."""
    with contextlib.suppress(Exception):  # whatever is wrong with it, it is made anew
        raw = path.read_bytes()
        body = memoryview(raw)[2 * _DIGEST :]
        if raw[:_DIGEST] == stamp and raw[_DIGEST : 2 * _DIGEST] == _sum(body):
            return _Records(BytesIO(body)).load()
    return None


def _write(path: Path, stamp: bytes, made: object) -> None:
    body = pickle.dumps(made, protocol=5)
    part = path.with_name(f"{path.name}.{os.getpid()}.part")
    with contextlib.suppress(OSError):  # without a cache folder it is made at every start
        private_folder(path.parent)
        try:
            part.write_bytes(stamp + _sum(body) + body)
            part.replace(path)
        finally:
            part.unlink(missing_ok=True)


class _Records(pickle.Unpickler):
    """Reads records, kinds and shelves of this package and nothing else."""

    def __init__(self, stream: IO[bytes]) -> None:
        super().__init__(stream)

    def find_class(self, module: str, name: str) -> Any:
        found = super().find_class(module, name) if module.startswith("ribpatch.core.") else None
        if not (isinstance(found, type) and issubclass(found, Record | Shelf | Enum)):
            raise pickle.UnpicklingError(f"{module}.{name} is no record")
        return found
