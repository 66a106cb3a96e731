"""Learn what recorded taps sound like by state, from strikes made otherwise, and hold it against two kinds of strike
that nothing was learned from: the program's own hammer, and strikes on a grid (``--grid``). What ships has learned from
the hammer too, and is held against the grid alone.

Whole panels are left out as well. ``--write`` puts the weights into the data; ``NEARNESS`` is printed, and stands in
``core/survey/strikes.py``.
"""

from __future__ import annotations

import json
import sys
from pathlib import Path

import numpy as np
import strikes_made_otherwise as otherwise
from strikes_on_a_grid import GridPanel

from ribpatch.core.errors import Fault
from ribpatch.core.survey.acoustics import strikes_in
from ribpatch.core.survey.hammer import RATE, any_panel, strike_wave
from ribpatch.core.survey.strikes import DRAWN_IN, FEW, FOOLED, SPREADS, STATES, compared, features_of, met, terms_of

DATA = Path(__file__).parents[1] / "src/ribpatch/resources/data/strikes.json"
REFERENCES, EACH = 4, 3
BACK = 1e-3  # by which the squares of the weights are held back


def offsets(panels, seed, session):
    """Features over their spreads, and how far all are off, for all features and for the first few; states; panels.

    ``session(rng)`` gives a maker of strikes.
    """
    rows, states, groups = {SPREADS.size: [], FEW: []}, [], []
    for number in range(panels):
        rng = np.random.default_rng([seed, number])
        make = session(rng)
        heard = {
            s: [f for _ in range(EACH + REFERENCES * (s == "sound")) if (f := one(make, s)) is not None] for s in STATES
        }
        known = np.array(heard["sound"][:REFERENCES])
        if len(known) < REFERENCES:
            continue
        heard["sound"] = heard["sound"][REFERENCES:]
        for k, state in enumerate(STATES):
            for count, found in rows.items():
                found += [compared(f[:count], known)[1:] for f in heard[state]]
            states += [k] * len(heard[state])
            groups += [number] * len(heard[state])
    made = {n: (np.array([o for o, _ in found]), np.array([f for _, f in found])) for n, found in rows.items()}
    return made, np.array(states), np.array(groups)


def one(make, state):
    try:
        return features_of(strikes_in(*make(state))[0])
    except Fault:
        return None


def made_otherwise(rng):
    plate, session = otherwise.any_plate(rng), otherwise.any_session(rng)
    return lambda state: (otherwise.strike(plate, session, state, rng), session.rate)


def own_hammer(rng):
    panel = any_panel(rng)
    return lambda state: (strike_wave(panel, state, rng), RATE)


def on_a_grid(rng):
    panel = GridPanel(rng)
    return lambda state: panel.strike(state, rng)


def learned(over, states, back, steps=1500):
    """Weights (4, 2f+1) of a softmax, held back by ``back`` times their squares."""
    terms, wanted = terms_of(over), np.eye(len(STATES))[states]
    weights = np.zeros((terms.shape[1], len(STATES)))
    for _ in range(steps):
        chance = chances(weights.T, terms)
        weights -= 0.5 * (terms.T @ (chance - wanted) / len(terms) + back * weights)
    return weights.T


def chances(weights, terms):
    fit = terms @ weights.T
    made = np.exp(fit - fit.max(axis=1, keepdims=True))
    return made / made.sum(axis=1, keepdims=True)


def judged(weights, over, far, count):
    chance = met(chances(DRAWN_IN * weights, terms_of(over)), far, count)
    return (1 - FOOLED) * chance + FOOLED / len(STATES)


def nearness(far, sound):
    """Log-odds of sound at ``far`` of 1, and their slope over its logarithm, by Newton's method."""
    terms, found = np.column_stack([np.ones(far.size), np.log(far)]), np.zeros(2)
    for _ in range(100):
        chance = 1 / (1 + np.exp(-terms @ found))
        found -= np.linalg.solve((terms * (chance * (1 - chance))[:, None]).T @ terms, terms.T @ (chance - sound))
    return found


def told(name, chance, states, tell=0.7):
    verdicts = np.column_stack([chance[:, 0], chance[:, 1] + chance[:, 2], chance[:, 3]])
    wanted, top, sure = np.array([0, 1, 1, 2])[states], verdicts.argmax(axis=1), verdicts.max(axis=1)
    judged, bad = sure >= tell, states > 0
    bins = np.clip((sure * 10).astype(int), 0, 9)
    error = sum(
        abs(sure[bins == b].mean() - (top == wanted)[bins == b].mean()) * (bins == b).mean() for b in set(bins.tolist())
    )
    print(
        f"{name}: judged {judged.mean():.2f}, of these right {(top == wanted)[judged].mean():.3f}, damage called sound "
        f"{((top == 0) & judged & bad).sum() / bad.sum():.3f}; error of the chance {error:.3f}"
    )


def main() -> None:
    panels = int(next((a for a in sys.argv[1:] if a.isdigit()), "320"))
    own, states, groups = offsets(panels, 1, made_otherwise)
    others = {"the program's hammer": offsets(panels // 2, 2, own_hammer)}
    if "--grid" in sys.argv:  # seven minutes
        others["strikes on a grid"] = offsets(24, 3, on_a_grid)
    found, left = {}, groups % 2 == 1
    for count, (over, far) in own.items():
        print(f"{count} features: NEARNESS", np.round(nearness(far, states == 0), 2).tolist())
        first = learned(over[~left], states[~left], BACK)
        told("  panels left out", judged(first, over[left], far[left], count), states[left])
        found[count] = learned(over, states, BACK)
        for name, (rows, wanted, _) in others.items():
            told(f"  {name}, nothing learned from it", judged(found[count], *rows[count], count), wanted)
        # What ships has learned from both of the quicker kinds.
        rows, wanted, _ = others["the program's hammer"]
        both = np.concatenate([over, rows[count][0]]), np.concatenate([states, wanted])
        found[count] = learned(*both, BACK)
        for name, (rows, wanted, _) in others.items():
            told(f"  {name}, as shipped", judged(found[count], *rows[count], count), wanted)
        print("  distance at 95, 99, 99.8 %:", np.round(np.quantile((over**2).mean(axis=1), (0.95, 0.99, 0.998)), 2))
    if "--write" in sys.argv:
        data = json.loads(DATA.read_text())
        for k, item in enumerate(data["items"]):
            item |= {name: np.round(found[n][k], 3).tolist() for name, n in (("weights", SPREADS.size), ("few", FEW))}
        rows = ",\n".join(
            "  {\n" + ",\n".join(f"   {json.dumps(key)}: {json.dumps(value)}" for key, value in item.items()) + "\n  }"
            for item in data["items"]
        )
        DATA.write_text(f'{{\n "version": {data["version"]},\n "items": [\n{rows}\n ]\n}}\n')


if __name__ == "__main__":
    main()
