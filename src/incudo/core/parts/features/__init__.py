"""A part as a machinist sees it: features on a body, with what is asked of faces and axes by name.

``part_of`` builds the solid and what is asked from a file of format ``incudo-project/2``.
"""
