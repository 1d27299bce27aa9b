"""Queries of session: a meeting: plan, roll, starts, calls, floor, interlock, end."""
