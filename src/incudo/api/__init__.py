"""HTTP: thin. Who is it, may they ask this, pass it on, say what went wrong.

Forbidden in here: SQL, rules of the job, transactions.
"""
