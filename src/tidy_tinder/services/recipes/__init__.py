"""Station 4: recipes taken in as text, their calls as they stand on a paper, and what was chosen for each.

May import collection, standins, background, journal and errors.
"""
