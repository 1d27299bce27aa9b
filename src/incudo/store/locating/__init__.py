"""Queries of locating: dials, backlash, edges, middles, datums."""
