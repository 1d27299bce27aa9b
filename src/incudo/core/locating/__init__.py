"""Finding where things are: dials and backlash, edges, centres."""
