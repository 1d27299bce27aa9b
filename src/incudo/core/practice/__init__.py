"""Rules of practice: rigs, exercises and sheets."""
