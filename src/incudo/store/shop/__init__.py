"""Queries of shop: machines, workholding, cutters, materials, the crib, tags."""
