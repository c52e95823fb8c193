"""What predictions rest on: why a mark is predicted as it is, and what to swatch first on a paper.

May import collection, background and errors.
"""
