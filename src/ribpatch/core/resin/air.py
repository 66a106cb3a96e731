"""Shed air: dew point by the Magnus formula over water, valid from -45 to 60 degC. Source: [5]."""

from __future__ import annotations

from math import log

MAGNUS_B, MAGNUS_C = 17.62, 243.12


def dew_point(temperature: float, humidity: float) -> float:
    """Dew point in degC of air at ``temperature`` degC and relative ``humidity`` (0..1, above 0).

    Raises ValueError outside the formula's range.
    """
    if not -45 <= temperature <= 60:
        raise ValueError("the Magnus formula holds from -45 to 60 degC")
    if not 0 < humidity <= 1:
        raise ValueError("relative humidity lies above 0 and up to 1")
    gamma = log(humidity) + MAGNUS_B * temperature / (MAGNUS_C + temperature)
    return MAGNUS_C * gamma / (MAGNUS_B - gamma)
