"""The dry run: a run card worked through on a simulated machine, what comes out, and which act did it."""
