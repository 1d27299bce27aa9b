"""Tables, queries and migrations: the only room that knows SQL.

Forbidden in here: Flask, decisions about the job, and commits. A session is
passed in; transactions begin and end in ``incudo.app``.
"""
