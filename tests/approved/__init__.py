"""What core says and reckons today, written out to be read: whoever changes a rule sees here everything it changes.

``python -m tests.approved`` writes the files anew; the difference is read line by line before it is committed.
``test_approved.py`` holds the files against what core says.
"""
