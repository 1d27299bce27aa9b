"""Finding where things are: dials and lost motion, edges, centres."""
