"""Use cases of skills: the graph, evidence, standing, permission, signing, questions."""
