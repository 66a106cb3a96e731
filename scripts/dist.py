"""Builds the source archive and the wheel with what is installed already: no package is fetched for it."""

from __future__ import annotations

import os
import sys
from pathlib import Path

from setuptools import build_meta

ROOT = Path(__file__).parent.parent


def main() -> int:
    os.chdir(ROOT)
    folder = sys.argv[1] if len(sys.argv) > 1 else "dist"
    Path(folder).mkdir(parents=True, exist_ok=True)
    for made in (build_meta.build_sdist(folder), build_meta.build_wheel(folder)):
        print(f"{folder}/{made}")
    return 0


if __name__ == "__main__":
    sys.exit(main())
