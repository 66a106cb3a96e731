"""The parts of the page of work of which one is shown where there is no room for all."""

from __future__ import annotations

PLAN, PAGE, CHOICES = "plan", "page", "pick"
PARTS = (PLAN, PAGE, CHOICES)
