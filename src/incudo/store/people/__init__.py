"""Queries of people: accounts, roles, class lists, the safety notice."""
