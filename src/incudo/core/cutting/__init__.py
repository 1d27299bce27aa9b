"""Cutting: what the hands do at the machine, step by step, from a plan, the machine's dials and what is read."""
