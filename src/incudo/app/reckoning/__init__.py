"""Use cases of reckoning: calculations and what is kept of them."""
