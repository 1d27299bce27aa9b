"""Holes: points, countersinks, threads, patterns, boring. Sources: geometry; the threads' own formulas."""
