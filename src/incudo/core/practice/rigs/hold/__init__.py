"""Holding the work. State, rules, advice and scene lie apart."""
