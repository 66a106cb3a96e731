"""Stiff and strong enough: panels, beams, sections, tabbing, scantlings, loads, and what a load test should read."""
