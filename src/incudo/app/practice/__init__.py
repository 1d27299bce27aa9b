"""Use cases of practice: rigs, exercises and sheets."""
