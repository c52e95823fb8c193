"""Station 5: at the drawing. Sittings and their clock, one step at a time, the log, what dries, the recipe as done.

May import collection, background, drawings, reference, recipes, tray, journal and errors.
"""
