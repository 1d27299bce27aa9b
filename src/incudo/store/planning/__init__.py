"""Queries of plans."""
