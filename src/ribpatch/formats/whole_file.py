"""The bytes of a file from outside, or a plain fault where it is missing, unreadable or too large."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from pathlib import Path

    from ribpatch.core.errors import FileProblem


def read_whole(path: Path, most: int, fault: type[FileProblem], too_large: str) -> bytes:
    """The bytes of a file of at most ``most`` bytes; raises ``fault``. ``too_large`` says what to do about a larger
    one.
    """
    try:
        with path.open("rb") as stream:  # what it says of its size is not asked: a device or a pipe says 0
            raw = stream.read(most + 1)
    except OSError as error:
        raise fault(
            path.name, reason=f"cannot be read ({error.strerror})", advice="Check its name and permissions."
        ) from None
    if len(raw) > most:
        raise fault(path.name, reason=f"is larger than {most // 2**20} MiB", advice=too_large)
    return raw
