"""Queries of practice: rigs, exercises and sheets."""
