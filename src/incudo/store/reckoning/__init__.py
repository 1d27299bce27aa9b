"""Queries of reckoning: calculations and what is kept of them."""
