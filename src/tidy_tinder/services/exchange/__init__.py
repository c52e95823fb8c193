"""What comes in from files and goes out into them: catalogues, backups, and much at once for the demo.

May import collection, tidy, swatches, background, journal and errors.
"""
