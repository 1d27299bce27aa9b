"""Aligning a vise. State, rules, advice and scene lie apart."""
