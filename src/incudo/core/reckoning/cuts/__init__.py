"""Passes, and where the cutter's axis runs. Sources: geometry, the shop's rules of thumb."""
