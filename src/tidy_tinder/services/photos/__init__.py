"""Photos of printed sheets: kept as they came, read in a process of their own, looked through, taken.

May import sheets, swatches, collection, background, journal, errors.
"""
