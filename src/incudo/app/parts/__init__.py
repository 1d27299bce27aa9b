"""Use cases of parts: the part's file, geometry, drawing, attempts, readings."""
