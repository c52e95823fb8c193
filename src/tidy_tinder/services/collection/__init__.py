"""What is known of the collection, read once and shared by every station: colours, papers, marks, layers, settings.

`Scene` is the whole of it on one paper, for one question. May import background, journal and errors.
"""
