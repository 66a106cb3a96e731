"""What the shop learned, in the user's library folder: read at the start, written when a job is learned from.

The file before the last change is kept as ``shop.json~``.
"""

from __future__ import annotations

import json
import os
from typing import TYPE_CHECKING

from ribpatch.core.errors import FileProblem, ManyFaults
from ribpatch.core.record import as_json, faults_of, read_as
from ribpatch.core.shop import Shop
from ribpatch.folders import private_folder
from ribpatch.library.shelf import library_folder

if TYPE_CHECKING:
    from pathlib import Path

MOST_BYTES = 8 * 2**20
ADVICE = "Mend it, or take it out of the library folder: what was learned is then as before any job."


def shop_path(folder: Path | None = None) -> Path:
    """Where it lies."""
    return (folder or library_folder()) / "shop.json"


def read_shop(folder: Path | None = None) -> Shop:
    """What was learned so far; nothing where there is no file. Raises FileProblem."""
    path = shop_path(folder)
    if not path.is_file():
        return Shop()
    from pydantic import ValidationError

    try:
        with open(path, "rb") as stream:
            raw = stream.read(MOST_BYTES + 1)
        if len(raw) > MOST_BYTES:
            raise FileProblem(str(path), reason=f"is larger than {MOST_BYTES >> 20} MiB", advice=ADVICE)
        return read_as(Shop, json.loads(raw))
    except ValidationError as error:
        reason = ManyFaults(faults_of(error)).sentence.rstrip(".")
        raise FileProblem(str(path), reason=reason, advice=ADVICE) from None
    except (ValueError, RecursionError) as error:
        raise FileProblem(str(path), reason=f"is no JSON ({error})", advice=ADVICE) from None
    except OSError as error:
        raise FileProblem(str(path), reason=error.strerror or "cannot be read", advice=ADVICE) from None


def write_shop(shop: Shop, folder: Path | None = None) -> None:
    """Keep what was learned, whole or not at all. Raises FileProblem."""
    path = shop_path(folder)
    try:
        private_folder(path.parent)
        if path.is_file():
            _write(path.with_name("shop.json~"), path.read_bytes())
        _write(path, as_json(shop))
    except OSError as error:
        raise FileProblem(
            str(path), reason=f"cannot be written ({error.strerror})", advice="What was learned is as it was."
        ) from None


def _private(name: str, flags: int) -> int:
    return os.open(name, flags, 0o600)


def _write(path: Path, data: bytes) -> None:
    """Whole or not at all."""
    part = path.with_name(f"{path.name}.{os.getpid()}.part")
    try:
        with open(part, "wb", opener=_private) as stream:
            stream.write(data)
            stream.flush()
            os.fsync(stream.fileno())
        part.replace(path)
    finally:
        part.unlink(missing_ok=True)
