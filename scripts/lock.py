"""Writes requirements.lock: every package that is installed, its version, and the hashes of its files for Linux.

Versions stay as they are in the lock that is there; with --anew they are resolved from pyproject.toml again.
"""

from __future__ import annotations

import json
import re
import subprocess
import sys
import urllib.request
from pathlib import Path

from pip._internal.models.index import PyPI

ROOT = Path(__file__).parent.parent
LOCK = ROOT / "requirements.lock"
BUILD = "setuptools>=77,<82"  # what the project itself is built with
WANTED = re.compile(r"\.tar\.gz$|none-any\.whl$|(cp3(1[1-4])|abi3|py3|py2\.py3)-.*linux.*\.whl$")
JSON = "application/vnd.pypi.simple.v1+json"


def resolved(anew: bool) -> list[tuple[str, str]]:
    """Names and versions of all that the project wants."""
    command = [sys.executable, "-m", "pip", "install", "--dry-run", "--ignore-installed", "--quiet", "--report", "-"]
    kept = ROOT / "build" / "kept.txt"
    if not anew and LOCK.exists():
        kept.parent.mkdir(exist_ok=True)
        kept.write_text("\n".join(re.findall(r"^[^\s#]+==[^\s\\]+", LOCK.read_text(), re.M)))
        command += ["--constraint", str(kept)]
    report = json.loads(subprocess.run([*command, f"{ROOT}[dev]", BUILD], check=True, capture_output=True).stdout)
    rows = [(i["metadata"]["name"], i["metadata"]["version"]) for i in report["install"]]
    return sorted((r for r in rows if r[0] != "ribpatch"), key=lambda r: r[0].lower())


def hashes(name: str, version: str) -> list[str]:
    """The SHA-256 of every file of a version that Linux may want."""
    url = f"{PyPI.simple_url}/{re.sub(r'[-_.]+', '-', name).lower()}/"
    asked = urllib.request.Request(url, headers={"Accept": JSON})
    files = json.load(urllib.request.urlopen(asked))["files"]
    stem = re.compile(rf"{re.sub(r'[-_.]+', '[-_.]+', name)}-{re.escape(version)}(-|\.tar)", re.IGNORECASE)
    return sorted({f["hashes"]["sha256"] for f in files if stem.match(f["filename"]) and WANTED.search(f["filename"])})


def main() -> int:
    lines = ["# Made by scripts/lock.py. pip install --require-hashes -r requirements.lock"]
    for name, version in resolved("--anew" in sys.argv):
        found = hashes(name, version)
        if not found:
            print(f"{name} {version}: no file for Linux is listed", file=sys.stderr)
            return 1
        lines.append(" \\\n    ".join([f"{name}=={version}", *(f"--hash=sha256:{h}" for h in found)]))
    LOCK.write_text("\n".join(lines) + "\n")
    print(f"{len(lines) - 1} packages in {LOCK.name}")
    return 0


if __name__ == "__main__":
    sys.exit(main())
