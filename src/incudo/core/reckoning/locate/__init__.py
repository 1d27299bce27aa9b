"""Dials, edges, centres, tilt: the rules of ``core.finding`` and ``core.setup`` as calculations of their own."""
