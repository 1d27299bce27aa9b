"""Finding an edge. State, rules, advice and scene lie apart."""
