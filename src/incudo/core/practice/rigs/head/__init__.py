"""Squaring a head. State, rules, advice and scene lie apart."""
