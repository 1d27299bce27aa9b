"""Use cases of locating: dials, backlash, edges, middles, datums."""
