"""Writes who made what the program stands on, and under which licence; shown in About, and shipped with the program."""

from __future__ import annotations

import re
import sys
from importlib.metadata import Distribution, PackageNotFoundError, distribution
from pathlib import Path

from packaging.requirements import Requirement

NOTICES = Path(__file__).parent.parent / "src" / "ribpatch" / "resources" / "licences" / "third-party.txt"
HEAD = """Rib Patch stands on these packages. Each is installed beside it, with the full text of its licence.
Name, version, licence:
"""
OWN = """
Fonts that ship inside Rib Patch: B612, SIL Open Font License 1.1 (B612-OFL-1.1.txt); DejaVu Sans 2.37, its own free
licence (DejaVu-Sans.txt). Rib Patch itself: MIT (LICENSE).
"""


def runtime() -> list[Distribution]:
    """The packages that the program needs to run, and what they need."""
    found: dict[str, Distribution] = {}
    wanted = ["ribpatch"]
    while wanted:
        name = re.sub(r"[-_.]+", "-", wanted.pop()).lower()
        if name in found:
            continue
        try:
            found[name] = distribution(name)
        except PackageNotFoundError:
            continue  # of another system
        for text in found[name].requires or ():
            need = Requirement(text)
            if need.marker is None or need.marker.evaluate({"extra": ""}):
                wanted.append(need.name)
    return [found[name] for name in sorted(found) if name != "ribpatch"]


def licence(made: Distribution) -> str:
    """The licence of a package in a word."""
    meta = made.metadata
    said = meta.get("License-Expression") or ""
    classes = [c.rpartition(" :: ")[2] for c in meta.get_all("Classifier", []) if c.startswith("License ::")]
    text = (meta.get("License") or "").strip()
    if not said and text and len(text) < 60 and "\n" not in text:
        said = text
    return said or ", ".join(classes) or first_line(made)


def first_line(made: Distribution) -> str:
    """What the licence that a package carries is called."""
    files = [f for f in made.files or () if "licen" in str(f).lower() and f.suffix in ("", ".txt", ".md")]
    text = files[0].read_text().strip() if files else ""
    return text.splitlines()[0].strip() if text else "see its own notice"


def main() -> int:
    rows = [f"{d.metadata['Name']}\t{d.version}\t{licence(d)}" for d in runtime()]
    NOTICES.write_text(HEAD + "\n" + "\n".join(rows) + "\n" + OWN)
    print(f"{len(rows)} packages in {NOTICES.name}")
    return 0


if __name__ == "__main__":
    sys.exit(main())
