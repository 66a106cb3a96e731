"""Whether the ranges of hours hold: simulated shops of four kinds, none of which is the model that learns.

Each shop differs from the estimate by a factor of its own, and each of its jobs by another; how often does the next job
lie in the range in which nine of ten should?
"""

from __future__ import annotations

import sys

import numpy as np

from ribpatch.core.logbook.learning import learned

JOBS = (0, 1, 2, 3, 5, 8, 12, 20)


def shops(rng: np.random.Generator):
    """(name, a shop's own logarithm, its spread, a job's logarithm by it)."""
    yield "log-normal, spread of its own", lambda: rng.normal(0, 0.2), lambda: rng.uniform(0.12, 0.35), rng_normal(rng)
    yield (
        "gamma",
        lambda: rng.normal(0, 0.25),
        lambda: rng.uniform(0.15, 0.35),
        lambda s: float(np.log(rng.gamma(1 / s**2, s**2))),
    )
    yield "heavy tails", lambda: rng.uniform(-0.35, 0.35), lambda: 0.2, lambda s: float(s * rng.standard_t(5))
    yield (
        "one job in twenty goes wrong",
        lambda: rng.normal(0, 0.2),
        lambda: rng.uniform(0.15, 0.3),
        lambda s: float(rng.normal(0, s) + 0.7 * (rng.random() < 0.05)),
    )


def rng_normal(rng: np.random.Generator):
    return lambda s: float(rng.normal(0, s))


def coverage(rng: np.random.Generator, own, spread, job, jobs: int, shops_tried: int) -> float:
    held = 0
    for _ in range(shops_tried):
        mean, s = own(), spread()
        logs = [mean + job(s) for _ in range(jobs + 1)]
        made = learned(np.exp(logs[:-1]).tolist())
        held += made.low <= np.exp(logs[-1]) <= made.high
    return held / shops_tried


def main() -> int:
    tried = int(sys.argv[1]) if len(sys.argv) > 1 else 2000
    print("jobs before".ljust(34), *(f"{n:>6}" for n in JOBS))
    rng = np.random.default_rng(5)
    for name, own, spread, job in shops(rng):
        print(name.ljust(34), *(f"{coverage(rng, own, spread, job, n, tried):6.3f}" for n in JOBS))
    return 0


if __name__ == "__main__":
    sys.exit(main())
