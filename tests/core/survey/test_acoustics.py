"""Strikes: what is measured against sounds of known frequency and decay, and every recording that is refused."""

import importlib.util
import sys
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from ribpatch.core.errors import BadRecording, Fault
from ribpatch.core.job import Survey
from ribpatch.core.readings import Strike
from ribpatch.core.record import evolve
from ribpatch.core.survey.acoustics import mono, strikes_in
from ribpatch.core.survey.hammer import RATE, Panel, any_panel, response, strike_wave
from ribpatch.core.survey.score import scores_of
from ribpatch.core.survey.strike_shape import BANDS, FADING
from ribpatch.core.survey.strikes import (
    ALIKE,
    FOOLED,
    NEARNESS,
    SPREADS,
    UNLIKE,
    UNTOLD,
    by_place,
    compared,
    features_of,
    met,
    strike_says,
    verdict_of,
)
from ribpatch.library.shelf import shipped_shelf

SHELF = shipped_shelf()


def ring(frequency, decay, rate=48_000, seconds=0.4, start=0.1, size=0.5, noise=1e-4, seed=1):
    """A decaying sine of known frequency and time constant."""
    t = np.arange(round(seconds * rate)) / rate - start
    wave = np.where(t >= 0, size * np.exp(-np.maximum(t, 0) / decay) * np.sin(2 * np.pi * frequency * t), 0.0)
    return wave + noise * np.random.default_rng(seed).standard_normal(t.size)


@given(st.floats(200, 3500), st.floats(0.004, 0.025), st.sampled_from([16_000, 44_100, 48_000, 96_000]))
def test_a_decaying_sine_gives_its_own_frequency_and_decay(frequency, decay, rate):
    (found,) = strikes_in(ring(frequency, decay, rate), rate)
    assert found.frequency == pytest.approx(frequency, rel=0.03, abs=12)
    assert found.decay == pytest.approx(decay, rel=0.2)
    assert found.start == pytest.approx(0.1, abs=0.002)


def test_the_centroid_of_two_tones_lies_between_them_by_their_power():
    """Two tones of equal decay and sizes 2 : 1 have powers 4 : 1."""
    wave = ring(800, 0.02, noise=1e-5) + 0.5 * ring(2400, 0.02, noise=1e-5)
    (found,) = strikes_in(wave, 48_000)
    assert found.frequency == pytest.approx(800, abs=10)
    assert found.centroid == pytest.approx((4 * 800 + 2400) / 5, rel=0.05)


def test_contact_is_the_width_of_a_half_sine():
    rate, width = 96_000, 0.0012
    t = np.arange(int(0.3 * rate)) / rate - 0.1
    wave = np.where((t >= 0) & (t < width), 0.6 * np.sin(np.pi * t / width), 0.0)
    wave += 1e-5 * np.random.default_rng(2).standard_normal(t.size)
    (found,) = strikes_in(wave, rate)
    assert found.contact == pytest.approx(width, rel=0.1)


def test_several_strikes_in_one_file_are_told_apart_in_order():
    parts = [ring(f, 0.01, start=0.05, seconds=0.3) for f in (1000, 600, 1400)]
    found = strikes_in(np.concatenate(parts), 48_000)
    assert [round(s.frequency, -2) for s in found] == [1000, 600, 1400]
    assert [s.start for s in found] == pytest.approx([0.05, 0.35, 0.65], abs=0.003)


def test_stereo_takes_the_louder_channel_and_loudness_does_not_matter():
    wave = ring(900, 0.012)
    both = np.column_stack([0.05 * wave, wave])
    assert np.allclose(mono(both), wave - wave.mean())
    (one,), (two,), (soft,) = strikes_in(both, 48_000), strikes_in(wave, 48_000), strikes_in(0.2 * wave, 48_000)
    assert one.frequency == two.frequency == pytest.approx(soft.frequency, rel=1e-3)
    assert soft.decay == pytest.approx(one.decay, rel=1e-3)


def clipped(wave):
    return np.clip(4 * wave, -1, 1)


def clipped_before(wave):
    return 0.5 * np.clip(4 * wave, -1, 1)


@pytest.mark.parametrize(
    ("make", "rate", "reason"),
    [
        (lambda w: clipped(w), 48_000, "clipped"), (lambda w: clipped_before(w), 48_000, "clipped"), (lambda w: 0 * w, 48_000, "silent"),
        (lambda w: w * 1e-5, 48_000, "silent"), (lambda w: w, 4_000, "sampling rate"), (lambda w: w[:100], 48_000, "shorter"),
        (lambda w: np.where(w > 0.4, np.nan, w), 48_000, "no numbers"),
        (lambda w: 0.2 * np.random.default_rng(3).standard_normal(w.size), 48_000, "stands out|too noisy"),
    ],
)  # fmt: skip
def test_what_cannot_be_trusted_is_refused_with_the_reason(make, rate, reason):
    with pytest.raises(BadRecording, match=reason):
        strikes_in(make(ring(900, 0.01)), rate, "taps.wav")


def filtered(wave, rate=48_000, over=6_000):
    """Through a low pass of second order, as a recorder or a sound editor has it."""
    f = np.fft.rfftfreq(wave.size, 1 / rate)
    return np.fft.irfft(np.fft.rfft(wave) / (1 + (f / over) ** 4) ** 0.5, wave.size)


@given(st.floats(300, 3000), st.floats(0.004, 0.03), st.floats(0, 0.01))
@settings(max_examples=30, deadline=None)
def test_clipped_and_then_filtered_is_told_and_a_ring_is_not(frequency, decay, noise):
    wave = ring(frequency, decay) + noise * np.random.default_rng(1).standard_normal(round(0.4 * 48_000))
    assert strikes_in(filtered(wave), 48_000)[0].over_noise > 10
    if frequency * decay > 8:  # enough swings to see that they are level
        with pytest.raises(BadRecording, match="clipped"):
            strikes_in(0.5 * filtered(np.clip(8 * wave, -1, 1)), 48_000)


def strike(panel, state, rng, over_noise=25):
    (found,) = strikes_in(strike_wave(panel, state, rng, over_noise), RATE)
    return found


OTHERWISE = Path(__file__).parents[3] / "scripts/strikes_made_otherwise.py"
WANTED = {"sound": "sound", "wet": "dull", "rotted": "dull", "disbonded": "drummy"}


def otherwise():
    spec = importlib.util.spec_from_file_location("strikes_made_otherwise", OTHERWISE)
    module = importlib.util.module_from_spec(spec)
    sys.modules[spec.name] = module
    spec.loader.exec_module(module)
    return module


def own_makers(count):
    rng = np.random.default_rng(77)
    for _ in range(count):
        panel = any_panel(rng)
        yield lambda state, panel=panel: (strike_wave(panel, state, rng, 25), RATE)


def other_makers(count):
    made, rng = otherwise(), np.random.default_rng(7_007)
    for _ in range(count):
        plate, session = made.any_plate(rng), made.any_session(rng)
        yield lambda state, p=plate, s=session: (made.strike(p, s, state, rng), s.rate)


@pytest.mark.parametrize(("makers", "right", "judged"), [(own_makers(25), 0.93, 0.75), (other_makers(10), 0.75, 0.7)])
def test_strikes_of_panels_that_nothing_was_learned_from_are_told_right_or_not_at_all(makers, right, judged):
    """Wet and rotted are one verdict, dull: the sound does not part them."""
    told = []
    for make in makers:
        references = tuple(strikes_in(*make("sound"))[0] for _ in range(3))
        told += [
            (verdict_of(strikes_in(*make(state))[0], references, SHELF).id, word) for state, word in WANTED.items()
        ]
    clear = [(found, wanted) for found, wanted in told if found not in (UNLIKE, UNTOLD)]
    assert len(clear) >= judged * len(told)
    assert sum(found == wanted for found, wanted in clear) >= right * len(clear)
    bad = [found for found, wanted in told if wanted != "sound"]
    assert bad.count("sound") <= 0.05 * len(bad)


def test_the_hammers_physics():
    """Disbonds are soft and low, wet and rotted places damped, by the closed forms that the model states."""
    panel, rng = Panel(), np.random.default_rng(0)
    sound, wet, rot, loose = (response(panel, s, rng) for s in ("sound", "wet", "rotted", "disbonded"))
    d = 11e9 * 0.004**3 / 12 / 0.91
    assert sound.stiffness == pytest.approx(8 * (d * 2.0e9 / 0.018) ** 0.5)
    mass = 2 * 1700 * 0.004 + 150 * 0.018
    assert sound.frequency == pytest.approx(36 / (2 * np.pi * 0.35**2) * (11e9 * 0.004 * 0.022**2 / 2 / mass) ** 0.5)
    assert 16 * np.pi * d / 0.11**2 <= loose.stiffness <= 16 * np.pi * d / 0.06**2
    assert sound.stiffness > wet.stiffness > rot.stiffness and sound.frequency > wet.frequency > rot.frequency
    assert min(wet.damping, rot.damping) > 3 * sound.damping


def reading(n, frequency=1000.0, decay=0.01):
    return Strike(id=f"r{n}", x=0, y=0, frequency=frequency, centroid=1500, decay=decay, contact=4e-4)


def test_without_reference_strikes_nothing_is_said():
    assert strike_says(reading(1), (), SHELF) is None and verdict_of(reading(1), (), SHELF) is None


def test_a_strike_like_its_references_is_sound_and_chances_sum_to_one():
    verdict = verdict_of(reading(1), (reading(2), reading(3)), SHELF)
    assert verdict.id == "sound" and 0.7 < verdict.margin < 0.98, "no recording is beyond doubt"
    assert sum(verdict.chances) == pytest.approx(1) == pytest.approx(sum(verdict.by_verdict.values()))
    assert strike_says(reading(1), (reading(2),), SHELF)[0] < 0.2
    dull = verdict_of(reading(1, 600, 0.0026), (reading(2),), SHELF)
    assert dull.id == "dull"


def test_a_knock_is_unlike_any_strike_and_says_nothing():
    knock = reading(1, 90, 0.4)
    verdict = verdict_of(knock, (reading(2), reading(3)), SHELF)
    assert verdict.id == "unlike any" and verdict.margin == 0 and "again" in verdict.name
    assert strike_says(knock, (reading(2), reading(3)), SHELF) is None


def test_one_reference_struck_badly_does_not_shift_the_others():
    good = [reading(n) for n in range(2, 6)]
    with_bad = verdict_of(reading(1), (*good, reading(9, 4000, 0.0005)), SHELF)
    assert with_bad.id == "sound" and max(abs(o) for o in with_bad.offset) < 1e-9


def test_a_strike_between_two_classes_is_not_told():
    found = {
        verdict_of(reading(1, 1000 * 2**-k, 0.01 * 2.0 ** (-3 * k)), (reading(2),), SHELF).id
        for k in np.linspace(0, 1, 41)
    }
    assert "cannot tell" in found and "sound" in found


def test_likelihoods_of_a_strike_are_its_chances_by_state():
    verdict = verdict_of(reading(1), (reading(2), reading(3)), SHELF)
    by_state = dict(zip((c.id for c in SHELF.strikes), verdict.chances, strict=True))
    score, logs = strike_says(reading(1), (reading(2), reading(3)), SHELF)
    assert np.exp(logs) == pytest.approx([by_state[s] for s in ("sound", "wet", "rotted", "disbonded")])
    assert score == pytest.approx(sum(c.score * by_state[c.id] for c in SHELF.strikes))


def test_both_judges_against_their_own_sums_by_hand():
    """One strike and one reference, the weights of the data, term by term, drawn in; then three parts in ten of its log-odds of sound."""
    verdict = verdict_of(reading(1, 700, 0.004), (reading(2),), SHELF)
    change = [np.log(0.7), 0.0, np.log(0.4), 0.0]
    over = [c / s for c, s in zip(change, SPREADS, strict=False)]
    fits = [
        0.7
        * (
            c.few[0]
            + sum(w * v for w, v in zip(c.few[1:5], over, strict=True))
            + sum(w * abs(v) for w, v in zip(c.few[5:], over, strict=True))
        )
        for c in SHELF.strikes
    ]
    share = np.exp(fits) / np.exp(fits).sum()
    far = np.sqrt(sum((c / a) ** 2 for c, a in zip(change, ALIKE, strict=False)) / 4)
    odds = 0.3 * np.log(share[0] / (1 - share[0])) + 0.7 * (NEARNESS[4][0] + NEARNESS[4][1] * np.log(far))
    sound = 1 / (1 + np.exp(-odds))
    expected = [sound, *(share[1:] / share[1:].sum() * (1 - sound))]
    assert verdict.chances == pytest.approx([(1 - FOOLED) * p + FOOLED / 4 for p in expected])
    assert verdict.margin in (pytest.approx(max(verdict.by_verdict.values())), 0.0)


def test_references_that_lie_close_together_let_a_smaller_difference_tell():
    far = [compared(np.log([900.0, 1500, 0.009, 4e-4]), np.log(known))[2] for known in (
        [[1000.0, 1500, 0.01, 4e-4], [1002, 1501, 0.01, 4e-4], [999, 1499, 0.01, 4e-4]],
        [[700.0, 1300, 0.007, 3e-4], [1400, 1900, 0.014, 6e-4], [1000, 1500, 0.01, 4e-4]],
    )]  # fmt: skip
    assert far[0] > 2 * far[1]
    assert compared(np.log([1000.0, 1500, 0.01, 4e-4]), np.log([[1000.0, 1500, 0.01, 4e-4]]))[2] == pytest.approx(0.05)


def test_how_far_a_strike_is_off_by_hand():
    """Two references a spread apart in one feature, a strike off in two others, down and up."""
    known = np.array([[1.0, 2.0, 3.0, 4.0], [1.0 + ALIKE[0], 2.0, 3.0, 4.0]])
    own = np.array([1.0 + ALIKE[0] / 2, 2.0 - 2 * ALIKE[1], 3.0, 4.0 + 3 * ALIKE[3]])
    offset, over, far = compared(own, known)
    assert offset == pytest.approx([0, -2 * ALIKE[1], 0, 3 * ALIKE[3]]) and over == pytest.approx(offset / SPREADS[:4])
    steady = ((3 + 2 * 0.25) / (3 + 4)) ** 0.5
    assert far == pytest.approx(((4 + 9) / 4) ** 0.5 / steady)
    few = met(np.array([0.4, 0.3, 0.2, 0.1]), np.array(1.0), 4)
    odds = 0.3 * np.log(0.4 / 0.6) + 0.7 * NEARNESS[4][0]
    assert few[0] == pytest.approx(1 / (1 + np.exp(-odds))) and few[1:] == pytest.approx(
        np.array([3, 2, 1]) / 6 * (1 - few[0])
    )


def test_strikes_at_one_place_are_judged_by_their_middle():
    marked = tuple(reading(n) for n in range(2, 5))
    knocked = evolve(reading(9, 4000, 0.0005), x=0.5)
    same = tuple(evolve(reading(n), x=0.5) for n in (10, 11))
    shared = by_place((*same, knocked), 0.04)
    assert set(shared) == {"r9", "r10", "r11"} and shared["r9"] == pytest.approx(features_of(reading(1)))
    assert by_place((same[0], evolve(knocked, x=0.7)), 0.04) == {}
    survey = Survey(readings=(*marked, *same, knocked), references=("r2", "r3", "r4"))
    scores = scores_of(survey, SHELF)
    rows = {i: row for i, row in zip(scores.ids, scores.logs.tolist(), strict=True)}
    assert rows["r9"] == pytest.approx(rows["r10"])


def test_all_features_count_where_both_have_them_and_the_first_few_else():
    rng = np.random.default_rng(5)
    panel = any_panel(rng)
    found, sound = strike(panel, "rotted", rng), strike(panel, "sound", rng)
    whole = verdict_of(found, (sound,), SHELF)
    assert len(whole.offset) == SPREADS.size and whole.offset[:4] == pytest.approx(
        np.log(
            [
                found.frequency / sound.frequency,
                found.centroid / sound.centroid,
                found.decay / sound.decay,
                found.contact / sound.contact,
            ]
        )
    )
    assert (
        len(verdict_of(reading(1), (sound,), SHELF).offset) == 4 == len(verdict_of(found, (reading(1),), SHELF).offset)
    )
    assert len(verdict_of(found, (reading(1), sound), SHELF).offset) == SPREADS.size


@given(st.floats(300, 3000), st.floats(0.004, 0.02))
@settings(max_examples=20, deadline=None)
def test_the_shape_of_a_tone_is_its_band_and_its_own_fading(frequency, decay):
    (found,) = strikes_in(ring(frequency, decay), 48_000)
    band = next(k for k, (low, high) in enumerate(BANDS) if low <= frequency < high)
    near = min(abs(frequency - edge) for edges in BANDS for edge in edges)
    if near > 3 / decay:  # a tone that fades is some hertz wide
        assert found.shape.bands[band] > 0.8
    part = next(k for k, (low, high) in enumerate(FADING) if low <= frequency < high)
    edge = min(abs(frequency - e) for edges in FADING for e in edges)
    if edge > 6 / decay:
        assert found.shape.fades[part] == pytest.approx(decay * np.log(10) / 2, rel=0.25)
    assert found.shape.early == pytest.approx(1 - np.exp(-2 * 0.004 / decay), abs=0.12)
    assert found.shape.attack > 100


@pytest.mark.parametrize(
    "shape",
    [
        {"bands": (0.5, 0.5), "fades": (0.01,) * 3, "early": 0.5, "attack": 900.0},
        {"bands": (0.1,) * 6, "fades": (0.01,) * 3, "early": 0.0, "attack": 900.0},
        {"bands": (0.1,) * 6, "fades": (0.01,) * 3, "early": 0.5},
        {"early": 0.5},
    ],
)
def test_half_a_shape_is_refused_in_words(shape):
    with pytest.raises(Fault, match="six bands, three fades"):
        evolve(reading(1), **shape)


def test_the_states_of_a_shelf_are_told_by_name_not_by_place():
    turned = replace(SHELF, strikes=SHELF.strikes[::-1])
    for strike_ in (reading(1), reading(1, 600, 0.0026)):
        one, other = (verdict_of(strike_, (reading(2),), shelf) for shelf in (SHELF, turned))
        assert one == other and strike_says(strike_, (reading(2),), turned) == strike_says(
            strike_, (reading(2),), SHELF
        )
