"""Are two revisions' plans the same? Every figure, warning and item of the demo, the practice and the stored sample
jobs, line by line.

python scripts/compare_plans.py write FILE       all lines of this revision
python scripts/compare_plans.py compare A B      what differs between two files; exit code 1 where anything does
"""

from __future__ import annotations

import difflib
import sys
from collections.abc import Iterator
from pathlib import Path

SAMPLES = Path(__file__).resolve().parent.parent / "tests" / "data"
MOST_SHOWN = 200


def lines() -> Iterator[str]:
    from ribpatch.jobfile import archive
    from ribpatch.library.demo import demo_job
    from ribpatch.library.practice import practice_job

    yield from plan_lines("demo", demo_job())
    yield from plan_lines("practice", practice_job(7))
    for path in sorted(SAMPLES.glob("job-version-*.ribpatch")):
        yield from plan_lines(path.stem, archive.load(path))


def plan_lines(name: str, job: object) -> Iterator[str]:
    from ribpatch.core.plan import plan
    from ribpatch.library.shelf import shipped_shelf

    for system in ("metric", "us"):
        made = plan(job, shipped_shelf(), system)  # type: ignore[arg-type]
        where = f"{name} {system}"
        for figure in made.figures:
            yield f"{where} figure {figure.id} {figure.value!r} {figure.kind.value} {figure.shown(system)} {figure!r}"  # type: ignore[arg-type]
        for notice in made.notices:
            yield f"{where} notice {notice!r}"
        for item in made.items:
            yield f"{where} item {item!r}"


def compare(first: Path, second: Path) -> int:
    found = 0
    old, new = (path.read_text(encoding="utf-8").splitlines() for path in (first, second))
    for line in difflib.unified_diff(old, new, str(first), str(second), n=0, lineterm=""):
        found += 1
        if found <= MOST_SHOWN:
            print(line)
    print(f"{len(old)} and {len(new)} lines, {'the same' if not found else 'not the same'}")
    return int(bool(found))


def main(words: list[str]) -> int:
    if len(words) == 2 and words[0] == "write":
        Path(words[1]).write_text("\n".join(lines()) + "\n", encoding="utf-8")
        return 0
    if len(words) == 3 and words[0] == "compare":
        return compare(Path(words[1]), Path(words[2]))
    print(__doc__)
    return 2


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
