"""Phones let in for a while: a code to pair by, who is paired, who is shut out again. Nothing of it is kept on disk.

May import errors.
"""
