"""The rules of the job.

Forbidden in here: Flask, SQLAlchemy, files, the network, the clock, and any
randomness that was not passed in. Everything in this package is a function of
its arguments. Nothing of ours is imported but other rooms of ``core``.
"""
