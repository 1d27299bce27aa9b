"""Measuring with the records of a college: the data set, the operations, the report."""
