"""Panels and readers made another way than the method, a few of them: chances that keep their word, sound panels left
alone. The whole study is scripts/foreign_study.py.
"""

import sys
from pathlib import Path

import numpy as np
import pytest
import shapely

sys.path.insert(0, str(Path(__file__).parents[3] / "scripts"))
import foreign_study as foreign

from ribpatch.core.survey.extent import extent_of
from ribpatch.core.survey.field import posterior_of


def read(shape, number, count, even):
    rng = np.random.default_rng([5, number, count, even])
    panel = foreign.panel_of(rng, shape)
    return panel, foreign.survey_of(rng, panel, foreign.places_of(rng, panel, count, even))


@pytest.mark.parametrize("even", [True, False])
def test_stated_chances_come_true_on_foreign_panels(even):
    chances, bads, held, cut = [], [], [], []
    for number in range(18):
        panel, survey = read(("patches", "fingers", "rings")[number % 3], number, 100, even)
        places = np.column_stack([panel.x.ravel()[::3], panel.y.ravel()[::3]])
        bad = panel.state.ravel()[::3] > 0
        chances.append(posterior_of(survey, panel.ring, foreign.SHELF).chance_at(places))
        bads.append(bad)
        extent = extent_of(survey, panel.ring, foreign.SHELF)
        inside = shapely.contains_xy(extent.likely, places[:, 0], places[:, 1])
        looked = bad & ~shapely.contains_xy(extent.unsurveyed, places[:, 0], places[:, 1])
        held.append((int((inside & looked).sum()), int(looked.sum())))
        cut.append((inside & ~bad).sum() / (~bad).sum())
    assert foreign.calibration(np.concatenate(chances), np.concatenate(bads)) < 0.05
    inside, looked = np.array(held).sum(axis=0)
    assert inside / looked > (0.8 if even else 0.7), "of all damage that was looked at"
    assert np.mean(cut) < 0.25


def test_sound_panels_are_left_alone():
    areas, any_damage = [], []
    for number in range(12):
        panel, survey = read("none", number, 100, True)
        extent = extent_of(survey, panel.ring, foreign.SHELF)
        areas.append(extent.likely.area / (panel.size[0] * panel.size[1]))
        any_damage.append(extent.any_damage)
    assert np.mean(areas) < 0.03 and np.mean(any_damage) < 0.5
