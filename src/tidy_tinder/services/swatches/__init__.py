"""Station 2: swatches stored, read in sessions, typed in, looked back on, counted on the board, laid edge to edge.

`store` is the one writer of swatches. May import collection, reader, background, journal and errors.
"""
