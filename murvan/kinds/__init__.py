"""What kinds of things there are, one record each: duct materials, fittings, faces, what can be read and with what.

Nothing here knows a job. Whatever differs by kind is asked of its record; a kind that is in no table is an error.
"""
