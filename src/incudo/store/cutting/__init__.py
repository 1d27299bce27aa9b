"""Queries of cutting."""
