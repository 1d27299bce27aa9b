"""Queries of administration: the shop's settings, registers, papers, who may call what."""
