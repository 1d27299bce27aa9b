"""Rules of measuring: tolerance, instruments, verdicts."""
