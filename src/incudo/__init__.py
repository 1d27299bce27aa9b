"""Incudo: the working companion of a manual-milling course."""

__version__ = "0.1.0"
