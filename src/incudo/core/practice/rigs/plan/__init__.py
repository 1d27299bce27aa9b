"""Rigs about the drawing and the plan: on a part that is made up for each run, so that nobody knows it by heart."""
