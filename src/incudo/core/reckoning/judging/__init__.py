"""Limits, instruments, verdicts, position, growth. Sources: the product's own rules of judging; standard tables."""
