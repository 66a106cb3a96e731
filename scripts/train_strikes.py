"""Learn what recorded taps sound like by state, from strikes made otherwise, and hold it against the program's hammer
and against strikes on a grid.

Whole panels are left out to choose how much the weights are held back. ``--write`` puts the weights into the data.
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
from ribpatch.core.survey.strikes import FEW, SPREADS, STATES, features_of, terms_of

DATA = Path(__file__).parents[1] / "src/ribpatch/resources/data/strikes.json"
REFERENCES, EACH = 4, 3


def offsets(panels, seed, session):
    """Features over the references' middle, states, and panel numbers; ``session(rng)`` gives a maker of strikes."""
    rows, states, groups = [], [], []
    for number in range(panels):
        rng = np.random.default_rng([seed, number])
        make = session(rng)
        heard = {
            s: [f for _ in range(EACH + REFERENCES * (s == "sound")) if (f := one(make, s)) is not None] for s in STATES
        }
        if len(heard["sound"]) <= REFERENCES:
            continue
        base = np.median(heard["sound"][:REFERENCES], axis=0)
        heard["sound"] = heard["sound"][REFERENCES:]
        for k, state in enumerate(STATES):
            rows += [f - base for f in heard[state]]
            states += [k] * len(heard[state])
            groups += [number] * len(heard[state])
    return np.array(rows), np.array(states), np.array(groups)


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
    panels = int(next((a for a in sys.argv[1:] if a.isdigit()), "300"))
    x, states, groups = offsets(panels, 1, made_otherwise)
    other, other_states, _ = offsets(panels // 2, 2, own_hammer)
    print("spread of the features:", np.round(x.std(axis=0), 2).tolist())
    found = {}
    for name, count in (("weights", SPREADS.size), ("few", FEW)):
        over, foreign = x[:, :count] / SPREADS[:count], other[:, :count] / SPREADS[:count]
        for back in (3e-4, 1e-3, 3e-3):
            first = learned(over[groups % 2 == 0], states[groups % 2 == 0], back)
            told(
                f"{name}, held back {back:g}, panels left out",
                chances(first, terms_of(over[groups % 2 == 1])),
                states[groups % 2 == 1],
            )
            told("  the program's hammer", chances(first, terms_of(foreign)), other_states)
        # Told apart as above on a kind of strike that was left out; what ships has learned from both.
        found[name] = learned(np.concatenate([over, foreign]), np.concatenate([states, other_states]), 1e-3)
        distance = (over**2).mean(axis=1)
        print(name, "distance at 95, 99, 99.8 %:", np.round(np.quantile(distance, (0.95, 0.99, 0.998)), 2).tolist())
    if "--grid" in sys.argv:  # seven minutes
        third, third_states, _ = offsets(24, 3, on_a_grid)
        told("strikes on a grid", chances(found["weights"], terms_of(third / SPREADS)), third_states)
    if "--write" in sys.argv:
        data = json.loads(DATA.read_text())
        for k, item in enumerate(data["items"]):
            item |= {name: np.round(w[k], 3).tolist() for name, w in found.items()}
        rows = ",\n".join(
            "  {\n" + ",\n".join(f"   {json.dumps(key)}: {json.dumps(value)}" for key, value in item.items()) + "\n  }"
            for item in data["items"]
        )
        DATA.write_text(f'{{\n "version": {data["version"]},\n "items": [\n{rows}\n ]\n}}\n')


if __name__ == "__main__":
    main()
