"""Rigs about a part that was cut: what came out, and why."""
