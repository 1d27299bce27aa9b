"""The shape of a part: a block or bar minus boxes and holes, and the edges one sees of it."""
