"""The use cases: load from the store, ask the core, save.

A use case is a verb with one transaction around it. Forbidden in here: Flask,
and rules of the job, which live in ``incudo.core``. What a use case takes and
gives is a pydantic model of this package; the HTTP layer passes it on as it is.
"""
