"""Stand-ins: mark beside mark, layered in the passage, out of reach, and what greys a colour without black.

May import collection, scraps, background and errors.
"""
