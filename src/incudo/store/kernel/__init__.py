"""Queries of kernel: what every room stands on."""
